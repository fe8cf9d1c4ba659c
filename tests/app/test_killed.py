"""Window, runner and both killed in the middle of things: nothing stays down, nothing is lost, the next start finds its way."""

from __future__ import annotations

import os
import signal
from pathlib import Path

import pytest

from faults.kills import Keys
from nubshift.model import edits
from nubshift.model.player_settings import PlayerSettings, write_settings
from nubshift.model.profile import SUFFIX
from nubshift.model.slots import Slot
from nubshift.model.store import ProfileFile, read_profile
from nubshift.model.versions import versions_of
from nubshift.protocol.paths import profile_folder, settings_path
from standins.client import runner_pid, wait_playing
from standins.game import Game
from standins.waiting import PATIENCE, wait_until
from tests.app.program import Process, begin, steered
from tests.support.profiles import made, sends

SOUTH = Slot("base", "south")


def kill(app: Process, which: str) -> None:
    """As an out-of-memory killer does."""
    pids = {"window": [app.pid], "runner": [runner_pid()], "both": [app.pid, runner_pid()]}[which]
    for pid in pids:
        os.kill(pid, signal.SIGKILL)
    if which != "runner":
        app.wait(PATIENCE)


@pytest.mark.parametrize("which", ["window", "runner", "both"])
def test_while_the_menu_is_open(app: list[Process], game: Game, which: str, window_manager: None) -> None:
    profile = profile_folder() / "own.nubshift.json"
    profile.parent.mkdir(parents=True)
    ProfileFile(profile).write(made({"base": {"south": "A", "left_bumper": "B"}}))
    write_settings(settings_path(), PlayerSettings(menu_controls=("mode",), menu_hold=0))
    keys = Keys()
    steer = steered(app, profile, "xtest")
    steer("left_bumper 1")
    wait_until(lambda: "+56" in game.words(), "B is down")
    steer("mode 1")
    wait_until(lambda: "-56" in game.words(), "the menu has taken the controls")
    steer("south 1")
    kill(app[-1], which)
    wait_until(lambda: keys.down() == 0, "nothing stays down")
    if which == "runner":
        wait_playing()
    else:
        steer = steered(app, profile, "xtest")
    assert "+38" not in game.words(), "what it was worked with reached the game"
    steer("south 0")
    steer("south 1")
    wait_until(lambda: game.words()[-1] == "+38", "the controls are the game's again")
    steer("south 0")
    wait_until(lambda: keys.down() == 0, "and it is let go")


def test_while_a_folder_is_synced(app: list[Process], tmp_path: Path, window_manager: None) -> None:
    """Killed at any moment, ten profiles at a time: each file is whole, and what was ours is in the history."""
    there, here = tmp_path / "there", profile_folder()
    there.mkdir()
    here.mkdir(parents=True)
    names = [f"game-{number}{SUFFIX}" for number in range(10)]
    for name in names:
        ProfileFile(here / name).write(made({"base": {"south": "A"}}, game={"title": name}))
    ours = {name: read_profile(here / name) for name in names}
    begin(app, "--hidden", "game-0", synced_folder=str(there), synced_gives=True)

    def same(name: str) -> bool:
        """Each file is whole whenever it is looked at, else this raises."""
        return (there / name).exists() and read_profile(here / name) == read_profile(there / name)

    def in_step() -> bool:
        return all(map(same, names))

    wait_until(in_step, "ours are there", 0.1)
    for key, which in (("F1", "window"), ("F2", "both"), ("F3", "runner"), ("F4", "window"), ("F5", "both")):
        wait_playing()
        for name in names[1:]:
            file = ProfileFile(there / name)
            file.write(edits.with_sends(file.read(), SOUTH, sends(key)))
        wait_until(lambda: any(map(same, names[1:])), "they are being taken in", 0.001)
        kill(app[-1], which)
        if which != "runner":
            begin(app, "--hidden", "game-0")
        wait_until(in_step, "both are in step again", 0.05)
    for name in names[1:]:
        kept = [read_profile(version.path) for version in versions_of(here / name)]
        assert ours[name] in kept, f"{name} as it was before is in no version"
