"""Contract R9 and R10: counts match the integral within one, over every source that shares the carry."""

from __future__ import annotations

from math import floor
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nubshift.events import Motion
from nubshift.model.roles import GyroRole, MouseRole, PointerRole
from nubshift.model.sends import Precision
from tests.support.playing import Desk, moved
from tests.support.profiles import made

LINEAR = {"inner": 0.0, "outer": 1.0}
FEEL = {
    "base": {
        "right_stick": {**LINEAR, "speed": 333.0},
        "left_stick": {**LINEAR, "speed": 71.0},
        "motion": {"gyro_ratio": 1.7, "gyro_threshold": 0.0},
        "touch_pad": {"pointer_speed": 777.0},
    },
    "aim": {"right_stick": {"speed": 41.0}},
}
BASE: dict[str, Any] = {
    "right_stick": MouseRole(),
    "left_stick": MouseRole(),
    "motion": GyroRole(),
    "touch_pad": PointerRole(relative=True),
    "south": Precision(0.37),
    "east": ">aim",
}
PER_DEGREE = 25.0

happening = st.one_of(
    st.tuples(st.just("right_stick"), st.integers(-10, 10)),
    st.tuples(st.just("left_stick"), st.integers(-10, 10)),
    st.tuples(st.just("motion"), st.integers(-300, 300)),
    st.tuples(st.just("touch_pad"), st.integers(-10, 10)),
    st.tuples(st.just("south"), st.integers(0, 1)),
    st.tuples(st.just("east"), st.integers(0, 1)),
)
steps = st.lists(st.tuples(st.integers(1, 40_000), happening), max_size=40)


class Integral:
    """The exact motion along x, worked out beside the engine."""

    def __init__(self) -> None:
        self.t = 0
        self.total = 0.0
        self.sticks = {"right_stick": 0.0, "left_stick": 0.0}
        self.precise = self.aim = False
        self.motion_at: int | None = None
        self.pad: float | None = None

    def speed(self) -> float:
        right = 41.0 if self.aim else 333.0
        share = 0.37 if self.precise else 1.0
        return (self.sticks["right_stick"] * right + self.sticks["left_stick"] * 71.0) * share * PER_DEGREE / 1e6

    def to(self, t: int) -> None:
        self.total += self.speed() * (t - self.t)
        self.t = t

    def take(self, name: str, value: int) -> None:
        match name:
            case "motion":
                if self.motion_at is not None:
                    self.total += value * min(self.t - self.motion_at, 25_000) / 1e6 * 1.7 * PER_DEGREE
                self.motion_at = self.t
            case "touch_pad":
                x = value / 10
                if self.pad is not None:
                    self.total += (x - self.pad) * 777.0 / 2
                self.pad = x
            case "south":
                self.precise = bool(value)
            case "east":
                self.aim = bool(value)
            case _:
                self.sticks[name] = value / 10


@settings(max_examples=150)
@given(steps, st.sampled_from([1, 4, 7]))
def test_on_every_tick_the_counts_sent_equal_the_integral_rounded(happenings: list[Any], tick: int) -> None:
    desk = Desk(made({"base": BASE, "aim": {}}, FEEL, game={"tick": tick}))
    desk.at(0, touch_pad_touched=1)
    exact = Integral()
    exact.take("touch_pad", 0)
    t = 0
    for gap, (name, value) in happenings:
        t += gap
        for moment in range((exact.t // (tick * 1000) + 1) * tick * 1000, t + 1, tick * 1000):
            desk.to(moment)
            exact.to(moment)
            if exact.speed() or desk.engine.next_deadline is not None:
                assert abs(moved(desk.log)[0] - exact.total) <= 0.5 + 1e-6
        exact.to(t)
        exact.take(name, value)
        x = value / 10 if name in ("right_stick", "left_stick", "touch_pad") else float(value)
        desk.at(t, **{name: (x, 0.0)})
    for name in ("right_stick", "left_stick"):
        exact.take(name, 0)
        desk.at(t, **{name: (0.0, 0.0)})
    desk.to(t + 20_000)
    assert abs(moved(desk.log)[0] - exact.total) <= 0.5 + 1e-6
    assert desk.engine.next_deadline is None


def test_gyro_motion_does_not_wait_for_a_tick_and_stick_motion_does() -> None:
    desk = Desk(made({"base": BASE, "aim": {}}, FEEL))
    desk.at(0, motion=(100.0, 0.0), right_stick=(1.0, 0.0))
    desk.at(3000, motion=(100.0, 0.0))
    log = [output for output in desk.log if isinstance(output, Motion)]
    assert [(output.t, output.dx) for output in log] == [(3000, floor(0.3 * 1.7 * 25 + 0.5))]
    desk.to(4000)
    assert desk.log[-1].t == 4000
    assert moved(desk.log)[0] == pytest.approx(0.3 * 1.7 * 25 + 333 * 25 * 4e-3, abs=0.5)
