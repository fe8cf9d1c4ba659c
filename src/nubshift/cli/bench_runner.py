"""What the runner costs at play: the real one with pipes in place of the kernel's nodes, beside a bare loop that reads
the same reports and writes an answer to each. Both are children:
``python -m nubshift.cli.bench_runner WHICH LAYERS PIPES``.
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
from collections.abc import Mapping, Sequence
from pathlib import Path
from random import Random
from types import SimpleNamespace
from typing import Any, NoReturn

from msgspec import Struct

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
from nubshift.model.profile import Profile
from nubshift.outputs.port import Sink
from nubshift.outputs.uinput import UinputChannel
from nubshift.runner.automatic import Places
from nubshift.runner.build import Chosen
from nubshift.runner.compiling import Compiling, compiled
from nubshift.runner.loop import Runner, Settings
from nubshift.runner.session import Session
from nubshift.texts import _

EV_REL, REL_X = 2, 0
BUTTONS = tuple(range(0x130, 0x13B))
STICK, TRIGGER, HAT, TURN = (
    AxisRange(-32768, 32767),
    AxisRange(0, 1023),
    AxisRange(-1, 1),
    AxisRange(-32768, 32767, 0, 16),
)


def device(number: int) -> Device:
    """A pad with motion; their nodes are called ``pad0`` and ``motion0``."""
    pad = Node(
        f"pad{number}",
        "Bench pad",
        uniq=f"bench{number}",
        keys=BUTTONS,
        axes={ABS_X: STICK, ABS_Y: STICK, ABS_Z: TRIGGER, ABS_RX: STICK, ABS_RY: STICK, ABS_RZ: TRIGGER}
        | {ABS_HAT0X + n: HAT for n in range(2)},
    )
    motion = Node(
        f"motion{number}",
        "Bench pad Motion Sensors",
        uniq=f"bench{number}",
        axes=dict.fromkeys((ABS_X, ABS_Y, ABS_Z, ABS_RX, ABS_RY, ABS_RZ), TURN),
        properties=(PROP_ACCELEROMETER,),
        stamps=True,
    )
    return Device((pad, motion))


class PlayLoad(Struct, frozen=True):
    """What is played: by how many controllers, how often each of their two nodes reports a second, with a profile of
    how many layers beside its base."""

    controllers: int = 1
    rate: int = 1000
    layers: int = 20


class Cost(Struct, frozen=True):
    """Added delay in µs (median, and of one in a hundred), processor time in µs for a millisecond of play, and what the
    process has in memory, in MB."""

    median: float
    p99: float
    processor: float
    memory: float


AS_EVER = PlayLoad()


def measure(which: str, seconds: float, play: PlayLoad = AS_EVER) -> Cost:
    """Play for so long to the ``runner``, or to the ``bare`` loop."""
    pipes = [os.pipe() for _unused in range(2 * play.controllers + 1)]
    heard, answer = pipes.pop()
    given = (*(out for out, _unused in pipes), answer)
    nodes = [node for _unused, node in pipes]
    with tempfile.TemporaryDirectory() as folder:
        child = subprocess.Popen(
            [sys.executable, "-m", "nubshift.cli.bench_runner", which, *map(str, (play.layers, *given))],
            pass_fds=given,
            env=os.environ | dict.fromkeys(("HOME", "XDG_DATA_HOME", "XDG_CONFIG_HOME", "XDG_RUNTIME_DIR"), folder),
        )
        for descriptor in given:
            os.close(descriptor)
        try:
            _wait_ready(heard)
            hand = Hand(nodes, heard, 1 / play.rate)
            hand.play(1.5)  # until what a runner does once has been done
            before = _processor(child.pid)
            late = sorted(hand.play(seconds))
            spent, memory = _processor(child.pid) - before, _memory(child.pid)
        finally:
            child.kill()
            child.wait()
            for descriptor in (*nodes, heard):
                os.close(descriptor)
    if len(late) < seconds * play.rate / 2:
        raise NubShiftError(_("the runner did not answer what was played to it"))
    return Cost(statistics.median(late), late[len(late) * 99 // 100], spent / (seconds * 1000), memory)


def _wait_ready(heard: int) -> None:
    if not select.select([heard], [], [], 60)[0] or not os.read(heard, 4096):
        raise NubShiftError(_("the runner did not start in time to be measured"))


def _processor(pid: int) -> float:
    """The processor time of a process so far, in µs."""
    return int(Path(f"/proc/{pid}/schedstat").read_text().split()[0]) / 1000


def _memory(pid: int) -> float:
    """What a process has in memory, libraries that others use too among it, in MB."""
    lines = Path(f"/proc/{pid}/status").read_text().splitlines()
    return sum(int(line.split()[1]) for line in lines if line.startswith("VmRSS:")) / 1024


class Hand:
    """Turns the pads and moves their sticks, once in so many seconds. `nodes` are those of pad and motion in turns."""

    def __init__(self, nodes: Sequence[int], heard: int, every: float) -> None:
        self._nodes, self._heard, self._every = nodes, heard, every
        self._random = Random(7)
        self._number = 0

    def play(self, seconds: float) -> list[float]:
        """How late the first answer to each pair of reports was, in µs."""
        late = []
        due = time.monotonic()
        for _unused in range(round(seconds / self._every)):
            due += self._every
            self._drain(due)
            reports = self._reports()
            sent = time.monotonic()
            self.report(reports)
            if select.select([self._heard], [], [], 0.02)[0]:
                late.append((time.monotonic() - sent) * 1e6)
        return late

    def _drain(self, until: float) -> None:
        """Take in what is answered until then."""
        while (left := until - time.monotonic()) > 0:
            if select.select([self._heard], [], [], left)[0]:
                os.read(self._heard, 65536)
        if select.select([self._heard], [], [], 0)[0]:
            os.read(self._heard, 65536)

    def report(self, reports: tuple[bytes, bytes] | None = None) -> None:
        """Write these, or the next ones, to all pads."""
        both = reports or self._reports()
        for node, report in zip(self._nodes, both * (len(self._nodes) // 2), strict=True):
            os.write(node, report)

    def _reports(self) -> tuple[bytes, bytes]:
        """The next of a pad, and of its motion."""
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


def made_runner(profile: Profile, nodes: Sequence[int], answers: Mapping[str, int]) -> Runner:
    """The real runner with pipes in place of its nodes, those of pad and motion in turns, and of its virtual devices,
    by their names; the others write nowhere."""
    for descriptor in nodes:
        os.set_blocking(descriptor, False)
    devices = [device(number) for number in range(len(nodes) // 2)]
    paths = [node.path for each in devices for node in each.nodes]
    pipes = dict(zip(paths, nodes, strict=True))
    nowhere = os.open(os.devnull, os.O_WRONLY)

    def making(_events: object, name: str, *_more: object, **_rest: object) -> _Pipe:
        return _Pipe(answers.get(name, nowhere))

    hardware = Hardware(
        devices=lambda: devices,
        monitor=_NoMonitor,  # type: ignore[arg-type]
        opening=lambda path: _Pipe(pipes[path]),
    )
    sink = Sink(UinputChannel(making))
    folder = Path(os.environ["HOME"])
    places = Places(folder, folder / "automatic.json", folder / "settings.json")
    seats: dict[str, tuple[str, ...]] = {str(number): ("auto",) for number in range(1, len(devices) + 1)}
    settings = Settings(seats, places, sink="uinput", hardware=hardware)
    session = Session(compiled(profile), sink)
    return Runner(session, Chosen(sink, ""), settings, None, Compiling(lambda: US))


def runner(layers: int, *pipes: int) -> None:
    """Play until killed."""
    *nodes, answer = pipes
    playing = made_runner(bench_profile(layers, len(nodes) // 2), nodes, {VIRTUAL_MOUSE: answer})
    os.write(answer, b"ready")
    playing.run()


def bare(_layers: int, *pipes: int) -> NoReturn:
    """The floor: reports read, values kept, an answer written to each; nothing between."""
    *nodes, answer = pipes
    values: dict[int, int] = {}
    moved = EVENT.pack(0, 0, EV_REL, REL_X, 1) + EVENT.pack(0, 0, EV_SYN, 0, 0)
    os.write(answer, b"ready")
    while True:
        for descriptor in select.select(nodes, [], [])[0]:
            for _s, _u, kind, code, value in EVENT.iter_unpack(os.read(descriptor, 64 * EVENT.size)):
                if kind == EV_ABS:
                    values[code] = value
            os.write(answer, moved)


def main(which: str, *numbers: str) -> None:
    """Be the runner, or the bare loop."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    with contextlib.suppress(BrokenPipeError):
        {"runner": runner, "bare": bare}[which](*map(int, numbers))


if __name__ == "__main__":
    main(*sys.argv[1:])
