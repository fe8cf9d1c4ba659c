"""Contract R9, its last factors: speed x layer x precision; faster and slower (need N42); axes and triggers as mouse."""

from __future__ import annotations

import pytest

from nubshift.model.roles import MouseRole
from nubshift.model.sends import ChangeSpeed, Precision
from tests.support.playing import MS, Desk, moved
from tests.support.profiles import What, made

FEEL = {"base": {"right_stick": {"speed": 360.0, "inner": 0.0, "outer": 1.0}}}  # 9 counts a ms


def desk(more: dict[str, What]) -> Desk:
    return Desk(made({"base": {"right_stick": MouseRole(), **more}}, FEEL))


def test_a_precision_hold_takes_effect_in_its_own_microsecond() -> None:
    found = desk({"south": Precision(0.25)})
    found.at(0, right_stick=(1.0, 0))
    found.at(100_333, south=1)
    found.at(200_777, south=0)
    found.at(300_000, right_stick=(0, 0))
    found.to(400_000)
    expected = 9e-3 * (100_333 + 0.25 * (200_777 - 100_333) + (300_000 - 200_777))
    assert moved(found.log)[0] == pytest.approx(expected, abs=0.5)


def test_two_holds_multiply_and_each_ends_by_itself() -> None:
    found = desk({"south": Precision(0.5), "east": Precision(0.2)})
    found.at(0, right_stick=(1.0, 0), south=1, east=1)
    found.to(100 * MS)
    assert moved(found.log)[0] == 90
    found.at(100 * MS, south=0)
    found.to(200 * MS)
    assert moved(found.log)[0] == 90 + 180


def test_faster_and_slower_stay_over_stops_and_edits() -> None:
    found = desk({"south": ChangeSpeed(2.0), "east": ChangeSpeed(0.5)})
    found.at(0, right_stick=(1.0, 0), south=1)
    found.to(100 * MS)
    assert moved(found.log)[0] == 1800
    found.stop(100 * MS)
    found.resume(100 * MS)
    assert found.engine.gain == 2.0
    found.at(150 * MS, east=1)
    found.to(200 * MS)
    assert moved(found.log)[0] == 1800 + 900 + 450


@pytest.mark.parametrize(
    ("control", "upright", "value", "way"),
    [("axis_1", False, -1.0, (-900, 0)), ("axis_1", True, 1.0, (0, 900)), ("left_trigger", False, 1.0, (900, 0))],
)
def test_a_lone_axis_or_trigger_moves_the_mouse(
    control: str, upright: bool, value: float, way: tuple[int, int]
) -> None:
    feel = {"base": {control: FEEL["base"]["right_stick"]}}
    found = Desk(made({"base": {control: MouseRole(upright=upright)}}, feel))
    found.at(0, **{control: value})
    found.to(100 * MS)
    assert moved(found.log) == way
