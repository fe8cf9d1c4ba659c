"""Edits of a profile as pure functions: a profile in, a profile out. Names, undo and merging are `document`'s."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from typing import Any, TypeVar

import msgspec
from msgspec.structs import replace

from nubshift.model.keys import KEYS
from nubshift.model.profile import BASE, GESTURES, Belt, Binding, Command, Feel, Layer, Macro, Pair, Profile, Together
from nubshift.model.roles import KeysRole, Role
from nubshift.model.sends import (
    ChangeLayer,
    HoldLayer,
    NextLayer,
    Send,
    SendBelt,
    SendCommand,
    SendKey,
    SendMacro,
    Sends,
)
from nubshift.model.slots import BELT, MACRO, TOGETHER, Slot, put_at, sends_at
from nubshift.model.walk import map_sends, places, without

P = TypeVar("P")


Bound = Binding | Together


def bound(profile: Profile, slot: Slot) -> Bound | None:
    """What the control (or the controls pressed together) of a slot does in this very layer."""
    layer = profile.layer(slot.layer)
    if layer is None:
        return None
    if TOGETHER in slot.control:
        return layer.combination(slot.control, slot.seat)
    return layer.binding(slot.control, slot.seat)


def holder(profile: Profile, slot: Slot) -> Bound | Belt | Macro | None:
    """What a slot is a part of."""
    if slot.control.startswith(BELT):
        return profile.belt(slot.control.removeprefix(BELT))
    if slot.control.startswith(MACRO):
        return profile.macro(slot.control.removeprefix(MACRO))
    return bound(profile, slot)


def sends_of(profile: Profile, slot: Slot) -> Sends:
    """What stands in a slot of this very layer."""
    return sends_at(holder(profile, slot), slot.part)


def with_sends(profile: Profile, slot: Slot, sends: Sends) -> Profile:
    """`profile` with `sends` in the slot. A control that was used otherwise gives that up.

    Raises LookupError if there is no such part.
    """
    found = holder(profile, slot)
    match found:
        case Belt():
            return with_belt(profile, put_at(found, slot.part, sends))
        case Macro():
            return with_macro(profile, put_at(found, slot.part, sends))
    if TOGETHER in slot.control:
        together = found if isinstance(found, Together) else Together(tuple(slot.control.split(TOGETHER)), slot.seat)
        return with_together(profile, slot.layer, put_at(replace(together, blocked=False), slot.part, sends))
    binding = found if isinstance(found, Binding) else Binding(slot.control, slot.seat)
    if slot.part in GESTURES:
        binding = replace(binding, **_NO_POSITION)
    else:
        if slot.direction is not None and not isinstance(binding.role, KeysRole):
            binding = replace(binding, role=KeysRole())
        binding = replace(binding, **_NO_GESTURES)
    return with_binding(profile, slot.layer, put_at(replace(binding, blocked=False), slot.part, sends))


def with_role(profile: Profile, layer: str, control: str, role: Role | None, seat: str = "1") -> Profile:
    """`profile` with a control used as `role` in a layer; its bands stay."""
    found = bound(profile, Slot(layer, control, seat=seat))
    binding = found if isinstance(found, Binding) else Binding(control, seat)
    return with_binding(profile, layer, replace(binding, role=role, **_NO_GESTURES, blocked=False))


_NO_GESTURES: dict[str, Any] = {**dict.fromkeys(GESTURES, ()), "hold_at": None, "double_within": None}
_NO_POSITION: dict[str, Any] = {"role": None, "bands": (), "out": ()}
"""What a control gives up when it is used the other way: it acts as a button or by its position."""


def with_together(profile: Profile, layer_id: str, together: Together) -> Profile:
    """`profile` with this combination; one that says nothing at all is taken out."""
    empty = together == Together(together.controls, together.seat)

    def change(layer: Layer) -> Layer:
        old = layer.combination(TOGETHER.join(together.controls), together.seat)
        return replace(layer, together=_put(layer.together, old, None if empty else together))

    return _with_layer(profile, layer_id, change)


def with_bound(profile: Profile, layer_id: str, new: Bound) -> Profile:
    """`profile` with this binding or combination."""
    if isinstance(new, Together):
        return with_together(profile, layer_id, new)
    return with_binding(profile, layer_id, new)


def with_binding(profile: Profile, layer_id: str, binding: Binding) -> Profile:
    """`profile` with this binding of a control. One that says nothing at all is taken out, so it falls through."""
    empty = binding == Binding(binding.control, binding.seat)

    def change(layer: Layer) -> Layer:
        return replace(
            layer,
            bindings=_put(layer.bindings, layer.binding(binding.control, binding.seat), None if empty else binding),
        )

    return _with_layer(profile, layer_id, change)


def without_binding(profile: Profile, layer_id: str, control: str, seat: str = "1") -> Profile:
    """`profile` with the control falling through in this layer; its feel there goes as well."""

    def change(layer: Layer) -> Layer:
        return replace(
            layer,
            bindings=_put(layer.bindings, layer.binding(control, seat), None),
            feel=_put(layer.feel, layer.feel_of(control, seat), None),
        )

    return _with_layer(profile, layer_id, change)


def with_feel(profile: Profile, layer_id: str, control: str, seat: str = "1", **values: Any) -> Profile:
    """`profile` with these fields of a control's feel; a value None lets the field fall through again."""

    def change(layer: Layer) -> Layer:
        old = layer.feel_of(control, seat)
        new = replace(old or Feel(control, seat), **values)
        return replace(layer, feel=_put(layer.feel, old, None if new == Feel(control, seat) else new))

    return _with_layer(profile, layer_id, change)


