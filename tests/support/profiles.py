"""Profiles for tests, made in a line or two."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any, TypeAlias

from msgspec.structs import replace

from nubshift.model import edits
from nubshift.model.profile import BASE, Binding, Command, Game, Habits, Layer, Profile, Together, new_profile
from nubshift.model.roles import KeysRole, Role, Role_
from nubshift.model.rules import problems_of
from nubshift.model.sends import ChangeLayer, HoldLayer, Send, Send_, SendCommand, SendKey

Word: TypeAlias = str | Send | Sequence[str | Send]
What: TypeAlias = Word | Role | dict[str, Any] | None


def send(word: str | Send) -> Send:
    """``A`` a key, ``>aim`` holds a layer, ``!aim`` toggles it, ``/jump`` a command; a send stays as it is."""
    if isinstance(word, Send_):
        return word
    assert isinstance(word, str)
    match word[:1]:
        case ">":
            return HoldLayer(word[1:])
        case "!":
            return ChangeLayer(word[1:])
        case "/" if len(word) > 1:
            return SendCommand(word[1:])
    return SendKey(word)


def sends(words: Word) -> tuple[Send, ...]:
    """``"A"``, ``["LEFTSHIFT", "A"]``, a send, several."""
    if isinstance(words, str | Send_):
        return (send(words),)
    return tuple(send(word) for word in words)


def four(up: Word = "W", right: Word = "D", down: Word = "S", left: Word = "A") -> KeysRole:
    return KeysRole(up=sends(up), right=sends(right), down=sends(down), left=sends(left))


def bound(control: str, what: What) -> Binding:
    """A binding of sends, a role, None for blocked, or fields by name (``{"tap": "A", "role": ...}``)."""
    if what is None:
        return Binding(control, blocked=True)
    if isinstance(what, Role_):
        return Binding(control, role=what)
    if isinstance(what, dict):
        return Binding(control, **{name: _field(name, value) for name, value in what.items()})
    return Binding(control, press=sends(what))


def _field(name: str, value: Any) -> Any:
    return sends(value) if name in ("press", "tap", "hold", "double", "release", "out") else value


def made(
    layers: Mapping[str, Mapping[str, What]],
    feel: Mapping[str, Mapping[str, dict[str, Any]]] | None = None,
    hiding: Sequence[str] = (),
    *,
    together: Mapping[str, Mapping[str, What]] | None = None,
    habits: Habits | None = None,
    game: Mapping[str, Any] | None = None,
    commands: Sequence[Command] = (),
    layer_fields: Mapping[str, dict[str, Any]] | None = None,
    **parts: Any,
) -> Profile:
    """A profile from ``{layer: {control: what}}``; `together` likewise with ``"south east"`` for the controls.

    A control may be written ``seat:control``.
    """
    profile = replace(new_profile("Test"), commands=tuple(commands), habits=habits or Habits(), **parts)
    profile = replace(profile, game=replace(Game("Test"), **(game or {})))
    built = []
    for name in dict.fromkeys((BASE, *layers)):
        bindings = []
        for words, what in layers.get(name, {}).items():
            seat, _, control = words.rpartition(":")
            bindings.append(replace(bound(control, what), seat=seat or "1"))
        groups = tuple(_together(words, what) for words, what in (together or {}).get(name, {}).items())
        more = (layer_fields or {}).get(name, {})
        built.append(Layer(name, name, name in hiding, tuple(bindings), together=groups, **more))
    profile = replace(profile, layers=tuple(built))
    for layer, controls_feel in (feel or {}).items():
        for control, values in controls_feel.items():
            profile = edits.with_feel(profile, layer, control, **values)
    problems = list(problems_of(profile))
    assert not problems, problems
    return profile


def _together(words: str, what: What) -> Together:
    controls = tuple(words.split())
    if what is None:
        return Together(controls, blocked=True)
    fields = what if isinstance(what, dict) else {"press": what}
    return Together(controls, **{name: _field(name, value) for name, value in fields.items()})
