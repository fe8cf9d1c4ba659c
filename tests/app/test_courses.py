"""What Tune draws is what the engine does: the same reports through the pictures' courses and through the engine."""

from __future__ import annotations

from math import cos, sin
from random import Random
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nubshift.app.tune.course import GyroCourse, StickCourse
from nubshift.app.tune.switching import DepthCourse, KeysCourse
from nubshift.app.tune.thresholds import parts_of, thresholds_of
from nubshift.model.profile import Band, Feel, Profile
from nubshift.model.roles import GyroRole, MouseRole
from nubshift.model.usage import feel_for
from tests.support.playing import MS, Desk, moved
from tests.support.profiles import four, made, sends

STEP = 4 * MS
values = st.floats(-1, 1, allow_nan=False)
PLANE = st.lists(st.tuples(values, values), min_size=1, max_size=60)
WAY = st.lists(values, min_size=1, max_size=60)


def feel_of(profile: Profile, control: str) -> Feel:
    return feel_for(profile, "base", control, "1")


@given(places=PLANE, radius=st.floats(0.05, 0.95), diagonal=st.floats(0, 90))
def test_keys_by_direction_are_drawn_as_they_are_held(
    places: list[tuple[float, float]], radius: float, diagonal: float
) -> None:
    feel = {"key_radius": radius, "diagonal": diagonal}
    profile = made({"base": {"left_stick": four()}}, {"base": {"left_stick": feel}})
    desk, course = Desk(profile), KeysCourse(feel_of(profile, "left_stick"))
    for k, (x, y) in enumerate(places):
        desk.at(k * STEP, left_stick=(x, y))
        right, down = course.step(x, y)
        held = {"": 0} | dict.fromkeys(desk.engine.held, 1)
        assert (held.get("D", 0) - held.get("A", 0), held.get("S", 0) - held.get("W", 0)) == (right, down)


@given(way=WAY, lowest=st.floats(0.1, 0.4), apart=st.floats(0.05, 0.5))
def test_depths_are_drawn_as_they_are_held(way: list[float], lowest: float, apart: float) -> None:
    bands = (Band(lowest, sends("A")), Band(lowest + apart, sends("B"), adds=True))
    profile = made({"base": {"axis_1": {"bands": bands}}})
    binding = profile.layer("base").binding("axis_1", "1")  # type: ignore[union-attr]
    course = DepthCourse(thresholds_of("axis_1", feel_of(profile, "axis_1"), binding, False))
    desk = Desk(profile)
    for k, x in enumerate(way):
        desk.at(k * STEP, axis_1=x)
        share, _ = course.step(x, 0.0)
        assert len(desk.engine.held) == abs(share) * 2
        assert share * x >= 0


@given(way=st.lists(st.floats(0, 1), min_size=1, max_size=60), at=st.floats(0.1, 0.9))
def test_a_trigger_that_presses_is_drawn_as_it_is_held(way: list[float], at: float) -> None:
    profile = made({"base": {"left_trigger": "A"}}, {"base": {"left_trigger": {"press_at": at}}})
    binding = profile.layer("base").binding("left_trigger", "1")  # type: ignore[union-attr]
    course = DepthCourse(thresholds_of("left_trigger", feel_of(profile, "left_trigger"), binding, False))
    desk = Desk(profile)
    desk.at(0, left_trigger=0.0)
    for k, x in enumerate(way):
        desk.at((k + 1) * STEP, left_trigger=x)
        assert len(desk.engine.held) == course.step(x, 0.0)[0]


@pytest.mark.parametrize("min_cutoff", [0.0, 4.0])
def test_what_a_stick_sends_is_the_area_under_what_is_drawn(min_cutoff: float) -> None:
    feel: dict[str, Any] = {
        "inner": 0.1,
        "outer": 0.95,
        "curve": ((0, 0), (0.5, 0.3), (1, 1)),
        "least_step": 0.05,
        "speed": 300.0,
        "min_cutoff": min_cutoff,
    }
    profile = made({"base": {"right_stick": MouseRole()}}, {"base": {"right_stick": feel}})
    full = 300.0 * profile.game.counts_per_turn / 360
    desk, course, chance = Desk(profile), StickCourse(STEP), Random(5)
    course.tune(feel_of(profile, "right_stick"))
    right = down = 0.0
    for k in range(1, 1500):
        x, y = 0.7 * cos(k / 90) + chance.gauss(0, 0.01), 0.6 * sin(k / 70)
        desk.at(k * STEP, right_stick=(x, y))
        out = course.step(k * STEP, x, y)
        right, down = right + out[0] * full * 0.004, down + out[1] * full * 0.004
        sent = moved(desk.log)
        assert abs(sent[0] - right) < 0.012 * full
        assert abs(sent[1] - down) < 0.012 * full


@settings(deadline=None)
@given(axes=st.sampled_from(["turn", "lean", "gravity"]), threshold=st.sampled_from([0.0, 3.0]))
def test_what_motion_sends_is_the_area_under_what_is_drawn(axes: Any, threshold: float) -> None:
    feel = {"gyro_ratio": 2.0, "gyro_threshold": threshold, "min_cutoff": 5.0, "beta": 0.1}
    profile = made({"base": {"motion": GyroRole(axes=axes)}}, {"base": {"motion": feel}})
    desk, course = Desk(profile), GyroCourse()
    course.tune(feel_of(profile, "motion"), axes)
    right = down = 0.0
    for k in range(700):
        turn, nod, lean = 60 * sin(k / 40), 30 * cos(k / 55), 40 * sin(k / 75)
        desk.at(k * STEP, motion=(turn, nod), motion_lean=lean, gravity=(0.0, 1.0), gravity_z=0.0)
        out = course.step(k * STEP, turn, nod, lean, (0.0, 1.0, 0.0), None)
        if k:
            right, down = right + out[0] * 2 * 25 * 0.004, down + out[1] * 2 * 25 * 0.004
    sent = moved(desk.log)
    assert sent[0] == pytest.approx(right, abs=2)
    assert sent[1] == pytest.approx(down, abs=2)


def test_the_parts_of_a_way_that_goes_both_ways() -> None:
    profile = made({"base": {"axis_1": four()}})
    binding = profile.layer("base").binding("axis_1", "1")  # type: ignore[union-attr]
    thresholds = thresholds_of("axis_1", feel_of(profile, "axis_1"), binding, False)
    assert [(low, high) for low, high, _ in parts_of(binding, thresholds, True)] == [(-1.0, -0.5), (0.5, 1.0)]
    assert [what for _, _, what in parts_of(binding, thresholds, False)] == [sends("D")]
    assert (
        thresholds_of("axis_1", feel_of(profile, "axis_1"), None, False) == []
    )  # nothing begins where nothing is bound
