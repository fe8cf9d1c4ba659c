"""Who does what: which controls reach a command, and what a control does once layers lie over each other."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from msgspec import Struct

from nubshift.model.controls import DPAD
from nubshift.model.profile import BASE, Belt, Binding, Feel, Layer, Macro, Profile, Together, merged_feel
from nubshift.model.roles import GyroRole, PointerRole
from nubshift.model.sends import (
    ChangeLayer,
    HoldLayer,
    NextLayer,
    Send,
    SendBelt,
    SendCommand,
    SendMacro,
    SendPoint,
    Sends,
)
from nubshift.model.slots import BELT, MACRO, TOGETHER, Slot
from nubshift.model.walk import every_send, mentions, places, sends_in


class Found(Struct, frozen=True):
    """The binding that counts for a control seen from a layer: `layer` says whose it is."""

    layer: Layer
    binding: Binding


def slots_of(profile: Profile) -> Iterator[tuple[Slot, Sends]]:
    """Every control in every layer that sends something, with what it sends; controls pressed together each."""
    for place in places(profile):
        for control in place.control.split(TOGETHER) if place.control else ():
            yield Slot(place.layer, control, place.part, place.seat), place.sends


def slots_by_command(profile: Profile) -> dict[str, list[Slot]]:
    """For every command the slots that send it, in the order of the layers; an empty list where nothing does.

    What steps a belt, or runs a macro, sends the commands that stand there.
    """
    within = {f"{BELT}{belt.id}": _commands_in(belt) for belt in profile.belts}
    within |= {f"{MACRO}{macro.id}": _commands_in(macro) for macro in profile.macros}
    found: dict[str, dict[Slot, None]] = {command.id: {} for command in profile.commands}
    for slot, sends in slots_of(profile):
        for send in every_send(sends):
            match send:
                case SendCommand(command):
                    reached: Iterable[str] = (command,)
                case SendBelt(name):
                    reached = within.get(f"{BELT}{name}", ())
                case SendMacro(name):
                    reached = within.get(f"{MACRO}{name}", ())
                case _:
                    continue
            for command in reached:
                if command in found:
                    found[command][slot] = None
    return {command: list(slots) for command, slots in found.items()}


def _commands_in(part: Belt | Macro) -> tuple[str, ...]:
    sent = (send for _, sends in sends_in(part) for send in every_send(sends))
    return tuple(dict.fromkeys(send.command for send in sent if isinstance(send, SendCommand)))


def sends_points(profile: Profile) -> bool:
    """Whether a profile can put the cursor on points."""
    for layer in profile.layers:
        for binding in layer.bindings:
            match binding.role:
                case PointerRole(relative=False) | GyroRole(to="pointer"):
                    return True
    return mentions(profile, SendPoint)


def stack_for(profile: Profile, layer_id: str) -> tuple[Layer, ...]:
    """The layers that count while only `layer_id` is active over the base, newest first."""
    base = profile.layers[0]
    layer = profile.layer(layer_id)
    if layer is None or layer.id == BASE:
        return (base,)
    return (layer,) if layer.hides else (layer, base)


def look_up(profile: Profile, layer_id: str, control: str, seat: str = "1") -> Found | None:
    """What a control does while `layer_id` is active over the base, or None for nothing."""
    for layer in stack_for(profile, layer_id):
        binding = layer.binding(control, seat)
        if binding is not None and binding.sets:
            return Found(layer, binding)
    return None


def whole_of(profile: Profile, layer_id: str, control: str, seat: str = "1") -> Found | None:
    """What the whole d-pad is used as while `layer_id` is active, for one of its buttons that does nothing else."""
    if control not in DPAD or look_up(profile, layer_id, control, seat) is not None:
        return None
    found = look_up(profile, layer_id, "dpad", seat)
    return found if found is not None and found.binding.role is not None else None


def combinations_of(profile: Profile, layer_id: str, control: str, seat: str = "1") -> Iterator[tuple[Layer, Together]]:
    """The combinations that a control is part of while `layer_id` is active over the base, each with its layer."""
    seen: set[frozenset[str]] = set()
    for layer in stack_for(profile, layer_id):
        for together in layer.together:
            key = frozenset(together.controls)
            if control in key and together.seat == seat and key not in seen:
                seen.add(key)
                yield layer, together


def feel_for(profile: Profile, layer_id: str, control: str, seat: str = "1") -> Feel:
    """The feel of a control while `layer_id` is active over the base, every field set."""
    return merged_feel(tuple(layer.feel_of(control, seat) for layer in stack_for(profile, layer_id)))


class LayerEntries(Struct, frozen=True):
    """The slots that enter a layer, and whether it is active only while one of them is held."""

    slots: tuple[Slot, ...]
    only_held: bool = True


def entries_by_layer(profile: Profile) -> dict[str, LayerEntries]:
    """What enters each layer, for those that something enters."""
    slots: dict[str, list[Slot]] = {}
    stays: set[str] = set()
    for slot, sends in slots_of(profile):
        for send in every_send(sends):
            match send:
                case HoldLayer(layer):
                    slots.setdefault(layer, []).append(slot)
                case ChangeLayer(layer, how) if how != "leave":
                    slots.setdefault(layer, []).append(slot)
                    stays.add(layer)
                case NextLayer(layers):
                    for layer in layers:
                        slots.setdefault(layer, []).append(slot)
                        stays.add(layer)
    return {layer: LayerEntries(tuple(found), layer not in stays) for layer, found in slots.items()}


def entered_by(send: Send) -> tuple[str, ...]:
    """The layers that a send can make active."""
    match send:
        case HoldLayer(layer):
            return (layer,)
        case ChangeLayer(layer, how) if how != "leave":
            return (layer,)
        case NextLayer(layers):
            return layers
        case _:
            return ()
