"""Whether there is a screen to open a window on, found out before Qt is asked: it would end the process (SIGABRT)."""

from __future__ import annotations

import os
import socket
from collections.abc import Mapping
from pathlib import Path

from nubshift.protocol.paths import runtime_trouble
from nubshift.texts import _

OTHERS = ("offscreen", "minimal", "vnc", "linuxfb", "eglfs")
"""Of Qt's ways to a screen, those that need no server."""


def why_no_window(environment: Mapping[str, str] = os.environ) -> str:
    """A sentence if no window can be opened here, else empty."""
    platform = environment.get("QT_QPA_PLATFORM", "").partition(":")[0]
    return ("" if platform in OTHERS else _no_screen(environment, platform)) or runtime_trouble()


def _no_screen(environment: Mapping[str, str], platform: str) -> str:
    wayland, display = environment.get("WAYLAND_DISPLAY", ""), environment.get("DISPLAY", "")
    if wayland and platform != "xcb" and _answers(Path(environment.get("XDG_RUNTIME_DIR", "/nowhere")) / wayland):
        return ""
    if display and not platform.startswith("wayland"):
        return _x_trouble(display)
    if wayland:
        return _(
            "the Wayland compositor does not answer (WAYLAND_DISPLAY is {wayland}). Is it running, and is it yours?"
        ).format(wayland=wayland)
    return _(
        "there is no screen here: neither WAYLAND_DISPLAY nor DISPLAY is set. Without a window you "
        "can play a profile with: nubshift run PROFILE"
    )


def _answers(path: Path) -> bool:
    """Whether somebody listens at a socket."""
    try:
        with socket.socket(socket.AF_UNIX) as there:
            there.settimeout(5)
            there.connect(str(path))
    except OSError:
        return False
    return True


def _x_trouble(display: str) -> str:
    import xcffib
    import xcffib.xproto  # makes a connection possible

    try:
        xcffib.connect(display).disconnect()
    except xcffib.ConnectionException:
        return _("the X server does not answer (DISPLAY is {display}). Is it running, and may you use it?").format(
            display=display
        )
    return ""