def with_feel_from(profile: Profile, source: Profile, control: str, seat: str = "1") -> Profile:
    """`profile` with the feel of a control as `source` has it, in every layer that both have."""
    for layer in profile.layers:
        other = source.layer(layer.id)
        if other is not None and other.feel_of(control, seat) != layer.feel_of(control, seat):
            profile = with_feel_put(profile, layer.id, source.feel_in(layer.id, seat, control))
    return profile


def with_feel_put(profile: Profile, layer_id: str, feel: Feel) -> Profile:
    """`profile` with exactly this feel of its control in a layer; what it leaves open falls through."""

    def change(layer: Layer) -> Layer:
        old = layer.feel_of(feel.control, feel.seat)
        return replace(layer, feel=_put(layer.feel, old, None if feel == Feel(feel.control, feel.seat) else feel))

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


def with_game(profile: Profile, **values: Any) -> Profile:
    """`profile` with these fields of its game: title, colour, program, virtual pad and so on."""
    return replace(profile, game=replace(profile.game, **values))


def with_habits(profile: Profile, **values: Any) -> Profile:
    """The profile with some of its habits set."""
    return replace(profile, habits=replace(profile.habits, **values))


def with_command(profile: Profile, command: Command) -> Profile:
    """`profile` with this command in the place of the one with its id, or at the end."""
    old = profile.command(command.id)
    return replace(profile, commands=_put(profile.commands, old, command))


def with_commands(profile: Profile, commands: Sequence[Command]) -> Profile:
    """`profile` with all these commands added; each gets an id of its own. One whose name is there already only gives
    that its keys.
    """
    for command in commands:
        there = next((c for c in profile.commands if c.name.casefold() == command.name.casefold()), None)
        if there is not None:
            profile = with_command(profile, replace(there, keys=command.keys or there.keys))
            continue
        taken = [c.id for c in profile.commands]
        profile = with_command(profile, replace(command, id=free_id(command.name, taken)))
    return profile


def without_command(profile: Profile, command_id: str) -> Profile:
    """`profile` without a command and without everything that sent it."""
    kept = tuple(c for c in profile.commands if c.id != command_id)
    needed = tuple(pair for pair in profile.needed if command_id not in (pair.one, pair.other))
    return _without_sends(
        replace(profile, commands=kept, needed=needed), lambda s: isinstance(s, SendCommand) and s.command == command_id
    )


def bare_places(profile: Profile, command: Command) -> int:
    """How many places send the only key of a command without the command: it was bound before the command was made."""
    if len(command.keys) != 1 or command.keys[0] not in KEYS:
        return 0
    bare = SendKey(command.keys[0])
    return sum(send == bare for place in places(profile) for send in place.sends)


def with_bare_linked(profile: Profile, command: Command) -> Profile:
    """`profile` with the command wherever its key was sent without it."""
    bare = SendKey(command.keys[0])

    def linked(sends: Sends) -> Sends:
        return tuple(dict.fromkeys(SendCommand(command.id) if send == bare else send for send in sends))

    return map_sends(profile, linked)


def with_key_named(profile: Profile, key: str, name: str) -> Profile:
    """`profile` with a command for a key that was sent bare; it is sent wherever the key was."""
    command = Command(free_id(name, [c.id for c in profile.commands]), name[:200], (key,))

    def named(sends: Sends) -> Sends:
        return tuple(SendCommand(command.id) if send == SendKey(key) else send for send in sends)

    return map_sends(with_command(profile, command), named)


