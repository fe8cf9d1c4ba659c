"""Runner and guard killed in any order at any moment: no key is down once the next runner watches over its own.

Needs an X server (DISPLAY):  xvfb-run -a python tools/faults kills --count 160 --seed 7
"""

from __future__ import annotations

import contextlib
import os
import signal
import subprocess
import sys
import tempfile
import time
from collections import Counter
from pathlib import Path
from random import Random

import xcffib
import xcffib.xproto

PATIENCE = 60.0
PROFILE = (
    '{"format": "nubshift-profile", "version": 5, "game": {"title": "Kills"}, "layers": [{"id": "base", "name": "Base", '
    '"bindings": [{"control": "south", "press": [{"send": "key", "key": "LEFTSHIFT"}, {"send": "key", "key": "BTN_LEFT"}]}, '
    '{"control": "left_stick", "role": {"use": "keys", "up": [{"send": "key", "key": "W"}]}}, '
    '{"control": "east", "press": [{"send": "turbo", "what": [{"send": "key", "key": "T"}], "rate": 30.0}]}]}]}'
)
TAKE = "nubshift-take 1\n0 south=1 left_stick=0,-1 east=1\n" + "\n".join(
    f"{t * 20_000} left_stick=0,{-(t % 2)}" for t in range(1, 2000)
)


class Keys:
    """What is down in the X session."""

    def __init__(self) -> None:
        self._connection = xcffib.connect()
        self._root = self._connection.get_setup().roots[0].root

    def down(self) -> int:
        """How many keys and pointer buttons."""
        keys = bytes(self._connection.core.QueryKeymap().reply().keys)
        mask = self._connection.core.QueryPointer(self._root).reply().mask >> 8 & 0x1F
        return sum(byte.bit_count() for byte in keys) + int(mask).bit_count()


def guards(folder: str) -> list[int]:
    """The guards that belong to this folder's runners."""
    found = []
    for entry in Path("/proc").glob("[0-9]*"):
        with contextlib.suppress(OSError):
            is_guard = b"nubshift.outputs.guard" in (entry / "cmdline").read_bytes()
            if is_guard and f"XDG_RUNTIME_DIR={folder}".encode() in (entry / "environ").read_bytes().split(b"\0"):
                found.append(int(entry.name))
    return found


def _wait(condition: object, seconds: float) -> bool:
    end = time.monotonic() + seconds
    while not condition():  # type: ignore[operator]
        if time.monotonic() > end:
            return False
        time.sleep(0.005)
    return True


def _kill(pids: list[int]) -> None:
    for pid in pids:
        with contextlib.suppress(ProcessLookupError):
            os.kill(pid, signal.SIGKILL)


def attack(seed: int, count: int) -> tuple[Counter[str], list[str]]:
    """Kill so often. Returns how often in which order, and the faults."""
    random = Random(seed)
    counts: Counter[str] = Counter()
    faults: list[str] = []
    keys = Keys()
    with tempfile.TemporaryDirectory() as folder:
        profile, take = Path(folder) / "p.nubshift.json", Path(folder) / "x.take"
        profile.write_text(PROFILE)
        take.write_text(TAKE)
        words = [sys.executable, "-m", "nubshift", "run", str(profile), "--source", f"take:{take}", "--sink", "xtest"]
        environment = os.environ | {"XDG_RUNTIME_DIR": folder}

        def start() -> subprocess.Popen[bytes]:
            return subprocess.Popen(words, stderr=subprocess.DEVNULL, env=environment)

        runner = start()
        for number in range(count):
            if not _wait(lambda: keys.down() >= 3 and guards(folder), PATIENCE):
                faults.append(f"#{number}: nothing went down")
                break
            time.sleep(random.random() * 0.2)
            order = random.choice(("runner", "guard", "both", "guard, then runner", "runner, then guard"))
            counts[order] += 1
            pause = random.random() * 0.4
            before = set(guards(folder))
            if order in ("guard", "both", "guard, then runner"):
                _kill(guards(folder))
            if order == "guard, then runner":
                time.sleep(pause)
            if order != "guard":
                _kill([runner.pid])
                runner.wait()
            if order == "runner, then guard":
                time.sleep(pause * random.random())
                _kill(guards(folder))
            if order == "guard":
                continue
            # the next one: nothing it finds may stay down; it begins with the same take, so it is stopped at its start
            runner = subprocess.Popen(
                [*words[:4], "-", "--source", "sim:moss", "--sink", "xtest"], stderr=subprocess.DEVNULL, env=environment
            )
            _wait(lambda old=before: set(guards(folder)) - old, PATIENCE)
            began = time.monotonic()
            if not _wait(lambda: keys.down() == 0, PATIENCE):
                faults.append(f"#{number} ({order}): {keys.down()} still down a minute after the next runner was there")
            counts["of them after more than two seconds"] += time.monotonic() > began + 2.0
            runner.terminate()
            runner.wait()
            runner = start()
        runner.terminate()
        runner.wait()
        if not _wait(lambda: keys.down() == 0, 10.0):
            faults.append("something is down at the end")
    return counts, faults
