"""Contract R2: the normal form, as the decoder makes it and the engine takes it."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nubshift.devices.codes import ABS_RX, ABS_RY, ABS_X, ABS_Y, ABS_Z, EV_ABS, EV_SYN, AxisRange
from nubshift.devices.conventions import pad_inputs
from nubshift.devices.decode import Decoder
from nubshift.feel.directions import angle_of
from nubshift.model.roles import KeysRole, MouseRole
from tests.support.playing import Desk, moved
from tests.support.profiles import four, made


def pad(**values: int) -> Decoder:
    axes = {code: AxisRange(0, 255, 128) for code in (ABS_X, ABS_Y, ABS_RX, ABS_RY)}
    axes |= {ABS_Z: AxisRange(0, 1023, 0)}
    return Decoder(pad_inputs((), axes), axes)


@given(st.integers(0, 255))
def test_each_half_axis_is_scaled_on_its_own_from_rest(raw: int) -> None:
    decoder = pad()
    decoder.event(EV_ABS, ABS_X, raw)
    changes = decoder.event(EV_SYN, 0, 0)
    assert changes is not None
    x = changes[0][1]
    assert -1.0 <= x <= 1.0
    assert (x > 0) == (raw > 128)
    assert (raw, x) in {(0, -1.0), (128, 0.0), (255, 1.0)} or 0 < abs(x) < 1


def test_triggers_rest_at_zero() -> None:
    decoder = pad()
    decoder.event(EV_ABS, ABS_Z, 1023)
    assert decoder.event(EV_SYN, 0, 0) == (("left_trigger", 1.0, 0.0),)


def test_right_and_down_are_positive() -> None:
    desk = Desk(made({"base": {"left_stick": four(), "right_stick": MouseRole()}}))
    assert desk.at(0, left_stick=(0, 1.0)) == ["+S"]
    assert desk.at(1, left_stick=(1.0, 0)) == ["-S", "+D"]
    desk.at(2, right_stick=(1.0, 1.0))
    desk.to(100_000)
    dx, dy = moved(desk.log)
    assert dx > 0
    assert dy > 0


@pytest.mark.parametrize(("x", "y", "angle"), [(0, -1, 0), (1, 0, 90), (0, 1, 180), (-1, 0, 270), (1, -1, 45)])
def test_angles_run_clockwise_from_up(x: float, y: float, angle: float) -> None:
    assert angle_of(x, y) == angle


def test_a_lone_axis_lies_between_minus_one_and_one() -> None:
    desk = Desk(made({"base": {"axis_1": KeysRole(left=four("A").up, right=four("D").up)}}))
    assert desk.at(0, axis_1=-0.5) == ["+A"]
    assert desk.at(1, axis_1=0.5) == ["-A", "+D"]
    assert desk.at(2, axis_1=0.0) == ["-D"]


def test_two_lone_axes_are_joined_as_a_stick() -> None:
    from nubshift.model.profile import Join, Seat

    seats = (Seat("1", joins=(Join("joined_stick_1", "axis_2", "axis_1"),)),)
    desk = Desk(made({"base": {"joined_stick_1": four()}}, seats=seats))
    assert desk.at(0, axis_2=1.0) == ["+D"]
    assert desk.at(1, axis_1=-1.0) == ["+W"]
    assert desk.at(2, axis_2=0.0) == ["-D"]


def test_the_four_directions_are_a_stick_as_well() -> None:
    from nubshift.model.roles import ScrollRole

    desk = Desk(made({"base": {"dpad": ScrollRole()}}))
    desk.at(0, dpad_up=1)
    assert desk.to(100_000)[0] == "wheel 0,0.05"
    desk.at(100_000, dpad_up=0, dpad_right=1)
    assert desk.to(200_000)[-1] == "wheel 0.05,0"


def test_halves_of_a_touch_pad() -> None:
    desk = Desk(made({"base": {"touch_pad_left": four(), "touch_pad_right": four("I", "L", "K", "J")}}))
    assert desk.at(0, touch_pad_touched=1, touch_pad=(-0.5, -0.9)) == ["+W"]
    assert desk.at(1, touch_pad=(0.5, -0.9)) == ["-W", "+I"]
    assert desk.at(2, touch_pad=(1.0, 0.0)) == ["-I", "+L"]
    assert desk.at(4, touch_pad_touched=0) == ["-L"]
