"""Contract R5: every way to enter and to end a layer, and profiles entered while held (need N28, N29)."""

from __future__ import annotations

from collections import Counter

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nubshift.model.profile import Band, Belt, BeltEntry, Command, Macro, MacroTap, Profile, Seat
from nubshift.model.roles import GyroRole, KeysRole, MouseRole
from nubshift.model.sends import BackToBase, ChangeLayer, HoldProfile, NextLayer, SendBelt, SendMacro, Toggled, Turbo
from tests.support.playing import MS, Desk, moved
from tests.support.profiles import What, four, made, sends


def desk(base: dict[str, What], *, hiding: tuple[str, ...] = (), **layers: dict[str, What]) -> Desk:
    return Desk(made({"base": {"south": "A", **base}, **layers}, hiding=hiding))


def tap(found: Desk, t: int, control: str) -> list[str]:
    return found.at(t * MS, **{control: 1}) + found.at(t * MS + 100, **{control: 0})


# Toggled


def test_toggling_is_one_state_shared_by_all_its_buttons() -> None:
    found = desk({"east": "!aim", "west": "!aim"}, aim={})
    assert tap(found, 1, "east") == [">aim"]
    assert tap(found, 2, "west") == ["<aim"]
    assert tap(found, 3, "west") == [">aim"]


def test_toggled_and_held_at_once_it_stays_until_both_end() -> None:
    found = desk({"east": "!aim", "west": ">aim"}, aim={})
    found.at(1, west=1)
    assert tap(found, 2, "east") == []
    assert found.at(3 * MS, west=0) == []
    assert tap(found, 4, "east") == ["<aim"]


def test_a_button_that_toggled_a_hiding_layer_on_toggles_it_off_unless_the_layer_sets_it() -> None:
    found = desk({"east": "!menu", "west": "!menu"}, menu={"south": "B"}, hiding=("menu",))
    tap(found, 1, "east")
    assert tap(found, 2, "west") == []  # not the one that toggled it
    assert tap(found, 3, "south") == ["+B", "-B"]
    assert tap(found, 4, "east") == ["<menu"]
    found = desk({"east": "!menu"}, menu={"east": "X"}, hiding=("menu",))
    tap(found, 1, "east")
    assert tap(found, 2, "east") == ["+X", "-X"]
    assert found.engine.active_layers == ("menu",)


# For one press


ONCE = ChangeLayer("one", "once")


def test_a_layer_for_one_press_ends_with_the_next_press_of_any_other_button() -> None:
    found = desk({"east": ONCE, "north": "N"}, one={"south": "B"})
    assert tap(found, 1, "east") == [">one"]
    assert found.at(2 * MS, south=1) == ["<one", "+B"]
    assert found.at(3 * MS, south=0) == ["-B"]
    assert tap(found, 4, "south") == ["+A", "-A"]


def test_also_if_that_press_fell_through() -> None:
    found = desk({"east": ONCE, "north": "N"}, one={"south": "B"})
    tap(found, 1, "east")
    assert tap(found, 2, "north") == ["<one", "+N", "-N"]


def test_its_own_button_pressed_again_cancels_it() -> None:
    found = desk({"east": ["E", ONCE]}, one={"south": "B"})
    assert tap(found, 1, "east") == ["+E", ">one", "-E"]
    assert tap(found, 2, "east") == ["<one", "+E", "-E"]
    assert tap(found, 3, "east") == ["+E", ">one", "-E"]


def test_sticks_do_not_use_it_up() -> None:
    found = desk({"east": ONCE, "left_stick": four()}, one={"south": "B"})
    tap(found, 1, "east")
    assert found.at(2 * MS, left_stick=(0, -1)) == ["+W"]
    assert found.engine.active_layers == ("one",)


