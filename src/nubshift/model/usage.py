"""Who does what: which controls reach a command, and what a control does once layers lie over each other."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from nubshift.model.edits import Slot
from nubshift.model.profile import (
    BASE,
    DIRECTIONS,
    Binding,
    Feel,
    KeysRole,
    Layer,
    Profile,
    SendCommand,
    Sends,
    merged_feel,
)


@dataclass(frozen=True)
class Found:
    """The binding that counts for a control seen from a layer: `layer` says whose it is."""

    layer: Layer
    binding: Binding


def slots_of(profile: Profile) -> Iterator[tuple[Slot, Sends]]:
    """Every slot of every layer that sends something, with what it sends."""
    for layer in profile.layers:
        for binding in layer.bindings:
            if binding.press:
                yield Slot(layer.id, binding.control, None, binding.seat), binding.press
            if isinstance(binding.role, KeysRole):
                for direction in DIRECTIONS:
                    if sends := binding.role.sends(direction):
                        yield Slot(layer.id, binding.control, direction, binding.seat), sends


def slots_by_command(profile: Profile) -> dict[str, list[Slot]]:
    """For every command the slots that send it, in the order of the layers; an empty list where nothing does."""
    found: dict[str, list[Slot]] = {command.id: [] for command in profile.commands}
    for slot, sends in slots_of(profile):
        for send in sends:
            if isinstance(send, SendCommand) and send.command in found:
                found[send.command].append(slot)
    return found


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
        if binding is not None and (binding.press or binding.role or binding.blocked):
            return Found(layer, binding)
    return None


def feel_for(profile: Profile, layer_id: str, control: str, seat: str = "1") -> Feel:
    """The feel of a control while `layer_id` is active over the base, every field set."""
    return merged_feel(tuple(layer.feel_of(control, seat) for layer in stack_for(profile, layer_id)))


def entries_of(profile: Profile, layer_id: str) -> list[Slot]:
    """The slots that enter a layer."""
    return [slot for slot, sends in slots_of(profile) if any(getattr(s, "layer", None) == layer_id for s in sends)]
