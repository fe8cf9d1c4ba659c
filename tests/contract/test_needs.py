"""Needs that cross the rules: the virtual pad (N34), seats (N05), the two forms of a command (N11)."""

from __future__ import annotations

from nubshift.model.profile import Command, Seat
from nubshift.model.roles import MouseRole, PadAxisRole, PadStickRole
from nubshift.model.sends import SendLight, SendPad, SendPadAxis, SendRumble
from tests.support.playing import MS, Desk
from tests.support.profiles import What, four, made

JUMP = Command("jump", "Jump", ("SPACE",), pad=("south",))
WALK = Command("walk", "Walk", ("W",), pad=("dpad_up",))


# The virtual pad


def test_a_whole_stick_is_passed_through_as_it_comes() -> None:
    desk = Desk(made({"base": {"left_stick": PadStickRole("left")}}))
    assert desk.at(0, left_stick=(0.013, -0.5)) == ["pad left_x 0.013", "pad left_y -0.5"]
    assert desk.at(1, left_stick=(0.013, -0.5)) == []
    assert desk.at(2, left_stick=(0, 0)) == ["pad left_x 0", "pad left_y 0"]


def test_tuned_it_goes_through_dead_zone_and_curve() -> None:
    feel = {"base": {"left_stick": {"inner": 0.2, "outer": 1.0, "least_step": 0.1}}}
    desk = Desk(made({"base": {"left_stick": PadStickRole("right", tuned=True)}}, feel))
    assert desk.at(0, left_stick=(0.1, 0)) == []
    assert desk.at(1, left_stick=(0.6, 0)) == ["pad right_x 0.55"]


def test_controls_are_rerouted_and_mixed_with_keys_and_mouse() -> None:
    base: dict[str, What] = {
        "south": SendPad("east"),
        "left_trigger": PadAxisRole("right_trigger"),
        "east": ["A", SendPad("start")],
        "dpad_up": SendPadAxis("left_y", -1.0),
        "right_stick": MouseRole(),
    }
    desk = Desk(made({"base": base}))
    assert desk.at(0, south=1) == ["pad east 1"]
    assert desk.at(1, left_trigger=0.7) == ["pad right_trigger 0.7"]
    assert desk.at(2, east=1) == ["+A", "pad start 1"]
    assert desk.at(3, dpad_up=1) == ["pad left_y -1"]
    assert desk.engine.pad == {"east": 1.0, "start": 1.0, "right_trigger": 0.7, "left_y": -1.0}
    assert desk.engine.held == ("A",)
    assert desk.stop(4) == ["pad start 0", "-A", "pad east 0", "pad right_trigger 0", "pad left_y 0"]


def test_a_pad_button_has_holders_and_an_axis_is_the_sum_of_what_pushes_it() -> None:
    base: dict[str, What] = {
        "south": SendPad("east"),
        "west": SendPad("east"),
        "left_stick": PadStickRole("left"),
        "north": SendPadAxis("left_x", 0.75),
    }
    desk = Desk(made({"base": base}))
    assert desk.at(0, south=1, west=1) == ["pad east 1"]
    assert desk.at(1, south=0) == []
    assert desk.at(2, left_stick=(0.5, 0)) == ["pad left_x 0.5"]
    assert desk.at(3, north=1) == ["pad left_x 1"]
    assert desk.at(4, left_stick=(0, 0)) == ["pad left_x 0.75"]
    assert desk.at(5, west=0, north=0) == ["pad east 0", "pad left_x 0"]


def test_a_layer_takes_the_stick_away_from_the_pad() -> None:
    desk = Desk(made({"base": {"left_stick": PadStickRole("left"), "south": ">aim"}, "aim": {"left_stick": four()}}))
    desk.at(0, left_stick=(0, -1))
    assert desk.at(1, south=1) == [">aim", "pad left_y 0", "+W"]  # what the game hears last is the new kind (R1)
    assert desk.at(2, south=0) == ["<aim", "-W", "pad left_y -1"]


def test_an_axis_pushed_before_and_after_a_layer_change_is_not_touched() -> None:
    both = {"left_stick": PadStickRole("left")}
    tuned = {"left_stick": PadStickRole("left", tuned=True)}
    desk = Desk(
        made({"base": {**both, "south": ">aim"}, "aim": tuned}, {"base": {"left_stick": {"inner": 0.0, "outer": 1.0}}})
    )
    desk.at(0, left_stick=(1.0, -0.0))
    assert desk.at(1, south=1) == [">aim"]
    assert desk.at(2, south=0) == ["<aim"]


# Seats


def test_two_players_share_one_scheme() -> None:
    base: dict[str, What] = {
        "south": "A",
        "left_stick": four(),
        "2:south": "B",
        "2:left_stick": four("UP"),
        "2:east": ">aim",
    }
    desk = Desk(made({"base": base, "aim": {"south": "X"}}, seats=(Seat("1"), Seat("2"))))
    assert desk.at(0, south=1) == ["+A"]
    assert desk.at(1, seat="2", south=1) == ["+B"]
    assert desk.at(2, seat="2", left_stick=(0, -1)) == ["+UP"]
    desk.at(3, south=0)
    assert desk.at(4, seat="2", east=1) == [">aim"]  # layers are the profile's, so both play in it
    assert desk.at(5, south=1) == ["+X"]


def test_a_seat_that_the_profile_does_not_have_is_counted() -> None:
    desk = Desk(made({"base": {"south": "A"}}))
    assert desk.at(0, seat="3", south=1) == []
    assert desk.engine.counts.unknown == 1


# Two forms of a command


def test_the_profile_says_which_form_is_sent() -> None:
    keys = made({"base": {"south": "/jump"}}, commands=[JUMP])
    pad = made({"base": {"south": "/jump"}}, commands=[JUMP], game={"form": "pad"})
    assert Desk(keys).at(0, south=1) == ["+SPACE"]
    assert Desk(pad).at(0, south=1) == ["pad south 1"]


def test_a_layer_switches_the_form_of_everything_below_it() -> None:
    base: dict[str, What] = {"south": "/jump", "left_stick": four(up="/walk"), "start": "!menu", "east": "E"}
    desk = Desk(made({"base": base, "menu": {}}, commands=[JUMP, WALK], layer_fields={"menu": {"form": "pad"}}))
    desk.at(0, south=1, left_stick=(0, -1))
    assert desk.at(1, start=1) == [">menu", "-W", "pad dpad_up 1"]  # sticks follow; the press stays as it was taken
    assert desk.at(2, south=0) == ["-SPACE"]
    assert desk.at(3, south=1) == ["pad south 1"]
    desk.at(4, start=0)
    assert desk.at(5, start=1) == ["<menu", "pad dpad_up 0", "+W"]
    assert desk.at(6, south=0) == ["pad south 0"]


def test_a_command_without_a_pad_form_sends_its_keys() -> None:
    desk = Desk(made({"base": {"south": "/fire"}}, commands=[Command("fire", "Fire", ("F",))], game={"form": "pad"}))
    assert desk.at(0, south=1) == ["+F"]


# Lights and rumble


def test_rumble_ends_by_itself_and_a_new_one_takes_its_place() -> None:
    desk = Desk(
        made({"base": {"south": SendRumble(0.5, 100), "east": SendRumble(1.0, 100), "west": SendLight("#ff8800")}})
    )
    assert desk.play("0 south 50 east 400 west 500") == [
        "0 rumble 1 0.5",
        "50 rumble 1 1",
        "150 rumble 1 0",
        "400 light 1 #ff8800",
    ]
    assert desk.to(1000 * MS) == []