def test_a_press_that_waits_for_a_combination_uses_it_up_when_it_acts_alone_and_keeps_what_it_found() -> None:
    profile = made(
        {"base": {"east": ONCE, "south": "A", "north": "N"}, "one": {"south": "B"}},
        together={"base": {"south north": "X"}},
    )
    found = Desk(profile)
    tap(found, 1, "east")
    assert found.at(2 * MS, south=1) == []
    assert found.timed(100 * MS) == ["62 <one", "62 +B"]


def test_a_combination_uses_it_up_when_it_begins() -> None:
    profile = made(
        {"base": {"east": ONCE, "south": "A", "north": "N"}, "one": {"south": "B"}},
        together={"base": {"south north": "X"}, "one": {"south north": "Y"}},
    )
    found = Desk(profile)
    tap(found, 1, "east")
    assert found.at(2 * MS, south=1) == []
    assert found.at(12 * MS, north=1) == ["<one", "+Y"]
    assert found.at(20 * MS, north=0, south=0) == ["-Y"]


def test_a_press_that_waited_spares_what_was_entered_after_it() -> None:
    profile = made(
        {"base": {"east": ONCE, "south": "A", "west": "W"}, "one": {"west": "X"}},
        together={"base": {"south north": "N"}},
    )
    found = Desk(profile)
    assert found.at(0, south=1) == []
    assert tap(found, 10, "east") == [">one"]
    assert found.timed(70 * MS) == ["60 +A"]
    assert found.at(80 * MS, west=1) == ["<one", "+X"]


def test_a_combination_that_entered_it_cancels_it() -> None:
    profile = made({"base": {}, "one": {}}, together={"base": {"south north": ONCE}})
    found = Desk(profile)
    assert found.at(0, south=1, north=1) == [">one"]
    found.at(10 * MS, south=0, north=0)
    assert found.at(20 * MS, south=1, north=1) == ["<one"]


def test_a_trigger_by_depth_a_finger_and_another_seat_do_not_use_it_up() -> None:
    aim = ChangeLayer("aim", "once")
    profile = made(
        {
            "base": {
                "south": aim,
                "left_trigger": {"bands": (Band(0.2, sends("T")),)},
                "right_trigger": "R",
                "touch_pad_touched": "P",
                "2:south": "Q",
                "east": "E",
            },
            "aim": {"east": "F"},
        },
        seats=(Seat("1"), Seat("2")),
    )
    found = Desk(profile)
    tap(found, 1, "south")
    assert found.at(10 * MS, left_trigger=0.9) == ["+T"]
    assert found.at(11 * MS, touch_pad_touched=1) == ["+P"]
    assert found.at(12 * MS, seat="2", south=1) == ["+Q"]
    assert found.engine.active_layers == ("aim",)
    assert found.at(13 * MS, east=1) == ["<aim", "+F"]


def test_a_trigger_as_a_button_uses_it_up_also_unbound() -> None:
    found = desk({"east": ONCE}, one={"south": "B"})
    tap(found, 1, "east")
    assert found.at(10 * MS, left_trigger=0.29) == []
    assert found.at(11 * MS, left_trigger=0.30) == ["<one"]
    assert found.engine.counts.repeated == 0


# Stepped


def test_stepping_goes_through_the_layers_and_then_to_none() -> None:
    step, back = NextLayer(("one", "two")), NextLayer(("one", "two"), back=True)
    found = desk({"east": step, "west": back}, one={}, two={})
    assert [tap(found, n, "east") for n in (1, 2, 3, 4)] == [[">one"], ["<one", ">two"], ["<two"], [">one"]]
    assert tap(found, 5, "west") == ["<one"]
    assert tap(found, 6, "west") == [">two"]


# Separate acts


def test_enter_stays_and_leave_removes_every_entry_held_ones_too() -> None:
    base = {"east": ChangeLayer("aim", "enter"), "west": ChangeLayer("aim", "leave"), "north": ">aim"}
    found = desk(base, aim={"south": "B"})
    assert tap(found, 1, "east") == [">aim"]
    found.at(2 * MS, north=1)
    assert found.at(3 * MS, south=1) == ["+B"]
    assert tap(found, 4, "west") == ["<aim"]
    assert found.at(5 * MS, south=0) == ["-B"]  # of keys, all stays captured
    assert found.at(6 * MS, north=0) == []  # its release ends nothing
    assert tap(found, 7, "west") == []


