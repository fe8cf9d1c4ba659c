"""Where the compositor of this session is. Nothing is imported here, since most sessions are asked and have none.

WAYLAND_DISPLAY says so, or the one socket in the runtime folder that answers, since the runner may have been started
before the compositor.
"""

from __future__ import annotations

import os
import socket
from collections.abc import Mapping
from pathlib import Path

PATIENCE = 2.0
"""Seconds in which a compositor that is there takes a connection."""


def compositor(environment: Mapping[str, str] = os.environ) -> str:
    """The path of the socket where a compositor answers; empty where none does."""
    folder = Path(environment.get("XDG_RUNTIME_DIR") or f"/run/user/{os.getuid()}")
    named = environment.get("WAYLAND_DISPLAY", "")
    if not named and environment.get("DISPLAY"):
        return ""  # a session of X; one that runs in a window of it is another's
    try:
        found = [folder / named] if named else sorted(path for path in folder.iterdir() if path.match("wayland-*"))
    except OSError:  # it is not there, or not ours to look into
        return ""
    return next((str(path) for path in found if path.suffix != ".lock" and answers(path)), "")


def answers(path: Path) -> bool:
    """Whether somebody listens at a socket."""
    try:
        with socket.socket(socket.AF_UNIX) as there:
            there.settimeout(PATIENCE)
            there.connect(str(path))
    except OSError:
        return False
    return True
