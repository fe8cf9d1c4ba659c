"""The guard of the XTEST channel: a process that lets go of what is held when the runner dies.

The X server keeps a key pressed by XTEST down when the client that pressed it is gone. So the runner notes in shared
memory, before it presses, what it holds; when the pipe between them ends, for whatever reason, the guard releases it.
"""

from __future__ import annotations

import contextlib
import mmap
import os
import signal
import subprocess
import sys

from nubshift.errors import SinkError
from nubshift.outputs.x11 import XTest

KEYS, BUTTONS = 256, 32
"""The memory has a byte for each X keycode and then one for each pointer button: 1 while held."""


class Guard:
    """The runner's end: the notes, and the process that watches over them."""

    def __init__(self) -> None:
        memory = os.memfd_create("nubshift-held")
        os.ftruncate(memory, KEYS + BUTTONS)
        self.notes = mmap.mmap(memory, KEYS + BUTTONS)
        self._memory = memory
        self._pipe: int | None = None
        self._process: subprocess.Popen[bytes] | None = None
        self._start()

    def _start(self) -> None:
        theirs, self._pipe = os.pipe()
        self._process = subprocess.Popen(
            [sys.executable, "-m", "nubshift.outputs.guard", str(theirs), str(self._memory)],
            pass_fds=[theirs, self._memory],
            stdin=subprocess.DEVNULL,
            start_new_session=True,
        )
        os.close(theirs)

    @property
    def pid(self) -> int:
        """The process id of the guard."""
        return self._process.pid if self._process else 0

    def ensure(self) -> bool:
        """Start another guard if this one has ended; returns whether that was so."""
        if self._process is not None and self._process.poll() is None:
            return False
        if self._pipe is not None:
            os.close(self._pipe)
        self._start()
        return True

    def close(self) -> None:
        """Dismiss the guard; it releases what the notes still say is held."""
        if self._pipe is not None:
            os.close(self._pipe)
            self._pipe = None
        if self._process is not None:
            with contextlib.suppress(subprocess.TimeoutExpired):
                self._process.wait(5)
        self.notes.close()
        os.close(self._memory)


def release(x: XTest, notes: bytes) -> None:
    """Let go of everything that `notes` say is held."""
    for code in range(KEYS):
        if notes[code]:
            x.key(code, False)
    for number in range(BUTTONS):
        if notes[KEYS + number]:
            x.button(number, False)
    x.flush()
    x.sync()


def main(pipe: int, memory: int) -> int:
    """Watch until the runner's end of `pipe` closes, then release. Signals to the runner's group don't end it."""
    for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        signal.signal(number, signal.SIG_IGN)
    try:
        x = XTest()
        while os.read(pipe, 16):
            pass
        with mmap.mmap(memory, KEYS + BUTTONS, prot=mmap.PROT_READ) as notes:
            release(x, notes[:])
        x.close()
    except SinkError:
        return 1  # no server: nothing is held there any more
    return 0


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]), int(sys.argv[2])))
