"""Feels saved by name that a control can be given while playing (contract R18): which one each control has."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import TypeAlias

from nubshift.engine.owner import ControlKey
from nubshift.engine.revision import Revision
from nubshift.model.profile import Feel
from nubshift.records import Record

FeelOf: TypeAlias = Callable[[ControlKey, int], Feel | None]
"""What a layer, by its index, says of a control's feel by itself."""


class VariantInfo(Record, frozen=True):
    """A feel kept for a control: its id, the index of its layer, what it sets there, and whether it is in use."""

    id: str
    layer: int
    feel: Feel
    used: bool


class Variants:
    """`chosen` has the variants that were stepped to; until then a control has the feel of its layers.

    `revision` counts the changes of what is chosen.
    """

    def __init__(self, known: Mapping[ControlKey, tuple[VariantInfo, ...]], revision: Revision) -> None:
        self._known = known
        self.chosen: dict[ControlKey, VariantInfo] = {}
        self._revision = revision

    def step(self, key: ControlKey, back: bool) -> None:
        """The next variant of a control, or the one before; from none, the first or the last."""
        known = self._known.get(key, ())
        if not known:
            return
        self._revision.count += 1
        now = self.chosen.get(key) or next((variant for variant in known if variant.used), None)
        if now is None:
            self.chosen[key] = known[-1 if back else 0]
        else:
            self.chosen[key] = known[(known.index(now) + (-1 if back else 1)) % len(known)]

    def choose(self, chosen: Mapping[ControlKey, str]) -> None:
        """Give controls the variants of these ids, as far as they are there."""
        self._revision.count += 1
        for key, name in chosen.items():
            found = next((variant for variant in self._known.get(key, ()) if variant.id == name), None)
            if found is not None:
                self.chosen[key] = found

    def replace(self, known: Mapping[ControlKey, tuple[VariantInfo, ...]], before: FeelOf, after: FeelOf) -> None:
        """Go on with an edited profile. What was stepped to stays, unless the edit is one of that feel itself."""
        self._known = known
        self._revision.count += 1
        for key, variant in tuple(self.chosen.items()):
            now = next((known for known in self._known.get(key, ()) if known.id == variant.id), None)
            if now is None or now.used or before(key, variant.layer) != after(key, now.layer):
                del self.chosen[key]
            else:
                self.chosen[key] = now
