"""The key that pauses everything, whatever is in front: also when the window hangs or is gone (need N61)."""

from __future__ import annotations

import os
from typing import Protocol

from nubshift.model.keys import KEYS, label
from nubshift.texts import _

TRIES = 4
MODIFIERS = ("LEFTSHIFT", "LEFTCTRL", "LEFTALT", "LEFTMETA")


class HeardKey(Protocol):
    """One key, by one of the ways to hear it."""

    def fileno(self) -> int:
        """Readable when it may have been pressed."""

    def pressed(self) -> bool:
        """Whether it was pressed since this was asked last. Raises OSError when it can't be heard any more."""

    def close(self) -> None:
        """Let go of it."""


class StopKey:
    """Hears one key: by a grab of the X server, by the desktop's global shortcuts, or by reading keyboards.

    `by` says in a sentence how, empty while it is not heard; `trouble` why not, in sentences, if so.
    """

    def __init__(self) -> None:
        self._wanted: tuple[object, ...] = ((), False)
        self._key: HeardKey | None = None
        self._tries = 0
        self.by = self.trouble = ""

    def want(self, keys: tuple[str, ...], keyboards: bool = False) -> bool:
        """Hear this key from now on: its modifiers, then the key itself; none for none.

        `keyboards`: the player consents to their being read. Returns whether it can't be heard: `trouble` says why. A
        key that another program has is asked for again a few times first: it may be a runner that is just ending.
        """
        if (keys, keyboards) != self._wanted:
            self.close()
            self._wanted, self._tries, self.trouble = (keys, keyboards), TRIES, ""
        if not keys or self._key is not None or not self._tries:
            return False
        self._tries -= 1
        *modifiers, key = keys
        if key not in KEYS or any(name not in MODIFIERS for name in modifiers):
            self.trouble = _("{keys} can't be used as the stop key. Choose another one in Settings.").format(
                keys=" + ".join(keys)
            )
            self._tries = 0
            return True
        self._find(key, tuple(modifiers), keyboards)
        return self._key is None and not self._tries and bool(self.trouble)

    def _find(self, key: str, modifiers: tuple[str, ...], keyboards: bool) -> None:
        """The first way by which it can be heard here. On Wayland the X server tells of X programs' keys alone."""
        wayland, has_x = bool(os.environ.get("WAYLAND_DISPLAY")), bool(os.environ.get("DISPLAY"))
        shown = " + ".join(label(name) for name in (*modifiers, key))
        self.trouble = ""
        if has_x and not wayland:
            self.trouble = self._try_x(key, modifiers).format(keys=shown)
            if not self.trouble:
                return
        if os.environ.get("DBUS_SESSION_BUS_ADDRESS") and self._try_desktop(key, modifiers):
            return
        if keyboards and self._try_keyboards(key, modifiers):
            return
        if wayland and not self.trouble:
            self.trouble = _(
                "This desktop does not let Nub Shift hear the stop key {keys}. Hold the stop controls on the "
                "controller instead, or allow keyboards to be read in Settings."
            ).format(keys=shown)

    def _try_x(self, key: str, modifiers: tuple[str, ...]) -> str:
        """Why it can't be, else nothing."""
        from nubshift.surroundings.x11 import XKey

        try:
            self._key = XKey(KEYS[key].code, modifiers)
        except ConnectionError:
            return _("The stop key {keys} can't be heard: the X server does not answer.")
        except OSError:
            return _("The stop key {keys} is in use by another program. Choose another one in Settings.")
        self.by = _("Heard through X11.")
        return ""

    def _try_desktop(self, key: str, modifiers: tuple[str, ...]) -> bool:
        from nubshift.surroundings.shortcuts import PortalKey, keysym

        try:
            self._key = PortalKey(keysym(key), modifiers)
        except OSError:
            return False
        self.by = _("Heard through the desktop, which may have given it another key.")
        return True

    def _try_keyboards(self, key: str, modifiers: tuple[str, ...]) -> bool:
        from nubshift.devices.keyboards import KeyboardsKey

        either = tuple((KEYS[name].code, KEYS[name.replace("LEFT", "RIGHT")].code) for name in modifiers)
        try:
            self._key = KeyboardsKey(KEYS[key].code, either)
        except OSError:
            self.trouble = _("No keyboard can be read to hear the stop key. Run: nubshift doctor")
            return False
        self.by = _("Heard by reading your keyboards.")
        return True

    @property
    def still_tries(self) -> bool:
        """Whether it is worth asking again soon."""
        return bool(self._wanted[0]) and self._key is None and self._tries > 0

    def filenos(self) -> tuple[int, ...]:
        """Readable when it may have been pressed."""
        return (self._key.fileno(),) if self._key is not None else ()

    def pressed(self) -> bool:
        """Whether it was pressed since this was asked last."""
        if self._key is None:
            return False
        try:
            return self._key.pressed()
        except OSError:
            self.close()
            self._tries = TRIES
            return False

    def close(self) -> None:
        """Hear nothing any more."""
        if self._key is not None:
            self._key.close()
        self._key, self.by = None, ""
