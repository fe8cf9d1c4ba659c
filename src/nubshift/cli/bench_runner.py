"""What the runner costs at play: the real one with pipes in place of the kernel's nodes, beside a bare loop that reads
the same reports and writes an answer to each. Both are children: ``python -m nubshift.cli.bench_runner WHICH PIPES``.
"""

from __future__ import annotations

import contextlib
import os
import select
import signal
import statistics
import subprocess
import sys
import tempfile
import time
from dataclasses import dataclass
from pathlib import Path
from random import Random
from types import SimpleNamespace
from typing import Any, NoReturn

from nubshift.cli.bench_profile import bench_profile
from nubshift.devices.codes import (
    ABS_HAT0X,
    ABS_RX,
    ABS_RY,
    ABS_RZ,
    ABS_X,
    ABS_Y,
    ABS_Z,
    EV_ABS,
    EV_KEY,
    EV_MSC,
    EV_SYN,
    MSC_TIMESTAMP,
    PROP_ACCELEROMETER,
    AxisRange,
)
from nubshift.devices.discovery import Hardware
from nubshift.devices.kernel import EVENT
from nubshift.devices.nodes import Device, Node
from nubshift.errors import NubShiftError
from nubshift.events import VIRTUAL_MOUSE
from nubshift.model.layouts import US
from nubshift.outputs.port import Sink
from nubshift.outputs.uinput import UinputChannel
from nubshift.runner.automatic import Places
from nubshift.runner.build import Chosen
from nubshift.runner.compiling import Compiling, compiled
from nubshift.runner.loop import Runner, Settings
from nubshift.runner.session import Session
from nubshift.texts import _

EV_REL, REL_X = 2, 0
EVERY = 0.001
"""Seconds between two reports of the pad, and of its motion."""
BUTTONS = tuple(range(0x130, 0x13B))
STICK, TRIGGER, HAT, TURN = (
    AxisRange(-32768, 32767),
    AxisRange(0, 1023),
    AxisRange(-1, 1),
    AxisRange(-32768, 32767, 0, 16),
)
PAD = Node(
    "pad",
    "Bench pad",
    uniq="bench",
    keys=BUTTONS,
    axes={ABS_X: STICK, ABS_Y: STICK, ABS_Z: TRIGGER, ABS_RX: STICK, ABS_RY: STICK, ABS_RZ: TRIGGER}
    | {ABS_HAT0X + n: HAT for n in range(2)},
)
MOTION = Node(
    "motion",
    "Bench pad Motion Sensors",
    uniq="bench",
    axes=dict.fromkeys((ABS_X, ABS_Y, ABS_Z, ABS_RX, ABS_RY, ABS_RZ), TURN),
    properties=(PROP_ACCELEROMETER,),
    stamps=True,
)


@dataclass(frozen=True)
class Cost:
    """Added delay in µs (median, and of one in a hundred), and processor time in µs for a millisecond of play."""

    median: float
    p99: float
    processor: float


