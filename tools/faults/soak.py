"""Hours of play through the whole runner, over pipes in place of the kernel's nodes: nothing stays down, every press
becomes one key, and memory stays as it is. Where the machine stands still for too long, presses are left out on purpose;
the runner counts them, and no more than those may be missing.

    python tools/faults soak --hours 24              as fast as it goes, by a clock that is played
    python tools/faults soak --hours 1 --real        at 1000 reports a second of pad and motion, by the clock on the wall

In the first the player rests most of the time and then plays a burst, as in a day; keys, gestures, turbo, layers, both
sticks and motion are in both. A button that is bound to one key is counted on its way in and on its way out.
"""

from __future__ import annotations

import json
import math
import os
import select
import signal
import subprocess
import sys
import tempfile
import time
from collections import Counter
from pathlib import Path
from random import Random
from typing import Any

from faults.played import AT_ONCE, MOTION, Heard, PlayedRunner, packed
from nubshift.cli.bench_runner import BUTTONS, made_runner
from nubshift.devices.codes import ABS_RX, ABS_RY, ABS_RZ, ABS_X, ABS_Y, ABS_Z, EV_ABS, EV_KEY, EV_MSC, MSC_TIMESTAMP
from nubshift.events import VIRTUAL_KEYBOARD, VIRTUAL_MOUSE
from nubshift.model.keys import KEYS
from nubshift.model.reading import parse_profile

HOUR = 3600
SETTLED = 600.0
"""Seconds of play after which memory must stay as it is."""
STOOD_STILL = 0.1
"""Seconds that the player is late by; then the machine had no time for anybody."""
GROWTH = 2.0
"""MB that it may grow by after that, whatever the length."""
STEP = 4000
BURST, CYCLE = 6.0, 60.0
"""Of the played clock: how long each burst is, and from one's begin to the next's, in seconds."""
COUNTED = BUTTONS[0]
FREE = BUTTONS[1:8]
PROFILE = {
    "format": "nubshift-profile",
    "version": 5,
    "game": {"title": "Soak"},
    "layers": [
        {
            "id": "base",
            "name": "Base",
            "bindings": [
                {"control": "south", "press": [{"send": "key", "key": "A"}]},
                {
                    "control": "east",
                    "tap": [{"send": "key", "key": "B"}],
                    "hold": [{"send": "key", "key": "C"}],
                    "double": [{"send": "key", "key": "D"}],
                },
                {"control": "west", "press": [{"send": "turbo", "what": [{"send": "key", "key": "T"}], "rate": 12.0}]},
                {"control": "north", "press": [{"send": "key", "key": "LEFTSHIFT"}, {"send": "key", "key": "E"}]},
                {"control": "left_bumper", "press": [{"send": "key", "key": "BTN_LEFT"}]},
                {"control": "right_bumper", "press": [{"send": "layer", "layer": "more"}]},
                {
                    "control": "left_stick",
                    "role": {
                        "use": "keys",
                        **{
                            side: [{"send": "key", "key": key}]
                            for side, key in (("up", "W"), ("left", "Q"), ("down", "S"), ("right", "F"))
                        },
                    },
                },
                {"control": "right_stick", "role": {"use": "mouse"}},
                {"control": "motion", "role": {"use": "gyro"}},
            ],
        },
        {
            "id": "more",
            "name": "More",
            "bindings": [
                {"control": "east", "press": [{"send": "wheel", "way": "up"}]},
                {"control": "left_stick", "role": {"use": "mouse"}},
            ],
        },
    ],
}


def profile() -> Any:
    """What is played."""
    return parse_profile(json.dumps(PROFILE).encode(), "soak")


class Player:
    """Presses, turns and moves; remembers what it presses. Each report is for one moment, in µs."""

    def __init__(self, seed: int) -> None:
        self._random = Random(seed)
        self._down: set[int] = set()
        self._number = 0
        self.presses = 0

    def reports(self, now: int) -> tuple[bytes, bytes]:
        """The next of the pad and of its motion."""
        random, self._number = self._random, self._number + 1
        pad = [
            (EV_ABS, code, round(24_000 * math.sin(now / 1e6 * turn) + random.gauss(0, 150)))
            for code, turn in ((ABS_X, 2.1), (ABS_Y, 3.3), (ABS_RX, 1.3), (ABS_RY, 5.1))
        ]
        if self._number % 40 == 0:
            pad.append(self._turned(COUNTED))
        if self._number % 23 == 0:
            pad.append(self._turned(random.choice(FREE)))
        turns = [(EV_ABS, code, round(random.gauss(0, 900))) for code in (ABS_RX, ABS_RY, ABS_RZ)]
        pull = [(EV_ABS, code, round(random.gauss(8, 2))) for code in (ABS_X, ABS_Y, ABS_Z)]
        return packed(pad, now), packed([*pull, *turns, (EV_MSC, MSC_TIMESTAMP, now & 0x7FFFFFFF)], now)

    def rest(self, now: int) -> bytes:
        """Hands off: everything up, sticks in the middle."""
        up = [self._turned(button) for button in sorted(self._down)]
        return packed([*up, *((EV_ABS, code, 0) for code in (ABS_X, ABS_Y, ABS_RX, ABS_RY))], now)

    def _turned(self, button: int) -> tuple[int, int, int]:
        self._down ^= {button}
        is_down = button in self._down
        self.presses += is_down and button == COUNTED
        return EV_KEY, button, int(is_down)


