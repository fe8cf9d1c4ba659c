"""Edits of a profile as pure functions: a profile in, a profile out. Names, undo and merging are `document`'s."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any, TypeVar

import msgspec
from msgspec.structs import replace

from nubshift.model.part import Direction
from nubshift.model.profile import BASE, GESTURES, Binding, Command, Feel, Layer, Profile
from nubshift.model.roles import KeysRole, Role
from nubshift.model.sends import ChangeLayer, HoldLayer, NextLayer, Send, SendCommand, Sends
from nubshift.model.walk import map_sends, without

P = TypeVar("P")


@dataclass(frozen=True)
class Slot:
    """A place of a profile that can be given something to send: a press, or one direction of a stick."""

    layer: str
    control: str
    direction: Direction | None = None
    seat: str = "1"


def sends_of(profile: Profile, slot: Slot) -> Sends:
    """What stands in a slot of this very layer."""
    layer = profile.layer(slot.layer)
    binding = layer.binding(slot.control, slot.seat) if layer else None
    if binding is None:
        return ()
    if slot.direction is None:
        return binding.press
    return binding.role.sends(slot.direction) if isinstance(binding.role, KeysRole) else ()


def with_sends(profile: Profile, slot: Slot, sends: Sends) -> Profile:
    """`profile` with `sends` in the slot. A stick that was no set of keys becomes one."""
    binding = _binding(profile, slot)
    if slot.direction is None:
        return with_binding(profile, slot.layer, replace(binding, press=sends, **_NO_POSITION, blocked=False))
    role = binding.role if isinstance(binding.role, KeysRole) else KeysRole()
    role = replace(role, **{slot.direction: sends})
    return with_binding(profile, slot.layer, replace(binding, role=role, **_NO_GESTURES, blocked=False))


def with_role(profile: Profile, layer: str, control: str, role: Role | None, seat: str = "1") -> Profile:
    """`profile` with a stick used as `role` in a layer; its bands stay."""
    binding = _binding(profile, Slot(layer, control, seat=seat))
    return with_binding(profile, layer, replace(binding, role=role, **_NO_GESTURES, blocked=False))


_NO_GESTURES: dict[str, Sends] = dict.fromkeys(GESTURES, ())
_NO_POSITION: dict[str, Any] = {"role": None, "bands": (), "out": ()}
"""What a control gives up when it is used the other way: it acts as a button or by its position."""


def _binding(profile: Profile, slot: Slot) -> Binding:
    layer = profile.layer(slot.layer)
    found = layer.binding(slot.control, slot.seat) if layer else None
    return found or Binding(slot.control, slot.seat)


def with_binding(profile: Profile, layer_id: str, binding: Binding) -> Profile:
    """`profile` with this binding of a control. One that says nothing at all is taken out, so it falls through."""
    empty = binding == Binding(binding.control, binding.seat)

    def change(layer: Layer) -> Layer:
        return replace(layer, bindings=_put(layer.bindings, layer.binding(binding.control, binding.seat),
                                            None if empty else binding))  # fmt: skip

    return _with_layer(profile, layer_id, change)


def without_binding(profile: Profile, layer_id: str, control: str, seat: str = "1") -> Profile:
    """`profile` with the control falling through in this layer; its feel there goes as well."""

    def change(layer: Layer) -> Layer:
        return replace(layer, bindings=_put(layer.bindings, layer.binding(control, seat), None),
                       feel=_put(layer.feel, layer.feel_of(control, seat), None))  # fmt: skip

    return _with_layer(profile, layer_id, change)


def with_feel(profile: Profile, layer_id: str, control: str, seat: str = "1", **values: Any) -> Profile:
    """`profile` with these fields of a control's feel; a value None lets the field fall through again."""

    def change(layer: Layer) -> Layer:
        old = layer.feel_of(control, seat)
        new = replace(old or Feel(control, seat), **values)
        return replace(layer, feel=_put(layer.feel, old, None if new == Feel(control, seat) else new))

    return _with_layer(profile, layer_id, change)


