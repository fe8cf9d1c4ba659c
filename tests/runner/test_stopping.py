"""The stop key and the stop controls: they pause everything in every profile, until the player goes on (N61)."""

from __future__ import annotations

import subprocess
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest

from nubshift.events import Report
from nubshift.model.player_settings import PlayerSettings, write_settings
from nubshift.protocol.messages import Notice, Reread, SetLive, Status, Steer, Use, Used
from nubshift.protocol.paths import settings_path
from nubshift.runner.held_together import HeldTogether
from standins.client import Talk
from standins.waiting import wait_until
from tests.support.playing import MS, changes
from tests.support.profiles import made
from tests.support.runner_process import RunnerProcess


@pytest.fixture
def start(tmp_path: Path) -> Iterator[Callable[[PlayerSettings], Talk]]:
    runners: list[RunnerProcess] = []
    talks: list[Talk] = []

    def begin(settings: PlayerSettings) -> Talk:
        write_settings(settings_path(), settings)
        socket = tmp_path / "s" / "runner.sock"
        words = ("-", "--socket", str(socket), "--source", "sim:moss", "--sink", f"record:{tmp_path / 'out'}")
        runners.append(RunnerProcess(*words))
        talks.append(Talk(socket))
        talks[-1].say(Use(made({"base": {"south": "A"}}), 1, switch=True))
        talks[-1].wait(Used, edit=1)
        return talks[-1]

    yield begin
    for talk in talks:
        talk.close()
    for runner in runners:
        runner.close()


def press_until_paused(talk: Talk, keys: str) -> None:
    def paused() -> bool:
        subprocess.run(["xdotool", "key", keys], check=True)
        talk.hear()
        told = [m for m in talk.heard if isinstance(m, Status)]
        return bool(told) and not told[-1].live

    wait_until(paused, f"{keys} pauses", 0.1)


def test_the_stop_key_pauses_at_once_and_only_going_live_goes_on(start: Callable[[PlayerSettings], Talk]) -> None:
    talk = start(PlayerSettings(stop_key=("LEFTCTRL", "LEFTALT", "END")))
    talk.say(Steer("south", 1.0))
    talk.wait_held("A")
    press_until_paused(talk, "ctrl+alt+End")
    talk.wait_held()
    assert "Paused by your stop key" in talk.wait(Notice, severity="warning").text
    talk.say(SetLive(True))
    talk.wait_newest(Status, lambda s: s.live)


def test_another_key_is_heard_once_the_settings_changed(start: Callable[[PlayerSettings], Talk]) -> None:
    talk = start(PlayerSettings())
    write_settings(settings_path(), PlayerSettings(stop_key=("LEFTSHIFT", "F12")))
    talk.say(Reread())
    press_until_paused(talk, "shift+F12")


def test_a_key_that_is_taken_is_said(start: Callable[[PlayerSettings], Talk]) -> None:
    from nubshift.surroundings.x11 import XKey

    other = XKey(88, ("LEFTCTRL",))  # F12
    talk = start(PlayerSettings(stop_key=("LEFTCTRL", "F12")))
    assert "Ctrl + F12 is in use by another program" in talk.wait(Notice, severity="warning").text
    other.close()


def test_the_controls_pause_when_they_were_held_long_enough(start: Callable[[PlayerSettings], Talk]) -> None:
    talk = start(PlayerSettings(stop_hold=50))
    for control in ("select", "start"):
        talk.say(Steer(control, 1.0))
    talk.wait_newest(Status, lambda s: not s.live)


def test_controls_fire_once_and_only_together_and_in_one_seat() -> None:
    stop = HeldTogether(("select", "start"), 100)

    def press(t: int, seat: str = "1", **values: float) -> None:
        stop.saw([Report(t * MS, changes(values.items()), seat)])

    press(0, select=1.0)
    press(0, "2", start=1.0)
    assert stop.next_deadline is None
    press(10, start=1.0)
    assert stop.next_deadline == 110 * MS
    press(50, start=0.0)
    assert not stop.fires(200 * MS)
    press(210, start=1.0)
    assert not stop.fires(309 * MS)
    assert stop.fires(310 * MS)
    assert not stop.fires(400 * MS)
    assert HeldTogether().next_deadline is None
