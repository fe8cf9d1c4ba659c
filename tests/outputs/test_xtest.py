"""XTEST into a real window, and the guard that lets go when the runner dies."""

from __future__ import annotations

import os
import select
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest
import xcffib
import xcffib.xproto

from nubshift.events import Button, Key, Motion, Point, Wheel
from nubshift.model.writing import profile_text
from nubshift.outputs.port import Sink
from nubshift.outputs.x11 import XTest
from nubshift.outputs.xtest import XTestChannel
from nubshift.protocol.paths import demo_folder
from standins.game import Game
from standins.waiting import PATIENCE, wait_until
from tests.support.profiles import four, made
from tests.support.runner_process import RunnerProcess


class _Keyboard:
    """What is down in the X session, and whom its server knows."""

    def __init__(self) -> None:
        self._connection = xcffib.connect()

    def knows(self, client: int) -> bool:
        """Whether the server still has the connection of which this is a resource."""
        try:
            self._connection.core.GetGeometry(client).reply()
        except xcffib.Error:
            return False
        return True

    def down(self) -> int:
        return sum(byte.bit_count() for byte in bytes(self._connection.core.QueryKeymap().reply().keys))


def take(path: Path, *lines: str) -> Path:
    path.write_text("\n".join(["nubshift-take 1", *lines]) + "\n")
    return path


def test_keys_buttons_and_every_count_of_motion_arrive_in_order(game: Game) -> None:
    sink = Sink(XTestChannel())
    sink.send([Key(0, "LEFTSHIFT", 1), Key(0, "A", 1), Button(0, "BTN_RIGHT", 1)], 0)
    for index in range(100):
        sink.send([Motion(0, 2 if index % 2 else -1, 1)], 0)
    sink.send([Key(0, "A", 0), Button(0, "BTN_RIGHT", 0), Key(0, "LEFTSHIFT", 0)], 0)
    wanted = ["+50", "+38", "+b3", "-38", "-b3", "-50"]
    game.wait(lambda: game.words() == wanted, f"{wanted} arrive")
    game.wait(lambda: game.moved() == (50, 100), "the pointer moved by the sum of all counts")
    sink.close()


def test_closing_releases_what_is_held(game: Game) -> None:
    sink = Sink(XTestChannel())
    sink.send([Key(0, "A", 1)], 0)
    game.wait(lambda: game.words() == ["+38"], "A goes down")
    sink.close()
    game.wait(lambda: game.words() == ["+38", "-38"], "A goes up")


def test_who_releases_waits_for_all_that_the_killed_one_has_sent(game: Game, monkeypatch: pytest.MonkeyPatch) -> None:
    """Else the server may do the last press after the release, and the key stays down for good: once in some hundred
    kills it did."""
    keyboard, one, other = _Keyboard(), XTest(), XTest()
    waits: list[float] = []

    def pass_time(seconds: float) -> None:
        waits.append(seconds)
        if len(waits) == 3:
            one.key(40, True)
            one.flush()
            one.close()

    monkeypatch.setattr(time, "sleep", pass_time)
    other.outlast(one.client, os.getpid())
    assert len(waits) >= 3
    assert not keyboard.knows(one.client)
    other.key(40, False)
    other.sync()
    assert not keyboard.down()
    other.close()


def test_what_went_up_is_noted_until_the_server_has_surely_read_it(game: Game, monkeypatch: pytest.MonkeyPatch) -> None:
    """A server throws away what it has not read of one that is gone, releases too."""
    channel = XTestChannel()
    channel.write([Key(0, "A", 1)])
    assert (channel._notes.down, len(channel._notes.held)) == (1, 1)
    channel.write([Key(0, "A", 0)])
    assert (channel._notes.down, len(channel._notes.held)) == (0, 1)
    later = time.monotonic() + 1.0
    monkeypatch.setattr(time, "monotonic", lambda: later)
    channel.write([Motion(0, 1, 0)])
    assert channel._notes.held == []
    channel.close()


