"""Contract R10: gyro to mouse; the rule for bias (`feel.bias`) on both sides; need N35."""

from __future__ import annotations

from math import cos, pi, radians, sin
from random import Random
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nubshift.feel.bias import CREEP, Bias
from nubshift.feel.soft_threshold import softened
from nubshift.model.roles import GyroRole
from nubshift.model.sends import Gyro
from tests.support.playing import MS, Desk, moved
from tests.support.profiles import made

STEP = 4 * MS
PLAIN = {"gyro_ratio": 2.0, "gyro_threshold": 0.0}


def gyro(feel: dict[str, Any] | None = None, more: dict[str, Any] | None = None, **role: Any) -> Desk:
    base = {"motion": GyroRole(**role), **(more or {})}
    return Desk(made({"base": base}, {"base": {"motion": feel or PLAIN}}))  # 9000 counts a turn: 25 a degree


def test_camera_degrees_are_ratio_times_controller_degrees() -> None:
    desk = gyro()
    for k in range(251):
        desk.at(k * STEP, motion=(90.0, -45.0))
    assert moved(desk.log) == (90 * 2 * 25, -45 * 2 * 25)


def test_the_first_report_moves_nothing_and_a_gap_counts_at_most_25_ms() -> None:
    desk = gyro()
    assert desk.at(0, motion=(100.0, 0.0)) == []
    assert desk.at(1000 * MS, motion=(100.0, 0.0)) == ["~125,0"]  # 2.5 degrees x 2 x 25


def test_whole_counts_go_out_with_the_report_and_the_carry_is_shared() -> None:
    desk = gyro({"gyro_ratio": 1.0, "gyro_threshold": 0.0})
    desk.at(0, motion=(3.0, 0.0))
    sent = [desk.at(k * STEP, motion=(3.0, 0.0)) for k in range(1, 6)]  # 0.3 counts a report
    assert sent == [[], ["~1,0"], [], [], ["~1,0"]]


def test_a_layer_can_have_its_own_turn_gauge() -> None:
    base = {"motion": GyroRole(), "north": ">aim"}
    profile = made(
        {"base": base, "aim": {}}, {"base": {"motion": PLAIN}}, layer_fields={"aim": {"counts_per_turn": 900.0}}
    )
    desk = Desk(profile)
    desk.at(0, motion=(100.0, 0.0))
    assert desk.at(10 * MS, motion=(100.0, 0.0)) == ["~50,0"]
    desk.at(12 * MS, north=1)
    assert desk.at(20 * MS, motion=(100.0, 0.0)) == ["~5,0"]


@given(st.floats(-60, 60), st.floats(-60, 60), st.floats(0.1, 60))
def test_below_the_soft_threshold_the_rate_is_scaled_and_never_cut(x: float, y: float, threshold: float) -> None:
    rate = (x * x + y * y) ** 0.5
    factor = min(1.0, rate / threshold)
    assert softened(x, y, threshold) == pytest.approx((x * factor, y * factor))


def test_inversion_and_separate_vertical_scale() -> None:
    desk = gyro(PLAIN | {"ratio": 2.0, "invert_y": True})
    desk.at(0, motion=(40.0, 40.0))
    assert desk.at(10 * MS, motion=(40.0, 40.0)) == ["~20,-10"]


# Axes


def test_by_lean_leaning_turns() -> None:
    desk = gyro(axes="lean")
    desk.at(0, motion=(50.0, 0.0), motion_lean=20.0)
    assert desk.at(10 * MS, motion=(50.0, 0.0), motion_lean=20.0) == ["~10,0"]


@pytest.mark.parametrize("pitch", [0, 30, 60, 90])
def test_by_gravity_the_grip_angle_does_not_matter(pitch: float) -> None:
    """The player turns about the vertical while the pad is pitched up; its own axes share the rotation."""
    desk = gyro(axes="gravity")
    # front raised by `pitch`: down in pad axes is (0, cos, -sin); turning about it by 40 degrees a second
    down = (0.0, cos(radians(pitch)), -sin(radians(pitch)))
    rates = {"motion": (40.0 * down[1], -40.0 * down[0]), "motion_lean": 40.0 * down[2]}
    pull = {"gravity": (down[0], down[1]), "gravity_z": down[2]}
    for k in range(11):
        desk.at(k * 10 * MS, **rates, **pull)
    assert moved(desk.log) == (200, 0)


# Activation


def test_while_unless_and_toggled() -> None:
    for active, script in {
        "while": [(0, False), (1, True), (0, False)],
        "unless": [(0, True), (1, False), (0, True)],
        "toggled": [(0, False), (1, True), (0, True), (1, False), (0, False)],
    }.items():
        desk = gyro(active=active, by="left_bumper")
        t = 0
        desk.at(t, motion=(40.0, 0.0))
        for held, moves in script:
            t += 10 * MS
            desk.at(t, left_bumper=held)
            t += 10 * MS
            assert bool(desk.at(t, motion=(40.0, 0.0))) == moves, (active, held)