def test_entered_again_it_comes_on_top() -> None:
    base = {"east": ChangeLayer("one", "enter"), "west": ChangeLayer("two", "enter")}
    found = desk(base, one={"south": "B"}, two={"south": "C"})
    tap(found, 1, "east")
    tap(found, 2, "west")
    assert tap(found, 3, "south") == ["+C", "-C"]
    tap(found, 4, "east")
    assert tap(found, 5, "south") == ["+B", "-B"]


def test_only_this_one() -> None:
    base = {"east": "!one", "west": ">two", "north": ChangeLayer("three", "only")}
    found = desk(base, one={}, two={}, three={})
    tap(found, 1, "east")
    found.at(2 * MS, west=1)
    assert tap(found, 3, "north") == ["<two", "<one", ">three"]
    assert found.at(4 * MS, west=0) == []
    assert tap(found, 5, "east") == [">one"]  # its toggle was off


def test_back_to_base() -> None:
    found = desk({"east": "!one", "west": ">two", "north": BackToBase()}, one={}, two={})
    tap(found, 1, "east")
    found.at(2 * MS, west=1)
    assert tap(found, 3, "north") == ["<two", "<one"]
    assert found.engine.active_layers == ()


def test_keys_and_layer_changes_of_one_press_act_in_their_order_within_one_step() -> None:
    found = desk({"east": ["E", "!aim", "F"], "left_stick": four()}, aim={"left_stick": four(up="UP")})
    found.at(1, left_stick=(0, -1))
    assert found.at(2, east=1) == ["-W", "+E", ">aim", "+F", "+UP"]
    assert found.at(3, east=0) == ["-F", "-E"]


def test_a_layer_entered_by_a_hold_moves_the_sticks_at_that_moment() -> None:
    found = desk({"east": {"hold": ">aim"}, "left_stick": four()}, aim={"left_stick": four(up="UP")})
    found.at(0, left_stick=(0, -1))
    found.at(10 * MS, east=1)
    assert found.timed(300 * MS) == ["210 >aim", "210 -W", "210 +UP"]
    assert found.at(310 * MS, east=0) == ["<aim", "-UP", "+W"]


def test_a_layer_can_let_the_controller_rumble() -> None:
    profile = made({"base": {"east": ">aim"}, "aim": {}}, layer_fields={"aim": {"rumble": 0.5}})
    assert Desk(profile).play("0 east 200") == ["0 >aim", "0 rumble 1 0.5", "80 rumble 1 0"]


# Profiles while held


def guest() -> Profile:
    layers: dict[str, dict[str, What]] = {
        "base": {"south": "G", "west": "!extra", "north": BackToBase(), "right_bumper": Toggled(sends("T"))},
        "extra": {"south": "H"},
    }
    return made(layers)


def host() -> Desk:
    base: dict[str, What] = {
        "south": "A",
        "left_bumper": HoldProfile("other"),
        "east": "!aim",
        "north": "N",
        "left_stick": four(),
    }
    return Desk(made({"base": base, "aim": {"south": "B"}}), {"other": guest()})


def test_a_profile_entered_while_held_hides_what_lies_below_and_goes_back_on_release() -> None:
    found = host()
    found.at(0, left_stick=(0, -1))
    assert found.at(1, left_bumper=1) == [">other/base", "-W"]
    assert tap(found, 2, "south") == ["+G", "-G"]
    assert tap(found, 3, "east") == []
    assert found.at(4 * MS, left_bumper=0) == ["<other/base", "+W"]
    assert tap(found, 5, "south") == ["+A", "-A"]


