"""Contract R4: when a control that holds a layer looks anew, what it does not enter again, and triggers beside bands."""

from __future__ import annotations

from typing import Any

import pytest

from nubshift.engine.compile import compile_profile
from nubshift.model.edits import with_feel_put
from nubshift.model.profile import Band, Feel
from nubshift.model.roles import KeysRole, MouseRole
from nubshift.model.sends import BackToBase, ChangeLayer, Send
from tests.support.playing import MS, Desk, moved
from tests.support.profiles import Word, four, made, sends


def bands(*starts: tuple[float, Word]) -> dict[str, Any]:
    return {"bands": tuple(Band(start, sends(what)) for start, what in starts)}


LAYERS = {
    "base": {"left_trigger": bands((0.2, "A"), (0.6, ">aim")), "south": "!aim", "north": "!menu"},
    "aim": {"left_trigger": bands((0.2, "Z"))},
    "menu": {"south": "!aim", "left_trigger": bands((0.2, "M"))},
}


def test_a_trigger_looks_anew_when_the_entry_it_held_ends_though_the_layer_stays() -> None:
    desk = Desk(made(LAYERS))
    assert desk.at(0, left_trigger=0.9) == [">aim"]
    assert desk.at(1, south=1, north=0) == []  # aim is on twice by now
    assert desk.at(2, left_trigger=0.0) == []
    assert desk.at(3, left_trigger=0.4) == ["+Z"]


def test_also_when_a_hiding_layer_lies_on_top() -> None:
    desk = Desk(made(LAYERS, hiding=["menu"]))
    desk.at(0, left_trigger=0.9)
    desk.at(1, north=1)
    assert desk.at(2, left_trigger=0.0) == ["<aim"]
    assert desk.at(3, left_trigger=0.4) == ["+M"]


def test_while_it_holds_a_layer_it_keeps_its_feel_too() -> None:
    feel = {
        "base": {"right_stick": {"inner": 0.0, "outer": 1.0, "speed": 360.0}},
        "aim": {"right_stick": {"speed": 36.0}},
    }
    profile = made({"base": {"right_stick": {"role": MouseRole(), "out": ">aim"}}, "aim": {}}, feel)
    desk = Desk(profile)
    assert desk.at(0, right_stick=(1, 0)) == [">aim"]
    desk.to(100 * MS)
    assert moved(desk.log) == (900, 0)
    edited = with_feel_put(profile, "base", Feel("right_stick", inner=0.0, outer=1.0, speed=720.0))
    desk.edit(100 * MS, edited)  # of an edit it hears
    desk.log.clear()
    desk.to(200 * MS)
    assert moved(desk.log) == (1800, 0)


@pytest.mark.parametrize("how", [ChangeLayer("aim", "leave"), BackToBase(), ChangeLayer("other", "only")])
def test_what_others_removed_is_not_entered_again_before_the_trigger_left_the_band(how: Send) -> None:
    layers = {
        "base": {
            "left_trigger": bands((0.5, ">aim")),
            "east": how,
            "north": "!menu",
            "west": ChangeLayer("other", "leave"),
        },
        "aim": {},
        "menu": {"left_trigger": bands((0.5, "M"))},
        "other": {},
    }
    desk = Desk(made(layers))
    assert desk.at(0, left_trigger=0.9) == [">aim"]
    desk.at(1, east=1)
    desk.at(2, west=1)
    assert desk.engine.active_layers == ()
    assert desk.at(3, left_trigger=1.0) == []
    assert desk.at(4, north=1) == [">menu", "+M"]
    desk.at(5, north=0)
    assert desk.at(6, north=1) == ["<menu", "-M"]  # the same binding again, and the band was never left
    assert desk.at(7, left_trigger=0.3) == []
    assert desk.at(8, left_trigger=0.6) == [">aim"]


def test_leaving_the_band_while_another_binding_counts_is_leaving_it() -> None:
    layers = {
        "base": {"left_trigger": bands((0.5, ">aim")), "east": ChangeLayer("aim", "leave"), "north": "!menu"},
        "aim": {},
        "menu": {"left_trigger": bands((0.2, "M"))},
    }
    desk = Desk(made(layers))
    desk.at(0, left_trigger=0.9)
    desk.at(1, east=1)
    desk.at(2, north=1)
    desk.at(3, left_trigger=0.3)
    desk.at(4, left_trigger=0.9, north=0)
    assert desk.at(5, north=1) == ["<menu", "-M", ">aim"]


def test_a_press_of_a_trigger_stays_held_beside_the_bands_of_a_layer() -> None:
    layers = {"base": {"left_trigger": "A", "south": "!aim"}, "aim": {"left_trigger": bands((0.2, "B"))}}
    desk = Desk(made(layers))
    assert desk.at(0, left_trigger=1.0) == ["+A"]
    assert desk.at(1, south=1) == [">aim", "+B"]
    assert desk.at(2, left_trigger=0.0) == ["-A", "-B"]


@pytest.mark.parametrize("how", [">aim", "!aim", ChangeLayer("aim", "enter")])
def test_unless_that_press_entered_a_layer(how: str | Send) -> None:
    layers = {"base": {"left_trigger": ["A", how]}, "aim": {"left_trigger": bands((0.2, "B"))}}
    desk = Desk(made(layers))
    assert desk.at(0, left_trigger=1.0) == ["+A", ">aim"]
    assert desk.at(1, left_trigger=0.5) == []
    left = desk.at(2, left_trigger=0.2)
    assert ("+B" in left) == ("<aim" not in left)  # released below 0.25; now the bands of the layer act, if it stays


def test_a_trigger_that_is_not_bound_presses_at_its_own_depth_in_every_layer() -> None:
    program = compile_profile(made({"base": {}}))
    entry = program.buttons["1", "left_trigger"]
    assert (entry.press_at, entry.release_at) == (0.30, 0.25)


# A d-pad's ready-made four are four buttons


def test_a_ready_made_four_of_the_d_pad_is_captured_at_press() -> None:
    desk = Desk(made({"base": {"dpad": four(), "south": "!aim"}, "aim": {"dpad": four("UP", "RIGHT", "DOWN", "LEFT")}}))
    assert desk.at(0, dpad_up=1) == ["+W"]
    assert desk.at(1, south=1) == [">aim"]
    assert desk.at(2, dpad_right=1) == ["+RIGHT"]
    assert desk.at(3, dpad_up=0) == ["-W"]


def test_a_layer_can_set_one_direction_of_it() -> None:
    desk = Desk(made({"base": {"dpad": four(), "south": "!aim"}, "aim": {"dpad_up": "M"}}))
    desk.at(0, south=1)
    assert desk.at(1, dpad_up=1) == ["+M"]
    assert desk.at(2, dpad_right=1) == ["+D"]


def test_eight_ways_of_it_follow_as_a_stick_does() -> None:
    eight = KeysRole(8, up=sends("W"), up_right=sends("E"), right=sends("D"))
    desk = Desk(made({"base": {"dpad": eight}}))
    assert desk.at(0, dpad_up=1) == ["+W"]
    assert desk.at(1, dpad_right=1) == ["-W", "+E"]
