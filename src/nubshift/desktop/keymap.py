"""The keymap of this session, from whoever knows it: the compositor, or the X server."""

from __future__ import annotations

import mmap
import os
from collections.abc import Mapping
from typing import Any

from nubshift.desktop.wayland.finding import compositor
from nubshift.desktop.xkb import Keymap, keymap_of_text, keymap_of_x
from nubshift.events import VIRTUAL_KEYBOARD

LARGEST = 1 << 22
"""Bytes of a keymap in its text format; usual ones have 60 kB."""


def session_keymap(environment: Mapping[str, str] = os.environ, group: int | None = None) -> Keymap | None:
    """The keymap of the keyboard in this session; None where nobody tells one.

    `group` is the layout in use where the session has several and does not say which (None: ask, else the first).
    """
    text = _of_wayland(environment)
    if text:
        known = group_in_use(environment)
        return keymap_of_text(text, known if known is not None else group or 0)
    return keymap_of_x(environment["DISPLAY"]) if environment.get("DISPLAY") else None


def group_in_use(environment: Mapping[str, str] = os.environ) -> int | None:
    """The number of the layout in use, where a Wayland compositor tells it by a way of its own; None where not."""
    from nubshift.desktop.sway import layout_in_use

    return layout_in_use(environment, VIRTUAL_KEYBOARD)


def layouts_to_choose(environment: Mapping[str, str] = os.environ) -> tuple[str, ...]:
    """The layouts of a session that has several and tells nobody which is in use; none where it needs no asking."""
    keymap = session_keymap(environment) if compositor(environment) else None
    return keymap.names if keymap is not None and keymap.groups > 1 and group_in_use(environment) is None else ()


def _of_wayland(environment: Mapping[str, str]) -> bytes:
    """What every client with a keyboard is told, whether it has the focus or not."""
    address = compositor(environment)
    if not address:
        return b""
    from nubshift.desktop.wayland.connection import Connection

    found: list[bytes] = []

    def told(_keyboard: Any, _format: int, memory: int, size: int) -> None:
        with open(memory, "rb", closefd=True) as file:
            if 0 < size <= LARGEST:
                with mmap.mmap(file.fileno(), size, mmap.MAP_PRIVATE, mmap.PROT_READ) as shared:
                    found.append(shared[:size])

    try:
        connection = Connection(address)
    except OSError:
        return b""
    try:
        keyboard = connection.keyboard()
        if keyboard is not None:
            keyboard.dispatcher["keymap"] = told
            connection.roundtrip()
    except OSError:
        return b""
    finally:
        connection.close()
    return found[0] if found else b""