def test_nothing_captured_toggled_or_stepped_is_lost() -> None:
    found = host()
    tap(found, 1, "east")
    found.at(2 * MS, south=1)
    found.at(3 * MS, left_bumper=1)
    assert found.engine.held == ("B",)
    assert found.at(4 * MS, south=0) == ["-B"]
    assert found.at(5 * MS, south=1) == ["+G"]
    assert found.at(6 * MS, left_bumper=0) == ["<other/base"]
    assert found.at(7 * MS, south=0) == ["-G"]
    assert found.engine.active_layers == ("aim",)


def test_its_own_layers_end_with_it_and_its_toggles_are_holders_like_others() -> None:
    found = host()
    found.at(1 * MS, left_bumper=1)
    assert tap(found, 2, "west") == [">other/extra"]
    assert tap(found, 3, "south") == ["+H", "-H"]
    assert tap(found, 4, "right_bumper") == ["+T"]
    assert found.at(5 * MS, left_bumper=0) == ["<other/extra", "<other/base"]
    assert found.engine.held == ("T",)


def test_its_back_to_base_is_its_own_base() -> None:
    found = host()
    tap(found, 1, "east")
    found.at(2 * MS, left_bumper=1)
    tap(found, 3, "west")
    assert tap(found, 4, "north") == ["<other/extra"]
    assert found.engine.active_layers == ("aim", "other/base")


def test_a_profile_that_is_not_there_is_never_entered() -> None:
    found = Desk(made({"base": {"left_bumper": HoldProfile("gone"), "south": "A"}}))
    assert found.at(0, left_bumper=1) == []
    assert found.at(1, south=1) == ["+A"]


# Any nesting and any order


LAYERS = ("one", "two", "three")
acts = st.sampled_from([*(f">{name}" for name in LAYERS), *(f"!{name}" for name in LAYERS)]) | st.sampled_from(
    [ChangeLayer(name, how) for name in LAYERS for how in ("once", "enter", "leave", "only")]  # type: ignore[arg-type]
    + [BackToBase(), NextLayer(("one", "two")), NextLayer(("three", "one"), back=True)]
)
BUTTONS = ("south", "east", "west", "north", "left_bumper", "right_bumper")
bindings = st.dictionaries(st.sampled_from(BUTTONS), acts, max_size=6)


@given(
    st.lists(bindings, min_size=4, max_size=4),
    st.sets(st.sampled_from(LAYERS)),
    st.lists(st.sampled_from(BUTTONS), max_size=40),
)
def test_after_every_release_and_back_to_base_the_stack_is_empty(
    maps: list[dict[str, What]], hiding: set[str], presses: list[str]
) -> None:
    layers = dict(zip(("base", *LAYERS), maps, strict=True))
    layers["base"] = {**layers["base"], "mode": BackToBase()}
    for name in hiding:
        layers[name] = {**layers[name], "mode": BackToBase()}
    found = Desk(made(layers, hiding=tuple(hiding)))
    down: set[str] = set()
    for t, button in enumerate(presses):
        down ^= {button}
        found.at(t * MS, **{button: float(button in down)})
    t = len(presses)
    for button in down:
        found.at(t * MS, **{button: 0.0})
    tap(found, t + 1, "mode")
    assert found.engine.active_layers == ()
    told = dict.fromkeys(LAYERS, 0)
    for output in found.log:
        code, value = getattr(output, "code", ""), getattr(output, "value", 0)
        if code in told:
            assert told[code] != value  # entered and left in turn
            told[code] = value
    assert set(told.values()) == {0}


@pytest.mark.parametrize("order", [("south", "east"), ("east", "south")])
def test_two_presses_in_one_report_do_not_depend_on_their_order(order: tuple[str, str]) -> None:
    found = Desk(made({"base": {"south": "A", "east": ">aim"}, "aim": {"south": "B"}}))
    assert found.at(0, **dict.fromkeys(order, 1.0)) == [">aim", "+B"]


