"""The app as a process of its own, and what others see of it."""

from __future__ import annotations

import os
import subprocess
import sys
from collections.abc import Callable, Mapping
from pathlib import Path

from nubshift.model.player_settings import PlayerSettings, write_settings
from nubshift.protocol.paths import settings_path
from standins.client import wait_playing

APP = [sys.executable, "-m", "nubshift", "--source", "sim:moss"]
Process = subprocess.Popen[str]


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


def steered(
    app: list[Process], profile: Path, sink: str, *words: str, environment: Mapping[str, str] | None = None
) -> Callable[[str], None]:
    """The app, playing a profile in the background, and what moves its controller."""
    command = [sys.executable, "-m", "tests.app.steered", str(profile), sink, *words]
    folder, pipe = Path(__file__).parents[2], subprocess.PIPE
    process = subprocess.Popen(
        command, stdin=pipe, stdout=pipe, stderr=pipe, text=True, cwd=folder, env=os.environ | (environment or {})
    )
    app.append(process)
    wait_playing()

    def steer(line: str) -> None:
        assert process.stdin is not None
        process.stdin.write(f"{line}\n")
        process.stdin.flush()

    return steer
