"""What the virtual pad looks like to the kernel: its kinds, and the codes of its buttons and axes (need N34).

Codes are those of the kernel's gamepad conventions (Documentation/input/gamepad.rst); the identity is our own.
"""

from __future__ import annotations

from msgspec import Struct

from nubshift.model.profile import PadKind
from nubshift.model.sends import PAD_AXES, PAD_BUTTONS

REACH = 32767
"""Of a stick's axis to either side; a trigger goes from 0 to 1023."""
PULL = 1023

BUTTON_CODES: dict[str, int] = {
    "south": 0x130,
    "east": 0x131,
    "north": 0x133,
    "west": 0x134,
    "left_bumper": 0x136,
    "right_bumper": 0x137,
    "select": 0x13A,
    "start": 0x13B,
    "mode": 0x13C,
    "left_stick_click": 0x13D,
    "right_stick_click": 0x13E,
    "dpad_up": 0x220,
    "dpad_down": 0x221,
    "dpad_left": 0x222,
    "dpad_right": 0x223,
}
AXIS_CODES: dict[str, int] = {
    "left_x": 0x00,
    "left_y": 0x01,
    "left_trigger": 0x02,
    "right_x": 0x03,
    "right_y": 0x04,
    "right_trigger": 0x05,
}


class VirtualPadModel(Struct, frozen=True):
    """One kind of virtual pad."""

    name: str
    product: int
    buttons: tuple[str, ...]
    axes: tuple[str, ...]


MODELS: dict[PadKind, VirtualPadModel] = {
    "full": VirtualPadModel("Nub Shift pad", 1, PAD_BUTTONS, PAD_AXES),
    "simple": VirtualPadModel(
        "Nub Shift simple pad", 2, tuple(b for b in PAD_BUTTONS if "stick" not in b), ("left_x", "left_y")
    ),
}
VENDOR = 0x6E73
"""Of nobody; a game that asks for a name finds that of the model."""


def raw_axis(axis: str, value: float) -> int:
    """The kernel's value of an axis."""
    return round(value * (PULL if axis.endswith("trigger") else REACH))
