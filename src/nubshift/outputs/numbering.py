"""How sessions number keys and buttons: X servers and Wayland compositors alike."""

from __future__ import annotations

FIRST_KEYCODE = 8
"""Keys are numbered as the kernel does, plus this (evdev keyboards)."""
BUTTON_NUMBERS: dict[str, int] = {"BTN_LEFT": 1, "BTN_MIDDLE": 2, "BTN_RIGHT": 3, "BTN_SIDE": 8, "BTN_EXTRA": 9}
"""Pointer buttons as X11 numbers them."""
