"""How play goes, in words: what the runner counts, where a player looks when something feels wrong."""

from __future__ import annotations

from collections.abc import Mapping

from nubshift.protocol.findings import Finding
from nubshift.protocol.messages import Health
from nubshift.texts import _, ngettext

STEADY = 50
"""Reports in a second from which it moves all the time, so that their number says how often it can report."""
SLOW_MS = 20.0
"""A report that waited longer than this can be felt."""

COUNTED: dict[str, tuple[str, str]] = {
    "late": (_("one report arrived late"), _("{} reports arrived late")),
    "clamped": (_("one value was outside its range"), _("{} values were outside their range")),
    "not_numbers": (_("one value was not a number"), _("{} values were not numbers")),
    "unknown": (_("one report came from an unknown control"), _("{} reports came from unknown controls")),
    "repeated": (_("one press arrived twice"), _("{} presses or releases arrived twice")),
}


def rate_text(health: Health, controller: str) -> str:
    """``250 reports a second``, or that it is quiet."""
    count = health.reports.get(controller, 0)
    rate = round(count / health.seconds) if health.seconds else 0
    return _("{rate} reports a second").format(rate=rate) if rate else _("idle, nothing is moving")


def _pace_text(health: Health, controller: str) -> str:
    """The rate, and what the controller itself adds to the delay by it; a quiet one may report seldom for that."""
    rate, count = rate_text(health, controller), health.reports.get(controller, 0)
    if count < STEADY:
        return rate
    return _("{rate}, adding up to {every:.1f} ms").format(rate=rate, every=health.seconds / count * 1000)


def delay_text(health: Health) -> str:
    """``answered after 0.3 ms, 2.1 ms at worst``, or that there was nothing to answer."""
    if not health.latest:
        return _("nothing moved in the last second")
    return _("{late:.1f} ms, {latest:.1f} ms at worst").format(late=health.late / 1000, latest=health.latest / 1000)


def tooltip(health: Health | None, controllers: Mapping[str, str]) -> str:
    """A line for each controller (name by id) and one for the delay; nothing while nothing is known."""
    if health is None:
        return ""
    lines = [f"{name}: {rate_text(health, id_)}" for id_, name in controllers.items()]
    lines += [
        _("{name}: input was lost {times}").format(name=name, times=_times(health.dropped[id_]))
        for id_, name in controllers.items()
        if id_ in health.dropped
    ]
    return "\n".join([*lines, _("Delay: {delay}").format(delay=delay_text(health))])


def findings(health: Health | None, controllers: Mapping[str, str]) -> list[Finding]:
    """The same as findings of the doctor, with what follows."""
    if health is None:
        return []
    slow = health.latest / 1000 >= SLOW_MS
    found = [
        Finding(
            _("delay"),
            "note" if slow else "well",
            delay_text(health),
            _("The processor was busy with something else for a moment.") if slow else "",
        )
    ]
    for id_, name in controllers.items():
        lost = health.dropped.get(id_, 0)
        found.append(
            Finding(
                name,
                "note" if lost else "well",
                _("{rate}; input was lost {times}").format(rate=rate_text(health, id_), times=_times(lost))
                if lost
                else _pace_text(health, id_),
                _("The machine was too busy to read it in time. Presses and releases in between are missing.")
                if lost
                else "",
            )
        )
    odd = [
        text if count == 1 else texts.format(count)
        for name, (text, texts) in COUNTED.items()
        if (count := health.counts.get(name, 0))
    ]
    if odd:
        found.append(
            Finding(
                _("input"),
                "note",
                _("since this profile started, {odd}").format(odd=", ".join(odd)),
                _("Each one was counted and handled. No key stays pressed because of it."),
            )
        )
    if health.lost:
        found.append(
            Finding(
                _("commands the game toggles itself"),
                "note",
                ngettext("one tap was not sent", "{count} taps were not sent", health.lost).format(count=health.lost),
                _("Output stopped in between, so they may still be on in the game."),
            )
        )
    return found


def _times(count: int) -> str:
    return ngettext("once", "{count} times", count).format(count=count)
