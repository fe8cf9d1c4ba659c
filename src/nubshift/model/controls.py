"""The controls a pad can have: names by the kernel's gamepad conventions, what they are, and who reaches them."""

from __future__ import annotations

from enum import StrEnum

import msgspec


class Kind(StrEnum):
    """What a control physically is."""

    BUTTON = "button"
    TRIGGER = "trigger"
    STICK = "stick"
    MOTION = "motion"


class Reach(StrEnum):
    """The part of the hands that reaches a control, in the words of the window."""

    LEFT_INDEX = "left index"
    RIGHT_INDEX = "right index"
    LEFT_THUMB = "left thumb"
    RIGHT_THUMB = "right thumb"
    LEFT_GRIP = "left grip and centre"
    RIGHT_GRIP = "centre and right grip"
    WHOLE_PAD = "whole pad"


class ControlInfo(msgspec.Struct, frozen=True):
    """One control: its `name` in files, the `title` a person reads, and a `mark` of at most three letters."""

    name: str
    kind: Kind
    title: str
    mark: str
    reach: Reach


_B, _T, _S = Kind.BUTTON, Kind.TRIGGER, Kind.STICK
_ALL = [
    ControlInfo("left_trigger", _T, "Left trigger", "lt", Reach.LEFT_INDEX),
    ControlInfo("left_bumper", _B, "Left bumper", "lb", Reach.LEFT_INDEX),
    ControlInfo("right_bumper", _B, "Right bumper", "rb", Reach.RIGHT_INDEX),
    ControlInfo("right_trigger", _T, "Right trigger", "rt", Reach.RIGHT_INDEX),
    ControlInfo("left_stick", _S, "Left stick", "ls", Reach.LEFT_THUMB),
    ControlInfo("left_stick_click", _B, "Left stick click", "lc", Reach.LEFT_THUMB),
    ControlInfo("dpad_up", _B, "D-pad up", "↑", Reach.LEFT_THUMB),
    ControlInfo("dpad_right", _B, "D-pad right", "→", Reach.LEFT_THUMB),
    ControlInfo("dpad_down", _B, "D-pad down", "↓", Reach.LEFT_THUMB),
    ControlInfo("dpad_left", _B, "D-pad left", "←", Reach.LEFT_THUMB),
    ControlInfo("north", _B, "Upper face button", "n", Reach.RIGHT_THUMB),
    ControlInfo("east", _B, "Right face button", "e", Reach.RIGHT_THUMB),
    ControlInfo("south", _B, "Lower face button", "s", Reach.RIGHT_THUMB),
    ControlInfo("west", _B, "Left face button", "w", Reach.RIGHT_THUMB),
    ControlInfo("right_stick", _S, "Right stick", "rs", Reach.RIGHT_THUMB),
    ControlInfo("right_stick_click", _B, "Right stick click", "rc", Reach.RIGHT_THUMB),
    ControlInfo("left_grip", _B, "Upper left grip", "g1", Reach.LEFT_GRIP),
    ControlInfo("left_grip_2", _B, "Lower left grip", "g2", Reach.LEFT_GRIP),
    ControlInfo("select", _B, "Left centre button", "cl", Reach.LEFT_GRIP),
    ControlInfo("mode", _B, "Middle button", "cm", Reach.RIGHT_GRIP),
    ControlInfo("start", _B, "Right centre button", "cr", Reach.RIGHT_GRIP),
    ControlInfo("right_grip", _B, "Upper right grip", "g3", Reach.RIGHT_GRIP),
    ControlInfo("right_grip_2", _B, "Lower right grip", "g4", Reach.RIGHT_GRIP),
    ControlInfo("motion", Kind.MOTION, "Motion", "mo", Reach.WHOLE_PAD),
]

CONTROLS: dict[str, ControlInfo] = {info.name: info for info in _ALL}
"""Every control by name, in the order in which the window shows them."""

FACE = ("north", "east", "south", "west")
DPAD = ("dpad_up", "dpad_right", "dpad_down", "dpad_left")


def kind_of(control: str) -> Kind:
    """The kind of `control`, which must be one of `CONTROLS`."""
    return CONTROLS[control].kind
