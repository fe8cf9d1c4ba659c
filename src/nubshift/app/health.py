"""How play goes, in words: what the runner counts, where a player looks when something feels wrong."""

from __future__ import annotations

from collections.abc import Mapping

from nubshift.runner.doctor import Finding
from nubshift.runner.messages import Health

SLOW_MS = 20.0
"""A report that waited longer than this can be felt."""

COUNTED: dict[str, tuple[str, str]] = {
    "late": ("one report came late", "{} reports came late"),
    "clamped": ("one value was outside its range", "{} values were outside their range"),
    "not_numbers": ("one value was no number", "{} values were no numbers"),
    "unknown": ("one control is not known", "{} reports were of unknown controls"),
    "repeated": ("one press came twice", "{} presses or releases came twice"),
}


def rate_text(health: Health, controller: str) -> str:
    """``250 reports a second``, or that it is quiet."""
    count = health.reports.get(controller, 0)
    rate = round(count / health.seconds) if health.seconds else 0
    return f"{rate} reports a second" if rate else "quiet, nothing moves"


def delay_text(health: Health) -> str:
    """``answered after 0.3 ms, 2.1 ms at worst``, or that there was nothing to answer."""
    if not health.latest:
        return "nothing moved in the last second"
    return f"answered after {health.late / 1000:.1f} ms, {health.latest / 1000:.1f} ms at worst"


def tooltip(health: Health | None, controllers: Mapping[str, str]) -> str:
    """A line for each controller (name by id) and one for the delay; nothing while nothing is known."""
    if health is None:
        return ""
    lines = [f"{name}: {rate_text(health, id_)}" for id_, name in controllers.items()]
    lines += [
        f"{name}: input was lost {_times(health.dropped[id_])}"
        for id_, name in controllers.items()
        if id_ in health.dropped
    ]
    return "\n".join([*lines, f"Delay: {delay_text(health)}"])


def findings(health: Health | None, controllers: Mapping[str, str]) -> list[Finding]:
    """The same as findings of the doctor, with what follows."""
    if health is None:
        return []
    slow = health.latest / 1000 >= SLOW_MS
    found = [
        Finding(
            "delay",
            "note" if slow else "well",
            delay_text(health),
            "The processor was busy with something else for a moment." if slow else "",
        )
    ]
    for id_, name in controllers.items():
        lost = health.dropped.get(id_, 0)
        found.append(
            Finding(
                name,
                "note" if lost else "well",
                rate_text(health, id_) + (f"; input was lost {_times(lost)}" if lost else ""),
                "The machine was too busy to read it in time. Presses and releases in between are missing."
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
                "input",
                "note",
                f"since this profile began {', '.join(odd)}",
                "Each was counted and handled; nothing stays pressed because of it.",
            )
        )
    if health.lost:
        found.append(
            Finding(
                "commands that the game toggles",
                "note",
                f"{_times(health.lost)} a tap was not sent",
                "Something stopped in between, so the game may still have them on.",
            )
        )
    return found


def _times(count: int) -> str:
    return "once" if count == 1 else f"{count} times"
