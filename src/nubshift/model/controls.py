"""The controls that can be bound: names by the kernel's gamepad conventions, what they are, and who reaches them.

Some are made of others: `dpad` of the four directions, the joined sticks of two lone axes, the halves of a touch pad.
Motion has three channels of values beside its own (`CHANNELS`), and a sensor that can lose sight has a button that is
down while it sees (`PRESENCE`).
"""

from __future__ import annotations

from enum import StrEnum

import msgspec

from nubshift.texts import _, listed


class Kind(StrEnum):
    """What a control physically is."""

    BUTTON = "button"
    TRIGGER = "trigger"
    STICK = "stick"
    AXIS = "axis"
    DPAD = "d-pad"
    TOUCH = "touch pad"
    POINTER = "pointer"
    MOTION = "motion"


class Finger(StrEnum):
    """The part of the hands that reaches a control, as files name it."""

    LEFT_INDEX = "left index"
    RIGHT_INDEX = "right index"
    LEFT_THUMB = "left thumb"
    RIGHT_THUMB = "right thumb"
    LEFT_GRIP = "left grip and centre"
    RIGHT_GRIP = "centre and right grip"
    WHOLE_PAD = "whole pad"
    FREE_HAND = "free hand"
    MOUTH = "mouth"
    BREATH = "breath"
    LEFT_FOOT = "left foot"
    RIGHT_FOOT = "right foot"


REACH_NAMES: dict[Finger, str] = {
    Finger.LEFT_INDEX: _("Left index"),
    Finger.RIGHT_INDEX: _("Right index"),
    Finger.LEFT_THUMB: _("Left thumb"),
    Finger.RIGHT_THUMB: _("Right thumb"),
    Finger.LEFT_GRIP: _("Left grip and centre"),
    Finger.RIGHT_GRIP: _("Centre and right grip"),
    Finger.WHOLE_PAD: _("Whole pad"),
    Finger.FREE_HAND: _("Free hand"),
    Finger.MOUTH: _("Mouth"),
    Finger.BREATH: _("Breath"),
    Finger.LEFT_FOOT: _("Left foot"),
    Finger.RIGHT_FOOT: _("Right foot"),
}

BUTTON_LIKE = frozenset({Kind.BUTTON, Kind.TRIGGER})
"""Kinds that have gestures."""

PLANES = frozenset({Kind.STICK, Kind.DPAD, Kind.TOUCH, Kind.POINTER})
"""Kinds with two dimensions."""

TUNABLE = frozenset({Kind.STICK, Kind.TRIGGER, Kind.AXIS, Kind.MOTION})
"""Kinds with a feel that can be seen in Tune."""


class ControlInfo(msgspec.Struct, frozen=True):
    """One control: its `name` in files, the `title` a person reads, and a `mark` of at most three letters."""

    name: str
    kind: Kind
    title: str
    mark: str
    reach: Finger