def with_command_moved(profile: Profile, command_id: str, before: str | None, group: str) -> Profile:
    """`profile` with a command in `group`, standing before another one (None: at the end of the group)."""
    command = profile.command(command_id)
    if command is None or before == command_id:
        return profile
    moved = replace(command, group=group)
    rest = [c for c in profile.commands if c.id != command_id]
    at = next((i for i, c in enumerate(rest) if c.id == before), None)
    if at is None:
        at = max((i + 1 for i, c in enumerate(rest) if c.group == group), default=len(rest))
    return replace(profile, commands=(*rest[:at], moved, *rest[at:]))


def with_group_named(profile: Profile, group: str, name: str) -> Profile:
    """`profile` with another name for a group of commands."""
    commands = tuple(replace(c, group=name) if c.group == group else c for c in profile.commands)
    return replace(profile, commands=commands)


def with_needed(profile: Profile, one: str, other: str, needed: bool = True) -> Profile:
    """`profile` with two commands marked as needed together, or not."""
    pair = Pair(*sorted((one, other)))
    kept = tuple(p for p in profile.needed if {p.one, p.other} != {one, other})
    return replace(profile, needed=(*kept, pair) if needed else kept)


# Belts and macros


def with_belt(profile: Profile, belt: Belt) -> Profile:
    """`profile` with this belt in the place of the one with its id, or at the end."""
    return replace(profile, belts=_put(profile.belts, profile.belt(belt.id), belt))


def without_belt(profile: Profile, belt_id: str) -> Profile:
    """`profile` without a belt and without everything that stepped it."""
    kept = tuple(b for b in profile.belts if b.id != belt_id)
    return _without_sends(replace(profile, belts=kept), lambda s: isinstance(s, SendBelt) and s.belt == belt_id)


def with_macro(profile: Profile, macro: Macro) -> Profile:
    """`profile` with this macro in the place of the one with its id, or at the end."""
    return replace(profile, macros=_put(profile.macros, profile.macro(macro.id), macro))


def without_macro(profile: Profile, macro_id: str) -> Profile:
    """`profile` without a macro and without everything that ran it."""
    kept = tuple(m for m in profile.macros if m.id != macro_id)
    return _without_sends(replace(profile, macros=kept), lambda s: isinstance(s, SendMacro) and s.macro == macro_id)


# Layers


def with_layer(profile: Profile, name: str) -> tuple[Profile, str]:
    """`profile` with a new empty layer on top, and the id it got."""
    layer = Layer(free_id(name, [entry.id for entry in profile.layers]), name)
    return replace(profile, layers=(*profile.layers, layer)), layer.id


def with_layer_set(profile: Profile, layer_id: str, **values: Any) -> Profile:
    """`profile` with these fields of a layer: its name, whether it hides, its rumble and so on."""
    return _with_layer(profile, layer_id, lambda entry: replace(entry, **values))


def with_layer_moved(profile: Profile, layer_id: str, by: int) -> Profile:
    """`profile` with a layer further along the list (the base stays first)."""
    layers = list(profile.layers)
    at = next((i for i, entry in enumerate(layers) if entry.id == layer_id), 0)
    to = max(1, min(len(layers) - 1, at + by))
    if at:
        layers.insert(to, layers.pop(at))
    return replace(profile, layers=tuple(layers))


def without_layer(profile: Profile, layer_id: str) -> Profile:
    """`profile` without a layer (never the base) and without everything that entered it."""
    if layer_id == BASE:
        return profile
    kept = tuple(entry for entry in profile.layers if entry.id != layer_id)

    def goes(send: Send) -> bool:
        return isinstance(send, HoldLayer | ChangeLayer) and send.layer == layer_id

    def stepped(sends: Sends) -> Sends:
        steps = (
            replace(s, layers=tuple(n for n in s.layers if n != layer_id)) if isinstance(s, NextLayer) else s
            for s in sends
        )
        return tuple(s for s in steps if not isinstance(s, NextLayer) or s.layers)

    variants = tuple(variant for variant in profile.variants if variant.layer != layer_id)
    return _without_sends(map_sends(replace(profile, layers=kept, variants=variants), stepped), goes)


def _without_sends(profile: Profile, goes: Callable[[Send], bool]) -> Profile:
    cleaned = map_sends(profile, lambda sends: without(sends, goes))
    layers = []
    for layer in cleaned.layers:
        kept = tuple(b for b in layer.bindings if b != Binding(b.control, b.seat))
        together = tuple(t for t in layer.together if t != Together(t.controls, t.seat))
        changed = kept != layer.bindings or together != layer.together
        layers.append(replace(layer, bindings=kept, together=together) if changed else layer)
    return replace(cleaned, layers=tuple(layers))


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
