"""The app as a process of its own, and what others see of it."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

from nubshift.errors import NubShiftError
from nubshift.model.player_settings import PlayerSettings, write_settings
from nubshift.protocol.asking import Asking
from nubshift.protocol.messages import Ask, Status
from nubshift.protocol.paths import settings_path, socket_path
from tests.support.processes import wait_until

APP = [sys.executable, "-m", "nubshift", "--source", "sim:moss"]
Process = subprocess.Popen[str]


def status() -> Status | None:
    """What the runner tells of itself; None where there is none."""
    try:
        with Asking(socket_path()) as asking:
            told = asking.ask(Ask("status"))
    except NubShiftError:  # nobody is there, or not any more
        return None
    return told if isinstance(told, Status) else None


def windows() -> list[str]:
    """The handles of our windows that are on the screen."""
    asked = ["xdotool", "search", "--onlyvisible", "--name", "– Nub Shift$"]
    while True:
        found = subprocess.run(asked, capture_output=True, text=True, check=False)
        if "X Error" not in found.stderr:  # a window that went while it was looked at ends the search
            return found.stdout.split()


def begin(app: list[Process], *words: str, sink: str = "record:/dev/null", **settings: object) -> Process:
    """Start it, with these settings where any are given."""
    if settings:
        write_settings(settings_path(), PlayerSettings(**settings))  # type: ignore[arg-type]
    command = [*APP, "--sink", sink, *words]
    app.append(subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True))
    return app[-1]


def wait_playing(profile: str | None = None) -> Status:
    """Until its runner plays, this profile if one is named."""
    found: list[Status] = []

    def plays() -> bool:
        found[:] = [told] if (told := status()) is not None and told.profile is not None else []
        return bool(found) and profile in (None, found[0].profile)

    wait_until(plays, f"{profile or 'it'} plays", 0.1)
    return found[0]


def runner_of(process: Process) -> int:
    """The process of its runner."""
    return int(Path(f"/proc/{process.pid}/task/{process.pid}/children").read_text().split()[0])
