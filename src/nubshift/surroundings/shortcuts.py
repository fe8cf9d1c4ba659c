"""A key heard through the desktop: the GlobalShortcuts portal of the XDG Desktop Portal, version 1."""

from __future__ import annotations

import os
import time
from typing import Any

from jeepney import DBusAddress, HeaderFields, MatchRule, Message, new_method_call

from nubshift.surroundings.bus import PATIENCE, Bus
from nubshift.texts import _

NAME, PATH = "org.freedesktop.portal.Desktop", "/org/freedesktop/portal/desktop"
SHORTCUTS = DBusAddress(PATH, NAME, "org.freedesktop.portal.GlobalShortcuts")
REGISTRY = DBusAddress(PATH, NAME, "org.freedesktop.host.portal.Registry")
REQUEST = "org.freedesktop.portal.Request"
APP, SHORTCUT = "nubshift", "pause"
MODIFIERS = {"LEFTCTRL": "CTRL", "LEFTALT": "ALT", "LEFTSHIFT": "SHIFT", "LEFTMETA": "LOGO"}
"""Our names, and those of the shortcuts specification."""


_KEYSYMS = {
    "ENTER": "Return",
    "TAB": "Tab",
    "BACKSPACE": "BackSpace",
    "ESC": "Escape",
    "SPACE": "space",
    "DELETE": "Delete",
    "INSERT": "Insert",
    "UP": "Up",
    "DOWN": "Down",
    "LEFT": "Left",
    "RIGHT": "Right",
    "HOME": "Home",
    "END": "End",
    "PAGEUP": "Page_Up",
    "PAGEDOWN": "Page_Down",
    "PAUSE": "Pause",
    "SCROLLLOCK": "Scroll_Lock",
    "SYSRQ": "Print",
}


def keysym(key: str) -> str:
    """What the shortcuts specification calls a key, as xkbcommon-keysyms.h does."""
    return _KEYSYMS.get(key, key.lower() if len(key) == 1 else key)


class PortalKey:
    """Hears one key, by its modifiers and the name of its keysym. The desktop may ask the player first, and lets them
    choose another key.

    Raises OSError where no desktop offers it.
    """

    def __init__(self, keysym: str, modifiers: tuple[str, ...]) -> None:
        self._bus = Bus("SESSION")
        try:
            self._session = self._begin(keysym, modifiers)
        except OSError:
            self._bus.close()
            raise

    def _begin(self, keysym: str, modifiers: tuple[str, ...]) -> str:
        bus = self._bus
        bus.ask(new_method_call(REGISTRY, "Register", "sa{sv}", (APP, {})))  # newer portals want to know who asks
        ours = bus.name.lstrip(":").replace(".", "_")
        bus.listen(MatchRule(type="signal", interface=REQUEST, member="Response"))
        bus.listen(MatchRule(type="signal", interface=SHORTCUTS.interface, member="Activated"))
        token = f"nubshift_{os.getpid()}"
        options = {"handle_token": ("s", token), "session_handle_token": ("s", token)}
        if bus.ask(new_method_call(SHORTCUTS, "CreateSession", "a{sv}", (options,))) is None:
            raise OSError("no desktop offers global shortcuts")
        session = self._answer(f"{PATH}/request/{ours}/{token}").get("session_handle")
        if session is None:
            raise OSError("the desktop refused global shortcuts")
        trigger = "+".join((*(MODIFIERS[name] for name in modifiers), keysym))
        words = {"description": ("s", _("Pause all output")), "preferred_trigger": ("s", trigger)}
        asked = (session[1], [(SHORTCUT, words)], "", {"handle_token": ("s", f"{token}_bind")})
        if bus.ask(new_method_call(SHORTCUTS, "BindShortcuts", "oa(sa{sv})sa{sv}", asked)) is None:
            raise OSError("the desktop refused the key")
        return str(session[1])

    def _answer(self, request: str) -> dict[str, Any]:
        """What the desktop says to a request: it comes as a signal."""
        end = time.monotonic() + PATIENCE
        while (left := end - time.monotonic()) > 0:
            for message in self._bus.take(left):
                if message.header.fields.get(HeaderFields.path) == request:
                    code, results = message.body
                    return dict(results) if code == 0 else {}
        return {}

    def fileno(self) -> int:
        """Readable when it may have been pressed."""
        return self._bus.fileno()

    def pressed(self) -> bool:
        """Whether it was pressed since this was asked last. Raises OSError when the desktop is gone."""
        return any(self._is_ours(message) for message in self._bus.take())

    def _is_ours(self, message: Message) -> bool:
        if message.header.fields.get(HeaderFields.member) != "Activated":
            return False
        return tuple(message.body[:2]) == (self._session, SHORTCUT)

    def close(self) -> None:
        """Let go of the key."""
        self._bus.close()
