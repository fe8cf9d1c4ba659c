"""Feels saved by name that a control can be given while playing (contract R18): which one each control has."""

from __future__ import annotations

from collections.abc import Mapping

from nubshift.engine.program import ControlKey, Program, VariantInfo


class Variants:
    """`chosen` has the variants that were stepped to; until then a control has the feel of its layers."""

    def __init__(self, known: Mapping[ControlKey, tuple[VariantInfo, ...]]) -> None:
        self._known = known
        self.chosen: dict[ControlKey, VariantInfo] = {}

    def step(self, key: ControlKey, back: bool) -> None:
        """The next variant of a control, or the one before; from none, the first or the last."""
        known = self._known.get(key, ())
        if not known:
            return
        now = self.chosen.get(key) or next((variant for variant in known if variant.used), None)
        if now is None:
            self.chosen[key] = known[-1 if back else 0]
        else:
            self.chosen[key] = known[(known.index(now) + (-1 if back else 1)) % len(known)]

    def choose(self, chosen: Mapping[ControlKey, str]) -> None:
        """Give controls the variants of these ids, as far as they are there."""
        for key, name in chosen.items():
            found = next((variant for variant in self._known.get(key, ()) if variant.id == name), None)
            if found is not None:
                self.chosen[key] = found

    def replace(self, before: Program, after: Program) -> None:
        """Go on with an edited profile. What was stepped to stays, unless the edit is one of that feel itself."""
        self._known = after.variants
        for key, variant in tuple(self.chosen.items()):
            now = next((known for known in self._known.get(key, ()) if known.id == variant.id), None)
            if now is None or now.used or _feel(before, key, variant) != _feel(after, key, now):
                del self.chosen[key]
            else:
                self.chosen[key] = now


def _feel(program: Program, key: ControlKey, variant: VariantInfo) -> object:
    """What the layer of a variant says of the control's feel by itself."""
    entry = program.positions.get(key)
    return entry.feels[variant.layer] if entry is not None else None
