"""``nubshift play``: a game with its profile, its whole family followed, and everything ended with it (N61)."""

from __future__ import annotations

import os
import signal
import socket
import subprocess
import sys
import threading
from collections.abc import Iterator
from pathlib import Path

import pytest
from msgspec.structs import replace

from nubshift.model.store import ProfileFile
from nubshift.protocol.asking import Asking, NotRunning
from nubshift.protocol.messages import Ask, Status
from nubshift.protocol.paths import profile_folder, socket_path
from standins.waiting import PATIENCE, wait_until
from tests.support.profiles import made
from tests.support.runner_process import RunnerProcess

PLAY = [sys.executable, "-m", "nubshift", "play", "deep", "--source", "sim:moss", "--sink", "record:/dev/null", "--"]


@pytest.fixture(autouse=True)
def profile() -> None:
    made_up = made({"base": {"south": "D"}})
    ProfileFile(profile_folder() / "deep.nubshift.json").write(
        replace(made_up, game=replace(made_up.game, title="Ferrow Deep"))
    )


@pytest.fixture
def runner() -> Iterator[RunnerProcess]:
    found = RunnerProcess("auto", "--socket", str(socket_path()), "--source", "sim:moss", "--sink", "record:/dev/null")
    wait_until(lambda: status() is not None, "the runner answers", 0.05)
    yield found
    found.close()


def status() -> Status | None:
    try:
        with Asking(socket_path()) as asking:
            told = asking.ask(Ask("status"))
    except NotRunning:
        return None
    assert isinstance(told, Status)
    return told


def play(*words: str) -> subprocess.Popen[str]:
    return subprocess.Popen([*PLAY, *words], stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)


def with_profile() -> bool:
    told = status()
    return told is not None and told.profile == "deep" and told.cause == "launched"


def test_a_runner_that_is_just_ending_counts_as_none(tmp_path: Path) -> None:
    with socket.socket(socket.AF_UNIX, socket.SOCK_STREAM) as ending:
        ending.bind(str(tmp_path / "s"))
        ending.listen()
        answers = threading.Thread(target=lambda: ending.accept()[0].close())
        answers.start()
        with pytest.raises(NotRunning, match="ended before it answered"):
            Asking(tmp_path / "s")
        answers.join()


def test_it_returns_the_exit_code_of_the_game_and_the_runner_ends_with_it() -> None:
    game = play("sh", "-c", "exit 37")
    assert game.wait(PATIENCE) == 37
    wait_until(lambda: status() is None, "the runner that was started for it ended", 0.05)
    game.communicate()


def test_the_profile_is_used_until_the_last_descendant_is_gone(runner: RunnerProcess, tmp_path: Path) -> None:
    go = tmp_path / "go"
    script = f"(setsid sh -c 'while [ ! -e {go} ]; do sleep 0.05; done' &) ; exit 5"
    game = play("sh", "-c", script)
    wait_until(with_profile, "the profile is used", 0.05)
    assert game.poll() is None  # the first process is long gone, its grandchild is not
    go.touch()
    assert game.wait(PATIENCE) == 5
    wait_until(lambda: (told := status()) is not None and told.profile is None, "the profile has gone", 0.05)
    game.communicate()


def test_a_runner_that_is_started_anew_knows_of_the_game(runner: RunnerProcess) -> None:
    game = play("sleep", "3000")
    wait_until(with_profile, "the game is known", 0.05)
    runner.process.kill()
    runner.process.wait()
    again = RunnerProcess("auto", "--socket", str(socket_path()), "--source", "sim:moss", "--sink", "record:/dev/null")
    wait_until(with_profile, "the next runner knows of it", 0.05)
    game.terminate()
    assert game.wait(PATIENCE) == 128 + signal.SIGTERM
    game.communicate()
    again.close()


def test_signals_reach_the_game(runner: RunnerProcess) -> None:
    game = play("sh", "-c", "trap 'exit 9' TERM; echo ready; while :; do sleep 0.05; done")
    assert game.stdout is not None
    assert game.stdout.readline() == "ready\n"
    game.send_signal(signal.SIGTERM)
    assert game.wait(PATIENCE) == 9
    game.communicate()


def test_a_game_that_a_signal_ends_is_told_as_a_shell_does(runner: RunnerProcess) -> None:
    game = play("sh", "-c", "kill -KILL $$")
    assert game.wait(PATIENCE) == 128 + signal.SIGKILL
    game.communicate()


def test_a_second_game_is_refused_with_the_reason(runner: RunnerProcess) -> None:
    first = play("sleep", "3000")
    wait_until(with_profile, "the profile is used", 0.05)
    second = play("true")
    assert second.wait(PATIENCE) == 1
    said = second.communicate()[1]
    assert f"started with deep is still running (process {first.pid})" in said
    first.send_signal(signal.SIGTERM)
    assert first.wait(PATIENCE) == 128 + signal.SIGTERM
    first.communicate()


def test_killed_it_takes_its_profile_along(runner: RunnerProcess) -> None:
    game = play("sleep", "3017")
    wait_until(with_profile, "the profile is used", 0.05)
    game.kill()
    wait_until(lambda: (told := status()) is not None and told.profile is None, "the profile has gone", 0.05)
    subprocess.run(["pkill", "-f", "^sleep 3017$"], check=True)  # what it started is no child of ours
    game.communicate()


@pytest.mark.parametrize(
    ("words", "code", "said"),
    [
        (["/nowhere/game"], 127, "/nowhere/game can't be started"),
        ([os.devnull], 126, "can't be started"),
        ([], 1, "nubshift play PROFILE -- COMMAND"),
    ],
)
def test_what_can_not_be_started_is_said(runner: RunnerProcess, words: list[str], code: int, said: str) -> None:
    game = play(*words)
    assert game.wait(PATIENCE) == code
    assert said in game.communicate()[1]


def test_options_of_the_game_stay_its_own(runner: RunnerProcess) -> None:
    game = play("sh", "-c", 'echo "$@"', "sh", "--source", "x", "--", "-y")
    assert game.communicate(timeout=PATIENCE)[0] == "--source x -- -y\n"
