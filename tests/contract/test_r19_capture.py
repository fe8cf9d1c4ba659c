"""Contract R19: controls taken from play for the menu on the screen, and given back."""

from __future__ import annotations

from typing import Any

import pytest

from nubshift.model.profile import Seat
from nubshift.model.roles import MenuEntry, MenuRole, MouseRole
from nubshift.model.sends import ChangeLayer, Precision, SendPad, Toggled, Turbo
from tests.support.playing import MS, Desk
from tests.support.profiles import four, made, sends

STOPS: dict[str, Any] = {
    "a press": "A",
    "a chord": ["LEFTSHIFT", "A"],
    "a hold that waits": {"hold": "A"},
    "a tap": {"tap": "A"},
    "a release": {"release": "A"},
    "a double tap": {"tap": "A", "double": "D"},
    "turbo": Turbo(sends("A"), rate=5),
    "a button of the pad": SendPad("south"),
    "a held layer": ">aim",
    "slower": Precision(0.5),
}


@pytest.mark.parametrize("kind", STOPS)
def test_a_press_ends_at_once_and_sends_nothing_at_its_end(kind: str) -> None:
    desk = Desk(made({"base": {"south": STOPS[kind]}, "aim": {"east": "E"}}))
    desk.at(0, south=1)
    desk.to(50 * MS)
    sent = desk.capture(50 * MS)
    assert not [word for word in sent if word.startswith("+")]
    assert desk.engine.held == ()
    assert desk.engine.pad == {}
    assert desk.engine.active_layers == ()
    assert desk.to(2000 * MS) == []
    assert desk.engine.next_deadline is None


def test_a_tap_that_waits_for_a_second_press_is_not_sent() -> None:
    desk = Desk(made({"base": {"south": {"tap": "A", "double": "D"}}}))
    desk.play("0 south 50 -south")
    assert desk.capture(100 * MS) == []
    assert desk.to(2000 * MS) == []


def test_members_of_a_combination_that_wait_do_not_act_and_one_that_is_down_ends() -> None:
    profile = made({"base": {"south": "A", "east": "B"}}, together={"base": {"south east": "C"}})
    desk = Desk(profile)
    desk.at(0, south=1)
    assert desk.capture(10 * MS) == []
    assert desk.to(2000 * MS) == []
    desk = Desk(profile)
    desk.at(0, south=1, east=1)
    assert desk.engine.held == ("C",)
    assert desk.capture(10 * MS) == ["-C"]


def test_all_that_is_held_goes_up_newest_first_over_buttons_and_sticks() -> None:
    desk = Desk(made({"base": {"south": "A", "left_stick": four(), "east": "B"}}))
    desk.at(0, south=1)
    desk.at(1, left_stick=(0.0, -1.0))
    desk.at(2, east=1)
    assert desk.capture(3) == ["-B", "-W", "-A"]


def test_a_stick_moves_the_mouse_no_more_and_a_menu_sends_nothing() -> None:
    menu = MenuRole((MenuEntry(sends("1")), MenuEntry(sends("2"))), on="return")
    desk = Desk(made({"base": {"right_stick": MouseRole(), "left_stick": menu}}))
    desk.at(0, right_stick=(1.0, 0.0), left_stick=(0.0, -1.0))
    desk.to(100 * MS)
    assert desk.engine.surfaces[0].cell == 0
    desk.capture(100 * MS)
    assert desk.engine.surfaces[0].cell == -1
    moved = desk.to(1000 * MS)
    assert len(moved) <= 1, "what was gathered goes with the next tick, then nothing"


def test_what_the_player_switched_on_goes_on() -> None:
    desk = Desk(
        made({"base": {"south": Toggled(sends("A")), "east": ChangeLayer("aim", "toggle")}, "aim": {"north": "N"}})
    )
    desk.at(0, south=1)
    desk.at(1, south=0)
    desk.at(2, east=1)
    assert desk.capture(3) == []
    assert desk.engine.held == ("A",)
    assert desk.engine.active_layers == ("aim",)
    desk.give_back(4)
    assert desk.at(5, south=1) == ["-A"]


def test_given_back_sticks_act_at_once_and_a_button_that_is_down_when_pressed_anew() -> None:
    desk = Desk(made({"base": {"south": "A", "left_stick": four()}}))
    desk.capture(0)
    assert desk.give_back(10, south=1.0, left_stick=(0.0, -1.0)) == ["+W"]
    assert desk.at(11, south=0) == []
    assert desk.at(12, south=1) == ["+A"]


def test_the_other_seats_play_on() -> None:
    profile = made({"base": {"south": "A", "2:south": "B"}}, seats=(Seat("1"), Seat("2")))
    desk = Desk(profile)
    desk.at(0, south=1)
    desk.at(1, seat="2", south=1)
    assert desk.capture(2) == ["-A"]
    assert desk.engine.held == ("B",)


def test_a_stop_while_captured_leaves_nothing_to_act() -> None:
    desk = Desk(made({"base": {"left_stick": four()}}))
    desk.at(0, left_stick=(0.0, -1.0))
    desk.capture(1)
    desk.stop(2)
    assert desk.resume(3) == []
    assert desk.give_back(4, left_stick=(0.0, -1.0)) == ["+W"]
