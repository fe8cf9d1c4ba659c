"""The runner as a process, spoken to over its socket."""

from __future__ import annotations

import os
import signal
import stat
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

from nubshift.model import edits
from nubshift.model.profile import Profile
from nubshift.model.roles import MouseRole
from nubshift.model.sends import SendKey
from nubshift.model.slots import Slot
from nubshift.protocol.messages import (
    Choose,
    Frame,
    Hello,
    Notice,
    Play,
    Quit,
    Refused,
    SetLive,
    Status,
    Steer,
    Stop,
    Use,
    Used,
    Welcome,
    Withhold,
)
from standins.client import Talk
from standins.game import Game
from standins.waiting import wait_until
from tests.support.profiles import four, made
from tests.support.runner_process import RunnerProcess

PROFILE = made(
    {"base": {"south": "A", "left_stick": four(), "right_stick": MouseRole(), "west": ">aim"}, "aim": {"south": "B"}}
)


class Stage:
    """A runner with the simulated pad, listening on a socket."""

    def __init__(self, folder: Path, sink: str, owned: bool) -> None:
        self.socket = folder / "s" / "runner.sock"
        words = [
            "-",
            "--socket",
            str(self.socket),
            "--source",
            "sim:moss",
            "--sink",
            sink,
            *(["--owned"] if owned else []),
        ]
        self.runner = RunnerProcess(*words)

    def talk(self) -> Talk:
        found = Talk(self.socket)
        found.say(Use(PROFILE, 1, switch=True))
        found.wait(Used, edit=1)
        return found


@pytest.fixture
def stage(tmp_path: Path) -> Iterator[Stage]:
    found = Stage(tmp_path, f"record:{tmp_path / 'out'}", owned=False)
    yield found
    found.runner.close()


@pytest.fixture
def x_stage(tmp_path: Path, game: Game) -> Iterator[Stage]:
    found = Stage(tmp_path, "xtest", owned=True)
    yield found
    found.runner.close()


def test_the_socket_can_only_be_used_by_its_owner(stage: Stage) -> None:
    talk = Talk(stage.socket)
    assert talk.wait(Welcome).pid == stage.runner.process.pid
    assert stat.S_IMODE(stage.socket.stat().st_mode) == 0o600
    assert stat.S_IMODE(stage.socket.parent.stat().st_mode) == 0o700
    talk.close()


def test_steering_reaches_the_engine_and_is_told(stage: Stage) -> None:
    talk = stage.talk()
    talk.say(Steer("south", 1))
    frame = talk.wait_held("A")
    assert frame.real
    assert "south" in frame.controls or any("south" in m.controls for m in talk.heard if isinstance(m, Frame))
    talk.say(Steer("south", 0))
    talk.wait_held()
    talk.say(Steer("right_stick", 1, 0))
    wait_until(lambda: talk.hear() and sum(m.dx for m in talk.heard if isinstance(m, Frame)) > 100, "the mouse moves")
    talk.close()


def test_status_says_which_sink_and_why(stage: Stage) -> None:
    talk = stage.talk()
    status = talk.wait(Status)
    assert (status.sink, status.controller, status.live, status.withheld) == ("record", "sim:moss", True, False)
    assert "written to" in status.reason
    talk.close()


def test_an_edit_is_live_and_keeps_what_is_held(stage: Stage) -> None:
    talk = stage.talk()
    talk.say(Steer("west", 1))
    talk.say(Steer("south", 1))
    talk.wait_held("B")
    edited = edits.with_sends(PROFILE, Slot("aim", "south"), (SendKey("C"),))
    talk.say(Use(edited, 2))
    talk.wait(Used, edit=2)
    talk.say(Steer("south", 0))
    talk.wait_held()
    talk.say(Steer("south", 1))
    assert talk.wait_held("C").layers == ("aim",)
    talk.close()


def test_withheld_output_is_told_but_not_sent(stage: Stage, tmp_path: Path) -> None:
    talk = stage.talk()
    talk.say(Steer("south", 1))
    talk.wait_held("A")
    talk.say(Withhold(True))
    talk.wait(Status, withheld=True)
    talk.say(Steer("south", 0))
    talk.say(Steer("south", 1))
    assert not talk.wait(Frame, held=("A",), real=False).real
    talk.say(Steer("left_stick", 0, -1))
    talk.wait(Frame, held=("A", "W"), real=False)
    assert (tmp_path / "out").read_text().count("\n") == 2  # A down, and up when the focus came
    talk.say(Withhold(False))
    talk.wait(Frame, held=("W",), real=True)  # the stick acts at once, the button when pressed anew
    talk.close()


def test_paused_nothing_is_sent_and_live_again_sticks_act(stage: Stage) -> None:
    talk = stage.talk()
    talk.say(Steer("left_stick", 0, -1))
    talk.wait_held("W")
    talk.say(SetLive(False))
    talk.wait(Status, live=False)
    talk.wait_held()
    talk.say(SetLive(True))
    talk.wait(Frame, held=("W",), real=True)
    talk.say(Stop())
    wait_until(
        lambda: (
            talk.hear()
            and any((s.code, s.value) == ("W", 0) for m in talk.heard if isinstance(m, Frame) for s in m.sent)
        ),
        "W up",
    )
    talk.close()


