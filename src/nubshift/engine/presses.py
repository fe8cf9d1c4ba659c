"""Which buttons are down, and who wants to hear of it: a menu's, a keyboard's or the gyro's own button."""

from __future__ import annotations

from collections.abc import Callable

from nubshift.engine.owner import ControlKey


class Presses:
    """Buttons that are down and were pressed since the last stop, and those who listen."""

    def __init__(self) -> None:
        self._down: set[ControlKey] = set()
        self._listeners: dict[ControlKey, list[Callable[[bool], None]]] = {}

    def is_down(self, key: ControlKey) -> bool:
        """Whether a button is down and was pressed since the last stop."""
        return key in self._down

    def press(self, key: ControlKey) -> None:
        """A button came down."""
        self._down.add(key)

    def forget(self, key: ControlKey) -> None:
        """A button is up, or is to be without effect until it is pressed anew."""
        self._down.discard(key)

    def clear(self) -> None:
        """No button counts any more until it is pressed anew (R12)."""
        self._down.clear()

    def listen(self, key: ControlKey, call: Callable[[bool], None]) -> None:
        """Tell `call` of every press (True) and release (False) of a button."""
        self._listeners.setdefault(key, []).append(call)

    def unlisten(self, key: ControlKey, call: Callable[[bool], None]) -> None:
        """Tell it no more."""
        calls = self._listeners.get(key, [])
        if call in calls:
            calls.remove(call)
            if not calls:
                del self._listeners[key]

    def tell(self, key: ControlKey, down: bool) -> None:
        """Those who listen hear of a press or release."""
        for call in tuple(self._listeners.get(key, ())):
            call(down)
