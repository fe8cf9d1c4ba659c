"""The guard of a channel into a session: a process that lets go of what is held when the runner dies.

The X server keeps a key pressed by XTEST down when the client that pressed it is gone, and Wayland compositors keep
buttons. So the runner notes, before it presses, what it holds; when the pipe between them ends, for whatever reason,
the guard releases it. When both die, the next runner does (`held_notes`).
"""

from __future__ import annotations

import contextlib
import os
import signal
import subprocess
import sys
from collections.abc import Sequence
from typing import Protocol

from nubshift.errors import SinkError
from nubshift.outputs.held_notes import KEYS, SIZE, Notes
from nubshift.texts import _


class Releasing(Protocol):
    """What a guard needs of a session's devices. All raise SinkError when the session is gone."""

    client: int
    """What names this connection to the session; 0 where nothing does."""

    def outlast(self, client: int, pid: int) -> None:
        """Wait until all is done that a process that is gone has sent by its connection."""

    def key(self, keycode: int, down: bool) -> None:
        """A key by its number in the session."""

    def button(self, number: int, down: bool) -> None:
        """A button of the pointer, as X11 numbers them."""

    def flush(self) -> None:
        """Send what was queued."""

    def sync(self) -> None:
        """Wait until it was taken in."""

    def close(self) -> None:
        """End."""


class Guard:
    """The runner's end: the process that watches over its notes, and releases by this `way`."""

    def __init__(self, notes: Notes, way: Sequence[str]) -> None:
        self._notes, self._way = notes, way
        self._pipe: int | None = None
        self._process: subprocess.Popen[bytes] | None = None
        self._ends = -1
        self._start()

    def _start(self) -> None:
        theirs, self._pipe = os.pipe()
        self._process = subprocess.Popen(
            [sys.executable, "-m", "nubshift.outputs.guard", str(theirs), str(self._notes.handle), *self._way],
            pass_fds=[theirs, self._notes.handle],
            stdin=subprocess.DEVNULL,
            start_new_session=True,
        )
        os.close(theirs)
        with contextlib.suppress(OSError):
            self._ends = os.pidfd_open(self._process.pid)

    @property
    def pid(self) -> int:
        """The process id of the guard."""
        return self._process.pid if self._process else 0

    def filenos(self) -> tuple[int, ...]:
        """A descriptor that becomes readable when the guard ends; none where the kernel has no such thing."""
        return (self._ends,) if self._ends >= 0 else ()

    def ensure(self) -> bool:
        """Start another guard if this one has ended; returns whether that was so."""
        if self._process is not None and self._process.poll() is None:
            return False
        self._forget()
        self._start()
        return True

    def _forget(self) -> None:
        if self._pipe is not None:
            os.close(self._pipe)
            self._pipe = None
        if self._ends >= 0:
            os.close(self._ends)
            self._ends = -1

    def close(self) -> None:
        """Dismiss the guard; it releases what the notes still say is held."""
        self._forget()
        if self._process is not None:
            with contextlib.suppress(subprocess.TimeoutExpired):
                self._process.wait(5)


def release(devices: Releasing, notes: Notes) -> None:
    """Let go of everything that the notes of a runner that is gone say is held, and note that. Raises SinkError."""
    pid, client = notes.owner
    if client:
        devices.outlast(client, pid)
    for place in notes.held:
        if place < KEYS:
            devices.key(place, False)
        else:
            devices.button(place - KEYS, False)
    devices.flush()
    devices.sync()
    notes.clear()


def devices_of(kind: str, where: str = "") -> Releasing:
    """The devices of a session, by what a channel calls them. Raises SinkError."""
    if kind == "wayland":
        from nubshift.outputs.wayland_devices import WaylandDevices

        return WaylandDevices(where)
    from nubshift.outputs.x11 import XTest

    return XTest()


def main(pipe: int, handle: int, *way: str) -> int:
    """Watch until the runner's end of `pipe` closes, then release. Signals to the runner's group don't end it."""
    for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        signal.signal(number, signal.SIG_IGN)
    assert os.fstat(handle).st_size == SIZE, _("the runner made it so")
    try:
        devices = devices_of(*way)
        while os.read(pipe, 16):
            pass
        release(devices, Notes(handle))
        devices.close()
    except SinkError:
        return 1  # no session: nothing is held there any more
    return 0


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]), int(sys.argv[2]), *sys.argv[3:]))