_B, _T, _S = Kind.BUTTON, Kind.TRIGGER, Kind.STICK
_PAD = [
    ControlInfo("left_trigger", _T, _("Left trigger"), "lt", Finger.LEFT_INDEX),
    ControlInfo("left_bumper", _B, _("Left bumper"), "lb", Finger.LEFT_INDEX),
    ControlInfo("right_bumper", _B, _("Right bumper"), "rb", Finger.RIGHT_INDEX),
    ControlInfo("right_trigger", _T, _("Right trigger"), "rt", Finger.RIGHT_INDEX),
    ControlInfo("left_stick", _S, _("Left stick"), "ls", Finger.LEFT_THUMB),
    ControlInfo("left_stick_click", _B, _("Left stick click"), "lc", Finger.LEFT_THUMB),
    ControlInfo("dpad_up", _B, _("D-pad up"), "↑", Finger.LEFT_THUMB),
    ControlInfo("dpad_right", _B, _("D-pad right"), "→", Finger.LEFT_THUMB),
    ControlInfo("dpad_down", _B, _("D-pad down"), "↓", Finger.LEFT_THUMB),
    ControlInfo("dpad_left", _B, _("D-pad left"), "←", Finger.LEFT_THUMB),
    ControlInfo("north", _B, _("Upper face button"), "n", Finger.RIGHT_THUMB),
    ControlInfo("east", _B, _("Right face button"), "e", Finger.RIGHT_THUMB),
    ControlInfo("south", _B, _("Lower face button"), "s", Finger.RIGHT_THUMB),
    ControlInfo("west", _B, _("Left face button"), "w", Finger.RIGHT_THUMB),
    ControlInfo("right_stick", _S, _("Right stick"), "rs", Finger.RIGHT_THUMB),
    ControlInfo("right_stick_click", _B, _("Right stick click"), "rc", Finger.RIGHT_THUMB),
    ControlInfo("left_grip", _B, _("Upper left grip"), "g1", Finger.LEFT_GRIP),
    ControlInfo("left_grip_2", _B, _("Lower left grip"), "g2", Finger.LEFT_GRIP),
    ControlInfo("select", _B, _("Left centre button"), "cl", Finger.LEFT_GRIP),
    ControlInfo("mode", _B, _("Middle button"), "cm", Finger.RIGHT_GRIP),
    ControlInfo("start", _B, _("Right centre button"), "cr", Finger.RIGHT_GRIP),
    ControlInfo("right_grip", _B, _("Upper right grip"), "g3", Finger.RIGHT_GRIP),
    ControlInfo("right_grip_2", _B, _("Lower right grip"), "g4", Finger.RIGHT_GRIP),
    ControlInfo("motion", Kind.MOTION, _("Motion"), "mo", Finger.WHOLE_PAD),
]
_MORE = [
    ControlInfo("dpad", Kind.DPAD, _("D-pad as a whole"), "dp", Finger.LEFT_THUMB),
    *(ControlInfo(f"axis_{n}", Kind.AXIS, _("Axis {n}").format(n=n), f"a{n}", Finger.WHOLE_PAD) for n in range(1, 9)),
    *(
        ControlInfo(f"joined_stick_{n}", _S, _("Joined stick {n}").format(n=n), f"j{n}", Finger.WHOLE_PAD)
        for n in range(1, 4)
    ),
    *(ControlInfo(f"button_{n}", _B, _("Button {n}").format(n=n), str(n), Finger.WHOLE_PAD) for n in range(1, 33)),
    ControlInfo("touch_pad", Kind.TOUCH, _("Touch pad"), "tp", Finger.LEFT_THUMB),
    ControlInfo("touch_pad_left", Kind.TOUCH, _("Left half of the touch pad"), "tl", Finger.LEFT_THUMB),
    ControlInfo("touch_pad_right", Kind.TOUCH, _("Right half of the touch pad"), "tr", Finger.RIGHT_THUMB),
    ControlInfo("touch_pad_touched", _B, _("Touch pad touched"), "tt", Finger.LEFT_THUMB),
    ControlInfo("touch_pad_click", _B, _("Touch pad click"), "tc", Finger.LEFT_THUMB),
    ControlInfo("pointer", Kind.POINTER, _("Pointer"), "po", Finger.WHOLE_PAD),
    ControlInfo("pointer_seen", _B, _("Pointer sees the screen"), "ps", Finger.WHOLE_PAD),
]

CONTROLS: dict[str, ControlInfo] = {info.name: info for info in (*_PAD, *_MORE)}
"""Every control by name, in the order in which the window shows them."""

PAD_CONTROLS: tuple[str, ...] = tuple(info.name for info in _PAD)
"""The controls of a pad with two sticks, grips and motion."""

CHANNELS: tuple[str, ...] = ("motion_lean", "gravity", "gravity_z")
"""Values that belong to the control `motion`, which itself has turn and nod: the third rate, and the pull in g.

Axes are x right, y down, z away from the player; a pad that lies flat has `gravity` (0, 1) and `gravity_z` 0. Rates
are in degrees a second: turn right, nod down and lean right are positive.
"""

PRESENCE: dict[str, str] = {"touch_pad_touched": "touch_pad", "pointer_seen": "pointer"}
"""Buttons that say whether a sensor has sight of what it senses."""

FACE = ("north", "east", "south", "west")
DPAD = ("dpad_up", "dpad_right", "dpad_down", "dpad_left")


def kind_of(control: str) -> Kind:
    """The kind of `control`, one of `CONTROLS`; several joined with ``+`` are a button."""
    return Kind.BUTTON if "+" in control else CONTROLS[control].kind


def title_of(control: str) -> str:
    """What a person calls a control; several joined with ``+`` are named one after the other."""
    titles = [CONTROLS[name].title for name in control.split("+")]
    return listed([titles[0], *(title.lower() for title in titles[1:])])
