"""Parts of one profile taken over into another, with what they name: the doing of `differences` (need N60)."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import TypeAlias

import msgspec
from msgspec.structs import replace

from nubshift.model import edits
from nubshift.model.profile import Belt, Binding, Command, Feel, Layer, Macro, Profile, Seat, Together, Variant
from nubshift.model.sends import ChangeLayer, HoldLayer, NextLayer, SendBelt, SendCommand, SendMacro
from nubshift.model.walk import every_send, sends_in

Bound: TypeAlias = Binding | Together


def with_needed(profile: Profile, source: Profile) -> Profile:
    """The commands that `source` needs together, with those commands."""
    for pair in source.needed:
        for command in (pair.one, pair.other):
            profile = with_command_of(profile, source, command)
    return replace(profile, needed=source.needed)


def with_seats(profile: Profile, seats: tuple[Seat, ...]) -> Profile:
    """Those that are still in use stay."""
    used = {part.seat for layer in profile.layers for part in seated_parts(layer)}
    used |= {variant.feel.seat for variant in profile.variants}
    named = {seat.id for seat in seats}
    return replace(profile, seats=(*seats, *(s for s in profile.seats if s.id in used and s.id not in named)))


def seated_parts(layer: Layer) -> Iterator[Binding | Together | Feel]:
    """All of a layer that belongs to a seat."""
    yield from layer.bindings
    yield from layer.together
    yield from layer.feel


def without_command(profile: Profile, command: Command) -> Profile:
    """The profile without a command, if it has it."""
    return edits.without_command(profile, command.id) if profile.command(command.id) is not None else profile


def without_layer(profile: Profile, layer: Layer) -> Profile:
    """The profile without a layer, if it has it."""
    return edits.without_layer(profile, layer.id) if profile.layer(layer.id) is not None else profile


def shell_of(layer: Layer) -> Layer:
    """A layer's own settings, without what its controls do."""
    return replace(layer, bindings=(), feel=(), together=())


def with_shell(profile: Profile, layer: Layer) -> Profile:
    """A layer's own settings; the layer comes with them where it is not there."""
    there = profile.layer(layer.id)
    if there is None:
        return replace(profile, layers=(*profile.layers, shell_of(layer)))
    fresh = replace(layer, bindings=there.bindings, feel=there.feel, together=there.together)
    return replace(profile, layers=tuple(fresh if one is there else one for one in profile.layers))


def with_whole_layer(profile: Profile, source: Profile, layer: Layer) -> Profile:
    """A layer of `source` with all it names."""
    if profile.layer(layer.id) is None:
        profile = replace(profile, layers=(*profile.layers, layer))
    else:
        profile = replace(profile, layers=tuple(layer if one.id == layer.id else one for one in profile.layers))
    for part in seated_parts(layer):
        profile = with_seat_of(profile, source, part.seat)
    return with_references(profile, source, layer)


def with_order_of(profile: Profile, source: Profile) -> Profile:
    """The layers in the order that they have in `source`."""
    order = {layer.id: at for at, layer in enumerate(source.layers)}
    return replace(profile, layers=tuple(sorted(profile.layers, key=lambda one: order.get(one.id, len(order)))))


def taking_bounds(
    source: Profile, layer: Layer, wanted: dict[tuple[str, str], Bound | None], before: dict[tuple[str, str], Bound]
) -> Callable[[Profile], Profile]:
    """What gives controls of a layer what they do in `source`; None stands for nothing. `before` is what they did."""

    def take(profile: Profile) -> Profile:
        if profile.layer(layer.id) is None:
            profile = with_shell(profile, layer)
        for key, bound in wanted.items():
            if bound is not None:
                profile = with_seat_of(edits.with_bound(profile, layer.id, bound), source, bound.seat)
                profile = with_references(profile, source, bound)
            elif isinstance(before.get(key), Together):
                gone = before[key]
                assert isinstance(gone, Together)
                profile = edits.with_together(profile, layer.id, Together(gone.controls, gone.seat))
            else:
                profile = edits.with_binding(profile, layer.id, Binding(key[1], key[0]))
        return profile

    return take


def with_seat_of(profile: Profile, source: Profile, seat: str) -> Profile:
    """With a seat that this profile lacks."""
    there = next((one for one in source.seats if one.id == seat), None)
    known = any(one.id == seat for one in profile.seats)
    return profile if there is None or known else replace(profile, seats=(*profile.seats, there))


def with_references(profile: Profile, source: Profile, part: msgspec.Struct) -> Profile:
    """With the commands, belts, macros and layers that `part` of `source` names and this profile lacks."""
    for _unused, sends in sends_in(part):
        for send in every_send(sends):
            match send:
                case SendCommand(command):
                    profile = with_command_of(profile, source, command)
                case SendBelt(belt) if profile.belt(belt) is None and (there := source.belt(belt)) is not None:
                    profile = with_references(edits.with_belt(profile, there), source, there)
                case SendMacro(macro) if profile.macro(macro) is None and (run := source.macro(macro)) is not None:
                    profile = with_references(edits.with_macro(profile, run), source, run)
                case HoldLayer(layer) | ChangeLayer(layer):
                    profile = with_layers_of(profile, source, (layer,))
                case NextLayer(layers):
                    profile = with_layers_of(profile, source, layers)
    return profile


def with_command_of(profile: Profile, source: Profile, command: str) -> Profile:
    """A command of `source` that this profile lacks."""
    there = source.command(command)
    return profile if there is None or profile.command(command) is not None else edits.with_command(profile, there)


def with_layers_of(profile: Profile, source: Profile, layers: tuple[str, ...]) -> Profile:
    """Layers of `source` that this profile lacks."""
    for name in layers:
        there = source.layer(name)
        if there is not None and profile.layer(name) is None:
            profile = with_whole_layer(profile, source, there)
    return profile


def with_feel(profile: Profile, source: Profile, layer: Layer, feel: Feel) -> Profile:
    """The feel of a control in a layer of `source`."""
    there = profile if profile.layer(layer.id) is not None else with_shell(profile, layer)
    there = with_seat_of(there, source, feel.seat)
    return edits.with_feel_put(there, layer.id, feel)


def with_part(profile: Profile, source: Profile, field: str, part: Belt | Macro | Variant) -> Profile:
    """A belt, macro or variant of `source`, with all it names."""
    there = getattr(profile, field)
    fresh = tuple(part if one.id == part.id else one for one in there)
    if all(one.id != part.id for one in there):
        fresh = (*there, part)
    fuller = replace(profile, **{field: fresh})
    if isinstance(part, Variant):
        fuller = with_layers_of(with_seat_of(fuller, source, part.feel.seat), source, (part.layer,))
    return with_references(fuller, source, part)


def without_part(profile: Profile, field: str, name: str) -> Profile:
    """The profile without a belt, macro or variant, if it has it."""
    if all(one.id != name for one in getattr(profile, field)):
        return profile
    if field == "belts":
        return edits.without_belt(profile, name)
    if field == "macros":
        return edits.without_macro(profile, name)
    return replace(profile, variants=tuple(one for one in profile.variants if one.id != name))
