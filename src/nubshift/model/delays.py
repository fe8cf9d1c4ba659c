"""What a set of gestures costs: how long after the finger each of them is sent (contract R6).

A pure function of the binding, so that the window can show the delay beside each choice.
"""

from __future__ import annotations

from dataclasses import dataclass

from nubshift.model.profile import Binding, Habits, Together
from nubshift.texts import _


@dataclass(frozen=True)
class Delay:
    """When a gesture is sent, in ms after `since` (``press``, ``release`` or ``second press``), and why that late.

    `at_least` and `at_most` differ where it depends on how the button is used; `because` is empty for no delay at all.
    """

    gesture: str
    since: str
    at_least: int
    at_most: int
    because: str = ""


def delays(binding: Binding | Together, habits: Habits, in_combination: bool = False) -> tuple[Delay, ...]:
    """The delay of each gesture that is set, in the order press, tap, hold, double, release.

    `in_combination`: the button is also part of controls pressed together, so that it waits for the others first.
    """
    hold_at = binding.hold_at if binding.hold_at is not None else habits.hold_at
    double_within = binding.double_within if binding.double_within is not None else habits.double_within
    wait = habits.together_within if in_combination else 0
    others = _("it waits to see whether another control is pressed too") if wait else ""
    found = []
    gestures = binding.gestures
    if "press" in gestures:
        found.append(Delay("press", "press", 0, wait, others))
    if "tap" in gestures:
        if "double" in gestures:
            text = _("it waits for a second tap")
            found.append(Delay("tap", "press", double_within, max(double_within, hold_at), text))
        else:
            found.append(Delay("tap", "release", 0, 0, _("a tap ends within {hold_at} ms").format(hold_at=hold_at)))
    if "hold" in gestures:
        found.append(Delay("hold", "press", hold_at, max(hold_at, wait), _("before that it could still be a tap")))
    if "double" in gestures:
        found.append(Delay("double", "second press", 0, wait, others))
    if "release" in gestures:
        found.append(Delay("release", "release", 0, 0))
    return tuple(found)
