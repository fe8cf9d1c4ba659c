"""The stack of layers (contract R5): each entering puts an entry on top, its ending removes that entry."""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal, TypeAlias

from msgspec import Struct

from nubshift.engine.owner import ControlKey
from nubshift.engine.revision import Revision
from nubshift.records import Record

Way: TypeAlias = Literal["held", "toggled", "once", "stays", "stepped"]


class LayerInfo(Record, frozen=True):
    """A layer, its id and what it says by itself: "" and 0 for what it leaves to those below.

    `guest` is the base of the profile that the layer belongs to, if it is one entered while held; that base
    (`is_guest_base`) hides what lies below it.
    """

    id: str
    hides: bool
    form: str = ""
    counts_per_degree: float = 0.0
    guest: str = ""
    is_guest_base: bool = False
    rumble: float = 0.0


class _Entry(Struct):
    """One entering: the token that ends it, the layer's id, how it was entered, and by which control."""

    token: int
    layer: str
    way: Way
    by: ControlKey | None


class LayerStack:
    """The entered layers over the base. A layer is active while it has an entry.

    `order` is what look-up walks: indexes of layers, newest first, each once, ending with the base or with a layer
    that hides. `revision` counts the entries that came, went or moved, also those that change nothing of `order`.
    `entering` are the buttons whose present press entered a layer. `tell` hears of each layer that becomes active or
    ends, and of the control that entered it.
    """

    def __init__(
        self,
        layers: tuple[LayerInfo, ...],
        tell: Callable[[LayerInfo, bool, ControlKey | None], None],
        revision: Revision,
    ) -> None:
        self._entries: list[_Entry] = []  # oldest first
        self._next_token = 0
        self._tell = tell
        self.order: tuple[int, ...] = (0,)
        self._revision = revision
        self.entering: set[ControlKey] = set()
        self.pad_form = False
        self._learn(layers)
        self._look()

    def _learn(self, layers: tuple[LayerInfo, ...]) -> None:
        self._layers = layers
        self._index = {info.id: index for index, info in enumerate(layers)}

    def _info(self, layer: str) -> LayerInfo:
        return self._layers[self._index[layer]]

    @property
    def active(self) -> tuple[str, ...]:
        """Ids of the entered layers, the newest last, each once, without the base."""
        return tuple(reversed(dict.fromkeys(entry.layer for entry in reversed(self._entries))))

    @property
    def bottom(self) -> LayerInfo:
        """The layer where look-up ends: the base, or one that hides it."""
        return self._layers[self.order[-1]]

    # Entering and ending

    def enter(self, layer: str, way: Way = "held", by: ControlKey | None = None) -> int:
        """Put an entry of `layer` on top and return the token that ends it.

        A layer that is gone is not entered, nor one of a profile that is no longer held.
        """
        self._next_token += 1
        if layer in self._index:
            info = self._info(layer)
            if not info.guest or self._has(info.guest):
                was = self._has(layer)
                self._entries.append(_Entry(self._next_token, layer, way, by))
                self._revision.count += 1
                self._reorder()
                if not was:
                    self._tell(info, True, by)
        return self._next_token

    def end(self, token: int) -> None:
        """Remove the entry with this token. One that is gone already ends nothing."""
        self._remove(lambda entry: entry.token == token)

    def has(self, token: int) -> bool:
        """Whether the entry with this token is still there."""
        return any(entry.token == token for entry in self._entries)

    def is_held_by(self, by: ControlKey) -> bool:
        """Whether a control holds a layer or profile, by whatever way: a key of its, a pulse, a belt, a macro."""
        return any(entry.way == "held" and entry.by == by for entry in self._entries)

    def drop(self, of: Callable[[ControlKey], bool]) -> None:
        """Remove the entries of these controls, whichever way they entered."""
        self._remove(lambda entry: entry.by is not None and of(entry.by))

    def toggle(self, layer: str, by: ControlKey) -> None:
        """Off if it was toggled on, by whichever control; else on."""
        if any(entry.layer == layer and entry.way == "toggled" for entry in self._entries):
            self._remove(lambda entry: entry.layer == layer and entry.way == "toggled")
        else:
            self.enter(layer, "toggled", by)

    def toggled_by(self, layer: str) -> ControlKey | None:
        """The control that toggled a layer on, if it is on that way."""
        return next((e.by for e in self._entries if e.layer == layer and e.way == "toggled"), None)

    def stay(self, layer: str, by: ControlKey) -> None:
        """Enter a layer until it is left; entered that way before, it comes on top."""
        if any(entry.layer == layer and entry.way == "stays" for entry in self._entries):
            moved = [e for e in self._entries if e.layer == layer and e.way == "stays"]
            self._entries = [e for e in self._entries if e not in moved] + moved
            self._revision.count += 1
            self._reorder()
        else:
            self.enter(layer, "stays", by)

    def leave(self, layer: str) -> None:
        """Remove every entry of a layer, held ones too."""
        self._remove(lambda entry: entry.layer == layer)

    def only(self, layer: str, by: ControlKey) -> None:
        """Remove every entry of the other layers of the same profile, then enter this one."""
        if layer in self._index:
            guest = self._info(layer).guest
            self._remove(lambda entry: entry.layer != layer and self._is_of(entry, guest))
            self.stay(layer, by)

    def back_to_base(self, guest: str) -> None:
        """Remove every entry of a profile's layers; `guest` is the id of its base, empty for the profile itself."""
        self._remove(lambda entry: self._is_of(entry, guest))

    def step(self, layers: tuple[str, ...], back: bool, by: ControlKey) -> None:
        """From the one of `layers` that stepping entered on to the next; after the last comes none."""
        stepped = next((e.layer for e in self._entries if e.way == "stepped" and e.layer in layers), None)
        self._remove(lambda entry: entry.way == "stepped" and entry.layer in layers)
        ring = (None, *layers)
        reached = ring[(ring.index(stepped) + (-1 if back else 1)) % len(ring)]
        if reached is not None:
            self.enter(reached, "stepped", by)

    @property
    def newest(self) -> int:
        """The token of the newest entering."""
        return self._next_token

    def pressed(self, by: ControlKey, until: int) -> frozenset[str]:
        """A press of a button acts: its seat's layers for one press end that were entered before it.

        `until` is the `newest` entering at that press. Returns those layers that were the button's own.
        """
        once = [e for e in self._entries if e.way == "once" and e.token <= until and (e.by is None or e.by[0] == by[0])]
        if not once:
            return frozenset()
        self._remove(lambda entry: entry in once)
        return frozenset(entry.layer for entry in once if entry.by == by)

    def clear(self) -> None:
        """Remove every entry, newest layer first."""
        self._remove(lambda _: True)

    def replace(self, layers: tuple[LayerInfo, ...]) -> None:
        """Go on with edited layers: entries of those that still exist stay, the others end."""
        kept = {info.id for info in layers}
        self._remove(lambda entry: entry.layer not in kept)
        self._learn(layers)
        self._reorder()
        self._look()

    # What follows from it

    def _remove(self, goes: Callable[[_Entry], bool]) -> None:
        before = self.active
        came_by = {entry.layer: entry.by for entry in self._entries}
        entries = [entry for entry in self._entries if not goes(entry)]
        there = {entry.layer for entry in entries}
        # a profile that is no longer held takes its own layers along
        entries = [e for e in entries if not self._info(e.layer).guest or self._info(e.layer).guest in there]
        if len(entries) == len(self._entries):
            return
        self._entries = entries
        self._revision.count += 1
        self._reorder()
        now = self.active
        for layer in reversed(before):
            if layer not in now:
                self._tell(self._info(layer), False, came_by.get(layer))

    def _is_of(self, entry: _Entry, guest: str) -> bool:
        """Whether an entry is one of a profile's own layers; a profile held within it is none."""
        info = self._info(entry.layer)
        return info.guest == guest and not info.is_guest_base

    def _has(self, layer: str) -> bool:
        return any(entry.layer == layer for entry in self._entries)

    def _reorder(self) -> None:
        order: dict[int, None] = {}
        for entry in reversed(self._entries):
            index = self._index[entry.layer]
            order[index] = None
            if self._layers[index].hides:
                break
        else:
            order[0] = None
        new = tuple(order)
        if new != self.order:
            self.order = new
            self._look()

    def _look(self) -> None:
        """What the active layers say by themselves: the form of commands."""
        infos = [self._layers[index] for index in (*self.order, 0)]
        self.pad_form = next(info.form for info in infos if info.form) == "pad"

    def counts_per_degree(self, order: tuple[int, ...]) -> float:
        """The turn gauge of the newest of these layers that has its own, else that of the base."""
        return next(c for index in (*order, 0) if (c := self._layers[index].counts_per_degree))

    def ids(self, order: tuple[int, ...]) -> tuple[str, ...]:
        """The layers of an `order` by their ids, which stay the same when the profile is edited."""
        return tuple(self._layers[index].id for index in order)

    def order_of(self, ids: tuple[str, ...]) -> tuple[int, ...]:
        """The `order` of these layers, as far as they are there still."""
        return tuple(self._index[name] for name in ids if name in self._index)
