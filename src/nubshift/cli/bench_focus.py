"""How soon the right profile is there: after another window comes to the front, and after a program starts.

The real runner in a process of its own, with rules and folders of its own; windows are real ones of this X session.
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from msgspec import Struct

from nubshift.errors import NubShiftError
from nubshift.model.automatic import Automatic, GameRule, write_automatic
from nubshift.model.programs import ProgramMatch
from nubshift.model.store import write_atomically
from nubshift.model.writing import profile_text
from nubshift.protocol.asking import Asking, NotRunning
from nubshift.protocol.messages import Ask, Status
from nubshift.protocol.paths import demo_folder
from nubshift.texts import _

ROUNDS = 8
IDLE_SECONDS = 5.0
PATIENCE = 20.0
NAMES = ("ferrow-deep", "saltbarrow")


class FocusTimes(Struct, frozen=True):
    """Medians in ms, None where no X session with a window manager is here; `idle` is the runner's share of a core in %
    while nothing happens."""

    window: float | None
    program: float
    idle: float


def measure() -> FocusTimes:
    """Measure all three."""
    with tempfile.TemporaryDirectory() as home, _runner(Path(home)) as (pid, asking):
        idle = _idle(pid)
        program = _median([_program(Path(home), asking) for _unused in range(4)])
        return FocusTimes(_windows(asking), program, idle)


@contextmanager
def _runner(home: Path) -> Iterator[tuple[int, Asking]]:
    places = {"XDG_DATA_HOME": home / "data", "XDG_CONFIG_HOME": home / "set", "XDG_RUNTIME_DIR": home}
    profiles = home / "data" / "nubshift" / "profiles"
    from nubshift.model.store import read_profile

    for name in NAMES:
        shipped = read_profile(demo_folder() / f"{name}.nubshift.json")
        write_atomically(profiles / f"{name}.nubshift.json", profile_text(shipped))
    matches = (ProgramMatch(window_class="NubBench0"), ProgramMatch(window_class="NubBench1"))
    rules = [GameRule(name, (match,)) for name, match in zip(NAMES, matches, strict=True)]
    rules.append(GameRule(NAMES[0], (ProgramMatch(program="nubbench"),), background="play"))
    write_automatic(home / "set" / "nubshift" / "automatic.json", Automatic(rules=tuple(rules)))
    socket = home / "runner.sock"
    words = ["run", "auto", "--socket", str(socket), "--source", "sim:moss", "--sink", f"record:{os.devnull}"]
    runner = subprocess.Popen(
        [sys.executable, "-m", "nubshift", *words],
        stderr=subprocess.DEVNULL,
        env=os.environ | {name: str(path) for name, path in places.items()},
    )
    try:
        asking = _connected(socket)
        time.sleep(1.5)  # until it has looked around
        yield runner.pid, asking
        asking.close()
    finally:
        runner.terminate()
        runner.wait(PATIENCE)


def _connected(socket: Path) -> Asking:
    end = time.monotonic() + PATIENCE
    while time.monotonic() < end:
        try:
            return Asking(socket)
        except NotRunning:
            time.sleep(0.02)
    raise NubShiftError(_("The runner does not answer."))


def _until(asking: Asking, profile: str | None, since: float) -> float:
    """The time in ms from `since` until a profile is in use."""
    while time.monotonic() < since + PATIENCE:
        status = asking.ask(Ask("status"))
        if isinstance(status, Status) and status.profile == profile:
            return (time.monotonic() - since) * 1000
        time.sleep(0.002)
    raise NubShiftError(
        _("The profile {profile} was not used within {seconds:.0f} s.").format(profile=profile, seconds=PATIENCE)
    )


def _program(home: Path, asking: Asking) -> float:
    """A program without a window starts."""
    path = home / "nubbench"
    if not path.exists():
        shutil.copy2(str(shutil.which("sleep")), path)
    since = time.monotonic()
    game = subprocess.Popen([str(path), "60"])
    try:
        return _until(asking, NAMES[0], since)
    finally:
        game.kill()
        game.wait()
        _until(asking, None, time.monotonic())


def _windows(asking: Asking) -> float | None:
    """Two windows come to the front in turns."""
    if not os.environ.get("DISPLAY"):
        return None
    from nubshift.surroundings.x11 import BenchWindow, XWindows

    try:
        XWindows().close()
    except OSError:
        return None
    windows = [BenchWindow(f"NubBench{number}") for number in range(2)]
    try:
        times = []
        for number in range(ROUNDS):
            since = time.monotonic()
            windows[number % 2].bring_to_front()
            times.append(_until(asking, NAMES[number % 2], since))
        return _median(times[2:])  # the first two read the profiles
    finally:
        for window in windows:
            window.close()


def _idle(pid: int) -> float:
    def spent() -> float:
        fields = Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()
        return (int(fields[11]) + int(fields[12])) / os.sysconf("SC_CLK_TCK")

    before = spent()
    time.sleep(IDLE_SECONDS)
    return (spent() - before) / IDLE_SECONDS * 100


def _median(values: list[float]) -> float:
    return sorted(values)[len(values) // 2]
