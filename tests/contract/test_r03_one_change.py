"""Contract R3: what sticks, bands and tiles change in one step is one change; R1: what comes before what in a step."""

from __future__ import annotations

from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from nubshift.engine.compile import compile_profile
from nubshift.engine.engine import Engine
from nubshift.engine.owner import outputs_of
from nubshift.events import Key, Report
from nubshift.model.profile import Band, Macro, MacroPress, MacroRelease, MacroTap
from nubshift.model.roles import GyroRole, PadAxisRole, PadStickRole, PointerRole
from nubshift.model.sends import ChangeLayer, InOrder, Pulsed, Send, SendMacro, SendPoint, Toggled, Turbo
from tests.support.playing import MS, Desk, words
from tests.support.profiles import Word, four, made, sends


def bands(*starts: tuple[float, Word]) -> dict[str, Any]:
    return {"bands": tuple(Band(start, sends(what)) for start, what in starts)}


def test_a_key_that_goes_from_a_band_to_a_turbo_of_the_next_stays_down() -> None:
    desk = Desk(made({"base": {"left_trigger": bands((0.5, "E"), (0.7, Turbo(sends("E"))))}}))
    assert desk.at(0, left_trigger=0.6) == ["+E"]
    assert desk.at(MS, left_trigger=0.8) == []
    assert desk.timed(60 * MS) == ["51 -E"]
    assert desk.at(70 * MS, left_trigger=0.6) == ["+E"]


def test_a_key_handed_from_one_stick_to_the_other_by_a_layer_does_not_flicker_either_way() -> None:
    layers = {
        "base": {"left_stick": four(), "right_stick": four("UP"), "south": "!aim"},
        "aim": {"left_stick": four("UP"), "right_stick": four("W")},
    }
    desk = Desk(made(layers))
    assert desk.at(0, left_stick=(0, -1)) == ["+W"]
    assert desk.at(1, right_stick=(0, -1)) == ["+UP"]
    assert desk.at(2, south=1) == [">aim"]
    desk.at(3, south=0)
    assert desk.at(4, south=1) == ["<aim"]


def test_downs_go_in_the_order_of_controls_whatever_the_order_of_the_report() -> None:
    base = {"left_stick": four("W", "D"), "right_stick": four("UP", "RIGHT"), "left_trigger": bands((0.2, "T"))}
    desk = Desk(made({"base": base}))
    assert desk.at(0, right_stick=(0.7, -0.7), left_stick=(0.7, -0.7), left_trigger=1.0) == [
        "+T",
        "+W",
        "+D",
        "+UP",
        "+RIGHT",
    ]
    assert desk.at(1, left_trigger=0.0, right_stick=(0, 0), left_stick=(0, 0)) == ["-RIGHT", "-UP", "-D", "-W", "-T"]


def test_a_key_begun_and_lost_because_it_changed_layers_itself_lasts_one_pulse() -> None:
    profile = made({"base": {"left_trigger": bands((0.5, ["LEFTSHIFT", "E", "!aim"]))}, "aim": {"left_trigger": None}})
    desk = Desk(profile)
    assert desk.at(0, left_trigger=1.0) == ["+LEFTSHIFT", "+E", ">aim"]
    assert desk.timed(100 * MS) == ["30 -E", "30 -LEFTSHIFT"]


def test_it_does_not_outlast_its_controller() -> None:
    profile = made({"base": {"left_trigger": bands((0.5, ["E", "!aim"]))}, "aim": {"left_trigger": None}})
    desk = Desk(profile)
    desk.at(0, left_trigger=1.0)
    assert "-E" in desk.unplug(MS)
    assert desk.timed(100 * MS) == []


def test_a_key_lost_because_of_another_control_is_not_sent_at_all() -> None:
    layers = {"base": {"left_stick": four("W"), "left_trigger": bands((0.5, "!aim"))}, "aim": {"left_stick": None}}
    desk = Desk(made(layers))
    assert desk.at(0, left_trigger=1.0, left_stick=(0, -1)) == [">aim"]


def test_a_macro_sends_all_of_its_events_also_when_a_stick_begins_it() -> None:
    steps = (MacroPress(sends("W")), MacroRelease(sends("W")), MacroTap(sends("X")))
    profile = made({"base": {"left_stick": four(up="W", down=["W", SendMacro("m")])}}, macros=(Macro("m", "m", steps),))
    desk = Desk(profile)
    assert desk.at(0, left_stick=(0, 1)) == ["+W", "+X"]  # the stick holds W beside it
    other = Desk(made({"base": {"left_stick": four(up="W", down=SendMacro("m"))}}, macros=(Macro("m", "m", steps),)))
    assert other.at(0, left_stick=(0, -1)) == ["+W"]
    assert other.at(MS, left_stick=(0, 1)) == ["-W", "+W", "-W", "+X"]


