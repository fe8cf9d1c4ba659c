"""Asking the desktop to take the virtual mouse as it is, so that a count is a count (need N45).

An X session can be asked for one mouse; a Wayland session asks its user only, which the doctor says.
"""

from __future__ import annotations

import os
import threading
import time
from collections.abc import Mapping

from nubshift.errors import SinkError
from nubshift.events import VIRTUAL_MOUSE

TRIES, EVERY = 40, 0.25
"""The X server takes a mouse in a moment after it was made: so often, and so many seconds apart, it is looked for."""


def is_x_session(environment: Mapping[str, str]) -> bool:
    """Whether the X server is the one that takes in mice."""
    return bool(environment.get("DISPLAY")) and not environment.get("WAYLAND_DISPLAY")


def ask_for_flat(environment: Mapping[str, str] = os.environ) -> threading.Thread | None:
    """Ask beside the loop, which waits for nobody; None where there is no X session."""
    if not is_x_session(environment):
        return None
    asking = threading.Thread(target=_ask_soon, args=(environment["DISPLAY"],), name="flat mouse", daemon=True)
    asking.start()
    return asking


def _ask_soon(display: str) -> None:
    """The start of the runner is not held up by it."""
    time.sleep(1.0)
    _ask(display)


def _ask(display: str, mouse: str = VIRTUAL_MOUSE, tries: int = TRIES) -> str:
    """Ask until the mouse is there; returns how it is taken."""
    from nubshift.outputs.x11 import Desktop  # not needed where there is no X, nor before the first output

    try:
        desktop = Desktop(display)
    except SinkError:
        return "none"
    found = "none"
    for _ in range(tries):
        found = desktop.flatten(mouse)
        if found != "none":
            break
        time.sleep(EVERY)
    desktop.close()
    return found
