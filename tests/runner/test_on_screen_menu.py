"""The menu on the screen as the runner has it: what the controls mean, and who gets them back (contract R19, N61)."""

from __future__ import annotations

from collections.abc import Callable

import pytest

from nubshift.model.player_settings import PlayerSettings
from nubshift.protocol.messages import Choose, CloseMenu, MenuDoes, Steer, Stop
from nubshift.runner.menu_acts import AGAIN, WAIT, MenuActs
from standins.client import Talk
from tests.runner.test_stopping import start

__all__ = ["start"]
QUICK = PlayerSettings(menu_controls=("mode",), menu_hold=0)


def opened(talk: Talk) -> None:
    talk.say(Steer("mode", 1.0))
    talk.wait(MenuDoes, act="open")
    talk.say(Steer("mode", 0.0))


def acts(talk: Talk) -> list[str]:
    return [message.act for message in talk.heard if isinstance(message, MenuDoes)]


def test_what_it_is_worked_with_is_not_played_until_it_is_closed(start: Callable[[PlayerSettings], Talk]) -> None:
    talk = start(QUICK)
    talk.say(Steer("south", 1.0))
    talk.wait_held("A")
    opened(talk)
    talk.wait_held()
    talk.say(Steer("south", 0.0))
    talk.say(Steer("south", 1.0))
    talk.wait(MenuDoes, act="choose")
    talk.say(CloseMenu())
    talk.wait(MenuDoes, act="close")
    talk.say(Steer("south", 0.0))
    talk.say(Steer("south", 1.0))
    talk.wait_held("A")
    assert acts(talk) == ["open", "choose", "close"]


def test_the_controls_that_open_it_end_it_whatever_the_window_does(start: Callable[[PlayerSettings], Talk]) -> None:
    talk = start(QUICK)
    opened(talk)
    talk.say(Steer("mode", 1.0))
    talk.wait(MenuDoes, act="close")
    talk.say(Steer("south", 1.0))
    talk.wait_held("A")


def test_a_window_that_dies_gives_the_controls_back(start: Callable[[PlayerSettings], Talk]) -> None:
    talk = start(QUICK)
    opened(talk)
    talk.socket.close()
    again = Talk(talk.path)
    again.say(Stop())
    again.say(Steer("south", 1.0))
    again.wait_held("A")
    again.close()


def test_what_was_held_while_nobody_looked_opens_nothing_later(start: Callable[[PlayerSettings], Talk]) -> None:
    talk = start(PlayerSettings(menu_controls=("mode",), menu_hold=300))
    talk.say(Steer("mode", 1.0))
    talk.say(Choose("sim:burr", "1"))  # whoever held it is gone
    talk.say(Steer("south", 1.0))
    talk.wait_held("A")
    talk.say(Steer("south", 0.0))
    talk.wait_held()
    talk.say(Steer("mode", 1.0))
    talk.wait(MenuDoes, act="open")
    assert acts(talk) == ["open"]


def test_a_controller_that_leaves_closes_it(start: Callable[[PlayerSettings], Talk]) -> None:
    talk = start(QUICK)
    opened(talk)
    talk.say(Choose("sim:burr", "1"))
    talk.wait(MenuDoes, act="close")
    talk.say(Steer("south", 1.0))
    talk.wait_held("A")


@pytest.mark.parametrize(
    ("control", "x", "y", "act"),
    [
        ("dpad_up", 1, 0, "up"),
        ("dpad_right", 1, 0, "right"),
        ("left_stick", 0, 0.9, "down"),
        ("right_stick", -0.9, 0.2, "left"),
        ("south", 1, 0, "choose"),
        ("east", 1, 0, "back"),
    ],
)
def test_what_controls_mean(control: str, x: float, y: float, act: str) -> None:
    menu = MenuActs(())
    assert menu.take([(control, x, y)], 0) == [act]
    assert menu.take([(control, x, y)], 1) == []
    assert menu.take([(control, 0.0, 0.0)], 2) == []
    assert menu.take([(control, x, y)], 3) == [act]


def test_a_direction_that_is_held_acts_again_and_nothing_else_does() -> None:
    menu = MenuActs(())
    menu.take([("dpad_down", 1.0, 0.0)], 0)
    assert menu.next_deadline == WAIT
    assert menu.repeat(WAIT - 1) == []
    assert menu.repeat(WAIT) == ["down"]
    assert menu.next_deadline == WAIT + AGAIN
    menu.take([("dpad_down", 0.0, 0.0)], WAIT + 5)
    assert menu.next_deadline is None
    menu.take([("south", 1.0, 0.0)], WAIT + 6)
    assert menu.next_deadline is None


def test_what_is_held_as_it_opens_counts_when_pressed_anew_and_noise_of_a_stick_is_nothing() -> None:
    menu = MenuActs([("south", 1.0, 0.0), ("left_stick", 0.0, 1.0)])
    assert menu.next_deadline is None
    assert menu.take([("south", 1.0, 0.0), ("left_stick", 0.05, 0.5)], 1) == []
    assert menu.take([("south", 0.0, 0.0), ("left_stick", 0.1, 0.1)], 2) == []
    assert menu.take([("south", 1.0, 0.0), ("left_stick", 0.1, 0.55)], 3) == ["choose"]
