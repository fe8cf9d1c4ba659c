"""Nub Shift without its window, as real processes: closing, later starts, the tray of the desktop, the end (N63)."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

from nubshift.errors import NubShiftError
from nubshift.model.player_settings import PlayerSettings, write_settings
from nubshift.model.store import ProfileFile
from nubshift.protocol.asking import Asking
from nubshift.protocol.messages import Ask, Status
from nubshift.protocol.paths import profile_folder, settings_path, socket_path
from tests.support.processes import PATIENCE, wait_until
from tests.support.profiles import made

APP = [sys.executable, "-m", "nubshift", "--source", "sim:moss", "--sink", "record:/dev/null"]


def status() -> Status | None:
    try:
        with Asking(socket_path()) as asking:
            told = asking.ask(Ask("status"))
    except NubShiftError:  # nobody is there, or not any more
        return None
    return told if isinstance(told, Status) else None


def windows() -> list[str]:
    """The handles of our windows that are on the screen."""
    asked = ["xdotool", "search", "--onlyvisible", "--name", "– Nub Shift$"]
    return subprocess.run(asked, capture_output=True, text=True, check=False).stdout.split()


@pytest.fixture
def app(own_home: Path) -> Iterator[list[subprocess.Popen[str]]]:
    """The apps that a test started."""
    found: list[subprocess.Popen[str]] = []
    yield found
    for process in found:
        if process.poll() is None:
            process.terminate()
        assert "unexpected error" not in process.communicate(timeout=PATIENCE)[1]


def begin(app: list[subprocess.Popen[str]], *words: str, **settings: object) -> subprocess.Popen[str]:
    if settings:
        write_settings(settings_path(), PlayerSettings(**settings))  # type: ignore[arg-type]
    app.append(subprocess.Popen([*APP, *words], stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True))
    return app[-1]


def close_the_window() -> None:
    """As a click on its cross does."""

    def gone() -> bool:
        for handle in windows():
            subprocess.run(["xdotool", "windowactivate", "--sync", handle, "key", "alt+F4"], check=False, timeout=20)
        return not windows()

    wait_until(gone, "the window is closed", 0.3)


def test_closing_leaves_it_in_the_background_and_a_second_start_brings_it_back(
    app: list[subprocess.Popen[str]], window_manager: None
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
    wait_until(lambda: (told := status()) is not None and told.profile == "other", "it opened what was asked for", 0.1)
    stopped = subprocess.run([sys.executable, "-m", "nubshift", "stop"], check=False, timeout=PATIENCE)
    assert stopped.returncode == 0
    assert first.wait(PATIENCE) == 0
    assert status() is None


def test_where_the_player_wants_it_closing_quits(app: list[subprocess.Popen[str]], window_manager: None) -> None:
    first = begin(app, closing="quit")
    wait_until(lambda: windows() and status() is not None, "the window is there", 0.1)
    close_the_window()
    assert first.wait(PATIENCE) == 0
    wait_until(lambda: status() is None, "the runner ended too", 0.1)


def test_hidden_at_first_it_answers_commands(app: list[subprocess.Popen[str]], window_manager: None) -> None:
    begin(app, "--hidden")
    wait_until(lambda: (told := status()) is not None and told.profile is not None, "it plays", 0.1)
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
    app: list[subprocess.Popen[str]], killed: str, window_manager: None
) -> None:
    first = begin(app, "--hidden")
    wait_until(lambda: (told := status()) is not None and told.profile is not None, "it plays", 0.1)
    children = Path(f"/proc/{first.pid}/task/{first.pid}/children").read_text().split()
    runner = int(children[0])
    for which, pid in (("window", first.pid), ("runner", runner)):
        if killed in (which, "both"):
            os.kill(pid, signal.SIGKILL)
    if killed == "runner":
        wait_until(lambda: (told := status()) is not None and told.profile is not None, "another runner plays", 0.1)
        return
    first.wait(PATIENCE)
    begin(app, "--hidden")
    wait_until(lambda: (told := status()) is not None and told.profile is not None, "it plays again", 0.1)


def test_commands_say_that_nothing_is_running() -> None:
    for word in ("status", "pause", "resume", "stop"):
        done = subprocess.run([sys.executable, "-m", "nubshift", word], capture_output=True, text=True, check=False)
        assert done.returncode == 1
        assert "Nub Shift is not running. Start it with: nubshift" in done.stderr


def test_the_tray_shows_what_is_in_use_and_works(
    app: list[subprocess.Popen[str]], monkeypatch: pytest.MonkeyPatch, window_manager: None
) -> None:
    """The tray of a desktop, on a bus of its own, by the StatusNotifierItem and menu interfaces."""
    bus = subprocess.Popen(
        ["dbus-daemon", "--session", "--nofork", "--print-address=1"], stdout=subprocess.PIPE, text=True
    )
    assert bus.stdout is not None
    address = bus.stdout.readline().strip()
    monkeypatch.setenv("DBUS_SESSION_BUS_ADDRESS", address)
    panel = subprocess.Popen(
        [sys.executable, "-m", "tests.support.tray", address],
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
    wait_until(lambda: (told := status()) is not None and told.profile is not None, "it plays", 0.1)

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


def test_a_game_that_was_started_with_its_profile_outlives_the_window(
    app: list[subprocess.Popen[str]], window_manager: None
) -> None:
    path = profile_folder() / "deep.nubshift.json"
    ProfileFile(path).write(made({"base": {"south": "A"}}))
    words = ["play", "deep", "--source", "sim:moss", "--sink", "record:/dev/null", "--", "sleep", "3000"]
    game = subprocess.Popen([sys.executable, "-m", "nubshift", *words], stderr=subprocess.PIPE, text=True)
    wait_until(lambda: (told := status()) is not None and told.profile == "deep", "the game plays", 0.1)
    window = begin(app)
    wait_until(windows, "the window is there", 0.1)
    window.terminate()
    assert window.wait(PATIENCE) == 0
    assert (told := status()) is not None
    assert told.profile == "deep"
    game.terminate()
    game.communicate(timeout=PATIENCE)
    wait_until(lambda: status() is None, "its runner ended with it", 0.1)
