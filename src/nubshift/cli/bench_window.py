"""How soon the window can be used, and a profile of 2,000 bindings is on the screen: in a child, without a real screen.

``python -m nubshift.cli.bench_window PROFILE``: a window like any other that says when it is painted, opens that
profile, says when that is painted, and ends.
"""

from __future__ import annotations

import os
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from msgspec import Struct

from nubshift.cli.bench_profile import bench_profile
from nubshift.cli.later import loaded
from nubshift.errors import NubShiftError
from nubshift.model.store import read_profile
from nubshift.model.writing import profile_text
from nubshift.texts import _

if TYPE_CHECKING:
    from nubshift.app.window import MainWindow

LARGE = 90
"""Layers beside the base of the profile that is opened: 1,990 bindings."""
USABLE, OPENED = "usable", "opened"


class WindowTimes(Struct, frozen=True):
    """In ms: from the start to a painted window, a start of Python alone; 2,000 bindings read, and on the screen."""

    usable: float
    bare: float
    read: float
    opened: float


def measure(rounds: int) -> WindowTimes:
    """Medians of so many starts."""
    with tempfile.TemporaryDirectory() as place:
        large = Path(place) / "large.nubshift.json"
        large.write_bytes(profile_text(bench_profile(LARGE)))
        times = [_start(large) for _unused in range(rounds)]
        reads = [_read(large) for _unused in range(rounds)]
    usable, bare, opened = (statistics.median(each[n] for each in times) for n in range(3))
    return WindowTimes(usable, bare, statistics.median(reads), opened)


def _read(path: Path) -> float:
    began = time.perf_counter()
    read_profile(path)
    return (time.perf_counter() - began) * 1000


def _start(large: Path) -> tuple[float, float, float]:
    """A window that is there for the first time; raises NubShiftError if it never is."""
    with tempfile.TemporaryDirectory() as home:
        places = ("HOME", "XDG_DATA_HOME", "XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_RUNTIME_DIR")
        environment = os.environ | dict.fromkeys(places, home) | {"QT_QPA_PLATFORM": "offscreen"}
        began = time.monotonic()
        subprocess.run([sys.executable, "-c", "pass"], check=True, env=environment)
        bare = time.monotonic() - began
        words = [sys.executable, "-m", "nubshift.cli.bench_window", str(large)]
        began = time.monotonic()
        with subprocess.Popen(
            words, env=environment, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True
        ) as child:
            assert child.stdout is not None
            usable = time.monotonic() - began if child.stdout.readline().split()[:1] == [USABLE] else None
            opened = child.stdout.readline().split()
            child.stdout.read()
    if usable is None or opened[:1] != [OPENED]:
        raise NubShiftError(_("the window did not start, so it could not be measured"))
    return usable * 1000, bare * 1000, float(opened[1])


# In the child


def main(large: str) -> int:
    """Be the window."""

    def ready(window: MainWindow) -> None:
        window.repaint()
        print(USABLE, flush=True)
        began = time.perf_counter()
        window.studio.document.open(Path(large))
        window.repaint()
        print(OPENED, (time.perf_counter() - began) * 1000, flush=True)
        window.end()

    run: Callable[..., int] = loaded("nubshift.app.main").run
    return run(None, ("sim:moss",), f"record:{os.devnull}", None, ready=ready)


if __name__ == "__main__":
    raise SystemExit(main(sys.argv[1]))
