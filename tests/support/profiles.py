"""Profiles for tests, made in a line or two."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from msgspec.structs import replace

from nubshift.model import edits
from nubshift.model.edits import Slot
from nubshift.model.profile import (
    BASE,
    Binding,
    HoldLayer,
    KeysRole,
    MouseRole,
    Profile,
    Role,
    Send,
    SendKey,
    new_profile,
)

Word = str | Sequence[str]


def sends(words: Word) -> tuple[Send, ...]:
    """``"A"``, ``["LEFTSHIFT", "A"]``; a word ``>aim`` holds that layer."""
    words = [words] if isinstance(words, str) else words
    return tuple(HoldLayer(word[1:]) if word.startswith(">") else SendKey(word) for word in words)


def four(up: Word = "W", right: Word = "D", down: Word = "S", left: Word = "A") -> KeysRole:
    return KeysRole(up=sends(up), right=sends(right), down=sends(down), left=sends(left))


def made(layers: dict[str, dict[str, Word | Role | None]], feel: dict[str, dict[str, dict[str, Any]]] | None = None,
         hiding: Sequence[str] = ()) -> Profile:  # fmt: skip
    """A profile from ``{layer: {control: what}}``; what is sends, a role, or None for blocked."""
    profile = new_profile("Test")
    for layer in layers:
        if layer != BASE:
            profile = edits.with_layer(profile, layer)[0]
    for layer, controls in layers.items():
        for control, what in controls.items():
            if what is None:
                profile = edits.with_binding(profile, layer, Binding(control, blocked=True))
            elif isinstance(what, KeysRole | MouseRole):
                profile = edits.with_role(profile, layer, control, what)
            else:
                profile = edits.with_sends(profile, Slot(layer, control), sends(what))
    for layer, controls_feel in (feel or {}).items():
        for control, values in controls_feel.items():
            profile = edits.with_feel(profile, layer, control, **values)
    kept = tuple(replace(entry, hides=True) if entry.id in hiding else entry for entry in profile.layers)
    return replace(profile, layers=kept)
