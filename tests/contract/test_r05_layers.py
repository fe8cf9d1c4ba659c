"""Contract R5: layers and look-up, for layers held."""

from __future__ import annotations

import itertools

from tests.support.playing import Desk
from tests.support.profiles import four, made


def test_newest_active_layer_wins_down_to_the_base() -> None:
    desk = Desk(
        made({"base": {"south": "A", "east": ">one", "west": ">two"}, "one": {"south": "B"}, "two": {"south": "C"}})
    )
    desk.at(1, east=1)
    desk.at(2, west=1)
    assert desk.at(3, south=1) == ["+C"]
    assert desk.engine.active_layers == ("one", "two")


def test_a_layer_sets_a_stick_as_a_whole() -> None:
    desk = Desk(
        made(
            {
                "base": {"left_stick": four(), "east": ">aim"},
                "aim": {"left_stick": four(up="UP", down=[], left=[], right=[])},
            }
        )
    )
    desk.at(1, left_stick=(1, 0))
    assert desk.at(2, east=1) == [">aim", "-D"]


def test_feel_falls_through_by_itself() -> None:
    desk = Desk(
        made({"base": {"left_stick": four(), "east": ">aim"}, "aim": {}}, {"aim": {"left_stick": {"key_radius": 0.9}}})
    )
    assert desk.at(1, left_stick=(0, -0.6)) == ["+W"]
    assert desk.at(2, east=1) == [">aim", "-W"]


def test_blocked_sets_a_control_to_nothing() -> None:
    desk = Desk(
        made({"base": {"south": "A", "left_stick": four(), "east": ">aim"}, "aim": {"south": None, "left_stick": None}})
    )
    desk.at(1, left_stick=(0, -1))
    assert desk.at(2, east=1) == [">aim", "-W"]
    assert desk.at(3, south=1) == []


def test_a_layer_that_hides_ends_the_search() -> None:
    profile = made({"base": {"south": "A", "east": ">menu"}, "menu": {"west": "B"}}, hiding=["menu"])
    desk = Desk(profile)
    desk.at(1, east=1)
    assert desk.at(2, south=1, west=1) == ["+B"]
    assert desk.at(3, east=0) == ["<menu"]
    assert desk.at(4, south=0) == []


def test_two_entries_of_one_layer_keep_it_until_the_last_ends() -> None:
    desk = Desk(made({"base": {"east": ">aim", "west": ">aim", "south": "A"}, "aim": {"south": "B"}}))
    assert desk.at(1, east=1) == [">aim"]
    assert desk.at(2, west=1) == []
    assert desk.at(3, east=0) == []
    assert desk.at(4, south=1) == ["+B"]
    assert desk.at(5, west=0) == ["<aim"]


def test_keys_and_layers_act_in_stated_order_and_end_in_reverse() -> None:
    desk = Desk(made({"base": {"east": ["A", ">aim", "B"]}, "aim": {}}))
    assert desk.at(1, east=1) == ["+A", ">aim", "+B"]
    assert desk.at(2, east=0) == ["-B", "<aim", "-A"]


def test_any_order_of_presses_and_releases_ends_with_an_empty_stack() -> None:
    profile = made(
        {
            "base": {"east": ">one", "west": ">two", "north": ">three", "south": "A"},
            "one": {"west": ["X", ">three"]},
            "two": {"south": "B"},
            "three": {"east": "Y"},
        }
    )
    buttons = ("east", "west", "north", "south")
    for down, up in itertools.product(itertools.permutations(buttons), repeat=2):
        desk = Desk(profile)
        t = 0
        for order, value in ((down, 1.0), (up, 0.0)):
            for button in order:
                t += 1
                desk.at(t, seat="1", **{button: value})
        assert desk.engine.active_layers == ()
        assert desk.engine.held == ()
