"""The channel into an X session: XTEST, with a guard that lets go when we die."""

from __future__ import annotations

from collections.abc import Sequence

from nubshift.errors import SinkError
from nubshift.events import NOTCH, Button, Key, Motion, Output, Point, Wheel
from nubshift.model.keys import KEYS
from nubshift.model.profile import PadKind
from nubshift.outputs import guard
from nubshift.outputs.silent import Silent
from nubshift.outputs.x11 import FIRST_KEYCODE, X_BUTTONS, XTest

_KEYCODES = {name: info.code + FIRST_KEYCODE for name, info in KEYS.items() if name not in X_BUTTONS}


class XTestChannel(Silent):
    """Sends keys, buttons and motion to the X server of `display`. Raises SinkError."""

    name = "xtest"

    def __init__(self, display: str | None = None) -> None:
        self._x = XTest(display)
        self._guard = guard.Guard()
        self._wheel_x = 0
        self._wheel_y = 0

    @property
    def guard_pid(self) -> int:
        """The process that releases what we hold if we die."""
        return self._guard.pid

    def prepare(self, pad: PadKind, points: bool) -> str:
        """Points are there; a virtual pad needs the kernel."""
        if pad == "none":
            return ""
        return "The virtual pad needs the kernel's uinput, which can't be used here; run: nubshift doctor"

    def write(self, outputs: Sequence[Output]) -> None:
        """Send these now. What goes down is noted for the guard before it does."""
        notes = self._guard.notes
        for output in outputs:
            match output:
                case Key(_, code, value):
                    keycode = _KEYCODES[code]
                    notes[keycode] = value
                    self._x.key(keycode, bool(value))
                case Button(_, code, value):
                    number = X_BUTTONS[code]
                    notes[guard.KEYS + number] = value
                    self._x.button(number, bool(value))
                case Motion(_, dx, dy):
                    self._x.move(dx, dy)
                case Wheel(_, dx, dy):
                    self._turn(dx, dy)
                case Point(_, x, y, window):
                    self._x.place(x, y, window)
                case _:
                    pass
        self._guard.ensure()
        self._x.flush()

    def _turn(self, dx: int, dy: int) -> None:
        """X knows the wheel as buttons, a click a notch; parts of a notch are gathered."""
        self._wheel_x += dx
        self._wheel_y += dy
        for name, (less, more) in (("_wheel_x", (6, 7)), ("_wheel_y", (5, 4))):
            gathered = getattr(self, name)
            notches = int(gathered / NOTCH)
            setattr(self, name, gathered - notches * NOTCH)
            for _ in range(abs(notches)):
                number = more if notches > 0 else less
                self._x.button(number, True)
                self._x.button(number, False)

    def close(self) -> None:
        """End; the guard releases what is still held."""
        try:
            self._x.sync()
            self._x.close()
        except SinkError:
            pass
        self._guard.close()
