"""The right profile with each program, among real windows and real programs (N61)."""

from __future__ import annotations

import json
import subprocess
import sys
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from msgspec.structs import replace

from nubshift.model.automatic import Automatic, GameRule, write_automatic
from nubshift.model.programs import ProgramMatch
from nubshift.model.sends import Toggled
from nubshift.model.store import ProfileFile
from nubshift.protocol.asking import Asking
from nubshift.protocol.messages import (
    Ask,
    Health,
    Keep,
    Launch,
    Notice,
    Programs,
    Refused,
    Reread,
    SetLive,
    Shown,
    Status,
    Steer,
    Use,
    Used,
    Withhold,
)
from nubshift.protocol.paths import automatic_path, profile_folder
from standins.client import Talk
from standins.desktop import bring_to_front, program, window
from standins.waiting import wait_until
from tests.support.profiles import made, sends
from tests.support.runner_process import RunnerProcess


def saved(name: str, title: str, key: str) -> None:
    profile = made({"base": {"south": key, "east": Toggled(sends("L"), comes_back=True)}})
    ProfileFile(profile_folder() / f"{name}.nubshift.json").write(
        replace(profile, game=replace(profile.game, title=title))
    )


@pytest.fixture
def start(tmp_path: Path) -> Iterator[Callable[..., Talk]]:
    """A runner with two profiles and these rules, and a plain client that stands for a window."""
    saved("deep", "Ferrow Deep", "D")
    saved("salt", "Saltbarrow", "S")
    socket = tmp_path / "run" / "nubshift" / "runner.sock"
    runners: list[RunnerProcess] = []
    talks: list[Talk] = []

    def begin(rules: Automatic | None = None) -> Talk:
        write_automatic(automatic_path(), rules or Automatic())
        words = ("auto", "--socket", str(socket), "--source", "sim:moss", "--sink", f"record:{tmp_path / 'out'}")
        runners.append(RunnerProcess(*words))
        talks.append(Talk(socket))
        talks[-1].say(Shown(False))
        return talks[-1]

    yield begin
    for talk in talks:
        talk.close()
    for runner in runners:
        runner.close()


def by_class(**profiles: str) -> Automatic:
    return Automatic(
        rules=tuple(GameRule(name, (ProgramMatch(window_class=group),)) for name, group in profiles.items())
    )


def test_the_profile_follows_the_window_in_front(start: Callable[..., Talk], window_manager: None) -> None:
    talk = start(by_class(deep="Ferrow", salt="Salt"))
    with window("Ferrow", "Ferrow Deep") as ferrow, window("Salt", "Saltbarrow") as salt, window("Notes", "N") as notes:
        for _unused in range(2):
            bring_to_front(ferrow)
            status = talk.wait_newest(Status, lambda s: s.title == "Ferrow Deep" and not s.withheld)
            assert status.why == "Ferrow Deep is running."
            bring_to_front(salt)
            talk.wait_newest(Status, lambda s: s.title == "Saltbarrow" and not s.withheld)
        bring_to_front(notes)
        status = talk.wait_newest(Status, lambda s: s.waiting and s.withheld)
        assert status.profile == "deep"  # the first rule of those whose games are running
        assert status.why == "Ferrow Deep waits until it is in front again."
        bring_to_front(salt)
        talk.wait_newest(Status, lambda s: s.profile == "salt" and not s.withheld)
    assert talk.wait_newest(Status, lambda s: s.profile is None).cause == "none"


def test_what_is_held_goes_up_and_toggles_come_back_with_the_game(
    start: Callable[..., Talk], window_manager: None, tmp_path: Path
) -> None:
    talk = start(by_class(deep="Ferrow"))
    with window("Ferrow", "Ferrow Deep") as ferrow, window("Notes", "Notes") as notes:
        bring_to_front(ferrow)
        talk.wait_newest(Status, lambda s: s.profile == "deep" and not s.withheld)
        talk.say(Steer("east", 1.0))
        talk.say(Steer("east", 0.0))
        talk.say(Steer("south", 1.0))
        talk.wait_held("L", "D")
        bring_to_front(notes)
        talk.wait_newest(Status, lambda s: s.waiting)
        talk.wait_held()
        talk.say(Steer("south", 0.0))
        bring_to_front(ferrow)
        talk.wait_newest(Status, lambda s: not s.withheld)
        talk.wait_held("L")


