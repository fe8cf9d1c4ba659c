"""A runner and the Wayland session around it: there later than the runner, gone, and there again (N61, N64)."""

from __future__ import annotations

from pathlib import Path

import pytest

from nubshift.model.automatic import write_automatic
from nubshift.protocol.messages import Notice, SetLive, Shown, Status, Steer
from nubshift.protocol.paths import automatic_path
from standins.client import Talk
from standins.wayland_session import Compositor, WaylandGame
from tests.runner.test_automatic import by_class, saved
from tests.support.runner_process import RunnerProcess


@pytest.fixture
def session(wayland: Compositor, own_home: Path, monkeypatch: pytest.MonkeyPatch) -> Compositor:
    """Nobody says where it is: its socket stands in the runtime folder."""
    for name in ("DISPLAY", "WAYLAND_DISPLAY", "SWAYSOCK"):
        monkeypatch.delenv(name, raising=False)
    (own_home / "run" / "wayland-1").symlink_to(wayland.address)
    saved("deep", "Ferrow Deep", "D")
    return wayland


def test_a_compositor_that_comes_later_goes_and_comes_again_is_found(session: Compositor, tmp_path: Path) -> None:
    session.end()
    write_automatic(automatic_path(), by_class(deep="ferrow"))
    socket = tmp_path / "run" / "r.sock"
    runner = RunnerProcess("auto", "--socket", str(socket), "--source", "sim:moss", "--sink", "record:/dev/null")
    talk = Talk(socket)
    talk.say(Shown(False))
    talk.wait_newest(Status, lambda status: status.profile is None)
    for _unused in range(2):
        session.restart()
        game = WaylandGame(session, "ferrow", "Ferrow Deep")
        talk.wait_newest(Status, lambda status: status.profile == "deep")
        session.end()
        game.close()
        talk.wait_newest(Status, lambda status: status.profile is None)
    talk.close()
    runner.close()


def test_a_compositor_that_is_sent_through_is_gone_and_there_again(session: Compositor, tmp_path: Path) -> None:
    """It pauses, says so, and sends again once it is told to go live; what was held is not sent twice."""
    socket = tmp_path / "run" / "r.sock"
    words = ("--owned", "--socket", str(socket), "--source", "sim:moss", "--sink", "wayland")
    runner = RunnerProcess(str(tmp_path / "data/nubshift/profiles/deep.nubshift.json"), *words)
    talk = Talk(socket)
    talk.wait(Status)
    game = WaylandGame(session)
    talk.say(Steer("south", 1.0))
    game.wait(lambda: game.words() == ["+40"], "D is down")
    session.end()
    game.close()
    assert talk.wait(Notice, severity="error").text == "Paused: the Wayland compositor is gone."
    session.restart()
    other = WaylandGame(session)
    talk.say(Steer("south", 0.0))
    talk.say(SetLive(True))
    talk.wait_newest(Status, lambda status: status.live and status.sink == "wayland")
    talk.say(Steer("south", 1.0))
    other.wait(lambda: other.words() == ["+40"], "D is down once more, and nothing else")
    talk.say(Steer("south", 0.0))
    other.wait(lambda: other.words() == ["+40", "-40"], "and up")
    other.close()
    talk.close()
    runner.close()
