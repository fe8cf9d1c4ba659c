"""A keyboard on the screen as something to send: a layer of its own, made where a button is to show it (need N38)."""

from __future__ import annotations

from collections.abc import Collection

from nubshift.model import edits
from nubshift.model.controls import Kind, kind_of
from nubshift.model.profile import BASE, Binding, Profile
from nubshift.model.roles import BoardRole

LETTERS = ("qwertyuiop", "asdfghjkl.", "zxcvbnm,?!")
ROWS = (*(tuple(row) for row in LETTERS), ("SPACE", "BACKSPACE", "ENTER", "LEFT", "RIGHT"))
"""The cells of a new keyboard."""
NAME = "Keyboard"
MOVERS = ("left_stick", "right_stick", "dpad", "joined_stick_1", "touch_pad", "pointer")
TYPISTS = ("south", "right_bumper", "right_trigger", "left_bumper", "left_trigger", "east", "button_1", "button_2")
"""What moves over the keys, and what types, in the order in which they come to hand."""


def new_board(by: str) -> BoardRole:
    """A keyboard to begin with. `by` is the control that types; empty: the lifted finger of a touch pad."""
    return BoardRole(ROWS, by=by)


def board_layer(profile: Profile, seat: str = "1") -> str:
    """The id of the layer that has a keyboard for a seat; empty if none has."""
    for layer in profile.layers:
        if layer.id != BASE and any(b.seat == seat and isinstance(b.role, BoardRole) for b in layer.bindings):
            return layer.id
    return ""


def can_type(controls: Collection[str], pressed: str) -> bool:
    """Whether a controller has what a keyboard needs beside the button that shows it."""
    return _hands(controls, pressed) is not None


def with_board(profile: Profile, controls: Collection[str], pressed: str, seat: str = "1") -> tuple[Profile, str]:
    """`profile` with a layer for the keyboard that `pressed` shows, and the layer's id; the one it has, if it has one.

    A stick (else a d-pad, touch pad or pointer) moves over the keys, and a button types, which does nothing else there.
    """
    if found := board_layer(profile, seat):
        return profile, found
    hands = _hands(controls, pressed)
    if hands is None:
        return profile, ""
    mover, typist = hands
    profile, layer = edits.with_layer(profile, NAME)
    profile = edits.with_role(profile, layer, mover, new_board(typist), seat)
    if typist:
        profile = edits.with_binding(profile, layer, Binding(typist, seat, blocked=True))
    return profile, layer


def _hands(controls: Collection[str], pressed: str) -> tuple[str, str] | None:
    there = {*controls, "dpad"} if "dpad_up" in controls else set(controls)
    near = pressed.split("+")
    busy = {*near, *(f"{side}_stick" for side in ("left", "right") if f"{side}_stick_click" in near)}
    busy |= {"dpad"} if any(name.startswith("dpad") for name in near) else set()
    mover = next((name for name in MOVERS if name in there and name not in busy), "")
    if not mover:
        return None
    if kind_of(mover) is Kind.TOUCH:
        return mover, ""
    typist = next((name for name in TYPISTS if name in there and name not in busy), "")
    return (mover, typist) if typist else None