def _put(parts: tuple[P, ...], old: P | None, new: P | None) -> tuple[P, ...]:
    """`parts` with `new` where `old` was (at the end if it was nowhere); without `old` if `new` is None."""
    if old is None:
        return parts if new is None else (*parts, new)
    at = next(index for index, part in enumerate(parts) if part is old)
    return parts[:at] + (() if new is None else (new,)) + parts[at + 1 :]


def _with_layer(profile: Profile, layer_id: str, change: Callable[[Layer], Layer]) -> Profile:
    layers = tuple(change(entry) if entry.id == layer_id else entry for entry in profile.layers)
    return replace(profile, layers=layers)


def with_command(profile: Profile, command: Command) -> Profile:
    """`profile` with this command in the place of the one with its id, or at the end."""
    old = profile.command(command.id)
    return replace(profile, commands=_put(profile.commands, old, command))


def with_commands(profile: Profile, commands: Sequence[Command]) -> Profile:
    """`profile` with all these commands added; each gets an id of its own."""
    for command in commands:
        taken = [c.id for c in profile.commands]
        profile = with_command(profile, replace(command, id=free_id(command.name, taken)))
    return profile


def without_command(profile: Profile, command_id: str) -> Profile:
    """`profile` without a command and without everything that sent it."""
    kept = tuple(c for c in profile.commands if c.id != command_id)
    return _without_sends(
        replace(profile, commands=kept), lambda s: isinstance(s, SendCommand) and s.command == command_id
    )


def with_layer(profile: Profile, name: str) -> tuple[Profile, str]:
    """`profile` with a new empty layer on top, and the id it got."""
    layer = Layer(free_id(name, [entry.id for entry in profile.layers]), name)
    return replace(profile, layers=(*profile.layers, layer)), layer.id


def with_layer_named(profile: Profile, layer_id: str, name: str) -> Profile:
    """`profile` with another name for a layer."""
    return _with_layer(profile, layer_id, lambda entry: replace(entry, name=name))


def without_layer(profile: Profile, layer_id: str) -> Profile:
    """`profile` without a layer (never the base) and without everything that entered it."""
    if layer_id == BASE:
        return profile
    kept = tuple(entry for entry in profile.layers if entry.id != layer_id)

    def goes(send: Send) -> bool:
        return isinstance(send, HoldLayer | ChangeLayer) and send.layer == layer_id

    def stepped(sends: Sends) -> Sends:
        steps = (replace(s, layers=tuple(n for n in s.layers if n != layer_id)) if isinstance(s, NextLayer) else s
                 for s in sends)  # fmt: skip
        return tuple(s for s in steps if not isinstance(s, NextLayer) or s.layers)

    return _without_sends(map_sends(replace(profile, layers=kept), stepped), goes)


def _without_sends(profile: Profile, goes: Callable[[Send], bool]) -> Profile:
    cleaned = map_sends(profile, lambda sends: without(sends, goes))
    layers = []
    for layer in cleaned.layers:
        kept = tuple(binding for binding in layer.bindings if _says_something(binding))
        layers.append(layer if kept == layer.bindings else replace(layer, bindings=kept))
    return replace(cleaned, layers=tuple(layers))


def _says_something(binding: Binding) -> bool:
    return binding != Binding(binding.control, binding.seat)


def free_id(name: str, taken: Sequence[str]) -> str:
    """An id made from `name` that is not among `taken`."""
    plain = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:60] or "entry"
    number, candidate = 1, plain
    while candidate in taken:
        number += 1
        candidate = f"{plain}-{number}"
    return candidate


def converted(profile: Profile) -> Profile:
    """`profile` checked field by field as if it had been read. Raises msgspec.ValidationError."""
    return msgspec.convert(msgspec.to_builtins(profile), Profile)
