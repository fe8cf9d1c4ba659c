"""Halves of a pair: one for each hand, joined or alone, upright or sideways (needs N02, N05).

Known by the shape of the node, whatever its driver: Documentation/input/gamepad.rst allows a pad with any number of
sticks, and drivers/hid/hid-nintendo.c gives the left half the left stick and a d-pad of buttons, the right half the
right stick and the face buttons, and each the two buttons on its inner edge as shoulder buttons of the other hand.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping
from typing import Final

from nubshift.devices.codes import ABS_RX, ABS_RY, ABS_X, ABS_Y, BTN_DPAD_UP, BTN_SOUTH, AxisRange
from nubshift.devices.conventions import key_input, stick_inputs
from nubshift.devices.frames import Half
from nubshift.model.controller_setup import InputMapping
from nubshift.texts import _

_TL, _TR, _TL2, _TR2, _SELECT, _START, _MODE, _THUMBL, _THUMBR = (
    0x136,
    0x137,
    0x138,
    0x139,
    0x13A,
    0x13B,
    0x13C,
    0x13D,
    0x13E,
)
UPRIGHT: Final[Mapping[Half, Mapping[int, str]]] = {
    "left": {
        0x220: "dpad_up",
        0x221: "dpad_down",
        0x222: "dpad_left",
        0x223: "dpad_right",
        _TL: "left_bumper",
        _TL2: "left_trigger",
        _TR: "left_grip",
        _TR2: "left_grip_2",
        _SELECT: "select",
        _THUMBL: "left_stick_click",
    },
    "right": {
        0x130: "south",
        0x131: "east",
        0x133: "north",
        0x134: "west",
        _TR: "right_bumper",
        _TR2: "right_trigger",
        _TL: "right_grip_2",
        _TL2: "right_grip",
        _START: "start",
        _MODE: "mode",
        _THUMBR: "right_stick_click",
    },
}
"""One in each hand: the edge's buttons are grips, the upper one first."""
SIDEWAYS: Final[Mapping[Half, Mapping[int, str]]] = {
    "left": {
        0x220: "west",
        0x221: "east",
        0x222: "south",
        0x223: "north",
        _TL: "left_grip",
        _TL2: "left_grip_2",
        _TR: "left_bumper",
        _TR2: "right_bumper",
        _SELECT: "select",
        _THUMBL: "left_stick_click",
    },
    "right": {
        0x130: "west",
        0x131: "south",
        0x133: "east",
        0x134: "north",
        _TR: "right_grip",
        _TR2: "right_grip_2",
        _TL: "left_bumper",
        _TL2: "right_bumper",
        _START: "start",
        _MODE: "mode",
        _THUMBR: "left_stick_click",
    },
}
"""Sideways, in both hands: a position is where the thumb finds it."""
NAMES: Final[Mapping[Half, Mapping[str, str]]] = {
    "left": {"left_grip": _("Upper edge button"), "left_grip_2": _("Lower edge button")},
    "right": {"right_grip": _("Upper edge button"), "right_grip_2": _("Lower edge button")},
}
SIDEWAYS_NAMES: Final[Mapping[Half, Mapping[str, str]]] = {
    "left": {
        "left_bumper": _("Left edge button"),
        "right_bumper": _("Right edge button"),
        "left_grip": _("Shoulder button"),
        "left_grip_2": _("Lower shoulder button"),
    },
    "right": {
        "left_bumper": _("Left edge button"),
        "right_bumper": _("Right edge button"),
        "right_grip": _("Shoulder button"),
        "right_grip_2": _("Lower shoulder button"),
    },
}


def half_of(keys: Collection[int], axes: Collection[int]) -> Half:
    """Which half a node with these capabilities is; empty for none."""
    left, right = ABS_X in axes and ABS_Y in axes, ABS_RX in axes and ABS_RY in axes
    if left and not right and BTN_DPAD_UP in keys and BTN_SOUTH not in keys and _TL in keys:
        return "left"
    return "right" if right and not left and BTN_SOUTH in keys and _TR in keys else ""


def half_inputs(half: Half, sideways: bool, keys: Collection[int], axes: Mapping[int, AxisRange]) -> list[InputMapping]:
    """The inputs of a half, held upright or sideways."""
    pair = (ABS_X, ABS_Y) if half == "left" else (ABS_RX, ABS_RY)
    x, y = stick_inputs("left_stick" if sideways else f"{half}_stick", axes, pair)
    if sideways:  # up points left on the left half, and right on the right one
        flip_x = half == "right"
        x, y = _moved(y, "x", flip_x), _moved(x, "y", not flip_x)
    buttons = (SIDEWAYS if sideways else UPRIGHT)[half]
    return [x, y, *(key_input(name, code) for code, name in buttons.items() if code in keys)]


def _moved(input_: InputMapping, component: str, flip: bool) -> InputMapping:
    return InputMapping(input_.control, "axis", input_.code, component, input_.low, input_.rest, input_.high, flip=flip)  # type: ignore[arg-type]
