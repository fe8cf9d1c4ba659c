"""What a binding costs in time: its gestures (R6), the steps of the mouse (R9), smoothing (R11)."""

from __future__ import annotations

from typing import Any

import pytest

from nubshift.feel.euro import OneEuro
from nubshift.model.delays import AddedDelay, added_by, delays, smoothing_lag
from nubshift.model.profile import Binding, Feel, Habits
from nubshift.model.roles import GyroRole, MouseRole
from tests.support.profiles import four, sends


def cost(**fields: Any) -> dict[str, tuple[str, int, int]]:
    member = fields.pop("member", False)
    binding = Binding("south", **{name: sends("A") if value is True else value for name, value in fields.items()})
    return {d.gesture: (d.since, d.at_least, d.at_most) for d in delays(binding, Habits(), member)}


def test_what_each_combination_of_gestures_costs() -> None:
    assert cost(press=True) == {"press": ("press", 0, 0)}
    assert cost(tap=True) == {"tap": ("release", 0, 0)}
    assert cost(tap=True, double=True)["tap"] == ("press", 250, 250)
    assert cost(tap=True, hold=True) == {"tap": ("release", 0, 0), "hold": ("press", 200, 200)}
    assert cost(hold=True, hold_at=350) == {"hold": ("press", 350, 350)}
    assert cost(press=True, member=True) == {"press": ("press", 0, 60)}
    assert cost(release=True, double=True) == {"double": ("second press", 0, 0), "release": ("release", 0, 0)}


def adds(role: Any, min_cutoff: float = 0.0, beta: float = 0.0, **gestures: Any) -> AddedDelay:
    feel = Feel("right_stick", min_cutoff=min_cutoff, beta=beta)
    return added_by(Binding("right_stick", role=role, **gestures), feel, Habits(), 4)


def test_what_a_binding_adds_is_that_of_its_slowest_part() -> None:
    assert adds(four("W", "D", "S", "A")) == AddedDelay()
    assert adds(None, press=sends("A")) == AddedDelay()
    tapped = adds(None, tap=sends("A"), double=sends("B"))
    assert (tapped.at_least, tapped.at_most) == (250, 250)
    assert tapped.because == ("it waits for a second tap",)
    stepped = adds(MouseRole(), 0.0, 0.0)
    assert (stepped.at_least, stepped.at_most, len(stepped.because)) == (0.0, 4.0, 1)
    smooth = adds(MouseRole(), 10.0, 1.0)
    assert smooth.at_most == pytest.approx(4 + smoothing_lag(10.0, 1.0))
    assert smooth.at_least == pytest.approx(smoothing_lag(10.0, 1.0, 8.0))
    assert smooth.at_least < 10
    assert adds(GyroRole(), 10.0, 0.0).at_most == pytest.approx(15.9, abs=0.1)


def test_smoothing_is_as_late_as_the_filter_is() -> None:
    """Behind a steady movement a first-order filter stays by its time constant."""
    filter_, step = OneEuro(8.0, 0.0), 0.0005
    for n in range(4000):
        shown = filter_.step(n * step, step)
    assert (3999 * step - shown) * 1000 == pytest.approx(smoothing_lag(8.0, 0.0), rel=0.03)
