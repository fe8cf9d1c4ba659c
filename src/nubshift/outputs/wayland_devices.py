"""A keyboard and a pointer that a Wayland compositor lets a program have.

By virtual-keyboard-unstable-v1 and wlr-virtual-pointer-unstable-v1.
"""

from __future__ import annotations

import mmap
import os
import time

from nubshift.desktop.keymap import session_keymap
from nubshift.desktop.wayland.connection import Connection
from nubshift.desktop.wayland.protocols import VirtualKeyboardManager, VirtualPointerManager
from nubshift.desktop.wayland.screens import screens_of
from nubshift.desktop.xkb import Keymap, KeyState, keymap_of_names
from nubshift.errors import SinkError
from nubshift.events import NOTCH
from nubshift.model.keys import KEYS
from nubshift.outputs.numbering import BUTTON_NUMBERS, FIRST_KEYCODE
from nubshift.texts import _

KEYMAP_FORMAT = 1
"""XKB's text format, version 1."""
DOWN_AXIS, RIGHT_AXIS, FROM_WHEEL = 0, 1, 0
UNITS_OF_NOTCH = 15.0
"""What compositors take a notch of a wheel for, in units of the desktop."""
EXTENT = 1 << 16
"""What points are parts of."""
_CODES = {number: KEYS[name].code for name, number in BUTTON_NUMBERS.items()}


class WaylandDevices:
    """A virtual keyboard and pointer of the compositor at `address`. Raises SinkError where it gives none.

    They type by `keymap` (default: the session's).
    """

    client = 0
    """Nothing names it: with a connection that ends, the compositor releases what its virtual keyboard held."""

    def outlast(self, client: int, pid: int) -> None:
        """There is nothing to wait for."""

    def __init__(self, address: str = "", keymap: Keymap | None = None) -> None:
        try:
            self.connection = Connection(address)
        except OSError as error:
            raise SinkError(_("no Wayland compositor answers. Check WAYLAND_DISPLAY")) from error
        try:
            self._make(keymap or session_keymap() or keymap_of_names("us"))
        except OSError as error:
            self.connection.close()
            raise SinkError(_("the Wayland compositor lets no program press keys")) from error
        except SinkError:
            self.connection.close()
            raise

    def _make(self, keymap: Keymap | None) -> None:
        if keymap is None:
            raise SinkError(_("the library libxkbcommon is missing"))
        seat = self.connection.seat()
        self._keyboard = self.connection.bind(VirtualKeyboardManager).create_virtual_keyboard(seat)
        self._pointer = self.connection.bind(VirtualPointerManager).create_virtual_pointer(seat)
        self._state, self._group = KeyState(keymap), keymap.group
        self._modifiers = (0, 0, 0, keymap.group)
        self._wheel = {DOWN_AXIS: 0, RIGHT_AXIS: 0}
        self._unframed = False
        self._give(keymap)
        self._screens = screens_of(self.connection)
        self.connection.roundtrip()

    def _give(self, keymap: Keymap) -> None:
        """The keyboard types by the session's keymap, in the layout in use."""
        text = keymap.text + b"\0"
        memory = os.memfd_create("nubshift-keymap", os.MFD_CLOEXEC)
        os.ftruncate(memory, len(text))
        with mmap.mmap(memory, len(text)) as shared:
            shared[:] = text
        self._keyboard.keymap(KEYMAP_FORMAT, memory, len(text))
        self.connection.flush()
        os.close(memory)
        self._keyboard.modifiers(*self._modifiers)

    @staticmethod
    def _now() -> int:
        return time.monotonic_ns() // 1_000_000 & 0xFFFFFFFF

    def key(self, keycode: int, down: bool) -> None:
        """A key, and what it makes of the modifiers: of a virtual keyboard, compositors do not work that out."""
        self._frame()
        code = keycode - FIRST_KEYCODE
        self._keyboard.key(self._now(), code, down)
        self._state.press(code, down)
        held, latched, locked, _unused = self._state.modifiers
        modifiers = (held, latched, locked, self._group)
        if modifiers != self._modifiers:
            self._modifiers = modifiers
            self._keyboard.modifiers(*modifiers)

    def button(self, number: int, down: bool) -> None:
        """A button of the pointer."""
        self._pointer.button(self._now(), _CODES[number], down)
        self._unframed = True

    def move(self, dx: int, dy: int) -> None:
        """Relative motion."""
        self._pointer.motion(self._now(), float(dx), float(dy))
        self._unframed = True

    def place(self, x: float, y: float, window: bool) -> None:
        """The pointer at shares of the screen that the window in focus is on; where it is in it, is not told."""
        if self._screens is not None:
            x, y = self._screens.place(x, y)
        self._pointer.motion_absolute(self._now(), round(x * EXTENT), round(y * EXTENT), EXTENT, EXTENT)
        self._unframed = True

    def turn(self, dx: int, dy: int) -> None:
        """Fine steps as they come; a notch is told besides as soon as one is full."""
        for axis, way in ((RIGHT_AXIS, dx), (DOWN_AXIS, -dy)):
            if not way:
                continue
            gathered = self._wheel[axis] + way
            notches = int(gathered / NOTCH)
            self._wheel[axis] = gathered - notches * NOTCH
            self._frame()  # of one axis, a frame has one value
            self._pointer.axis_source(FROM_WHEEL)
            if notches:
                self._pointer.axis_discrete(self._now(), axis, UNITS_OF_NOTCH * way / NOTCH, notches)
            else:
                self._pointer.axis(self._now(), axis, UNITS_OF_NOTCH * way / NOTCH)
            self._unframed = True

    def _frame(self) -> None:
        """What the pointer did counts from here on."""
        if self._unframed:
            self._pointer.frame()
            self._unframed = False

    def flush(self) -> None:
        """Send what was queued. Raises SinkError when the compositor is gone."""
        self._frame()
        try:
            self.connection.flush()
        except OSError as error:
            raise SinkError(_("the Wayland compositor is gone")) from error

    def sync(self) -> None:
        """Wait until all of it was taken in. Raises SinkError when the compositor is gone."""
        self.flush()
        try:
            self.connection.roundtrip()
        except OSError as error:
            raise SinkError(_("the Wayland compositor is gone")) from error

    def close(self) -> None:
        """Away with both."""
        self.connection.close()