def test_the_connection_of_another_process_is_not_waited_for(game: Game, monkeypatch: pytest.MonkeyPatch) -> None:
    """Its number may have been given to it after the one that is gone."""
    monkeypatch.setattr(time, "sleep", lambda _seconds: pytest.fail("it waits"))
    one, other = XTest(), XTest()
    other.outlast(one.client, os.getpid() + 1)
    one.close()
    other.close()


def test_a_killed_runner_leaves_nothing_held(game: Game, tmp_path: Path) -> None:
    profile = tmp_path / "p.nubshift.json"
    profile.write_bytes(profile_text(made({"base": {"south": ["LEFTSHIFT", "BTN_LEFT"], "left_stick": four()}})))
    source = take(tmp_path / "a.take", "0 south=1 left_stick=0,-1")
    runner = RunnerProcess(str(profile), "--source", f"take:{source}", "--sink", "xtest")
    game.wait(lambda: sorted(game.words()) == ["+25", "+50", "+b1"], "shift, the mouse button and W go down")
    runner.process.send_signal(signal.SIGKILL)
    game.wait(lambda: sorted(game.words())[3:] == ["-25", "-50", "-b1"], "all three go up")
    runner.close()
    wait_until(lambda: not guards(), "the guard ends too")


def test_a_killed_guard_is_replaced(game: Game) -> None:
    channel = XTestChannel()
    first = channel.guard_pid
    os.kill(first, signal.SIGKILL)
    assert select.select(channel.filenos(), [], [], PATIENCE)[0], "the end of the guard is heard"
    channel.hear(0)
    assert channel.guard_pid != first
    channel.write([Key(0, "A", 1)])
    channel.close()
    game.wait(lambda: game.words() == ["+38", "-38"], "the new guard releases A")


@pytest.mark.parametrize("first", ["runner", "guard", "guard, then the runner a moment later"])
def test_what_a_killed_runner_and_its_killed_guard_left_down_is_released_by_the_next(
    first: str, game: Game, tmp_path: Path
) -> None:
    profile = tmp_path / "p.nubshift.json"
    profile.write_bytes(profile_text(made({"base": {"south": ["LEFTSHIFT", "BTN_LEFT"], "left_stick": four()}})))
    source = take(tmp_path / "a.take", "0 south=1 left_stick=0,-1")
    wait_until(lambda: not guards(), "the guards of the tests before have ended")
    words = (str(profile), "--source", f"take:{source}", "--sink", "xtest")
    runner = RunnerProcess(*words, XDG_RUNTIME_DIR=str(tmp_path))
    try:
        game.wait(lambda: sorted(game.words()) == ["+25", "+50", "+b1"], "shift, the mouse button and W go down")
        (guard,) = guards()
        if first == "runner":
            os.kill(runner.process.pid, signal.SIGSTOP)  # both are gone before either can do anything
            os.kill(int(guard), signal.SIGSTOP)
            os.kill(runner.process.pid, signal.SIGKILL)
            os.kill(int(guard), signal.SIGKILL)
        else:
            if first != "guard":
                os.kill(int(guard), signal.SIGKILL)
                wait_until(lambda: set(guards()) - {guard}, "another guard is there")
            os.kill(runner.process.pid, signal.SIGSTOP)  # before it can start one more
            for each in guards():
                os.kill(int(each), signal.SIGKILL)
            os.kill(runner.process.pid, signal.SIGKILL)
    finally:
        runner.process.kill()  # it holds keys down, which would be another test's
        runner.wait_end()
    wait_until(lambda: not guards(), "nobody is left")
    assert sorted(game.words()) == ["+25", "+50", "+b1"]
    other = RunnerProcess(
        "-",
        "--source",
        f"take:{take(tmp_path / 'b.take', '0 east=0')}",
        "--sink",
        "xtest",
        XDG_RUNTIME_DIR=str(tmp_path),
    )
    game.wait(lambda: sorted(game.words())[3:] == ["-25", "-50", "-b1"], "the next runner lets go of all three")
    other.close()


def test_two_runners_in_one_session_do_not_release_what_the_other_holds(game: Game, tmp_path: Path) -> None:
    one, two = XTestChannel(folder=tmp_path), XTestChannel(folder=tmp_path)
    one.write([Key(0, "A", 1)])
    three = XTestChannel(folder=tmp_path)
    assert (two.freed, three.freed) == (0, 0)
    for channel in (two, three, one):
        channel.close()
    game.wait(lambda: game.words() == ["+38", "-38"], "A goes up with the one that held it")


