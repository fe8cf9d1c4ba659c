"""Asking the desktop to take the virtual mouse as it is, so that a count is a count (need N45).

X servers, sway and KWin can be asked for one mouse; of others the doctor says what their user can do.
"""

from __future__ import annotations

import os
import threading
import time
from collections.abc import Mapping
from typing import Protocol

from nubshift.desktop.mice import MouseProfile
from nubshift.desktop.sway import socket_of_sway
from nubshift.desktop.wayland.finding import compositor
from nubshift.errors import SinkError
from nubshift.events import VIRTUAL_MOUSE

TRIES, EVERY = 40, 0.25
"""A desktop takes a mouse in a moment after it was made: so often, and so many seconds apart, it is looked for."""


class Mice(Protocol):
    """The mice as a desktop takes them. It may be gone at any time: then there is none."""

    def profile_of(self, name: str) -> MouseProfile:
        """How it takes the mouse with this name."""

    def flatten(self, name: str) -> MouseProfile:
        """Ask for it to be taken as it is; how it is taken then."""

    def command(self, name: str) -> str:
        """What a player can type for the same."""

    def close(self) -> None:
        """Ask no more."""


def mice_of(environment: Mapping[str, str]) -> Mice | None:
    """Who takes in mice in this session and can be asked; None for nobody."""
    try:
        if compositor(environment):
            if in_sway := socket_of_sway(environment):
                from nubshift.desktop.sway_mice import SwayMice

                return SwayMice(in_sway)
            if environment.get("DBUS_SESSION_BUS_ADDRESS"):
                from nubshift.surroundings.kwin_mice import KWinMice

                return KWinMice()
            return None
        if environment.get("DISPLAY"):
            from nubshift.outputs.x11 import Desktop

            return Desktop(environment["DISPLAY"])
    except (SinkError, OSError):
        pass
    return None


def ask_for_flat(environment: Mapping[str, str] = os.environ) -> threading.Thread | None:
    """Ask beside the loop, which waits for nobody; None where there is no session."""
    if not environment.get("DISPLAY") and not compositor(environment):
        return None
    asking = threading.Thread(target=_ask_soon, args=(environment,), name="flat mouse", daemon=True)
    asking.start()
    return asking


def _ask_soon(environment: Mapping[str, str]) -> None:
    """The start of the runner is not held up by it."""
    time.sleep(1.0)
    _ask(environment)


def _ask(environment: Mapping[str, str], mouse: str = VIRTUAL_MOUSE, tries: int = TRIES) -> MouseProfile:
    """Ask until the mouse is there; returns how it is taken."""
    mice = mice_of(environment)
    found: MouseProfile = "none"
    if mice is None:
        return found
    for _ in range(tries):
        found = mice.flatten(mouse)
        if found != "none":
            break
        time.sleep(EVERY)
    mice.close()
    return found