def measure(which: str, seconds: float) -> Cost:
    """Play for so long to the ``runner``, or to the ``bare`` loop."""
    (pad_out, pad), (motion_out, motion), (heard, answer) = (os.pipe() for _unused in range(3))
    given = (pad_out, motion_out, answer)
    with tempfile.TemporaryDirectory() as folder:
        child = subprocess.Popen(
            [sys.executable, "-m", "nubshift.cli.bench_runner", which, *map(str, given)],
            pass_fds=given,
            env=os.environ | dict.fromkeys(("HOME", "XDG_DATA_HOME", "XDG_CONFIG_HOME", "XDG_RUNTIME_DIR"), folder),
        )
        for descriptor in given:
            os.close(descriptor)
        try:
            _wait_ready(heard)
            hand = _Hand(pad, motion, heard)
            hand.play(1.5)  # until what a runner does once has been done
            before = _processor(child.pid)
            late = sorted(hand.play(seconds))
            spent = _processor(child.pid) - before
        finally:
            child.kill()
            child.wait()
            for descriptor in (pad, motion, heard):
                os.close(descriptor)
    if len(late) < seconds / EVERY / 2:
        raise NubShiftError(_("the runner did not answer what was played to it"))
    return Cost(statistics.median(late), late[len(late) * 99 // 100], spent / (seconds / EVERY))


def _wait_ready(heard: int) -> None:
    if not select.select([heard], [], [], 60)[0] or not os.read(heard, 4096):
        raise NubShiftError(_("the runner did not start in time to be measured"))


def _processor(pid: int) -> float:
    """The processor time of a process so far, in µs."""
    return int(Path(f"/proc/{pid}/schedstat").read_text().split()[0]) / 1000


class _Hand:
    """Turns the pad and moves its sticks, a thousand times a second each."""

    def __init__(self, pad: int, motion: int, heard: int) -> None:
        self._pad, self._motion, self._heard = pad, motion, heard
        self._random = Random(7)
        self._number = 0

    def play(self, seconds: float) -> list[float]:
        """How late the first answer to each pair of reports was, in µs."""
        late = []
        due = time.monotonic()
        for _unused in range(round(seconds / EVERY)):
            due += EVERY
            self._drain(due)
            pad, motion = self._reports()
            sent = time.monotonic()
            os.write(self._pad, pad)
            os.write(self._motion, motion)
            if select.select([self._heard], [], [], EVERY * 20)[0]:
                late.append((time.monotonic() - sent) * 1e6)
        return late

    def _drain(self, until: float) -> None:
        """Take in what is answered until then."""
        while (left := until - time.monotonic()) > 0:
            if select.select([self._heard], [], [], left)[0]:
                os.read(self._heard, 65536)
        if select.select([self._heard], [], [], 0)[0]:
            os.read(self._heard, 65536)

    def _reports(self) -> tuple[bytes, bytes]:
        self._number += 1
        number, random = self._number, self._random
        pad = [(EV_ABS, code, round(random.gauss(0, 9000))) for code in (ABS_X, ABS_Y, ABS_RX, ABS_RY)]
        if number % 20 == 0:
            pad.append((EV_KEY, random.choice(BUTTONS[:6]), number // 20 % 2))
        turns = [(EV_ABS, code, round(random.gauss(1600, 300))) for code in (ABS_RX, ABS_RY, ABS_RZ)]
        pull = [(EV_ABS, code, round(random.gauss(8, 2))) for code in (ABS_X, ABS_Y, ABS_Z)]
        return _packed(pad), _packed([*pull, *turns, (EV_MSC, MSC_TIMESTAMP, number * 1000 & 0x7FFFFFFF)])


def _packed(events: list[tuple[int, int, int]]) -> bytes:
    now = time.monotonic_ns() // 1000
    return b"".join(EVENT.pack(now // 1_000_000, now % 1_000_000, *event) for event in (*events, (EV_SYN, 0, 0)))


# In the children


class _Pipe:
    """A pipe in place of a node or of a virtual device."""

    def __init__(self, fd: int) -> None:
        self.fd = fd

    def absinfo(self, _code: int) -> Any:
        """How an axis stands."""
        return SimpleNamespace(value=0)

    def active_keys(self) -> list[int]:
        """What is pressed."""
        return []

    def grab(self) -> None:
        """Nobody else reads it."""

    ungrab = grab

    def fileno(self) -> int:
        """For what waits."""
        return self.fd

    def close(self) -> None:
        """The pipes end with the process."""


class _NoMonitor:
    """Nothing comes or goes."""

    def __init__(self) -> None:
        self._fd, _unused = os.pipe()

    def fileno(self) -> int:
        """Never readable."""
        return self._fd

    def read(self) -> list[Any]:
        """Nothing."""
        return []


def runner(pad: int, motion: int, answer: int) -> None:
    """The real runner, its nodes and its virtual devices replaced by pipes."""
    for descriptor in (pad, motion):
        os.set_blocking(descriptor, False)
    nodes = {"pad": pad, "motion": motion}
    nowhere = os.open(os.devnull, os.O_WRONLY)

    def making(_events: object, name: str, *_more: object, **_rest: object) -> _Pipe:
        return _Pipe(answer if name == VIRTUAL_MOUSE else nowhere)

    hardware = Hardware(
        devices=lambda: [Device((PAD, MOTION))],
        monitor=_NoMonitor,  # type: ignore[arg-type]
        opening=lambda path: _Pipe(nodes[path]),
    )
    sink = Sink(UinputChannel(making))
    folder = Path(os.environ["HOME"])
    places = Places(folder, folder / "automatic.json", folder / "settings.json")
    settings = Settings({"1": ("auto",)}, places, sink="uinput", hardware=hardware)
    session = Session(compiled(bench_profile(20)), sink)
    playing = Runner(session, Chosen(sink, ""), settings, None, Compiling(lambda: US))
    os.write(answer, b"ready")
    playing.run()


def bare(pad: int, motion: int, answer: int) -> NoReturn:
    """The floor: reports read, values kept, an answer written to each; nothing between."""
    values: dict[int, int] = {}
    moved = EVENT.pack(0, 0, EV_REL, REL_X, 1) + EVENT.pack(0, 0, EV_SYN, 0, 0)
    os.write(answer, b"ready")
    while True:
        for descriptor in select.select([pad, motion], [], [])[0]:
            for _s, _u, kind, code, value in EVENT.iter_unpack(os.read(descriptor, 64 * EVENT.size)):
                if kind == EV_ABS:
                    values[code] = value
            os.write(answer, moved)


def main(which: str, *descriptors: str) -> None:
    """Be the runner, or the bare loop."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    with contextlib.suppress(BrokenPipeError):
        {"runner": runner, "bare": bare}[which](*map(int, descriptors))


if __name__ == "__main__":
    main(*sys.argv[1:])
