"""Feels kept by name that a control can be given while playing: which one each control has."""

from __future__ import annotations

from collections.abc import Mapping

from nubshift.engine.program import ControlKey, VariantInfo


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
