"""Keyboards read for one key alone, with the player's consent: where neither X nor the desktop tells of keys.

Nothing of what is typed is stored or told: only whether the one key came down with its modifiers.
"""

from __future__ import annotations

import contextlib
import select

import evdev
from evdev import ecodes

from nubshift.events import VIRTUAL_PHYS

DOWN = (1, 2)
"""Values of a key event that say it is down: pressed, and repeated."""
TYPING = (ecodes.KEY_A, ecodes.KEY_ENTER)
"""What every keyboard has."""


class KeyboardsKey:
    """Hears one key, by its code and those of its modifiers. Raises OSError where no keyboard may be read."""

    def __init__(self, code: int, modifiers: tuple[tuple[int, ...], ...]) -> None:
        """`modifiers` has for each the codes of its keys, of which one must be down."""
        self._code, self._modifiers = code, modifiers
        self._down: set[int] = set()
        self._keyboards = [device for path in evdev.list_devices() if (device := _keyboard(path, code)) is not None]
        if not self._keyboards:
            raise OSError("no keyboard may be read")
        self._poll = select.epoll()
        for device in self._keyboards:
            self._poll.register(device.fd, select.EPOLLIN)

    def fileno(self) -> int:
        """Readable when any of them was."""
        return self._poll.fileno()

    def pressed(self) -> bool:
        """Whether it was pressed since this was asked last. Raises OSError when the last keyboard is gone."""
        found = False
        for device in list(self._keyboards):
            try:
                while (event := device.read_one()) is not None:
                    if event.type == ecodes.EV_KEY:
                        found = self._take(event.code, event.value) or found
            except OSError:
                self._keyboards.remove(device)
                device.close()
        if not self._keyboards:
            raise OSError("no keyboard is left")
        return found

    def _take(self, code: int, value: int) -> bool:
        (self._down.add if value in DOWN else self._down.discard)(code)
        return code == self._code and value == 1 and all(self._down.intersection(keys) for keys in self._modifiers)

    def close(self) -> None:
        """Read none any more."""
        self._poll.close()
        for device in self._keyboards:
            with contextlib.suppress(OSError):
                device.close()


def _keyboard(path: str, code: int) -> evdev.InputDevice[str] | None:
    """The keyboard of a node, if it is one that has the key, is not ours, and may be read."""
    try:
        device = evdev.InputDevice(path)
    except OSError:
        return None
    keys = device.capabilities().get(ecodes.EV_KEY, ())
    if device.phys == VIRTUAL_PHYS or code not in keys or not all(key in keys for key in TYPING):
        device.close()
        return None
    return device
