"""Who does what: which controls reach a command, and what a control does once layers lie over each other."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from nubshift.model.edits import Slot
from nubshift.model.part import DIRECTIONS
from nubshift.model.profile import BASE, Binding, Feel, Layer, Profile, merged_feel
from nubshift.model.roles import GyroRole, PointerRole
from nubshift.model.sends import ChangeLayer, HoldLayer, NextLayer, Send, SendCommand, SendPoint, Sends
from nubshift.model.walk import each_send, mentions, places


@dataclass(frozen=True)
class Found:
    """The binding that counts for a control seen from a layer: `layer` says whose it is."""

    layer: Layer
    binding: Binding


def slots_of(profile: Profile) -> Iterator[tuple[Slot, Sends]]:
    """Every control (or direction of one) in every layer that sends something, with what it sends."""
    directions = {f"role.{direction}": direction for direction in DIRECTIONS}
    for place in places(profile):
        for control in place.control.split("+") if place.control else ():
            yield Slot(place.layer, control, directions.get(place.part), place.seat), place.sends


def slots_by_command(profile: Profile) -> dict[str, list[Slot]]:
    """For every command the slots that send it, in the order of the layers; an empty list where nothing does."""
    found: dict[str, dict[Slot, None]] = {command.id: {} for command in profile.commands}
    for slot, sends in slots_of(profile):
        for _, send in each_send(sends):
            if isinstance(send, SendCommand) and send.command in found:
                found[send.command][slot] = None
    return {command: list(slots) for command, slots in found.items()}


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


def feel_for(profile: Profile, layer_id: str, control: str, seat: str = "1") -> Feel:
    """The feel of a control while `layer_id` is active over the base, every field set."""
    return merged_feel(tuple(layer.feel_of(control, seat) for layer in stack_for(profile, layer_id)))


def entries_of(profile: Profile, layer_id: str) -> list[Slot]:
    """The slots that enter a layer."""
    return [slot for slot, sends in slots_of(profile) if any(enters(send, layer_id) for _, send in each_send(sends))]


def only_held(profile: Profile, layer_id: str) -> bool:
    """Whether a layer is active only while something that enters it is held."""
    return not any(
        enters(send, layer_id) and not isinstance(send, HoldLayer)
        for _, sends in slots_of(profile)
        for _, send in each_send(sends)
    )


def enters(send: Send, layer_id: str) -> bool:
    """Whether a send can make a layer active."""
    match send:
        case HoldLayer(layer):
            return layer == layer_id
        case ChangeLayer(layer, how):
            return layer == layer_id and how != "leave"
        case NextLayer(layers):
            return layer_id in layers
        case _:
            return False
