"""Keyboards read for one key alone, with the player's consent: where neither X nor the desktop tells of keys.

Nothing of what is typed is stored or told: only whether the one key came down with its modifiers.
"""

from __future__ import annotations

import contextlib
import select

import evdev
from evdev import ecodes

from nubshift.devices.discovery import Monitor
from nubshift.events import VIRTUAL_PHYS

DOWN = (1, 2)
"""Values of a key event that say it is down: pressed, and repeated."""
TYPING = (ecodes.KEY_A, ecodes.KEY_ENTER)
"""What every keyboard has."""


class KeyboardsKey:
    """Hears one key, by its code and those of its modifiers, also of keyboards that come later.

    Raises OSError where no keyboard may be read.
    """

    def __init__(self, code: int, modifiers: tuple[tuple[int, ...], ...]) -> None:
        """`modifiers` has for each the codes of its keys, of which one must be down."""
        self._code, self._modifiers = code, modifiers
        self._keyboards: dict[str, evdev.InputDevice[str]] = {}
        self._down: dict[str, set[int]] = {}
        """What is down on each of them."""
        self._monitor = Monitor()
        self._poll = select.epoll()
        self._poll.register(self._monitor.fileno(), select.EPOLLIN)
        for path in evdev.list_devices():
            self._open(path)
        if not self._keyboards:
            self.close()
            raise OSError("no keyboard may be read")

    def _open(self, path: str) -> bool:
        """Read this one too, if it is a keyboard; returns whether the key is down on it already."""
        device = _keyboard(path, self._code) if path not in self._keyboards else None
        if device is None:
            return False
        try:
            down = set(device.active_keys())
        except OSError:  # it is gone again
            device.close()
            return False
        self._keyboards[path], self._down[path] = device, down
        self._poll.register(device.fd, select.EPOLLIN)
        return self._code in down and self._with_modifiers()

    def _drop(self, path: str) -> None:
        """One that is gone. What was held on it is held no more."""
        device = self._keyboards.pop(path)
        del self._down[path]
        with contextlib.suppress(OSError):
            self._poll.unregister(device.fd)
        with contextlib.suppress(OSError):
            device.close()

    def fileno(self) -> int:
        """Readable when a key of any of them, or a keyboard, came or went."""
        return self._poll.fileno()

    def pressed(self) -> bool:
        """Whether it was pressed since this was asked last."""
        found = False
        for plug in self._monitor.read():
            if plug.added:  # of a press before it is read, as of a keyboard grabbed in panic, only its state tells
                found = self._open(plug.path) or found
            elif plug.path in self._keyboards:  # another one may come by the same name
                self._drop(plug.path)
        for path, device in list(self._keyboards.items()):
            try:
                while (event := device.read_one()) is not None:
                    if event.type == ecodes.EV_KEY:
                        found = self._take(path, event.code, event.value) or found
                    elif event.type == ecodes.EV_SYN and event.code == ecodes.SYN_DROPPED:
                        self._down[path] = set(device.active_keys())
            except OSError:
                self._drop(path)
        return found

    def _take(self, path: str, code: int, value: int) -> bool:
        down = self._down[path]
        (down.add if value in DOWN else down.discard)(code)
        return code == self._code and value == 1 and self._with_modifiers()

    def _with_modifiers(self) -> bool:
        every = set().union(*self._down.values())
        return all(every.intersection(keys) for keys in self._modifiers)

    def close(self) -> None:
        """Read none any more."""
        for path in list(self._keyboards):
            self._drop(path)
        self._poll.close()


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
