"""What a binding costs: how long after the finger each of its gestures is sent (contract R6), how late smoothing is.

Pure functions of the binding, so that the window can show the delay beside each choice.
"""

from __future__ import annotations

from math import pi

from msgspec import Struct

from nubshift.model.profile import Binding, Feel, Habits, Together
from nubshift.model.roles import GyroRole, MouseRole, PadStickRole, PointerRole, ScrollRole
from nubshift.texts import _


class Delay(Struct, frozen=True):
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


FLICK = 8.0
"""Reaches of the stick a second, at which the delay of smoothing in a quick movement is told."""


def smoothing_lag(min_cutoff: float, beta: float, speed: float = 0.0) -> float:
    """How late the one-euro filter is at a speed (reaches a second), in ms: tau of its cut-off (`feel/euro`)."""
    return 1000.0 / (2.0 * pi * (min_cutoff + beta * speed)) if min_cutoff else 0.0


class AddedDelay(Struct, frozen=True):
    """What a binding itself adds to the delay, in ms, at least and at most, and by what; nothing for none."""

    at_least: float = 0.0
    at_most: float = 0.0
    because: tuple[str, ...] = ()


def added_by(binding: Binding, feel: Feel, habits: Habits, tick: int, in_combination: bool = False) -> AddedDelay:
    """What the slowest part of a binding adds. `tick`: ms between two steps of the mouse by a stick (contract R9)."""
    role = binding.role
    if role is None:
        slowest = max(delays(binding, habits, in_combination), key=lambda delay: delay.at_most, default=None)
        if slowest is None or not slowest.at_most:
            return AddedDelay()
        return AddedDelay(slowest.at_least, slowest.at_most, (slowest.because,))
    least = most = 0.0
    because = []
    if isinstance(role, MouseRole | ScrollRole):
        most += tick
        because.append(_("the mouse moves in steps of {tick} ms").format(tick=tick))
    smooths = isinstance(role, MouseRole | ScrollRole | PointerRole | GyroRole)
    smooths = smooths or (isinstance(role, PadStickRole) and role.tuned)
    if smooths and (cutoff := feel.min_cutoff or 0.0):
        beta = feel.beta or 0.0
        least += smoothing_lag(cutoff, beta, FLICK)
        most += smoothing_lag(cutoff, beta)
        because.append(_("smoothing is slower at slow aim"))
    return AddedDelay(least, most, tuple(because))
