"""A plain Wayland client that stands for a game: fills the screen and prints every event it gets, a JSON object a line.

``wayland_game.py APP_ID TITLE [window]``: a window instead of the whole screen with the third word. The
lines are those of ``receiver.py``, and besides: pointer places, wheel steps, the output that it is on.
"""

from __future__ import annotations

import json
import mmap
import os
import sys
import time
from typing import Any

from pywayland.protocol.relative_pointer_unstable_v1 import ZwpRelativePointerManagerV1
from pywayland.protocol.wayland import WlCompositor, WlShm
from pywayland.protocol.xdg_shell import XdgWmBase

from nubshift.desktop.wayland.connection import Connection

COLOUR = bytes((0x40, 0x30, 0x1B, 0xFF))
"""Blue, green, red, alpha, as on X11."""
BUTTONS = {0x110: 1, 0x111: 3, 0x112: 2, 0x113: 8, 0x114: 9}
"""Numbers as X11 has them, so that the same tests read both."""


def say(**what: object) -> None:
    print(json.dumps({**what, "time": time.monotonic_ns() // 1000}), flush=True)


class WaylandGame:
    """The window, and what it hears."""

    def __init__(self, app: str, title: str, full: bool) -> None:
        self._connection = Connection()
        bind = self._connection.bind
        self._shm = self._connection.memory()
        shell = bind(XdgWmBase)
        shell.dispatcher["ping"] = lambda it, serial: it.pong(serial)
        self._surface = bind(WlCompositor, 4).create_surface()
        self._shell_surface = shell.get_xdg_surface(self._surface)
        self._toplevel = self._shell_surface.get_toplevel()
        self._toplevel.set_app_id(app)
        self._toplevel.set_title(title)
        self._size = (640, 400)
        self._toplevel.dispatcher["configure"] = self._sized
        self._shell_surface.dispatcher["configure"] = self._configured
        self._buffer: Any = None
        self._relative: Any = None
        if full:
            self._toplevel.set_fullscreen(None)
        self._surface.commit()
        self._seat = self._connection.seat()
        self._seat.dispatcher["capabilities"] = self._capable
        self._keyboard: Any = None
        self._pointer: Any = None
        self._connection.roundtrip()

    def _sized(self, _toplevel: Any, width: int, height: int, _states: bytes) -> None:
        if width and height:
            self._size = (width, height)

    def _configured(self, shell_surface: Any, serial: int) -> None:
        shell_surface.ack_configure(serial)
        width, height = self._size
        memory = os.memfd_create("game")
        os.ftruncate(memory, width * height * 4)
        with mmap.mmap(memory, width * height * 4) as pixels:
            pixels[:] = COLOUR * (width * height)
        pool = self._shm.create_pool(memory, width * height * 4)
        buffer = pool.create_buffer(0, width, height, width * 4, WlShm.format.xrgb8888.value)
        pool.destroy()
        os.close(memory)
        self._buffer = buffer
        self._surface.attach(buffer, 0, 0)
        self._surface.damage(0, 0, width, height)
        self._surface.commit()
        say(event="shown", width=width, height=height)

    def _capable(self, seat: Any, capabilities: int) -> None:
        bind = self._connection.bind
        if capabilities & 2 and self._keyboard is None:
            self._keyboard = seat.get_keyboard()
            hear = self._keyboard.dispatcher
            hear["keymap"] = lambda _it, _format, memory, _size: os.close(memory)
            hear["enter"] = self._entered
            hear["leave"] = lambda *_unused: say(event="focus out")
            hear["key"] = lambda _it, _serial, _time, key, state: say(event=_key(state), code=key + 8)
            hear["modifiers"] = lambda _it, _serial, held, latched, locked, group: say(
                event="modifiers", held=held, latched=latched, locked=locked, group=group
            )
        if capabilities & 1 and self._pointer is None:
            self._pointer = seat.get_pointer()
            hear = self._pointer.dispatcher
            hear["enter"] = lambda _it, _serial, _surface, x, y: say(event="pointer in", x=x, y=y)
            hear["leave"] = lambda *_unused: say(event="pointer out")
            hear["motion"] = lambda _it, _time, x, y: say(event="pointer", x=x, y=y)
            hear["button"] = lambda _it, _serial, _time, button, state: say(
                event="button down" if state else "button up", code=BUTTONS.get(button, button)
            )
            hear["axis"] = lambda _it, _time, axis, value: say(event="wheel", axis=axis, value=value)
            if self._connection.has(ZwpRelativePointerManagerV1):
                self._relative = bind(ZwpRelativePointerManagerV1).get_relative_pointer(self._pointer)
                self._relative.dispatcher["relative_motion"] = lambda _it, _high, _low, dx, dy, _x, _y: say(
                    event="motion", dx=round(dx), dy=round(dy)
                )
        self._connection.flush()

    @staticmethod
    def _entered(*_unused: Any) -> None:
        say(event="focus in")
        say(event="ready")

    def run(self) -> None:
        """Until it is killed, or the compositor is gone."""
        while True:
            self._connection.display.dispatch(block=True)
            self._connection.flush()


def _key(state: int) -> str:
    return "key down" if state else "key up"


if __name__ == "__main__":
    WaylandGame(sys.argv[1], sys.argv[2], full=sys.argv[3:] != ["window"]).run()
