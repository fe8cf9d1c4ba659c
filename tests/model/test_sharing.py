"""Halves, joined controllers and what a seat has of them all (N05)."""

from __future__ import annotations

import pytest

from nubshift.engine.seating import Filling
from nubshift.model.controller_info import ControllerInfo
from nubshift.model.controls import PAD_CONTROLS
from nubshift.model.sharing import half, has_halves, joined, owner_of, seat_info, side_of, taken, with_one_motion
from nubshift.model.stored_controllers import PartOf

PAD = ControllerInfo("a", "Pad", PAD_CONTROLS, key="key a")
TWIN = ControllerInfo("b", "Twin", PAD_CONTROLS, key="key b")
LEFT = ControllerInfo("l", "Left piece", ("left_stick", "left_bumper", "dpad_up", "motion"), key="key l")
RIGHT = ControllerInfo("r", "Right piece", ("right_stick", "right_bumper", "south", "motion"), key="key r")
PEDAL = ControllerInfo("p", "Pedal", ("axis_1",), key="key p", two_sided=("axis_1",))
INFOS = {info.id: info for info in (PAD, TWIN, LEFT, RIGHT, PEDAL)}


def test_the_halves_of_a_pad_have_nothing_in_common_and_miss_nothing() -> None:
    left, right = half(PAD, "left"), half(PAD, "right")
    assert left is not None
    assert right is not None
    assert not set(left) & set(right)
    assert set(left) | set(right) | {"motion"} == set(PAD_CONTROLS)
    assert has_halves(PAD)
    assert not has_halves(LEFT)


@pytest.mark.parametrize("side", ["all", "left", "right"])
def test_a_part_remembers_which_half_it_is(side: str) -> None:
    part = taken(PAD, PartOf("a"), side)  # type: ignore[arg-type]
    assert side_of(PAD, part) == side
    assert part.motion is (side != "left")


def test_two_pieces_are_one_controller_with_one_motion() -> None:
    parts = joined((PartOf("l"),), INFOS, RIGHT)
    assert [part.motion for part in parts] == [True, False]
    found = seat_info(parts, INFOS | {"key r": RIGHT})
    assert found is not None
    assert set(found.controls) == {*LEFT.controls, *RIGHT.controls}
    turned = with_one_motion(parts, INFOS | {"key r": RIGHT}, "key r")
    assert [part.motion for part in turned] == [False, True]


def test_two_whole_pads_give_a_half_each() -> None:
    parts = joined((PartOf("a"),), INFOS, TWIN)
    assert [part.controls for part in parts] == [half(PAD, "left"), half(TWIN, "right")]
    assert sum(part.motion for part in parts) == 1
    found = seat_info(parts, INFOS | {"key b": TWIN})
    assert found is not None
    assert set(found.controls) == set(PAD_CONTROLS)


def test_a_half_is_joined_by_the_other_half() -> None:
    parts = joined((taken(PAD, PartOf("a"), "right"),), INFOS, TWIN)
    assert parts[1].controls == half(TWIN, "left")
    assert [part.motion for part in parts] == [True, False]


def test_what_has_no_motion_never_gives_it() -> None:
    parts = joined((PartOf("p"),), INFOS, LEFT)
    assert [part.motion for part in parts] == [False, True]


def test_a_control_of_a_seat_is_on_one_controller() -> None:
    parts = (PartOf("l"), PartOf("r", motion=False), PartOf("p", motion=False))
    assert owner_of("south", parts, INFOS) is RIGHT
    assert owner_of("motion", parts, INFOS) is LEFT
    assert owner_of("north", parts, INFOS) is None
    found = seat_info(parts, INFOS)
    assert found is not None
    assert found.two_sided == ("axis_1",)
    assert seat_info((PartOf("gone"),), INFOS) is None


def test_motion_goes_with_its_flag_and_with_all_that_belongs_to_it() -> None:
    changes = (("south", 1.0, 0.0), ("motion", 9.0, 0.0), ("motion_lean", 1.0, 0.0), ("gravity", 0.0, 1.0))
    with_it = Filling("1", "a", frozenset(half(PAD, "right") or ()), motion=True)
    assert with_it.take(changes) == changes
    without = Filling("1", "a", frozenset(half(PAD, "left") or ()), motion=False)
    assert without.take(changes) == ()
