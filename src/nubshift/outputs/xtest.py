"""The channel into an X session: XTEST, with a guard that lets go when we die."""

from __future__ import annotations

import os
from collections.abc import Sequence
from pathlib import Path
from typing import assert_never

from nubshift.errors import SinkError
from nubshift.events import NOTCH, Button, Key, LayerChange, Light, Motion, Output, Pad, Point, Rumble, Wheel
from nubshift.model.keys import KEYS as KEY_NAMES
from nubshift.model.profile import PadKind
from nubshift.outputs import guard
from nubshift.outputs.held_notes import KEYS, open_notes
from nubshift.outputs.silent import Silent
from nubshift.outputs.x11 import FIRST_KEYCODE, X_BUTTONS, XTest
from nubshift.texts import _
from nubshift.units import Micros

_KEYCODES = {name: info.code + FIRST_KEYCODE for name, info in KEY_NAMES.items() if name not in X_BUTTONS}


class XTestChannel(Silent):
    """Sends keys, buttons and motion to the X server of `display`. Raises SinkError.

    What others left down there, by their notes in `folder`, is released at the start; `freed` says how much that was.
    """

    name = "xtest"

    def __init__(self, display: str | None = None, folder: Path | None = None) -> None:
        self._x = XTest(display)
        self._notes, left = open_notes(folder, display or os.environ.get("DISPLAY", ""))
        self.freed = sum(len(notes.held) for notes in left)
        for notes in left:
            guard.release(self._x, notes)
            notes.close()
        self._guard = guard.Guard(self._notes)
        self._wheel_x = 0
        self._wheel_y = 0

    @property
    def guard_pid(self) -> int:
        """The process that releases what we hold if we die."""
        return self._guard.pid

    def filenos(self) -> tuple[int, ...]:
        """Where it is heard that the guard ended."""
        return self._guard.filenos()

    def hear(self, now: Micros) -> None:
        """The guard ended: another one takes its place at once."""
        self._guard.ensure()

    def prepare(self, pad: PadKind, points: bool) -> str:
        """Points are there; a virtual pad needs the kernel."""
        if pad == "none":
            return ""
        return _("The virtual pad needs the kernel's uinput, which can't be used here; run: nubshift doctor")

    def write(self, outputs: Sequence[Output]) -> None:
        """Send these now. What goes down is noted for the guard before it does, what goes up after it did."""
        notes = self._notes.memory
        gone_up: set[int] = set()
        for output in outputs:
            match output:
                case Key(_, code, value):
                    keycode = _KEYCODES[code]
                    self._note(keycode, value, gone_up)
                    self._x.key(keycode, bool(value))
                case Button(_, code, value):
                    number = X_BUTTONS[code]
                    self._note(KEYS + number, value, gone_up)
                    self._x.button(number, bool(value))
                case Motion(_, dx, dy):
                    self._x.move(dx, dy)
                case Wheel(_, dx, dy):
                    self._turn(dx, dy)
                case Point(_, x, y, window):
                    self._x.place(x, y, window)
                case Pad() | LayerChange() | Rumble() | Light():
                    pass  # there is no virtual pad here, and the rest is not for the X server
                case never:
                    assert_never(never)
        if not self._guard.filenos():
            self._guard.ensure()
        self._x.flush()
        for place in gone_up:
            notes[place] = 0

    def _note(self, place: int, down: int, gone_up: set[int]) -> None:
        if down:
            gone_up.discard(place)
            self._notes.memory[place] = 1
        else:
            gone_up.add(place)

    def _turn(self, dx: int, dy: int) -> None:
        """X knows the wheel as buttons, a click a notch; parts of a notch are gathered."""
        self._wheel_x += dx
        self._wheel_y += dy
        for name, (less, more) in (("_wheel_x", (6, 7)), ("_wheel_y", (5, 4))):
            gathered = getattr(self, name)
            notches = int(gathered / NOTCH)
            setattr(self, name, gathered - notches * NOTCH)
            for _unused in range(abs(notches)):
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
        self._notes.close()
