"""Everything is released before sleep, lock and another user's turn, and comes back after (R12)."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest

from nubshift.model.sends import Toggled
from nubshift.protocol.messages import Status, Steer, Use, Used
from standins.bus import StandIn, stand_in
from standins.client import Talk
from standins.waiting import wait_until
from tests.support.profiles import four, made, sends
from tests.support.runner_process import RunnerProcess

PROFILE = made({"base": {"south": "A", "left_stick": four(), "east": Toggled(sends("L"))}})


class Desk:
    """A private bus with the login service, a runner, and a plain client of it."""

    def __init__(self, login: StandIn, folder: Path) -> None:
        self.told, self.say, self.bus = login.told, login.say, login.bus
        socket = folder / "s" / "runner.sock"
        words = ("-", "--socket", str(socket), "--source", "sim:moss", "--sink", f"record:{folder / 'out'}")
        places = dict.fromkeys(("DBUS_SYSTEM_BUS_ADDRESS", "DBUS_SESSION_BUS_ADDRESS"), login.address)
        self.runner = RunnerProcess(*words, **places)
        self.talk = Talk(socket)
        self.talk.say(Use(PROFILE, 1, switch=True))
        self.talk.wait(Used, edit=1)
        self.told("inhibited")

    def close(self) -> None:
        self.talk.close()
        self.runner.close()


@pytest.fixture
def desk(tmp_path: Path) -> Iterator[Desk]:
    with stand_in("login") as login:
        found = Desk(login, tmp_path)
        yield found
        found.close()


def hold(desk: Desk) -> None:
    desk.talk.say(Steer("left_stick", 0.0, -1.0))
    desk.talk.say(Steer("south", 1.0))
    desk.talk.say(Steer("east", 1.0))
    desk.talk.wait_held("W", "A", "L")


def test_everything_is_released_before_the_machine_sleeps(desk: Desk) -> None:
    hold(desk)
    desk.say("sleep on")
    desk.told("uninhibited")  # only now may it sleep
    status = desk.talk.wait_newest(Status, lambda s: s.withheld)
    assert status.why == "Nothing is sent: the machine is about to sleep."
    sent = (desk.runner.process.pid, [m for m in desk.talk.heard if getattr(m, "held", None) == ()])
    assert sent
    desk.say("sleep off")
    desk.told("inhibited")
    desk.talk.wait_newest(Status, lambda s: not s.withheld)
    desk.talk.wait_held("W")  # the stick acts at once; the button when pressed anew, and the toggle is off
    desk.say("sleep on")
    desk.told("uninhibited")


@pytest.mark.parametrize(("gone", "back"), [("lock on", "lock off"), ("saver on", "saver off")])
def test_a_lock_and_a_screen_saver_release_too(desk: Desk, gone: str, back: str) -> None:
    hold(desk)
    desk.say(gone)
    desk.talk.wait_newest(Status, lambda s: s.withheld)
    desk.talk.wait_held("W")  # what would be sent, told to the window; nothing of it goes out
    desk.say(back)
    desk.talk.wait_newest(Status, lambda s: not s.withheld)


def test_at_another_users_turn_the_controllers_are_let_go_of(desk: Desk) -> None:
    hold(desk)
    desk.say("active off")
    status = desk.talk.wait_newest(Status, lambda s: s.withheld and not s.controller)
    assert "another user" in status.why
    desk.talk.wait_held()
    desk.say("active on")
    desk.talk.wait_newest(Status, lambda s: not s.withheld and s.controller == "sim:moss")
    desk.talk.say(Steer("south", 1.0))
    desk.talk.wait_held("A")


def test_a_bus_that_ends_is_no_end_of_play(desk: Desk) -> None:
    desk.bus.kill()
    desk.bus.wait()
    hold(desk)
    wait_until(lambda: desk.runner.process.poll() is None, "the runner is there")
