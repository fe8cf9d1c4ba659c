"""What stands on the keys in the user's own layout, and which key a press in the window was.

Keys are physical positions; their labels come from the keymap of the session.
"""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QGuiApplication, QKeyEvent

from nubshift.desktop.xkb import character_of
from nubshift.model.keys import BY_CODE, KEYS, label

FIRST_KEYCODE = 8
NAMED_GROUPS = ("letters", "digits", "punctuation")
"""Only these keys are labelled by their character; the others keep their names."""


class KeyLabels:
    """Labels of keys by their kernel name."""

    def __init__(self, group: int = 0) -> None:
        """By the layout in use; `group` where a session has several and does not say which."""
        self._labels = _labels_here(group) if QGuiApplication.platformName() in ("xcb", "wayland") else {}

    def __call__(self, code: str) -> str:
        """What stands on a key or mouse button."""
        return self._labels.get(code) or label(code)


def _labels_here(group: int) -> dict[str, str]:
    """The first character of each key in the layout in use; empty where nobody tells it."""
    from nubshift.desktop.keymap import session_keymap

    keymap, found = session_keymap(group=group), dict[str, str]()
    if keymap is None:
        return found
    for info in KEYS.values():
        text = character_of(keymap.first_symbol(info.code)) if info.group in NAMED_GROUPS else ""
        if text.strip() and text.isprintable():
            found[info.name] = text.upper() if len(text.upper()) == 1 else text
    return found


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