def test_a_program_without_a_window_is_found_by_each_of_its_marks(start: Callable[..., Talk], tmp_path: Path) -> None:
    marks = ProgramMatch(mark="BARROW_GAMEID=7")
    rules = Automatic(
        rules=(
            GameRule("deep", (ProgramMatch(program="ferrowdeep"), ProgramMatch(windows_program="deep.exe"))),
            GameRule("salt", (marks,), background="play"),
        )
    )
    talk = start(rules)
    ways = [
        ("deep", program(tmp_path / "games" / "ferrowdeep")),
        ("deep", program(tmp_path / "bin" / "preloader", called="Z:\\games\\Deep.exe")),
        ("salt", program(tmp_path / "bin" / "barrow", BARROW_GAMEID="7")),
    ]
    for profile, way in ways:
        with way:
            talk.wait_newest(Status, lambda s, profile=profile: s.profile == profile)
        talk.wait_newest(Status, lambda s: s.profile is None)


def test_a_launcher_that_forks_and_becomes_the_game_is_followed(start: Callable[..., Talk], tmp_path: Path) -> None:
    talk = start(Automatic(rules=(GameRule("deep", (ProgramMatch(program="ferrowdeep"),), background="play"),)))
    with program(tmp_path / "ferrowdeep", "0"):
        pass  # it is there as a file now
    script = tmp_path / "launcher"
    script.write_text(f'#!/bin/sh\n(sleep 0.3; exec sh -c "exec {tmp_path}/ferrowdeep 3000") &\nwait\n')
    script.chmod(0o700)
    with program(script) as launcher:
        talk.wait_newest(Status, lambda s: s.profile == "deep")
        assert launcher.poll() is None
        subprocess.run(["pkill", "-f", f"{tmp_path}/ferrowdeep"], check=False)
        talk.wait_newest(Status, lambda s: s.profile is None)


def test_the_window_comes_first_then_what_is_kept(start: Callable[..., Talk], tmp_path: Path) -> None:
    rules = Automatic(rules=(GameRule("deep", (ProgramMatch(program="ferrowdeep"),), background="play"),))
    talk = start(rules)
    mine = made({"base": {"south": "M"}})
    with program(tmp_path / "ferrowdeep"):
        talk.say(Use(mine, 1, switch=True, name="mine"))
        talk.wait(Used, edit=1)
        talk.wait_newest(Status, lambda s: s.profile == "deep")
        talk.say(Shown(True))
        talk.say(Withhold(True))
        assert talk.wait_newest(Status, lambda s: s.profile == "mine").withheld
        talk.say(Withhold(False))
        talk.wait_newest(Status, lambda s: s.profile == "deep" and not s.withheld)
        talk.say(Keep("salt"))
        assert talk.wait_newest(Status, lambda s: s.title == "Saltbarrow").why == "You chose to stay on Saltbarrow."
        talk.say(Keep())
        talk.wait_newest(Status, lambda s: s.profile == "deep")
        talk.say(Keep("nowhere"))
        assert "no profile nowhere" in talk.wait(Notice, severity="error").text.lower()
    talk.wait_newest(Status, lambda s: s.profile == "mine")  # it is open, and nothing else is running


def test_one_that_is_kept_and_deleted_is_stayed_on_no_more(start: Callable[..., Talk]) -> None:
    talk = start()
    talk.say(Use(made({"base": {"south": "M"}}), 1, switch=True, name="mine"))
    talk.say(Shown(True))
    talk.say(Keep("salt"))
    talk.wait_newest(Status, lambda s: s.profile == "salt")
    talk.say(Withhold(True))
    talk.wait_newest(Status, lambda s: s.profile == "mine")
    (profile_folder() / "salt.nubshift.json").unlink()
    talk.say(Withhold(False))
    assert "chosen automatically again" in talk.wait(Notice, severity="error").text
    assert talk.wait_newest(Status, lambda s: s.kept is None).profile == "mine"


