"""The stack of layers (contract R5): each entering puts an entry on top, its ending removes that entry."""

from __future__ import annotations

from nubshift.engine.program import LayerInfo
from nubshift.events import LayerChange, Output
from nubshift.units import Micros


class LayerStack:
    """The entered layers over the base. A layer is active while it has an entry.

    `order` is what look-up walks: indexes of layers, newest first, each once, ending with the base or with a layer
    that hides. `version` changes whenever `order` does.
    """

    def __init__(self, layers: tuple[LayerInfo, ...]) -> None:
        self._entries: list[tuple[int, str]] = []  # (token, layer id), oldest first
        self._next_token = 0
        self.order: tuple[int, ...] = (0,)
        self.version = 0
        self._learn(layers)

    def _learn(self, layers: tuple[LayerInfo, ...]) -> None:
        self._index = {info.id: index for index, info in enumerate(layers)}
        self._hiding = {info.id for info in layers if info.hides}

    @property
    def active(self) -> tuple[str, ...]:
        """Ids of the entered layers, the newest last, each once, without the base."""
        return tuple(reversed(dict.fromkeys(layer for _, layer in reversed(self._entries))))

    def enter(self, layer: str, t: Micros, out: list[Output]) -> int:
        """Put an entry of `layer` on top and return the token that ends it. A layer that is gone is not entered."""
        self._next_token += 1
        if layer in self._index:
            if not self._has(layer):
                out.append(LayerChange(t, layer, 1))
            self._entries.append((self._next_token, layer))
            self._reorder()
        return self._next_token

    def end(self, token: int, t: Micros, out: list[Output]) -> None:
        """Remove the entry with this token. One that is gone already ends nothing."""
        for index, (own, layer) in enumerate(self._entries):
            if own == token:
                del self._entries[index]
                if not self._has(layer):
                    out.append(LayerChange(t, layer, 0))
                self._reorder()
                return

    def clear(self, t: Micros, out: list[Output]) -> None:
        """Remove every entry, newest layer first."""
        out.extend(LayerChange(t, layer, 0) for layer in reversed(self.active))
        self._entries.clear()
        self._reorder()

    def replace(self, layers: tuple[LayerInfo, ...], t: Micros, out: list[Output]) -> None:
        """Go on with edited layers: entries of those that still exist stay, the others end."""
        self._learn(layers)
        out.extend(LayerChange(t, layer, 0) for layer in reversed(self.active) if layer not in self._index)
        self._entries = [entry for entry in self._entries if entry[1] in self._index]
        self._reorder()

    def _has(self, layer: str) -> bool:
        return any(entered == layer for _, entered in self._entries)

    def _reorder(self) -> None:
        order: dict[int, None] = {}
        for _, layer in reversed(self._entries):
            order[self._index[layer]] = None
            if layer in self._hiding:
                break
        else:
            order[0] = None
        new = tuple(order)
        if new != self.order:
            self.order = new
            self.version += 1
