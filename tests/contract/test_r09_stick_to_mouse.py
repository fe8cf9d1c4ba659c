"""Contract R9: stick to mouse."""

from __future__ import annotations

from math import hypot

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from nubshift.events import Motion
from nubshift.feel.response import response
from nubshift.model.profile import DEFAULT_FEEL
from nubshift.model.roles import MouseRole
from tests.support.playing import Desk, moved
from tests.support.profiles import made

PER_DEGREE = 9000 / 360


def mouse(**feel: object) -> Desk:
    return Desk(
        made(
            {"base": {"right_stick": MouseRole(), "left_stick": MouseRole()}},
            {"base": {"right_stick": feel, "left_stick": feel}},
        )
    )


def test_dead_zone_rescales_the_rest() -> None:
    respond = response(replace(DEFAULT_FEEL, inner=0.2, outer=0.8))
    assert respond(0.2, 0)[:2] == (0.0, 0.0)
    assert respond(0.5, 0)[0] == pytest.approx(0.5)
    assert respond(0.8, 0) == (pytest.approx(1.0), 0.0, True)
    assert hypot(*respond(0.9, 0.9)[:2]) == pytest.approx(1.0)


def test_dead_zone_per_axis_keeps_a_straight_line_straight() -> None:
    respond = response(replace(DEFAULT_FEEL, inner=0.2, outer=1.0, zone="axes"))
    assert respond(0.6, 0.19)[:2] == (pytest.approx(0.5), 0.0)


def test_least_step_crosses_a_games_own_dead_zone_but_zero_stays_zero() -> None:
    respond = response(replace(DEFAULT_FEEL, inner=0.1, outer=1.0, least_step=0.25))
    assert respond(0.1, 0)[0] == 0.0
    assert respond(0.1001, 0)[0] == pytest.approx(0.25, abs=1e-3)
    assert respond(1, 0)[0] == pytest.approx(1.0)


def test_curve_keeps_the_direction() -> None:
    respond = response(replace(DEFAULT_FEEL, inner=0.0, outer=1.0, curve=((0.0, 0.0), (0.5, 0.2), (1.0, 1.0))))
    x, y, _ = respond(0.3, 0.4)
    assert (x / y, hypot(x, y)) == (pytest.approx(0.75), pytest.approx(0.2))


def test_speed_is_horizontal_and_ratio_divides_it() -> None:
    desk = mouse(speed=180.0, ratio=2.0, inner=0.0)
    desk.at(0, right_stick=(1, 0), left_stick=(0, 1))
    desk.to(1_000_000)
    assert moved(desk.log) == (round(180 * PER_DEGREE), round(90 * PER_DEGREE))


def test_inversion() -> None:
    desk = mouse(speed=180.0, invert_y=True, inner=0.0)
    desk.at(0, right_stick=(0, 1))
    desk.to(100_000)
    assert moved(desk.log) == (0, -round(18 * PER_DEGREE))


def test_ticks_lie_at_multiples_and_end_when_nothing_is_unsent() -> None:
    desk = mouse(inner=0.0)
    desk.at(5500, right_stick=(1, 0))
    desk.at(13_000, right_stick=(0, 0))
    assert desk.to(100_000) == [f"~{moved(desk.log[-1:])[0]},0"]
    assert [event.t for event in desk.log] == [8000, 12_000, 16_000]
    assert desk.engine.next_deadline is None


def test_a_held_value_needs_no_further_reports() -> None:
    desk = mouse(speed=100.0, inner=0.0)
    desk.at(0, right_stick=(1, 0))
    desk.to(2_000_000)
    assert moved(desk.log)[0] == 200 * PER_DEGREE


def test_the_carry_survives_rest_and_is_dropped_by_a_stop() -> None:
    desk = mouse(speed=1.0, inner=0.0)  # 25 counts a second
    for start in (0, 100_000):
        desk.at(start, right_stick=(1, 0))
        desk.at(start + 10_000, right_stick=(0, 0))  # a quarter of a count each time
    desk.to(200_000)
    assert moved(desk.log) == (1, 0)  # 0.5 rounds up
    desk = mouse(speed=1.0, inner=0.0)
    desk.at(0, right_stick=(1, 0))
    desk.at(10_000, right_stick=(0, 0))
    desk.stop(20_000)
    desk.resume(20_000)
    desk.at(100_000, right_stick=(1, 0))
    desk.at(110_000, right_stick=(0, 0))
    desk.to(200_000)
    assert moved(desk.log) == (0, 0)


def test_gain_builds_up_at_the_edge_and_is_exact() -> None:
    desk = mouse(speed=100.0, inner=0.0, edge_boost=1.0, edge_time=400.0)
    desk.at(0, right_stick=(1, 0))
    desk.to(800_000)
    # 1 at once, rising to 2 within 0.4 s: mean 1.5 for 0.4 s, then 2 for 0.4 s
    assert moved(desk.log)[0] == round(100 * PER_DEGREE * (1.5 * 0.4 + 2 * 0.4))
    desk.at(800_000, right_stick=(0.5, 0))
    before = moved(desk.log)[0]
    desk.to(900_000)
    assert moved(desk.log)[0] - before == pytest.approx(100 * PER_DEGREE * 0.1 * (0.5 / 0.96), abs=1)


def test_both_sticks_share_one_carry() -> None:
    desk = mouse(speed=1.0, inner=0.0)
    desk.at(0, right_stick=(1, 0), left_stick=(1, 0))
    desk.to(40_000)
    assert moved(desk.log) == (2, 0)


values = st.tuples(st.floats(-1, 1), st.floats(-1, 1))
moves = st.lists(st.tuples(st.integers(1, 30_000), values), min_size=1, max_size=25)


@settings(max_examples=60)
@given(moves, st.integers(1, 10), st.floats(1, 3000))
def test_counts_match_the_integral_within_one(
    script: list[tuple[int, tuple[float, float]]], tick: int, speed: float
) -> None:
    profile = made({"base": {"right_stick": MouseRole()}}, {"base": {"right_stick": {"speed": speed, "inner": 0.1}}})
    profile = replace(profile, game=replace(profile.game, tick=tick))
    desk = Desk(profile)
    respond = response(replace(DEFAULT_FEEL, inner=0.1))
    t, vx, vy = 0, 0.0, 0.0
    integral_x = integral_y = 0.0
    for wait, (x, y) in script:
        integral_x += vx * wait
        integral_y += vy * wait
        t += wait
        desk.at(t, right_stick=(x, y))
        share_x, share_y, _ = respond(x, y)
        vx, vy = (share * speed * PER_DEGREE / 1e6 for share in (share_x, share_y))
    desk.at(t, right_stick=(0, 0))
    desk.to(t + 100_000)
    dx, dy = moved(desk.log)
    assert abs(dx - integral_x) <= 0.5 + 1e-6
    assert abs(dy - integral_y) <= 0.5 + 1e-6
    assert all(event.t % (tick * 1000) == 0 for event in desk.log if isinstance(event, Motion))