def guards() -> list[str]:
    """The guards at work on our display; on others there are those of other tests."""
    display = f"DISPLAY={os.environ['DISPLAY']}".encode()
    found = []
    for entry in Path("/proc").glob("[0-9]*/cmdline"):
        try:
            words, names = entry.read_bytes(), entry.with_name("environ").read_bytes().split(b"\0")
        except OSError:
            continue
        if b"nubshift.outputs.guard" in words and display in names:
            found.append(entry.parent.name)
    return found


def test_the_demo_from_player_to_window(game: Game) -> None:
    """The whole chain: simulated pad, script, engine, XTEST, another program. Runs the first six seconds."""
    profile = demo_folder() / "ferrow-deep.nubshift.json"
    runner = RunnerProcess(str(profile), "--source", "sim:moss:ferrow-deep", "--sink", "xtest", "--for", "6")
    assert runner.process.wait(120) == 0
    runner.close()
    keys = game.words()
    wanted = [
        "+25",
        "+50",
        "+65",
        "-65",
        "-50",
        "+40",
        "+46",
        "-46",
    ]  # walk, run, hop, turn right, lantern till the end
    rest = iter(keys)
    assert all(word in rest for word in wanted), keys
    assert keys.count("+25") == keys.count("-25")
    assert game.moved()[0] != 0


def test_without_a_server_it_says_so() -> None:
    code = "from nubshift.outputs.x11 import XTest\ntry:\n    XTest()\nexcept Exception as e:\n    print(type(e).__name__, e)"
    done = subprocess.run(
        [sys.executable, "-c", code], env=os.environ | {"DISPLAY": ":9876"}, capture_output=True, text=True, check=True
    )
    assert done.stdout.startswith("SinkError the X server does not respond")


@pytest.mark.parametrize("sink", ["xtest", "auto"])
def test_the_runner_says_what_is_missing(sink: str, tmp_path: Path) -> None:
    environment = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY")}
    done = subprocess.run(
        [sys.executable, "-m", "nubshift", "run", "-", "--sink", sink],
        env=environment,
        capture_output=True,
        text=True,
        check=False,
    )
    if sink == "auto" and os.access("/dev/uinput", os.W_OK):
        pytest.skip("this machine has uinput")
    assert done.returncode == 1
    assert "Traceback" not in done.stderr
    assert "X" in done.stderr


def test_notches_arrive_as_wheel_buttons_and_parts_of_one_are_gathered(game: Game) -> None:
    sink = Sink(XTestChannel())
    sink.send([Wheel(0, 0, 120), Wheel(1, 120, 0)], 0)
    for _ in range(6):
        sink.send([Wheel(2, 0, -40)], 2)
    wanted = ["+b4", "-b4", "+b7", "-b7", "+b5", "-b5", "+b5", "-b5"]
    game.wait(lambda: game.words() == wanted, f"{wanted} arrive")
    sink.close()


def test_points_put_the_pointer_on_the_screen_and_in_the_window(game: Game) -> None:
    sink = Sink(XTestChannel())
    assert sink.prepare("none", True) == ""
    assert "uinput" in sink.prepare("full", False)
    x = XTest()
    for point, wanted in (
        (Point(0, 0.0, 0.0), (0, 0)),
        (Point(1, 1.0, 1.0), (1279, 799)),
        (Point(2, 0.5, 0.25), (640, 200)),
    ):
        sink.send([point], 0)
        wait_until(lambda wanted=wanted: x.pointer() == wanted, f"the pointer is at {wanted}")
    sink.send([Point(3, 0.0, 0.0, window=True)], 0)
    corner = x.pointer
    wait_until(lambda: corner() != (640, 200), "the pointer is in the window")
    left, top = corner()
    sink.send([Point(4, 1.0, 1.0, window=True)], 0)
    wait_until(lambda: corner()[0] > left and corner()[1] > top, "the pointer is at its other corner")
    x.close()
    sink.close()
