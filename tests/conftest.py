"""Fixtures for all tests. Nothing of the user's own is read or written."""

from __future__ import annotations

import os
from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings

from nubshift.model.profile import Profile
from nubshift.model.store import read_profile
from nubshift.protocol.paths import demo_folder
from tests.support.processes import Game

# No test depends on the clock of the wall: these machines are shared and slow at times.
settings.register_profile("here", deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("here")


@pytest.fixture(autouse=True)
def own_home(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """Data, settings and sockets of each test in a folder of its own. The path of a socket has at most 107 letters."""
    homes = {"XDG_DATA_HOME": "data", "XDG_CONFIG_HOME": "set", "XDG_RUNTIME_DIR": "run", "XDG_STATE_HOME": "state"}
    for name, short in homes.items():
        folder = tmp_path / short
        folder.mkdir(mode=0o700)
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
