"""How play goes, in words: what the runner counts, where a player looks when something feels wrong."""

from __future__ import annotations

from collections.abc import Mapping

from nubshift.protocol.findings import Finding
from nubshift.protocol.messages import Health
from nubshift.protocol.play_figures import Lateness, Urgency
from nubshift.texts import _, ngettext

SLOW_MS = 20.0
"""A report that waited longer than this can be felt."""

COUNTED: dict[str, tuple[str, str]] = {
    "late": (_("one report arrived late"), _("{} reports arrived late")),
    "clamped": (_("one value was outside its range"), _("{} values were outside their range")),
    "not_numbers": (_("one value was not a number"), _("{} values were not numbers")),
    "unknown": (_("one report came from an unknown control"), _("{} reports came from unknown controls")),
    "repeated": (_("one press arrived twice"), _("{} presses or releases arrived twice")),
}

GRANTED_BY = {"limits": _("by this user's limits"), "rtkit": _("by rtkit"), "": ""}


def rate_text(health: Health, controller: str) -> str:
    """``250 reports a second``, or that it is quiet."""
    count = health.reports.get(controller, 0)
    rate = round(count / health.seconds) if health.seconds else 0
    return _("{rate} reports a second").format(rate=rate) if rate else _("idle, nothing is moving")


def _pace_text(health: Health, controller: str) -> str:
    """The rate, and what the controller itself adds to the delay by it, with how unevenly it reports."""
    rate, pace = rate_text(health, controller), health.paces.get(controller)
    if pace is None:
        return rate
    return _("{rate}, adding up to {every:.1f} ms (jitter {jitter:.1f} ms)").format(
        rate=rate, every=pace.every / 1000, jitter=pace.jitter / 1000
    )


def _delay_now(late: Lateness) -> str:
    """``0.3 ms, 2.1 ms at worst``, or that there was nothing to answer."""
    if not late.longest:
        return _("nothing moved in the last second")
    return _("{median:.1f} ms, {longest:.1f} ms at worst").format(
        median=late.median / 1000, longest=late.longest / 1000
    )


def delay_in_minute(late: Lateness) -> str:
    """``0.2 ms, 99 % within 0.5 ms, 2.1 ms at worst``, or that there was nothing to answer."""
    if not late.longest:
        return _("nothing moved in the last minute")
    return _("{median:.1f} ms, 99\u202f% within {most:.1f} ms, {longest:.1f} ms at worst").format(
        median=late.median / 1000, most=late.most / 1000, longest=late.longest / 1000
    )


def _in_all(health: Health, controllers: Mapping[str, str]) -> str:
    """How long it takes from a finger to a key, at the controller that reports most seldom."""
    slowest = max(
        (name for name in controllers if name in health.paces), key=lambda n: health.paces[n].every, default=""
    )
    if not slowest or not health.minute.longest:
        return ""
    total = (health.paces[slowest].every + health.minute.median) / 1000
    return _("Together with {name}: up to {total:.1f} ms from the finger to the game.").format(
        name=controllers[slowest], total=total
    )


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
    return "\n".join([*lines, _("Delay: {delay}").format(delay=_delay_now(health.late))])


def findings(health: Health | None, controllers: Mapping[str, str]) -> list[Finding]:
    """The same as findings of the doctor, with what follows. Of 0 seconds only the priority is known."""
    if health is None:
        return []
    if not health.seconds:
        unseen = Finding(_("delay"), "note", _("measured only while the window is open"))
        return [unseen, priority_finding(health.urgency)]
    slow = health.minute.longest / 1000 >= SLOW_MS
    found = [
        Finding(
            _("delay"),
            "note" if slow else "well",
            delay_in_minute(health.minute),
            _("The processor was busy with something else for a moment.") if slow else _in_all(health, controllers),
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
    found.append(priority_finding(health.urgency))
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
    if health.left_out:
        found.append(
            Finding(
                _("delay"),
                "note",
                ngettext("one press was left out", "{count} presses were left out", health.left_out).format(
                    count=health.left_out
                ),
                _("The computer was too busy to send them within a second. No key stays pressed."),
            )
        )
    return found


def _times(count: int) -> str:
    return ngettext("once", "{count} times", count).format(count=count)


def priority_finding(urgency: Urgency) -> Finding:
    """Whether play goes first beside a game, and what to do where it does not."""
    what = _("priority")
    match urgency.kind:
        case "real-time":
            return Finding(what, "well", _("real-time ({by})").format(by=GRANTED_BY[urgency.by]))
        case "high":
            return Finding(what, "well", _("high ({by})").format(by=GRANTED_BY[urgency.by]))
        case "given back":
            return Finding(
                what,
                "note",
                _("normal, because the runner was busy for too long"),
                _("Restart Nub Shift to get real-time priority again."),
            )
        case "usual":
            return Finding(
                what,
                "note",
                _("normal, like every other program"),
                _("While a game uses the whole processor, presses may arrive late."),
                _("Install rtkit, which gives sound and input a higher priority. Most desktops have it."),
            )
