"""What an overlay shows: the tiles, menus and on-screen keyboards in use, and the picture of everything."""

from __future__ import annotations

from nubshift.engine.owner import ControlKey
from nubshift.events import Surface

ALL: ControlKey = ("", "")
"""What the picture of everything stands under, where others have their control."""


class Surfaces:
    """The surfaces in use, by control."""

    def __init__(self) -> None:
        self._shown: dict[ControlKey, Surface] = {}
        self._asks: list[object] = []

    @property
    def shown(self) -> tuple[Surface, ...]:
        """All of them, in the order in which they came."""
        return tuple(self._shown.values())

    def show(self, key: ControlKey, surface: Surface) -> None:
        """A control uses this one now."""
        self._shown[key] = surface

    def hide(self, key: ControlKey) -> None:
        """A control uses none any more."""
        self._shown.pop(key, None)

    def ask_for_all(self, seat: str) -> object:
        """Ask for the picture of what everything does; returns the token that ends it."""
        token = object()
        self._asks.append(token)
        self._shown[ALL] = Surface(seat, "", "all", "", -1)
        return token

    def end_asking(self, token: object) -> None:
        """One who asks less; the picture goes with the last."""
        self._asks = [entry for entry in self._asks if entry is not token]
        if not self._asks:
            self.hide(ALL)

    def stop(self) -> None:
        """Nobody asks any more (R12); the surfaces of controls go with them."""
        self._asks.clear()
        self.hide(ALL)