def test_another_profile_releases_everything_first(stage: Stage) -> None:
    talk = stage.talk()
    talk.say(Steer("south", 1))
    talk.wait_held("A")
    talk.say(Use(made({"base": {"south": "Z"}}), 5, switch=True))
    talk.wait(Used, edit=5)
    talk.wait_held()
    talk.say(Steer("south", 0))
    talk.say(Steer("south", 1))
    talk.wait_held("Z")
    talk.close()


def test_the_player_plays_and_steering_ends_it(stage: Stage) -> None:
    talk = stage.talk()
    talk.say(Play("ferrow-deep"))
    talk.wait(Status, playing=True)
    talk.wait_held("W")
    talk.say(Steer("south", 1))
    talk.wait(Status, playing=False)
    talk.wait_held("A")
    talk.close()


def test_nonsense_is_refused_and_the_runner_goes_on(stage: Stage) -> None:
    for line in (
        b"music\n",
        b'{"say": "dance"}\n',
        b'{"say": "live", "on": true}\n',
        b'{"say": "hello", "protocol": 99}\n',
    ):
        talk = Talk(stage.socket, greet=False)
        talk.socket.sendall(line)
        assert talk.wait(Refused).text
        assert not talk.hear()
        talk.close()
    talk = stage.talk()
    talk.say(Choose("sim:nothing"))
    assert "no simulated pad" in talk.wait(Notice).text
    talk.close()


def test_a_second_window_is_told_so(stage: Stage) -> None:
    first = stage.talk()
    second = Talk(stage.socket)
    assert "already open" in second.wait(Refused).text
    first.say(Steer("south", 1))
    first.wait_held("A")
    first.close()
    second.close()


def test_a_second_runner_at_the_same_place_says_so(stage: Stage) -> None:
    Talk(stage.socket).close()
    other = RunnerProcess("-", "--socket", str(stage.socket), "--source", "sim:moss", "--sink", "record:/dev/null")
    assert other.wait_end() == 1
    assert any("another runner is running" in line for line in other.said)


def test_quit_and_signals_release_and_remove_the_socket(tmp_path: Path, game: Game) -> None:
    for end in ("quit", "signal"):
        stage = Stage(tmp_path / end, "xtest", owned=True)
        talk = stage.talk()
        already = len(game.words())
        talk.say(Steer("south", 1))
        game.wait(lambda n=already: game.words()[n:] == ["+38"], "A goes down")
        if end == "quit":
            talk.say(Quit())
        else:
            stage.runner.process.send_signal(signal.SIGTERM)
        game.wait(lambda n=already: game.words()[n:] == ["+38", "-38"], "A goes up")
        assert stage.runner.wait_end() == 0  # a signal now would find a program that has ended but for its last breath
        assert not stage.socket.exists()
        talk.close()


def test_when_the_window_dies_nothing_stays_held(x_stage: Stage, game: Game) -> None:
    """A client that is gone without a word: the simulated pad it steered lets go, and the runner it owned ends."""
    talk = x_stage.talk()
    talk.say(Steer("south", 1))
    talk.say(Steer("left_stick", 0, -1))
    game.wait(lambda: game.words() == ["+38", "+25"], "A and W go down")
    talk.close()
    game.wait(lambda: sorted(game.words()[2:]) == ["-25", "-38"], "A and W go up")
    assert x_stage.runner.wait_end() == 0


def test_when_the_server_goes_the_runner_pauses_and_says_so(tmp_path: Path) -> None:
    from pyvirtualdisplay.display import Display

    before = os.environ["DISPLAY"]
    with Display(backend="xvfb", size=(320, 240), manage_global_env=False) as server:
        socket = tmp_path / "s" / "r.sock"
        words = ["-", "--socket", str(socket), "--source", "sim:moss", "--sink", "xtest", "--owned"]
        runner = RunnerProcess(*words, DISPLAY=f":{server.display}")
        talk = Talk(socket)
        talk.say(Use(PROFILE, 1, switch=True))
        talk.wait(Used, edit=1)
    talk.say(Steer("south", 1))
    talk.say(Steer("south", 0))
    assert "Paused: the X server is gone" in talk.wait(Notice, severity="error").text
    assert talk.wait(Status, live=False).sink == "nowhere"
    talk.say(SetLive(True))
    wait_until(lambda: talk.hear() and len([m for m in talk.heard if isinstance(m, Notice)]) > 1, "it says why not")
    assert os.environ["DISPLAY"] == before
    talk.close()
    runner.close()


def test_hello_version(stage: Stage) -> None:
    talk = Talk(stage.socket, greet=False)
    talk.say(Hello(0))
    assert "Restart Nub Shift" in talk.wait(Refused).text
    talk.close()


def test_the_demo_profile_is_taken(stage: Stage, demo: Profile) -> None:
    talk = stage.talk()
    talk.say(Use(demo, 7, switch=True))
    talk.wait(Used, edit=7)
    talk.close()


def test_an_app_that_died_before_it_spoke_leaves_no_runner(tmp_path: Path) -> None:
    with subprocess.Popen([sys.executable, "-c", "input()"], stdin=subprocess.PIPE) as app:
        runner = RunnerProcess(
            "-", "--owned", str(app.pid), "--socket", str(tmp_path / "r.sock"), "--sink", "record:/dev/null"
        )
        runner.wait_said("sending through")
        app.kill()
    assert runner.wait_end() == 0
    late = RunnerProcess(
        "-", "--owned", str(app.pid), "--socket", str(tmp_path / "r.sock"), "--sink", "record:/dev/null"
    )
    assert late.wait_end() == 0
