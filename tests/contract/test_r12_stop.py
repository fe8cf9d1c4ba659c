"""Contract R12: stop, switch, unplugging, and live edits."""

from __future__ import annotations

from nubshift.model import edits
from nubshift.model.roles import MouseRole
from nubshift.model.sends import Toggled
from nubshift.model.slots import Slot
from tests.support.playing import Desk, moved
from tests.support.profiles import four, made, sends

PROFILE = made(
    {
        "base": {
            "south": "A",
            "east": ["LEFTSHIFT", "B"],
            "west": ">aim",
            "left_stick": four(),
            "right_stick": MouseRole(),
            "left_trigger": "T",
        },
        "aim": {"north": "N", "south": "C"},
    }
)


def test_stop_releases_newest_first_with_chords_reversed() -> None:
    desk = Desk(PROFILE)
    desk.at(1, south=1)
    desk.at(2, left_stick=(0, -1))
    desk.at(3, east=1)
    desk.at(4, west=1)
    assert desk.stop(5) == ["-B", "-LEFTSHIFT", "-W", "-A", "<aim"]
    assert desk.engine.held == ()


def test_nothing_acts_until_resumed() -> None:
    desk = Desk(PROFILE)
    desk.stop(1)
    assert desk.at(2, south=1, left_stick=(0, -1), right_stick=(1, 0)) == []
    assert desk.to(1_000_000) == []


def test_after_a_stop_sticks_act_at_once_and_buttons_when_pressed_anew() -> None:
    desk = Desk(PROFILE)
    desk.at(1, south=1, left_stick=(0, -1), left_trigger=0.9)
    desk.stop(2)
    assert desk.resume(3) == ["+W"]
    assert desk.at(4, south=0, left_trigger=0.0) == []
    assert desk.at(5, south=1, left_trigger=0.9) == ["+A", "+T"]
    assert desk.engine.counts.repeated == 0


def test_a_button_pressed_while_stopped_is_known_to_be_down() -> None:
    desk = Desk(PROFILE)
    desk.stop(1)
    desk.at(2, south=1)
    desk.resume(3)
    assert desk.at(4, south=0) == []
    assert desk.at(5, south=1) == ["+A"]


def test_unplugging_releases_what_that_controller_held() -> None:
    desk = Desk(PROFILE)
    desk.at(1, west=1)
    desk.at(2, south=1, right_stick=(1, 0))
    desk.at(3, left_stick=(0, -1))
    assert desk.unplug(4) == ["-W", "-C", "<aim"]
    moved_before = moved(desk.log)
    desk.to(1_000_000)
    assert moved(desk.log) == moved_before
    assert desk.at(1_000_001, south=1) == ["+A"]


def test_a_controller_that_comes_with_a_button_down_does_nothing_with_it() -> None:
    desk = Desk(PROFILE)
    assert desk.plug(1, south=1, left_stick=(0, -1)) == ["+W"]
    assert desk.at(2, south=0) == []


def test_a_live_edit_lets_presses_end_what_they_began() -> None:
    desk = Desk(PROFILE)
    desk.at(1, south=1, left_stick=(0, -1))
    edited = edits.with_sends(PROFILE, Slot("base", "south"), sends("Z"))
    edited = edits.with_role(edited, "base", "left_stick", four(up="UP"))
    assert desk.edit(2, edited) == ["-W", "+UP"]
    assert desk.at(3, south=0) == ["-A"]
    assert desk.at(4, south=1) == ["+Z"]


def test_an_edit_elsewhere_touches_nothing_and_keeps_layers_and_carry() -> None:
    desk = Desk(PROFILE)
    desk.at(1, west=1, left_stick=(0, -1), right_stick=(0.5, 0))
    edited = edits.with_sends(PROFILE, Slot("base", "north"), sends("Q"))
    assert desk.edit(2, edited) == []
    assert desk.engine.active_layers == ("aim",)
    assert desk.engine.next_deadline is not None
    assert desk.at(3, west=0) == ["<aim"]


def test_deleting_a_layer_releases_its_holders_and_ends_its_entries() -> None:
    desk = Desk(PROFILE)
    desk.at(1, west=1)
    desk.at(2, north=1, south=1)
    edited = edits.without_layer(PROFILE, "aim")
    assert sorted(desk.edit(3, edited)) == ["-C", "-N", "<aim"]
    assert desk.at(4, west=0, north=0, south=0) == []


def test_changing_the_speed_is_live_for_a_stick_that_is_out() -> None:
    desk = Desk(PROFILE)
    desk.at(0, right_stick=(1, 0))
    desk.to(100_000)
    first = moved(desk.log)[0]
    desk.edit(100_000, edits.with_feel(PROFILE, "base", "right_stick", speed=360.0))
    desk.to(200_000)
    assert moved(desk.log)[0] - first == 2 * first


LAMP = Toggled(sends("L"), comes_back=True)


def test_toggles_come_back_in_the_order_in_which_they_went_on_before_positions_act() -> None:
    desk = Desk(made({"base": {"south": LAMP, "east": Toggled(sends("M"), comes_back=True), "left_stick": four()}}))
    desk.at(0, east=1, left_stick=(0, -1))
    desk.at(1, south=1)
    assert desk.focus(2, False) == ["-L", "-W", "-M"]
    assert desk.focus(3, True) == ["+M", "+L", "+W"]


def test_a_stop_by_the_player_lasts_whatever_the_focus_does_and_nothing_comes_back() -> None:
    desk = Desk(made({"base": {"south": LAMP, "left_stick": four()}}))
    desk.at(0, south=1, left_stick=(0, -1))
    desk.focus(1, False)
    desk.stop(2)
    assert desk.focus(3, True) == []
    assert desk.at(4, left_stick=(1, 0)) == []
    assert desk.resume(5) == ["+D"]
    assert desk.engine.held == ("D",)


def test_newest_first_is_by_when_the_key_last_went_down() -> None:
    desk = Desk(made({"base": {"left_trigger": "A", "left_stick": four(), "right_stick": four("UP")}}))
    desk.at(0, right_stick=(0, -1))
    desk.at(1, left_stick=(0, -1))
    desk.at(2, left_trigger=1)
    desk.at(3, left_stick=(0, 0))
    desk.at(4, left_stick=(0, -1))
    assert desk.stop(5) == ["-W", "-A", "-UP"]
