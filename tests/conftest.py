"""Fixtures for all tests. Nothing of the user's own is read or written."""

from __future__ import annotations

import os
import subprocess
from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings

from nubshift.model.profile import Profile
from nubshift.model.store import read_profile
from nubshift.protocol.paths import demo_folder
from standins.game import Game
from standins.waiting import wait_until
from standins.wayland_session import Compositor, compositor, why_no_compositor

# No test depends on the clock of the wall: these machines are shared and slow at times.
settings.register_profile("here", deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("here")


def homes_in(folder: Path, make: bool = True) -> dict[str, Path]:
    """Where data, settings and sockets are within a folder, by the name of the variable that says so. The path of a
    socket has at most 107 letters."""
    names = {"XDG_DATA_HOME": "data", "XDG_CONFIG_HOME": "set", "XDG_RUNTIME_DIR": "run", "XDG_STATE_HOME": "state"}
    homes = {name: folder / short for name, short in names.items()}
    for home in homes.values() if make else ():
        home.mkdir(mode=0o700, parents=True)
    return homes


@pytest.fixture(autouse=True)
def own_home(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """Data, settings and sockets of each test in a folder of its own."""
    for name, folder in homes_in(tmp_path).items():
        monkeypatch.setenv(name, str(folder))
    return tmp_path


@pytest.fixture(scope="session", autouse=True)
def shipped_files_stay() -> Iterator[None]:
    """No test edits the demo that is shipped."""
    before = {path: path.read_bytes() for path in demo_folder().iterdir() if path.is_file()}
    yield
    assert {path: path.read_bytes() for path in demo_folder().iterdir() if path.is_file()} == before


@pytest.fixture
def demo() -> Profile:
    return read_profile(demo_folder() / "ferrow-deep.nubshift.json")


@pytest.fixture
def game() -> Iterator[Game]:
    """A game's window with the focus."""
    if not os.environ.get("DISPLAY"):
        pytest.skip("no X server: Xvfb is not installed")
    found = Game()
    yield found
    found.close()


@pytest.fixture
def wayland() -> Iterator[Compositor]:
    """A Wayland session of its own."""
    why = why_no_compositor()
    if why:
        pytest.skip(f"no Wayland compositor: {why}")
    with compositor() as found:
        yield found


@pytest.fixture(scope="session")
def window_manager() -> Iterator[None]:
    """A window manager at work on the display of the tests."""
    started: list[subprocess.Popen[bytes]] = []

    def at_work() -> bool:
        if not started or started[-1].poll() is not None:  # it gives up where the server is not ready yet
            started.append(
                subprocess.Popen(["openbox", "--sm-disable"], stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
            )
        asked = subprocess.run(
            ["xprop", "-root", "_NET_SUPPORTING_WM_CHECK"], capture_output=True, text=True, check=False
        )
        return "_NET_SUPPORTING_WM_CHECK(WINDOW)" in asked.stdout

    wait_until(at_work, "openbox is at work", 0.05)
    yield
    for process in started:
        process.kill()
        process.wait()
