"""What stands on the keys in the user's own layout, and which key a press in the window was.

Keys are physical positions; their labels are asked from the X server, the one part of the system that knows the layout
in use. This is the one file of the app that imports the X library.
"""

from __future__ import annotations

import ctypes
import ctypes.util
import os
from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QGuiApplication, QKeyEvent

from nubshift.model.keys import BY_CODE, KEYS, label

FIRST_KEYCODE = 8
NAMED_GROUPS = ("letters", "digits", "punctuation")
"""Only these keys are labelled by their character; the others keep their names."""


class KeyLabels:
    """Labels of keys by their kernel name."""

    def __init__(self) -> None:
        self._labels = _labels_of_x() if QGuiApplication.platformName() == "xcb" else {}

    def __call__(self, code: str) -> str:
        """What stands on a key or mouse button."""
        return self._labels.get(code) or label(code)


def _labels_of_x() -> dict[str, str]:
    """The first character of each key in the present layout; empty where the server can't be asked."""
    to_text = _keysym_reader()
    if to_text is None or not os.environ.get("DISPLAY"):
        return {}
    import xcffib
    import xcffib.xproto

    try:
        connection = xcffib.connect()
    except xcffib.ConnectionException:
        return {}
    setup = connection.get_setup()
    first, count = setup.min_keycode, setup.max_keycode - setup.min_keycode + 1
    reply = connection.core.GetKeyboardMapping(first, count).reply()
    connection.disconnect()
    found = {}
    for info in KEYS.values():
        at = (info.code + FIRST_KEYCODE - first) * reply.keysyms_per_keycode
        if info.group in NAMED_GROUPS and 0 <= at < len(reply.keysyms):
            text = to_text(reply.keysyms[at])
            if text.strip() and text.isprintable():
                found[info.name] = text.upper() if len(text.upper()) == 1 else text
    return found


def _keysym_reader() -> Callable[[int], str] | None:
    """libxkbcommon's keysym to text, which Qt needs anyway to run under X."""
    name = ctypes.util.find_library("xkbcommon") or "libxkbcommon.so.0"
    try:
        library = ctypes.CDLL(name)
    except OSError:
        return None

    def to_text(keysym: int) -> str:
        buffer = ctypes.create_string_buffer(16)
        library.xkb_keysym_to_utf8(ctypes.c_uint32(keysym), buffer, ctypes.c_size_t(16))
        return buffer.value.decode("utf-8", "replace")

    return to_text


def pressed_key(event: QKeyEvent) -> str | None:
    """The kernel's name of the key of an event, or None for one that we can't send."""
    scan = event.nativeScanCode()
    if scan > FIRST_KEYCODE and QGuiApplication.platformName() in ("xcb", "wayland"):
        info = BY_CODE.get(scan - FIRST_KEYCODE)
        return info.name if info else None
    return _BY_QT.get(event.key()) or _character_key(event.key())


def _character_key(key: int) -> str | None:
    text = chr(key) if 32 < key < 127 else ""
    return next((info.name for info in KEYS.values() if info.label == text and info.group in NAMED_GROUPS), None)


_Key = Qt.Key
_BY_QT: dict[int, str] = {
    _Key.Key_Space: "SPACE",
    _Key.Key_Return: "ENTER",
    _Key.Key_Enter: "KPENTER",
    _Key.Key_Tab: "TAB",
    _Key.Key_Backtab: "TAB",
    _Key.Key_Backspace: "BACKSPACE",
    _Key.Key_Escape: "ESC",
    _Key.Key_Delete: "DELETE",
    _Key.Key_Insert: "INSERT",
    _Key.Key_Up: "UP",
    _Key.Key_Down: "DOWN",
    _Key.Key_Left: "LEFT",
    _Key.Key_Right: "RIGHT",
    _Key.Key_Home: "HOME",
    _Key.Key_End: "END",
    _Key.Key_PageUp: "PAGEUP",
    _Key.Key_PageDown: "PAGEDOWN",
    _Key.Key_Shift: "LEFTSHIFT",
    _Key.Key_Control: "LEFTCTRL",
    _Key.Key_Alt: "LEFTALT",
    _Key.Key_AltGr: "RIGHTALT",
    _Key.Key_Meta: "LEFTMETA",
    _Key.Key_CapsLock: "CAPSLOCK",
    **{_Key.Key_F1 + n: f"F{n + 1}" for n in range(24)},
}

MOUSE_BUTTONS: dict[Qt.MouseButton, str] = {
    Qt.MouseButton.LeftButton: "BTN_LEFT",
    Qt.MouseButton.RightButton: "BTN_RIGHT",
    Qt.MouseButton.MiddleButton: "BTN_MIDDLE",
    Qt.MouseButton.BackButton: "BTN_SIDE",
    Qt.MouseButton.ForwardButton: "BTN_EXTRA",
}