def memory(pid: int | str = "self") -> float:
    """What is in memory, in MB."""
    lines = Path(f"/proc/{pid}/statm").read_text().split()
    return int(lines[1]) * os.sysconf("SC_PAGESIZE") / 1e6


def verdict(
    player: Player, heard: Heard, samples: list[tuple[float, float]], left_out: int
) -> tuple[Counter[str], list[str]]:
    """What was counted, and all that is not as it should be. `samples` are seconds of play and MB; of all keys together
    the runner says that it has left out so many presses."""
    faults = heard.faults[:5]
    key = KEYS["A"].code
    downs, ups = heard.downs[key], heard.ups[key]
    if not player.presses - left_out <= downs == ups <= player.presses:
        faults.append(f"{player.presses} presses became {downs} downs and {ups} ups, {left_out} were left out")
    if heard.held:
        faults.append(f"still down at the end: {heard.held}")
    settled = [mb for second, mb in samples if second >= SETTLED]
    if settled and max(settled) > settled[0] + GROWTH:
        faults.append(f"memory grew from {settled[0]:.1f} to {max(settled):.1f} MB")
    counts = Counter(presses=player.presses, keys=heard.downs.total(), moves=heard.moves)
    counts["of those presses not sent"] = player.presses - downs
    counts["presses left out"] = left_out
    counts["MB at the end"] = round(samples[-1][1]) if samples else 0
    return counts, faults


# By a played clock


def day(seed: int, hours: float) -> tuple[Counter[str], list[str], list[tuple[float, float]]]:
    """So many hours by the played clock; returns counts, faults, and memory over time."""
    player, heard = Player(seed), Heard()
    samples: list[tuple[float, float]] = []
    end = round(hours * HOUR * 1e6)

    def act(runner: PlayedRunner) -> int:
        within = runner.passed / 1e6 % CYCLE
        if within < BURST and runner.passed < end - 10_000_000:
            both = player.reports(runner.now)
            runner.report(both[0])
            runner.report(both[1], MOTION)
            return STEP
        runner.report(player.rest(runner.now))
        samples.append((runner.passed / 1e6, memory()))
        return round((CYCLE - within) * 1e6)

    with PlayedRunner(profile(), heard, act) as runner:
        while runner.passed < end:
            runner.turn()
    return *verdict(player, heard, samples, runner.left_out), samples


# By the clock on the wall


def hour(seed: int, hours: float) -> tuple[Counter[str], list[str], list[tuple[float, float]]]:
    """The runner as a process, 1000 reports a second of each node; returns counts, faults, and its memory over time."""
    player, heard = Player(seed), Heard()
    samples: list[tuple[float, float]] = []
    nodes = [os.pipe() for _unused in range(2)]
    answers = [os.pipe() for _unused in range(2)]
    given = (nodes[0][0], nodes[1][0], answers[0][1], answers[1][1])
    outs = [out for out, _unused in answers]
    with tempfile.TemporaryDirectory() as folder:
        home = dict.fromkeys(("HOME", "XDG_DATA_HOME", "XDG_CONFIG_HOME", "XDG_RUNTIME_DIR"), folder)
        words = [sys.executable, "-m", "faults.soak", *map(str, given)]
        child = subprocess.Popen(
            words,
            pass_fds=given,
            stdout=subprocess.PIPE,
            env=os.environ | home | {"PYTHONPATH": os.pathsep.join(filter(None, sys.path))},
        )
        for descriptor in given:
            os.close(descriptor)
        try:
            assert os.read(outs[1], 5) == b"ready"
            begin = due = time.monotonic()
            stalls = 0
            while (now := time.monotonic()) < begin + hours * HOUR:
                stalls += now > due + STOOD_STILL
                both = player.reports(time.monotonic_ns() // 1000)
                os.write(nodes[0][1], both[0])
                os.write(nodes[1][1], both[1])
                if now - begin >= 10 * len(samples):
                    samples.append((now - begin, memory(child.pid)))
                due = max(due + 0.001, now - 0.05)
                _hear(heard, outs, due)
            os.write(nodes[0][1], player.rest(time.monotonic_ns() // 1000))
            _hear(heard, outs, time.monotonic() + 2.0)
        finally:
            child.terminate()
            told = child.communicate()[0]
            for descriptor in (nodes[0][1], nodes[1][1], *outs):
                os.close(descriptor)
    counts, faults = verdict(player, heard, samples, int(told or 0))
    counts["times the machine stood still"] = stalls
    return counts, faults, samples


def _hear(heard: Heard, outs: list[int], until: float) -> None:
    """Take in what is written until then."""
    while True:
        for out in select.select(outs, [], [], max(0.0, until - time.monotonic()))[0]:
            heard.take(os.read(out, AT_ONCE))
        if time.monotonic() >= until:
            return


def child(*numbers: str) -> None:
    """Be the runner."""
    *nodes, keyboard, mouse = map(int, numbers)
    runner = made_runner(profile(), nodes, {VIRTUAL_KEYBOARD: keyboard, VIRTUAL_MOUSE: mouse})
    signal.signal(signal.SIGTERM, lambda *_: sys.exit())
    os.write(mouse, b"ready")
    try:
        runner.run()
    finally:
        print(runner.left_out)


if __name__ == "__main__":
    child(*sys.argv[1:])
