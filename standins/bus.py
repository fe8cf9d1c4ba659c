"""A private D-Bus with a stand-in on it."""

from __future__ import annotations

import subprocess
import sys
import threading
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from queue import Queue

from standins.waiting import PATIENCE

ROOT = Path(__file__).parents[1]


class StandIn:
    """A program on a private bus: it tells lines, and is told lines. `address` is that of the bus."""

    def __init__(self, bus: subprocess.Popen[str], module: str, *words: str) -> None:
        assert bus.stdout is not None
        self.bus, self.address = bus, bus.stdout.readline().strip()
        self.process = subprocess.Popen(
            [sys.executable, "-m", f"standins.{module}", self.address, *words],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            text=True,
            cwd=ROOT,
        )
        self._lines: Queue[str] = Queue()
        threading.Thread(target=self._read, daemon=True).start()
        self.told("ready")

    def _read(self) -> None:
        assert self.process.stdout is not None
        with suppress(ValueError):  # closed at the end of the test
            for line in self.process.stdout:
                self._lines.put(line.rstrip("\n"))

    def told(self, word: str) -> None:
        """Wait for what it tells next, which must be this."""
        assert self._lines.get(timeout=PATIENCE) == word

    def say(self, line: str) -> None:
        assert self.process.stdin is not None
        self.process.stdin.write(f"{line}\n")
        self.process.stdin.flush()


@contextmanager
def stand_in(module: str, *words: str) -> Iterator[StandIn]:
    """A bus of its own with this stand-in (a module of `standins`), told these words."""
    bus = subprocess.Popen(
        ["dbus-daemon", "--session", "--nofork", "--print-address=1"], stdout=subprocess.PIPE, text=True
    )
    found = StandIn(bus, module, *words)
    try:
        yield found
    finally:
        for process in (found.process, bus):
            process.kill()
            process.wait()
            for stream in (process.stdin, process.stdout):
                if stream is not None:
                    with suppress(OSError):
                        stream.close()
