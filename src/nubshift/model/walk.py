"""Every place of a profile where something is sent, found by the form of the structs, so that none is ever missed."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator
from functools import cache, lru_cache
from typing import TypeVar, cast, get_args

import msgspec
from msgspec import Struct
from msgspec.structs import replace

from nubshift.model.part import DIRECTIONS
from nubshift.model.profile import Layer, Profile
from nubshift.model.sends import InOrder, Pulsed, Send, Send_, Sends, Toggled, Turbo
from nubshift.texts import _

T = TypeVar("T")
MODIFIERS = (Toggled, Turbo, Pulsed, InOrder)


class Place(Struct, frozen=True):
    """One place that sends something: `path` in the file, and who does it, as far as it is a control.

    `control` is the name of a control, or of those pressed together, joined with ``+``; `part` is the gesture,
    direction or other part of it ("tap", "role.up", "bands[1].what"). Belts and macros have no control.
    """

    path: str
    sends: Sends
    layer: str = ""
    control: str = ""
    seat: str = "1"
    part: str = ""


class _Same:
    """Stands for one object itself, whatever it equals: edits share the layers that they do not touch."""

    __slots__ = ("layer",)

    def __init__(self, layer: Layer) -> None:
        self.layer = layer

    def __hash__(self) -> int:
        return id(self.layer)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Same) and other.layer is self.layer


@lru_cache(maxsize=1024)
def _places_in(same: _Same, at: int) -> tuple[Place, ...]:
    """The places of the layer with this number; worked out once for a layer, however often it is looked through."""
    found = []
    layer = same.layer
    for index, binding in enumerate(layer.bindings):
        path = f"layers[{at}].bindings[{index}]"
        for part, sends in sends_in(binding):
            found.append(Place(_join(path, part), sends, layer.id, binding.control, binding.seat, part))
    for index, together in enumerate(layer.together):
        path = f"layers[{at}].together[{index}]"
        for part, sends in sends_in(together):
            found.append(Place(_join(path, part), sends, layer.id, "+".join(together.controls), together.seat, part))
    return tuple(found)


def places(profile: Profile, but: Collection[int] = ()) -> Iterator[Place]:
    """Every place that sends something, in the order of the file, `but` those of the layers with these identities."""
    for at, layer in enumerate(profile.layers):
        if id(layer) not in but:
            yield from _places_in(_Same(layer), at)
    for name in ("belts", "macros"):
        for index, holder in enumerate(getattr(profile, name)):
            for part, sends in sends_in(holder):
                yield Place(f"{name}[{index}].{part}", sends, part=part)


def sends_in(value: object) -> Iterator[tuple[str, Sends]]:
    """The sends within a struct, each with its path from there. What modifiers hold is not listed again."""
    if isinstance(value, tuple):
        if isinstance(value[0], Send_):
            yield "", value
            return
        for index, entry in enumerate(value):
            if entry:
                for path, sends in sends_in(entry):
                    yield _join(f"[{index}]", path), sends
        return
    for name in _fields(type(value)) if isinstance(value, msgspec.Struct) else ():
        part = getattr(value, name)
        if part:
            for path, sends in sends_in(part):
                yield _join(name, path), sends


def mentions(value: object, kind: type[Send_] | tuple[type[Send_], ...]) -> bool:
    """Whether a send of this kind stands anywhere in a struct; quicker than to walk it."""
    if isinstance(value, tuple):
        return any(isinstance(entry, kind) or mentions(entry, kind) for entry in value)
    if isinstance(value, msgspec.Struct):
        return any(mentions(part, kind) for name in _fields(type(value)) if (part := getattr(value, name)))
    return False


@cache
def _fields(struct: type[msgspec.Struct]) -> tuple[str, ...]:
    """The fields of a struct in which sends may stand, by their types."""
    return tuple(field.name for field in msgspec.structs.fields(struct) if _may_hold_sends(field.type))


def _may_hold_sends(kind: object) -> bool:
    if isinstance(kind, type) and issubclass(kind, msgspec.Struct):
        return issubclass(kind, Send_) or bool(_fields(kind))
    return any(_may_hold_sends(part) for part in get_args(kind))


def each_send(sends: Sends, path: str = "") -> Iterator[tuple[str, Send]]:
    """Every single send, those within modifiers after the modifier itself, each with its path."""
    for index, send in enumerate(sends):
        place = f"{path}[{index}]"
        yield place, send
        if isinstance(send, MODIFIERS):
            yield from each_send(send.what, f"{place}.what")


def every_send(sends: Sends) -> Iterator[Send]:
    """Every single send, those within modifiers after the modifier itself."""
    for send in sends:
        yield send
        if isinstance(send, MODIFIERS):
            yield from every_send(send.what)


def map_sends(value: T, change: Callable[[Sends], Sends]) -> T:
    """`value` with every tuple of sends in it changed; what does not change is shared. Goes into modifiers first."""
    if isinstance(value, msgspec.Struct):
        fields = {name: part for name in _fields(type(value)) if (part := getattr(value, name))}
        new = {name: mapped for name, old in fields.items() if (mapped := map_sends(old, change)) is not old}
        return cast("T", replace(value, **new)) if new else value
    if isinstance(value, tuple) and value:
        entries = tuple(map_sends(entry, change) for entry in value)
        kept = value if all(new is old for new, old in zip(entries, value, strict=True)) else entries
        if not _are_sends(kept):
            return cast("T", kept)
        changed = change(cast("Sends", kept))
        return cast("T", kept if changed == kept else changed)
    return value


def without(sends: Sends, goes: Callable[[Send], bool]) -> Sends:
    """`sends` without those that go; a modifier that is left with nothing goes as well."""
    return tuple(s for s in sends if not goes(s) and not (isinstance(s, MODIFIERS) and not s.what))


def part_name(part: str) -> str:
    """``role.up`` → ``up``, ``role.cells[4]`` → ``tile 5``, ``bands[1].what`` → ``depth 2``, for a sentence."""
    plain = part.removeprefix("role.").removesuffix(".what")
    head, bracket, rest = plain.partition("[")
    if not bracket:
        return "" if plain == "press" else plain.replace("_", " ") if plain in DIRECTIONS else plain
    words = {
        "cells": _("tile {number}"),
        "entries": _("entry {number}"),
        "bands": _("depth {number}"),
        "steps": _("step {number}"),
    }
    return words[head].format(number=int(rest.partition("]")[0]) + 1)


def _are_sends(value: tuple[object, ...]) -> bool:
    return all(isinstance(entry, Send_) for entry in value)


def _join(path: str, part: str) -> str:
    return path + part if not part or part[0] == "[" else f"{path}.{part}"