def test_rules_that_change_count_at_once(start: Callable[..., Talk], tmp_path: Path) -> None:
    talk = start()
    with program(tmp_path / "ferrowdeep"):
        wait_until(lambda: _sees(talk), "the program is seen", 0.1)
        write_automatic(automatic_path(), Automatic(rules=(GameRule("deep", (ProgramMatch(program="ferrowdeep"),)),)))
        talk.say(Reread())
        talk.wait_newest(Status, lambda s: s.profile == "deep")


def _sees(talk: Talk) -> bool:
    talk.say(Ask("programs"))
    talk.hear()
    told = [message for message in talk.heard if isinstance(message, Programs)]
    return any(seen.path.endswith("/ferrowdeep") for message in told for seen in message.running)


def test_a_profile_that_can_not_be_read_is_told_once_and_nothing_is_sent(
    start: Callable[..., Talk], tmp_path: Path
) -> None:
    talk = start(Automatic(rules=(GameRule("broken", (ProgramMatch(program="ferrowdeep"),)),)))
    (profile_folder() / "broken.nubshift.json").write_text('{"format": ')
    with program(tmp_path / "ferrowdeep"):
        assert "broken.nubshift.json" in talk.wait(Notice, severity="error").text
    talk.wait_newest(Status, lambda s: s.profile is None)


def test_the_doctor_on_the_terminal_asks_how_play_goes(start: Callable[..., Talk], tmp_path: Path) -> None:
    """With a window there, since nothing is measured without one; of a runner that is alone it knows the priority."""
    talk = start()
    talk.wait_newest(Health, lambda told: told.seconds > 0)

    def rows() -> dict[str, str]:
        done = subprocess.run(
            [sys.executable, "-m", "nubshift", "doctor", "--json"], capture_output=True, text=True, check=False
        )
        return {row["what"]: row["found"] for row in map(json.loads, done.stdout.splitlines())}

    told = rows()
    assert "moved in the last minute" in told["delay"] or "at worst" in told["delay"]
    assert told["priority"]
    with Asking(tmp_path / "run" / "nubshift" / "runner.sock") as asking:
        talk.close()
        wait_until(lambda: asking.ask(Ask("health")).seconds == 0, "nothing is measured any more")  # type: ignore[union-attr]
        assert rows()["delay"] == "measured only while the window is open"


def test_commands_are_served_beside_the_window(start: Callable[..., Talk], tmp_path: Path) -> None:
    talk = start()
    path = tmp_path / "run" / "nubshift" / "runner.sock"
    with Asking(path) as one, Asking(path) as two:
        assert isinstance(one.ask(Ask("status")), Status)
        one.ask(SetLive(False))
        assert not talk.wait_newest(Status, lambda s: not s.live).live
        two.ask(SetLive(True))
        talk.wait_newest(Status, lambda s: s.live)
        one.ask(Launch("deep", 4711))
        assert talk.wait_newest(Status, lambda s: s.profile == "deep").launched.pid == 4711
        with pytest.raises(Exception, match=r"started with deep is still running \(process 4711\)"):
            two.ask(Launch("salt", 12))
        with pytest.raises(Exception, match="command can't ask that"):
            two.ask(Steer("south", 1.0))
    talk.wait_newest(Status, lambda s: s.profile is None)  # whoever started the game is gone, and so is the game


def test_a_second_window_is_refused_but_commands_are_not(start: Callable[..., Talk], tmp_path: Path) -> None:
    start()
    other = Talk(tmp_path / "run" / "nubshift" / "runner.sock")
    assert "already open" in other.wait(Refused).text
    other.close()
