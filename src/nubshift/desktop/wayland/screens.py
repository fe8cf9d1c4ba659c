"""Where the screens of a Wayland session stand, and which of them the window in focus is on.

By xdg-output-unstable-v1, and wlr-foreign-toplevel-management-unstable-v1 where it is offered.
"""

from __future__ import annotations

import struct
from typing import Any

from msgspec import Struct
from pywayland.protocol.wayland import WlOutput
from pywayland.protocol.xdg_output_unstable_v1 import ZxdgOutputManagerV1

from nubshift.desktop.wayland.connection import Connection
from nubshift.desktop.wayland.protocols import ACTIVATED, ToplevelManager


class _Screen(Struct):
    """An output, with its place among the others in units of the desktop."""

    output: Any
    logical: Any
    left: int = 0
    top: int = 0
    width: int = 0
    height: int = 0


class _ListedWindow(Struct):
    """A window as it is being told of."""

    on: list[Any] = []
    in_front: bool = False


class Screens:
    """Follows them on a connection that is read elsewhere. Raises OSError where nobody tells of them."""

    def __init__(self, connection: Connection) -> None:
        self._connection = connection
        self._logical = connection.bind(ZxdgOutputManagerV1)
        self._screens: dict[int, _Screen] = {}
        self._windows: dict[Any, _ListedWindow] = {}
        self._follow_outputs()
        if connection.has(ToplevelManager):
            self._manager = connection.bind(ToplevelManager)
            self._manager.dispatcher["toplevel"] = self._opened
        connection.roundtrip()
        connection.roundtrip()

    def _follow_outputs(self) -> None:
        self._connection.outputs_changed = False
        for number in set(self._screens) - set(self._connection.outputs):
            gone = self._screens.pop(number)
            gone.logical.destroy()
        for number in set(self._connection.outputs) - set(self._screens):
            output = self._connection.bind_output(WlOutput, number)
            screen = self._screens[number] = _Screen(output, self._logical.get_xdg_output(output))

            def placed(_it: Any, left: int, top: int, screen: _Screen = screen) -> None:
                screen.left, screen.top = left, top

            def sized(_it: Any, width: int, height: int, screen: _Screen = screen) -> None:
                screen.width, screen.height = width, height

            screen.logical.dispatcher["logical_position"] = placed
            screen.logical.dispatcher["logical_size"] = sized

    def _opened(self, _manager: Any, handle: Any) -> None:
        window = self._windows[self._connection.own(handle)] = _ListedWindow()
        hear = handle.dispatcher
        hear["output_enter"] = lambda _it, output: window.on.append(output)
        hear["output_leave"] = lambda _it, output: window.on.remove(output) if output in window.on else None
        hear["closed"] = self._closed

        def told(_it: Any, states: bytes) -> None:
            window.in_front = ACTIVATED in struct.unpack(f"={len(states) // 4}I", states)

        hear["state"] = told

    def _closed(self, handle: Any) -> None:
        del self._windows[handle]
        handle.destroy()

    def _in_use(self) -> _Screen | None:
        """The screen that the window in focus is on, else the first."""
        there = [screen for screen in self._screens.values() if screen.width and screen.height]
        on = [output for window in self._windows.values() if window.in_front for output in window.on]
        return next((screen for screen in there if screen.output in on), there[0] if there else None)

    def place(self, x: float, y: float) -> tuple[float, float]:
        """Shares of the screen in use as shares of all of them together, which is what absolute pointers move on."""
        if self._connection.outputs_changed:
            self._follow_outputs()
        screen = self._in_use()
        if screen is None:
            return x, y
        known = [one for one in self._screens.values() if one.width]
        left, top = min(one.left for one in known), min(one.top for one in known)
        right, bottom = max(one.left + one.width for one in known), max(one.top + one.height for one in known)
        return (
            (screen.left + x * (screen.width - 1) - left) / (right - left),
            (screen.top + y * (screen.height - 1) - top) / (bottom - top),
        )


def screens_of(connection: Connection) -> Screens | None:
    """Those that a connection is told of; None where the compositor tells of none."""
    try:
        return Screens(connection)
    except OSError:
        return None
