"""What differs between two states of a profile: views redraw by this, and by nothing else."""

from __future__ import annotations

import msgspec

from nubshift.model.profile import Layer, Profile

BindingKey = tuple[str, str, str]
"""Layer id, seat id, control name."""


class Changes(msgspec.Struct, frozen=True):
    """The parts of a profile that an edit touched, by their ids.

    `order`: commands stand otherwise; `rest`: belts, macros, habits, variants or what is needed together.
    """

    game: bool = False
    commands: frozenset[str] = frozenset()
    order: bool = False
    layers: frozenset[str] = frozenset()
    bindings: frozenset[BindingKey] = frozenset()
    feel: frozenset[BindingKey] = frozenset()
    rest: bool = False

    def __bool__(self) -> bool:
        return self != Changes()

    @property
    def beyond_feel(self) -> bool:
        """Whether anything but the feel of controls changed."""
        return bool(self.game or self.commands or self.order or self.layers or self.bindings or self.rest)

    def tunes(self, seat: str, control: str) -> bool:
        """Whether the feel of a control may be another one, or what it is used as."""
        one = any((at, name) == (seat, control) for _, at, name in self.feel | self.bindings)
        return bool(self.game or self.layers or self.rest or one)


def changes_between(old: Profile, new: Profile) -> Changes:
    """What an observer of `old` must look at again to show `new`. Shared parts are skipped without a look inside."""
    if old is new:
        return Changes()
    commands = (
        frozenset(c.id for c in set(old.commands) ^ set(new.commands)) if old.commands != new.commands else frozenset()
    )
    order = [c.id for c in old.commands] != [c.id for c in new.commands]
    before = {entry.id: entry for entry in old.layers}
    after = {entry.id: entry for entry in new.layers}
    layers: set[str] = set(before) ^ set(after)
    if [*before] != [*after]:
        layers |= set(before) | set(after)
    bindings: set[BindingKey] = set()
    feel: set[BindingKey] = set()
    for layer_id in before.keys() | after.keys():
        was, now = before.get(layer_id, _NONE), after.get(layer_id, _NONE)
        if was is now:
            continue
        if _about(was) != _about(now):
            layers.add(layer_id)
        if was.together != now.together:
            touched = set(was.together) ^ set(now.together)
            bindings |= {(layer_id, t.seat, control) for t in touched for control in t.controls}
        if was.bindings != now.bindings:
            bindings |= {(layer_id, b.seat, b.control) for b in set(was.bindings) ^ set(now.bindings)}
        if was.feel != now.feel:
            feel |= {(layer_id, f.seat, f.control) for f in set(was.feel) ^ set(now.feel)}
    rest = any(getattr(old, part) != getattr(new, part) for part in ("belts", "macros", "habits", "needed", "variants"))
    return Changes(
        old.game != new.game or old.seats != new.seats,
        commands,
        order,
        frozenset(layers),
        frozenset(bindings),
        frozenset(feel),
        rest,
    )


def _about(layer: Layer) -> tuple[object, ...]:
    return layer.name, layer.hides, layer.note, layer.form, layer.moves, layer.counts_per_turn, layer.rumble


_NONE = Layer("none", "")
