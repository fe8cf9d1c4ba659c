"""What an edit costs while it is played: a slider dragged in a rich profile at 1000 reports a second.

The real runner in a process of its own, the simulated Swift pad playing, and a window that sends an edit 60 times a
second. The runner itself says how late it turned to its reports.
"""

from __future__ import annotations

import os
import select
import socket
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from msgspec import Struct

from nubshift.errors import NubShiftError
from nubshift.model.edits import with_feel_put
from nubshift.model.profile import BASE, Feel, Profile
from nubshift.protocol.edit_parts import edit_between
from nubshift.protocol.lines import Lines, decode_reply, encode
from nubshift.protocol.messages import PROTOCOL, Health, Hello, Play, Request, Use, Used
from nubshift.protocol.play_figures import Lateness
from nubshift.texts import _

EVERY = 1 / 60
SECONDS = 3.0
PATIENCE = 30.0
PAD, PLAYER = "swift", "quillgate"


class _Heard(Struct):
    """What the runner said: how late it was at most in each second (ms), and when it answered each edit."""

    latest: list[float] = []
    used: dict[int, float] = {}


class _Window:
    """A plain client of a runner of its own."""

    def __init__(self, folder: Path) -> None:
        path = folder / "socket"
        words = ["run", "-", "--socket", str(path), "--source", f"sim:{PAD}", "--sink", f"record:{os.devnull}"]
        self._runner = subprocess.Popen(
            [sys.executable, "-m", "nubshift", *words],
            stderr=subprocess.DEVNULL,
            env=os.environ | {"HOME": str(folder)},
        )
        self._socket = socket.socket(socket.AF_UNIX)
        end = time.monotonic() + PATIENCE
        while self._socket.connect_ex(str(path)):
            if time.monotonic() > end:
                raise NubShiftError(_("the runner did not start in time to be measured"))
            time.sleep(0.01)
        self._lines = Lines()
        self._number = 0
        self.heard = _Heard()
        self._say(Hello(PROTOCOL))

    def _say(self, request: Request) -> None:
        self._socket.sendall(encode(request))

    def hear(self, seconds: float) -> None:
        """Take in what is said within this time."""
        end = time.monotonic() + seconds
        while (left := end - time.monotonic()) > 0:
            if not select.select([self._socket], [], [], left)[0]:
                return
            for line in self._lines.feed(self._socket.recv(1 << 18)):
                match decode_reply(line):
                    case Health(late=Lateness(longest=latest)):
                        self.heard.latest.append(latest / 1000)
                    case Used(edit):
                        self.heard.used[edit] = time.monotonic()
                    case _:
                        pass

    def use(self, profile: Profile) -> None:
        """Play this, with the simulated player moving the pad."""
        self._number += 1
        self._say(Use(profile, self._number, switch=True))
        self._say(Play(PLAYER))
        self._until_used()

    def _until_used(self) -> None:
        end = time.monotonic() + PATIENCE
        while self._number not in self.heard.used:
            self.hear(0.001)
            if time.monotonic() > end:
                raise NubShiftError(_("the runner did not take up an edit in time to be measured"))

    def drag(self, profile: Profile, seconds: float) -> list[float]:
        """Change a speed 60 times a second; returns how long each change took to be live, in ms."""
        took = []
        end = time.monotonic() + seconds
        while (begun := time.monotonic()) < end:
            edited = with_feel_put(profile, BASE, Feel("right_stick", speed=100.0 + self._number % 50))
            self._number += 1
            sent = time.monotonic()
            self._say(edit_between(profile, edited, self._number - 1, self._number))
            self._until_used()
            took.append((self.heard.used[self._number] - sent) * 1000)
            profile = edited
            self.hear(max(0.0, begun + EVERY - time.monotonic()))
        return took

    def close(self) -> None:
        """End the runner."""
        self._socket.close()
        self._runner.terminate()
        self._runner.wait()


class Dragged(Struct, frozen=True):
    """What was measured, in ms: how late the runner was at worst in a calm second without and with edits, and how
    long an edit took to be live at the median and at worst."""

    still: float
    dragging: float
    live: float
    slowest: float


def measure(profile: Profile, rounds: int = 3) -> Dragged:
    """Stillness and dragging in turns, on one runner. The calmest second of each counts: the machine has neighbours."""
    with tempfile.TemporaryDirectory() as folder:
        window = _Window(Path(folder))
        try:
            window.use(profile)
            window.hear(1.5)
            still: list[float] = []
            dragging: list[float] = []
            took: list[float] = []
            for _unused in range(rounds):
                window.heard.latest.clear()
                window.hear(SECONDS)
                still += window.heard.latest[1:]
                window.heard.latest.clear()
                took += window.drag(profile, SECONDS)
                dragging += window.heard.latest[1:]
                window.use(profile)
        finally:
            window.close()
    took.sort()
    return Dragged(
        min(still, default=0.0), min(dragging, default=0.0), took[len(took) // 2], took[len(took) * 95 // 100]
    )
