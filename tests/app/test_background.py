"""Nub Shift without its window, as real processes: closing, later starts, the tray of the desktop, the end (N63)."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
from pathlib import Path

import pytest

from nubshift.model.store import ProfileFile
from nubshift.protocol.paths import profile_folder
from standins.client import runner_pid, status, wait_playing
from standins.waiting import PATIENCE, wait_until
from tests.app.program import Process, begin, windows
from tests.support.profiles import made


def close_the_window() -> None:
    """As a click on its cross does."""

    def gone() -> bool:
        for handle in windows():
            subprocess.run(["xdotool", "windowactivate", "--sync", handle, "key", "alt+F4"], check=False, timeout=20)
        return not windows()

    wait_until(gone, "the window is closed", 0.3)


def test_closing_leaves_it_in_the_background_and_a_second_start_brings_it_back(
    app: list[Process], window_manager: None
) -> None:
    first = begin(app, told_background=True)
    wait_until(lambda: windows() and status() is not None, "the window is there", 0.1)
    close_the_window()
    assert first.poll() is None
    assert status() is not None
    path = profile_folder() / "other.nubshift.json"
    ProfileFile(path).write(made({"base": {"south": "A"}}))
    second = begin(app, "other")
    assert second.wait(PATIENCE) == 0
    wait_until(windows, "the window is there again", 0.1)
    wait_playing("other")
    stopped = subprocess.run([sys.executable, "-m", "nubshift", "stop"], check=False, timeout=PATIENCE)
    assert stopped.returncode == 0
    assert first.wait(PATIENCE) == 0
    assert status() is None


def test_where_the_player_wants_it_closing_quits(app: list[Process], window_manager: None) -> None:
    first = begin(app, closing="quit")
    wait_until(lambda: windows() and status() is not None, "the window is there", 0.1)
    close_the_window()
    assert first.wait(PATIENCE) == 0
    wait_until(lambda: status() is None, "the runner ended too", 0.1)


def test_hidden_at_first_it_answers_commands(app: list[Process], window_manager: None) -> None:
    begin(app, "--hidden")
    wait_playing()
    assert not windows()

    def command(*words: str) -> str:
        done = subprocess.run(
            [sys.executable, "-m", "nubshift", *words], capture_output=True, text=True, check=True, timeout=PATIENCE
        )
        return done.stdout

    command("pause")
    assert json.loads(command("status", "--json"))["paused"]
    assert "nubshift resume" in command("status")
    command("resume")
    command("use", "saltbarrow")
    told = json.loads(command("status", "--json"))
    assert (told["kept"], told["why"]) == ("saltbarrow", "You chose to stay on Saltbarrow.")
    command("use", "auto")
    wrong = subprocess.run(
        [sys.executable, "-m", "nubshift", "use", "salty"], capture_output=True, text=True, check=False
    )
    assert wrong.returncode == 1
    assert 'no profile "salty"' in wrong.stderr


@pytest.mark.parametrize("killed", ["window", "runner", "both"])
def test_killed_in_the_background_the_next_start_finds_its_way(
    app: list[Process], killed: str, window_manager: None
) -> None:
    first = begin(app, "--hidden")
    wait_playing()
    runner = runner_pid()
    for which, pid in (("window", first.pid), ("runner", runner)):
        if killed in (which, "both"):
            os.kill(pid, signal.SIGKILL)
    if killed == "runner":
        wait_playing()
        return
    first.wait(PATIENCE)
    begin(app, "--hidden")
    wait_playing()


def test_commands_say_that_nothing_is_running() -> None:
    for word in ("status", "pause", "resume", "stop"):
        done = subprocess.run([sys.executable, "-m", "nubshift", word], capture_output=True, text=True, check=False)
        assert done.returncode == 1
        assert "Nub Shift is not running. Start it with: nubshift" in done.stderr


def test_the_tray_shows_what_is_in_use_and_works(
    app: list[Process], monkeypatch: pytest.MonkeyPatch, window_manager: None
) -> None:
    """The tray of a desktop, on a bus of its own, by the StatusNotifierItem and menu interfaces."""
    bus = subprocess.Popen(
        ["dbus-daemon", "--session", "--nofork", "--print-address=1"], stdout=subprocess.PIPE, text=True
    )
    assert bus.stdout is not None
    address = bus.stdout.readline().strip()
    monkeypatch.setenv("DBUS_SESSION_BUS_ADDRESS", address)
    panel = subprocess.Popen(
        [sys.executable, "-m", "standins.tray", address],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        text=True,
        cwd=Path(__file__).parents[2],
    )
    assert panel.stdout is not None
    assert panel.stdin is not None
    assert panel.stdout.readline() == "ready\n"
    first = begin(app, "--hidden")
    assert panel.stdout.readline() == "item\n"
    wait_playing()

    def say(word: str) -> None:
        assert panel.stdin is not None
        panel.stdin.write(f"{word}\n")
        panel.stdin.flush()

    def shows(word: str) -> bool:
        assert panel.stdout is not None
        say("tell")
        return word in json.loads(panel.stdout.readline())

    wait_until(lambda: shows("Nub Shift: Ferrow Deep"), "the tray names the profile", 0.1)
    assert shows("Ferrow Deep is used because it is open in Nub Shift.")
    assert shows("Profile in use")
    say("Pause")
    wait_until(lambda: (told := status()) is not None and not told.live, "it is paused", 0.1)
    wait_until(lambda: shows("Resume"), "the tray offers to resume", 0.1)
    say("Open Nub Shift")
    wait_until(windows, "the window is there", 0.1)
    say("Quit")
    assert first.wait(PATIENCE) == 0
    for process in (panel, bus):
        process.kill()
        process.wait()
        for stream in (process.stdin, process.stdout):
            if stream is not None:
                stream.close()


def test_a_game_that_was_started_with_its_profile_outlives_the_window(app: list[Process], window_manager: None) -> None:
    path = profile_folder() / "deep.nubshift.json"
    ProfileFile(path).write(made({"base": {"south": "A"}}))
    words = ["play", "deep", "--source", "sim:moss", "--sink", "record:/dev/null", "--", "sleep", "3000"]
    game = subprocess.Popen([sys.executable, "-m", "nubshift", *words], stderr=subprocess.PIPE, text=True)
    wait_playing("deep")
    window = begin(app)
    wait_until(windows, "the window is there", 0.1)
    window.terminate()
    assert window.wait(PATIENCE) == 0
    assert (told := status()) is not None
    assert told.profile == "deep"
    game.terminate()
    game.communicate(timeout=PATIENCE)
    wait_until(lambda: status() is None, "its runner ended with it", 0.1)
