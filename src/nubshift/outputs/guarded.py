"""Channels into sessions that keep down what a program pressed when it is gone: a guard lets go when we die."""

from __future__ import annotations

import contextlib
import time
from collections.abc import Sequence
from pathlib import Path
from typing import Final, Protocol, assert_never

from nubshift.errors import SinkError
from nubshift.events import Button, Key, LayerChange, Light, Motion, Output, Pad, Point, Rumble, Wheel
from nubshift.model.keys import KEYS as KEY_NAMES
from nubshift.model.profile import PadKind
from nubshift.outputs.guard import Guard, Releasing, release
from nubshift.outputs.held_notes import GOING_UP, KEYS, open_notes
from nubshift.outputs.numbering import BUTTON_NUMBERS, FIRST_KEYCODE
from nubshift.outputs.silent import Silent
from nubshift.texts import _
from nubshift.units import Micros

_KEYCODES = {name: info.code + FIRST_KEYCODE for name, info in KEY_NAMES.items() if name not in BUTTON_NUMBERS}

TAKEN_IN: Final = 0.5
"""Seconds after which a session has surely taken in what was sent to it."""


class Devices(Releasing, Protocol):
    """The keyboard and pointer of a session. What is asked is queued until `flush`. All raise SinkError."""

    def move(self, dx: int, dy: int) -> None:
        """Relative motion, in counts."""

    def place(self, x: float, y: float, window: bool) -> None:
        """The pointer at shares of the screen, or of the window that has the focus."""

    def turn(self, dx: int, dy: int) -> None:
        """The wheel, right and up, in 120ths of a notch."""


class GuardedChannel(Silent):
    """Sends through `devices`, which `way` names for the guard: ``xtest`` or ``wayland`` and where it is.

    What others left down in this `session`, by their notes in `folder`, is released at the start; `freed` says how much
    that was. Raises SinkError.
    """

    def __init__(self, devices: Devices, way: tuple[str, ...], folder: Path | None, session: str) -> None:
        self._devices = devices
        self._notes, left = open_notes(folder, session, devices.client)
        self.freed = sum(notes.down for notes in left)
        self._going_up: dict[int, float] = {}
        for notes in left:
            release(self._devices, notes)
            notes.close()
        self._guard = Guard(self._notes, way)

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
        """Send these now. What goes down is noted for the guard before it does. What goes up stays noted for a moment:
        a server that sees us gone throws away what it has not read by then."""
        notes = self._notes.memory
        gone_up: set[int] = set()
        for output in outputs:
            match output:
                case Key(_, code, value):
                    self._note(_KEYCODES[code], value, gone_up)
                    self._devices.key(_KEYCODES[code], bool(value))
                case Button(_, code, value):
                    self._note(KEYS + BUTTON_NUMBERS[code], value, gone_up)
                    self._devices.button(BUTTON_NUMBERS[code], bool(value))
                case Motion(_, dx, dy):
                    self._devices.move(dx, dy)
                case Wheel(_, dx, dy):
                    self._devices.turn(dx, dy)
                case Point(_, x, y, window):
                    self._devices.place(x, y, window)
                case Pad() | LayerChange() | Rumble() | Light():
                    pass  # there is no virtual pad here, and the rest is not for the session
                case never:
                    assert_never(never)
        if not self._guard.filenos():
            self._guard.ensure()
        self._devices.flush()
        now = time.monotonic()
        for place in gone_up:
            notes[place] = GOING_UP
            self._going_up[place] = now
        for place, since in list(self._going_up.items()):
            if since > now - TAKEN_IN:
                break
            self._is_up(place)

    def _is_up(self, place: int) -> None:
        del self._going_up[place]
        self._notes.memory[place] = 0

    def _note(self, place: int, down: int, gone_up: set[int]) -> None:
        self._going_up.pop(place, None)
        if down:
            gone_up.discard(place)
            self._notes.memory[place] = 1
        else:
            gone_up.add(place)

    def close(self) -> None:
        """End; the guard releases what is still held."""
        with contextlib.suppress(SinkError):
            self._devices.sync()
            for place in list(self._going_up):
                self._is_up(place)
        with contextlib.suppress(SinkError):
            self._devices.close()
        self._guard.close()
        self._notes.close()
