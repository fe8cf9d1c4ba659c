"""The screen to open a window on, found before Qt is asked: without one it would end the process (SIGABRT)."""

from __future__ import annotations

import os
from collections.abc import Mapping, MutableMapping

from nubshift.desktop.wayland.finding import compositor
from nubshift.protocol.paths import runtime_trouble
from nubshift.texts import _

OTHERS = ("offscreen", "minimal", "vnc", "linuxfb", "eglfs")
"""Of Qt's ways to a screen, those that need no server."""


def enter_session(environment: MutableMapping[str, str] = os.environ) -> None:
    """Where nobody says which session this is, as to what systemd starts at login: the compositor that answers."""
    if any(environment.get(name) for name in ("WAYLAND_DISPLAY", "DISPLAY", "QT_QPA_PLATFORM")):
        return
    if found := compositor(environment):
        environment["WAYLAND_DISPLAY"], environment["QT_QPA_PLATFORM"] = found, "wayland"


def why_no_window(environment: Mapping[str, str] = os.environ) -> str:
    """A sentence if no window can be opened here, else empty."""
    platform = environment.get("QT_QPA_PLATFORM", "").partition(":")[0]
    return ("" if platform in OTHERS else _no_screen(environment, platform)) or runtime_trouble()


def _no_screen(environment: Mapping[str, str], platform: str) -> str:
    wayland, display = environment.get("WAYLAND_DISPLAY", ""), environment.get("DISPLAY", "")
    if wayland and platform != "xcb" and compositor(environment):
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
