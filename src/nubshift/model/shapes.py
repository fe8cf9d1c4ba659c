"""The shapes of controllers: what each has, who reaches it, and the order in which it is taught (need N02)."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal, TypeAlias

import msgspec

from nubshift.model.controls import CONTROLS, DPAD, Finger, Kind, kind_of
from nubshift.texts import _

Way: TypeAlias = Literal["", "right", "down", "more", "less"]
"""What is asked of a control: a press, a push to the right or down, or one of the two directions of a lone axis."""


class ShapeLesson(msgspec.Struct, frozen=True):
    """One thing to be pressed or moved: the control, which way, and the sentence that asks for it."""

    control: str
    way: Way
    ask: str


class Shape(msgspec.Struct, frozen=True):
    """A shape of controller: what is asked for, what its things are called, and who reaches them if not as on a pad."""

    id: str
    title: str
    lessons: tuple[ShapeLesson, ...]
    names: Mapping[str, str] = {}
    reach: Mapping[str, Finger] = {}

    @property
    def controls(self) -> tuple[str, ...]:
        """All it may have."""
        return tuple(dict.fromkeys(lesson.control for lesson in self.lessons))

    def name_of(self, control: str) -> str:
        """What a control is called on this shape."""
        return self.names.get(control, CONTROLS[control].title)


def _press(control: str, words: str = "") -> ShapeLesson:
    name = words or f"the {CONTROLS[control].title.lower()}"
    verb = "Pull" if kind_of(control) is Kind.TRIGGER else "Press"
    return ShapeLesson(control, "", f"{verb} {name}")


def _stick(control: str, words: str = "") -> tuple[ShapeLesson, ShapeLesson]:
    name = words or f"the {CONTROLS[control].title.lower()}"
    return ShapeLesson(control, "right", _("Push {name} to the right").format(name=name)), ShapeLesson(
        control, "down", _("Push {name} down, or towards you").format(name=name)
    )


_SHOULDERS = tuple(_press(name) for name in ("left_bumper", "right_bumper", "left_trigger", "right_trigger"))
_CENTRE = tuple(_press(name) for name in ("select", "start", "mode"))
_PAD = Shape(
    "pad",
    _("Pad with two sticks"),
    (
        *(_press(name) for name in ("south", "east", "west", "north")),
        *(_press(name) for name in DPAD),
        *_SHOULDERS,
        *_stick("left_stick"),
        *_stick("right_stick"),
        _press("left_stick_click", "the left stick in, like a button"),
        _press("right_stick_click", "the right stick in, like a button"),
        *_CENTRE,
        *(_press(name) for name in ("left_grip", "right_grip", "left_grip_2", "right_grip_2")),
    ),
)

_ROWS = {
    "west": ("upper", "first"),
    "north": ("upper", "second"),
    "right_bumper": ("upper", "third"),
    "left_bumper": ("upper", "fourth"),
    "south": ("lower", "first"),
    "east": ("lower", "second"),
    "right_trigger": ("lower", "third"),
    "left_trigger": ("lower", "fourth"),
}
_ARCADE_NAMES = {
    **{name: f"{row.capitalize()} row, {place}" for name, (row, place) in _ROWS.items()},
    **{f"dpad_{way}": f"Lever {way}" for way in ("up", "down", "left", "right")},
}
_ARCADE = Shape(
    "arcade",
    _("Arcade stick: a lever and rows of buttons"),
    (
        *(
            ShapeLesson(f"dpad_{way}", "", _("Push the lever {way}").format(way=way))
            for way in ("up", "right", "down", "left")
        ),
        *(
            ShapeLesson(name, "", _("Press the {place} button of the {row} row").format(place=place, row=row))
            for name, (row, place) in _ROWS.items()
        ),
        *_CENTRE,
    ),
    _ARCADE_NAMES,
    {
        "right_bumper": Finger.RIGHT_THUMB,
        "left_bumper": Finger.RIGHT_THUMB,
        "right_trigger": Finger.RIGHT_THUMB,
        "left_trigger": Finger.RIGHT_THUMB,
    },
)

_FRETS = {f"button_{n}": f"Fret {n}" for n in range(1, 6)}
_GUITAR = Shape(
    "guitar",
    _("Guitar: frets, a strum bar and a bar to bend notes"),
    (
        *(
            ShapeLesson(name, "", _("Press {words}, counted from the head").format(words=words.lower()))
            for name, words in _FRETS.items()
        ),
        ShapeLesson("dpad_up", "", _("Strum up")),
        ShapeLesson("dpad_down", "", _("Strum down")),
        ShapeLesson("axis_1", "more", _("Press the whammy bar down")),
        ShapeLesson("axis_2", "more", _("Raise the neck, then lower it")),
        *_CENTRE,
    ),
    {**_FRETS, "dpad_up": "Strum up", "dpad_down": "Strum down", "axis_1": "Whammy bar", "axis_2": "Neck raised"},
    {
        **dict.fromkeys(_FRETS, Finger.LEFT_INDEX),
        "dpad_up": Finger.RIGHT_THUMB,
        "dpad_down": Finger.RIGHT_THUMB,
        "axis_1": Finger.RIGHT_GRIP,
        "axis_2": Finger.WHOLE_PAD,
        "select": Finger.RIGHT_GRIP,
    },
)

_REMOTE_NAMES = {
    "south": _("Large button"),
    "right_trigger": _("Button underneath"),
    "button_1": _("First small button"),
    "button_2": _("Second small button"),
}
_REMOTE = Shape(
    "remote",
    _("Remote for one hand"),
    (
        ShapeLesson("south", "", _("Press the large button under your thumb")),
        ShapeLesson("right_trigger", "", _("Press the button underneath, at your index finger")),
        *(_press(name) for name in DPAD),
        ShapeLesson("button_1", "", _("Press the first small button")),
        ShapeLesson("button_2", "", _("Press the second small button")),
        *_CENTRE,
    ),
    _REMOTE_NAMES,
    {
        **dict.fromkeys(DPAD, Finger.RIGHT_THUMB),
        "button_1": Finger.RIGHT_GRIP,
        "button_2": Finger.RIGHT_GRIP,
        "select": Finger.RIGHT_GRIP,
        "right_trigger": Finger.RIGHT_INDEX,
    },
)


def _puff_and_sip(hole: str) -> tuple[tuple[Way, str], tuple[Way, str]]:
    return ("more", _("Puff into the {hole}").format(hole=hole.lower())), (
        "less",
        _("Sip at the {hole}").format(hole=hole.lower()),
    )


_HOLES = {"axis_1": _("Left hole"), "axis_2": _("Middle hole"), "axis_3": _("Right hole")}
_MOUTH = Shape(
    "mouth",
    _("Stick for the mouth, with holes to puff and sip"),
    (
        *_stick("left_stick", "the stick"),
        *(ShapeLesson(name, way, ask) for name, words in _HOLES.items() for way, ask in _puff_and_sip(words)),
        ShapeLesson("button_1", "", _("Press the pad at your lip")),
        ShapeLesson("button_2", "", _("Press the stick in, or its further button")),
    ),
    {**_HOLES, "left_stick": "Stick", "button_1": "Lip pad", "button_2": "Further button"},
    {
        "left_stick": Finger.MOUTH,
        **dict.fromkeys(_HOLES, Finger.BREATH),
        "button_1": Finger.MOUTH,
        "button_2": Finger.MOUTH,
    },
)

FREE = Shape("free", _("Something else"), ())
SHAPES: dict[str, Shape] = {shape.id: shape for shape in (_PAD, _ARCADE, _GUITAR, _REMOTE, _MOUTH, FREE)}
"""The five that are led through, and the free one."""