WAYS: list[Word] = [
    "A",
    "B",
    ["A", "B"],
    Turbo(sends("A")),
    Pulsed(sends("B")),
    InOrder(sends(["A", "B"])),
    Toggled(sends("B")),
]


@given(
    st.lists(st.sampled_from(WAYS), min_size=8, max_size=8),
    st.lists(
        st.tuples(st.sampled_from(("left_stick", "right_stick", "left_trigger", "east")), st.integers(-2, 2)),
        max_size=30,
    ),
)
def test_no_key_goes_up_and_down_in_one_microsecond_for_the_sake_of_positions(
    ways: list[Word], moves: list[tuple[str, int]]
) -> None:
    a, b, c, d, e, f, g, h = ways
    layers = {
        "base": {
            "left_stick": four(a, b, c, d),
            "right_stick": four(e, f),
            "left_trigger": bands((0.3, g), (0.6, h)),
            "east": "!aim",
        },
        "aim": {"left_stick": four(h, g, f, e), "right_stick": four(d, c)},
    }
    engine = Engine(compile_profile(made(layers)))
    for t, (control, value) in enumerate(moves):
        x = abs(value) / 2
        report = Report(t * 7 * MS, ((control, x if control[-1] != "k" else value / 2, -x / 2),))
        sent = outputs_of(engine.feed(report))
        step = [output for output in sent if isinstance(output, Key) and output.t == t * 7 * MS]
        by_timers = engine_codes_twice(step)
        assert not by_timers, words(sent)


def engine_codes_twice(step: list[Key]) -> set[str]:
    """Codes that went down and up again in one step, or up and down."""
    codes = [output.code for output in step]
    return {code for code in codes if codes.count(code) > 1 and codes.count(code) % 2 == 0}


# The order of a step (R1)


def test_the_pads_stick_returns_to_neutral_before_new_keys_go_down() -> None:
    layers = {"base": {"left_stick": PadStickRole("left"), "south": ["J", "!aim"]}, "aim": {"left_stick": four()}}
    desk = Desk(made(layers))
    desk.at(0, left_stick=(0, -1))
    assert desk.at(1, south=1) == ["pad left_y 0", "+J", ">aim", "+W"]
    desk.at(2, south=0)
    assert desk.at(3, south=1) == ["-W", "+J", "<aim", "pad left_y -1"]


def test_ups_of_sticks_come_before_the_first_down_of_a_press() -> None:
    desk = Desk(made({"base": {"left_stick": four(), "south": "A", "left_trigger": PadAxisRole("left_trigger")}}))
    desk.at(0, left_stick=(0, -1), left_trigger=0.5)
    assert desk.at(1, south=1, left_stick=(0, 0), left_trigger=0.0) == ["-W", "pad left_trigger 0", "+A"]


def test_events_of_one_key_keep_their_order() -> None:
    desk = Desk(made({"base": {"left_stick": four(), "south": ["A", "W"], "east": "E"}}))
    desk.at(0, south=1)
    desk.at(1, left_stick=(0, -1))
    assert desk.at(2, south=0, east=1, left_stick=(0, 0)) == ["-A", "-W", "+E"]


def test_axes_that_leave_neutral_then_points_then_motion_come_last() -> None:
    profile = made(
        {"base": {"south": "A", "left_stick": PadStickRole("left"), "motion": GyroRole(), "pointer": PointerRole()}},
        game={"counts_per_turn": 3600.0},
    )
    desk = Desk(profile)
    desk.at(0, pointer_seen=1, motion=(0, 0))
    sent = desk.at(10 * MS, motion=(100, 0), pointer=(0.5, 0.5), left_stick=(1, 0), south=1)
    assert [word.split()[0].rstrip("0123456789,.-") for word in sent] == ["+A", "pad", "point", "~"]


def test_the_points_of_one_press_keep_their_place() -> None:
    what: list[str | Send] = [SendPoint(0.5, 0.5), "BTN_LEFT"]
    desk = Desk(made({"base": {"south": what}}))
    assert desk.at(0, south=1) == ["point 0.5,0.5", "+BTN_LEFT"]


def test_a_double_tap_that_enters_a_layer_comes_first_in_its_report() -> None:
    layers = {"base": {"south": {"tap": "T", "double": ChangeLayer("aim")}, "east": "E"}, "aim": {"east": "F"}}
    desk = Desk(made(layers))
    desk.play("0 south 50 -south 100")
    assert desk.at(110 * MS, east=1, south=1) == [">aim", "+F"]