def test_everything_of_a_profile_held_is_its_own() -> None:
    """Sticks with their feel and turn gauge, belts, macros, combinations, commands in their form, held keys."""
    inner = made(
        {
            "base": {
                "right_stick": MouseRole(),
                "south": SendBelt("bar"),
                "east": SendMacro("dash"),
                "west": "/go",
                "left_bumper": "L",
                "motion": {"role": GyroRole()},
            }
        },
        {"base": {"right_stick": {"inner": 0.0, "outer": 1.0, "speed": 360.0}}},
        together={"base": {"dpad_up dpad_left": "X"}},
        belts=(Belt("bar", "Bar", (BeltEntry(sends("7")),)),),
        macros=(Macro("dash", "Dash", (MacroTap(sends("M"), 20),)),),
        commands=[Command("go", "Go", ("G",), pad=("start",))],
        game={"counts_per_turn": 900.0, "form": "pad"},
    )
    outer = made(
        {"base": {"mode": HoldProfile("other"), "right_stick": four(), "south": SendBelt("bar"), "dpad_up": "U"}},
        belts=(Belt("bar", "Bar", (BeltEntry(sends("1")),)),),
    )
    found = Desk(outer, {"other": inner})
    assert tap(found, 1, "south") == ["+1", "-1"]
    found.at(2 * MS, right_stick=(1.0, 0))
    assert found.engine.held == ("D",)
    assert found.at(100 * MS, mode=1) == [">other/base", "-D"]
    found.to(200 * MS)
    assert moved(found.log)[0] == 90  # a turn takes 900 counts there: 360 degrees a second for 0.1 s
    assert tap(found, 201, "south")[:1] == ["+7"]
    assert "+M" in tap(found, 202, "east")
    assert [word for word in tap(found, 210, "west") if "pad" in word] == ["pad start 1", "pad start 0"]
    found.at(230 * MS, dpad_up=1)
    assert "+X" in found.at(240 * MS, dpad_left=1)
    found.at(300 * MS, mode=0)
    assert found.engine.held == ("X", "D")  # what a press began there ends with its own release
    found.at(310 * MS, dpad_up=0)
    assert found.engine.held == ("D",)


def test_profiles_that_enter_each_other_end_where_they_began() -> None:
    one = made({"base": {"mode": HoldProfile("two"), "south": "A"}})
    two = made({"base": {"select": HoldProfile("one"), "south": "B"}})
    found = Desk(one, {"one": one, "two": two})
    assert found.at(0, mode=1) == [">two/base"]
    assert found.at(1, select=1) == [">one/base"]
    assert found.at(2, south=1) == ["+A"]
    assert found.at(3, mode=0) == ["<two/base"]
    assert found.at(4, select=0) == ["<one/base"]
    assert found.at(5, south=0) == ["-A"]
    assert found.engine.active_layers == ()


def test_sticks_that_hold_a_profile_in_which_they_let_go_of_it_flip_each_toggled_turbo_once_at_a_time() -> None:
    """They enter and leave it in turn until they are cut off; what they toggle meanwhile is one change (R3)."""
    turbos = tuple(Toggled((Turbo(sends(key), 30.0),)) for key in "ABCDEFGHIJ")
    into, out = ((HoldProfile("other"), *turbos), (BackToBase(), *turbos))
    both = [{stick: KeysRole(*[what] * 4) for stick in ("left_stick", "right_stick")} for what in (into, out)]
    found = Desk(made({"base": both[0]}), {"other": made({"base": both[1]})})
    for turn in range(40):
        place = ((0.0, -1.0), (1.0, 0.0), (0.0, 1.0), (-1.0, 0.0))[turn % 4]
        found.at(turn * 20 * MS, left_stick=place, right_stick=place)
    at_once = Counter(output.t for output in found.log)
    assert found.log
    assert max(at_once.values()) <= 2 * len(turbos) + 2