def test_paused_resumed_and_recentred_by_outputs() -> None:
    desk = gyro(more={"south": Gyro("pause"), "east": Gyro("resume"), "west": Gyro("recentre")}, to="pointer")
    desk.at(0, motion=(60.0, 0.0))
    assert desk.at(20 * MS, motion=(60.0, 0.0)) == ["point 0.505,0.5"]
    desk.at(21 * MS, south=1)
    assert desk.at(40 * MS, motion=(60.0, 0.0)) == []
    desk.at(41 * MS, east=1)
    assert desk.at(50 * MS, motion=(60.0, 0.0)) == ["point 0.5075,0.5"]
    desk.at(51 * MS, west=1)
    assert desk.at(60 * MS, motion=(0.0, 0.0)) == ["point 0.5,0.5"]


def test_as_a_stick_of_the_virtual_pad() -> None:
    desk = gyro(to="stick", stick_rate=100.0)
    assert desk.at(0, motion=(50.0, -25.0)) == ["pad right_x 0.5", "pad right_y -0.25"]
    assert desk.stop(1) == ["pad right_x 0", "pad right_y 0"]


def test_after_a_stop_the_time_before_it_does_not_count() -> None:
    desk = gyro()
    desk.at(0, motion=(100.0, 0.0))
    desk.stop(8 * MS)
    desk.resume(8 * MS)
    assert desk.at(10 * MS, motion=(100.0, 0.0)) == ["~10,0"]


# Bias


def learned(
    bias: Bias, seconds: float, rates: Any, gravity: Any = lambda t: (0.0, 1.0, 0.0), noise: float = 0.05
) -> None:
    """Reports at 250 Hz with noise on rates and a little on the accelerometer."""
    random = Random(3)
    for k in range(round(seconds * 250)):
        t = k / 250
        turn, nod, lean = (rate + random.gauss(0, noise) for rate in rates(t))
        x, y, z = (pull + random.gauss(0, 0.003) for pull in gravity(t))
        bias.step(turn, nod, lean, x, y, z, 1 / 250)


@pytest.mark.parametrize("noise", [0.02, 0.1, 0.3])
@pytest.mark.parametrize("offset", [(1.2, -0.7, 0.3), (-3.0, 2.0, 0.1), (0.0, 0.0, 0.0)])
def test_at_rest_the_bias_is_learned(offset: tuple[float, float, float], noise: float) -> None:
    bias = Bias()
    learned(bias, 3.0, lambda _: offset, noise=noise)
    assert bias.known
    assert bias.value == pytest.approx(offset, abs=0.06)


def test_it_follows_the_slow_drift_of_a_warming_sensor() -> None:
    bias = Bias()
    learned(bias, 60.0, lambda t: (1.0 + t * 0.01, 0.0, 0.0))
    assert bias.value[0] == pytest.approx(1.6, abs=0.06)


@pytest.mark.parametrize("rate", [0.4, 1.0, 2.0, 5.0, 20.0])
def test_slow_real_turning_is_never_learned(rate: float) -> None:
    """First a rest, then a pan as even as a hand can do it: its tremor is there, though small."""
    bias = Bias()
    learned(bias, 3.0, lambda _: (0.5, 0.0, 0.0))
    before = bias.value
    learned(bias, 30.0, lambda t: (0.5 + rate + 0.8 * sin(2 * pi * 9 * t), 0.3 * sin(2 * pi * 7 * t), 0.0))
    assert bias.value == before


@pytest.mark.parametrize("rate", [CREEP * 1.3, 0.5, 2.0])
def test_not_even_turning_as_even_as_a_machine_does_it(rate: float) -> None:
    bias = Bias()
    learned(bias, 3.0, lambda _: (0.5, 0.0, 0.0))
    before = bias.value
    learned(bias, 30.0, lambda _: (0.5 + rate, 0.0, 0.0))
    assert bias.value == pytest.approx(before, abs=0.05)


def test_a_pad_in_the_hand_from_the_start_teaches_nothing() -> None:
    bias = Bias()
    learned(bias, 30.0, lambda t: (1.5 + 0.8 * sin(2 * pi * 8 * t), 0.5 * sin(2 * pi * 9 * t), 0.0))
    assert not bias.known
    assert bias.value == (0.0, 0.0, 0.0)


def test_turning_about_a_level_axis_is_seen_by_the_accelerometer() -> None:
    bias = Bias()
    learned(bias, 30.0, lambda _: (0.0, 2.0, 0.0), lambda t: (0.0, cos(radians(2 * t)), sin(radians(2 * t))))
    assert not bias.known


def test_the_engine_removes_what_was_learned() -> None:
    desk = gyro()
    for k in range(1000):
        desk.at(k * STEP, motion=(1.5, -0.5), gravity=(0.0, 1.0))
    drifted = moved(desk.log)
    for k in range(1000, 3000):
        desk.at(k * STEP, motion=(1.5, -0.5), gravity=(0.0, 1.0))
    assert moved(desk.log) == drifted
