"""Contract R7: toggle, turbo, pulsing in proportion, holds that become toggles, commands the game toggles itself."""

from __future__ import annotations

from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nubshift.engine.turbo import even_pulse
from nubshift.model.profile import Band, Command, Habits, Seat
from nubshift.model.sends import Pulsed, SendMacro, Toggled, Turbo
from tests.support.playing import MS, Desk
from tests.support.profiles import four, made, sends

# Toggle


def toggled(what: str, **fields: bool) -> Toggled:
    return Toggled(sends(what), **fields)


def test_a_toggle_flips_when_its_gesture_begins_and_its_release_does_nothing() -> None:
    desk = Desk(made({"base": {"south": toggled("A")}}))
    assert desk.play("0 south 50 -south 100 south 150 -south") == ["0 +A", "100 -A"]


def test_it_belongs_to_its_control_gesture_and_layer() -> None:
    both = {"south": toggled("A"), "east": toggled("A"), "north": ">aim"}
    desk = Desk(made({"base": both, "aim": {"south": toggled("A")}}))
    assert desk.play("0 south 10 -south 20 east 30 -east 40 south 50 -south") == ["0 +A"]  # the other still holds it
    assert desk.play("60 east 70 -east") == ["60 -A"]
    assert desk.play("100 north 110 south 120 -south 130 -north 140 south 150 -south") == [
        "100 >aim",
        "110 +A",
        "130 <aim",
    ]


def test_it_stays_on_when_its_layer_leaves_and_is_a_holder_like_others() -> None:
    desk = Desk(made({"base": {"north": ">aim", "east": "A"}, "aim": {"south": toggled("A")}}))
    assert desk.play("0 north 10 south 20 -south 30 -north") == ["0 >aim", "10 +A", "30 <aim"]
    assert desk.play("40 east 50 -east") == []


def test_a_tap_can_toggle() -> None:
    desk = Desk(made({"base": {"south": {"tap": toggled("A")}}}))
    assert desk.play("0 south 50 -south 300 south 350 -south 900") == ["50 +A", "350 -A"]


def test_only_a_stop_ends_it_otherwise_and_it_can_come_back_with_the_focus() -> None:
    desk = Desk(made({"base": {"south": toggled("A"), "east": toggled("B", comes_back=True)}}))
    desk.play("0 south 10 -south 20 east 30 -east")
    assert desk.focus(100 * MS, False) == ["-B", "-A"]
    assert desk.focus(200 * MS, True) == ["+B"]
    assert desk.play("300 east 310 -east") == ["300 -B"]
    desk.play("320 east 330 -east")
    assert desk.stop(400 * MS) == ["-B"]
    assert desk.resume(500 * MS) == []  # a stop that was wished for: nothing comes back
    assert desk.focus(600 * MS, True) == []


def test_a_toggle_that_still_exists_survives_an_edit_and_one_that_does_not_is_released() -> None:
    desk = Desk(made({"base": {"south": toggled("A"), "east": toggled("B")}}))
    desk.play("0 south 10 -south 20 east 30 -east")
    assert desk.edit(50 * MS, made({"base": {"south": toggled("A")}})) == ["-B"]
    assert desk.play("60 south") == ["60 -A"]


# Turbo


def test_pulse_k_begins_at_start_plus_k_periods() -> None:
    desk = Desk(made({"base": {"south": Turbo(sends("A"), rate=10)}}))
    assert desk.play("0 south 260 -south 900") == ["0 +A", "50 -A", "100 +A", "150 -A", "200 +A", "250 -A"]


def test_the_period_is_rounded_once() -> None:
    desk = Desk(made({"base": {"south": Turbo(sends("A"), rate=7)}}))
    desk.play("0 south 3000")
    downs = [output.t for output in desk.log if output.value == 1]  # type: ignore[union-attr]
    assert downs == [k * 142_857 for k in range(len(downs))]


@pytest.mark.parametrize(
    ("rate", "duty", "period", "length"),
    [
        (50, 0.1, 20_000, 10_000),
        (50, 0.9, 20_000, 10_000),
        (10, 0.5, 100_000, 50_000),
        (30, 0.9, 33_333, 23_333),
        (1, 0.1, 1_000_000, 100_000),
        (40, 0.1, 25_000, 10_000),
    ],
)
def test_pulse_and_gap_last_at_least_ten_ms(rate: float, duty: float, period: int, length: int) -> None:
    assert even_pulse(rate, duty) == (period, length)


@given(st.floats(1, 50), st.floats(0.1, 0.9))
def test_rate_and_duty_yield_to_the_least_lengths(rate: float, duty: float) -> None:
    period, length = even_pulse(rate, duty)
    assert length >= 10_000
    assert period - length >= 10_000


def test_a_release_inside_a_pulse_lets_it_reach_ten_ms_and_no_more() -> None:
    profile = made({"base": {"south": Turbo(sends("A"), rate=10)}})
    assert Desk(profile).play("0 south 4 -south 900") == ["0 +A", "10 -A"]
    assert Desk(profile).play("0 south 14 -south 900") == ["0 +A", "14 -A"]


def test_so_does_a_stick_that_leaves() -> None:
    desk = Desk(made({"base": {"left_stick": four(up=Turbo(sends("A"), rate=10))}}))
    assert desk.at(0, left_stick=(0, -1)) == ["+A"]
    assert desk.at(3 * MS, left_stick=(0, 0)) == []
    assert desk.timed(900 * MS) == ["10 -A"]


def test_a_stop_cuts_it() -> None:
    desk = Desk(made({"base": {"south": Turbo(sends("A"), rate=10)}}))
    desk.play("0 south")
    assert desk.stop(3 * MS) == ["-A"]
    assert desk.timed(900 * MS) == []


def test_while_a_steady_holder_masks_it_it_runs_on_in_phase() -> None:
    desk = Desk(made({"base": {"south": Turbo(sends("A"), rate=10), "east": "A"}}))
    assert desk.play("0 south 20 east 120 -east 320 -south 900") == [
        "0 +A",
        "150 -A",
        "200 +A",
        "250 -A",
        "300 +A",
        "320 -A",
    ]


def test_turbo_goes_on_over_a_layer_change_that_gives_the_same_binding() -> None:
    desk = Desk(made({"base": {"left_stick": four(up=Turbo(sends("A"), rate=10)), "north": ">aim"}, "aim": {}}))
    desk.at(0, left_stick=(0, -1))
    desk.at(70 * MS, north=1)
    assert desk.timed(160 * MS) == ["100 +A", "150 -A"]


def test_by_depth_the_phase_advances_with_the_rate_of_the_moment() -> None:
    turbo = Turbo(sends("A"), rate=5, rate_at_full=25)
    desk = Desk(made({"base": {"left_trigger": {"press": turbo}}}, {"base": {"left_trigger": {"press_at": 0.25}}}))
    desk.at(0, left_trigger=0.25)  # 10 Hz
    desk.at(50 * MS, left_trigger=0.75)  # half a turn later: 20 Hz, the rest takes 25 ms
    desk.timed(170 * MS)
    downs = [output.t // MS for output in desk.log if output.value == 1]  # type: ignore[union-attr]
    assert downs == [0, 75, 125]


@given(st.lists(st.tuples(st.integers(1, 60_000), st.integers(30, 100)), min_size=1, max_size=40))
def test_by_depth_every_pulse_and_gap_lasts_ten_ms(moves: list[tuple[int, int]]) -> None:
    turbo = Turbo(sends("A"), rate=1, rate_at_full=50, duty=0.9)
    desk = Desk(made({"base": {"left_trigger": {"press": turbo}}}))
    t = 0
    for gap, depth in moves:
        t += gap
        desk.at(t, left_trigger=depth / 100)
    desk.to(t + 200_000)
    times = [output.t for output in desk.log]
    assert all(later - earlier >= 10_000 for earlier, later in pairwise(times))


# In proportion


@pytest.mark.parametrize(
    ("depth", "sent"),
    [
        (0.6, ["0 +D", "60 -D", "100 +D", "160 -D"]),
        (0.95, ["0 +D"]),
        (1.0, ["0 +D"]),
        (0.9, ["0 +D", "90 -D", "100 +D", "190 -D"]),
    ],
)
def test_down_for_the_share_of_the_period_that_it_is_moved(depth: float, sent: list[str]) -> None:
    desk = Desk(made({"base": {"left_stick": four(right=Pulsed(sends("D")))}}))
    out = desk.at(0, left_stick=(depth, 0))
    assert ["0 " + word for word in out] + desk.timed(199 * MS) == sent


def test_nothing_shorter_than_ten_ms_is_sent() -> None:
    desk = Desk(
        made({"base": {"left_stick": four(right=Pulsed(sends("D")))}}, {"base": {"left_stick": {"key_radius": 0.05}}})
    )
    assert desk.at(0, left_stick=(0.09, 0)) == []
    assert desk.timed(99 * MS) == []
    desk.at(99 * MS, left_stick=(0.5, 0))
    assert desk.timed(199 * MS) == ["100 +D", "150 -D"]


def test_the_depth_is_that_along_its_direction() -> None:
    role = four(right=Pulsed(sends("D")), up=Pulsed(sends("W")))
    desk = Desk(made({"base": {"left_stick": role}}, {"base": {"left_stick": {"key_radius": 0.2}}}))
    desk.at(0, left_stick=(0.4, -0.6))
    assert desk.timed(99 * MS) == ["40 -D", "60 -W"]


# Holds become toggles


def test_holds_of_keys_and_layers_become_toggles_taps_do_not() -> None:
    habits = Habits(holds_toggle=True)
    base = {"south": ["LEFTSHIFT", "A"], "east": ">aim", "west": {"tap": "T", "hold": "H"}}
    desk = Desk(made({"base": base, "aim": {}}, habits=habits))
    assert desk.play("0 south 50 -south") == ["0 +LEFTSHIFT", "0 +A"]
    assert desk.play("60 east 70 -east") == ["60 >aim"]
    assert desk.play("80 south") == ["80 -A", "80 -LEFTSHIFT"]
    assert desk.play("100 -south 110 east 120 -east") == ["110 <aim"]
    assert desk.play("200 west 210 -west 300 west 600 -west 900") == ["210 +T", "240 -T", "500 +H"]


def test_macros_and_belts_stay_as_they_are() -> None:
    from nubshift.model.profile import Macro, MacroTap

    macros = (Macro("m", "m", (MacroTap(sends("Q")),)),)
    desk = Desk(made({"base": {"south": SendMacro("m")}}, habits=Habits(holds_toggle=True), macros=macros))
    assert desk.play("0 south 100 -south 200 south 400") == ["0 +Q", "30 -Q", "200 +Q", "230 -Q"]


# Commands that the game toggles itself

SPRINT = Command("sprint", "Sprint", ("LEFTSHIFT",), toggles=True)


def sprinting() -> Desk:
    bands = (Band(0.9, sends("/sprint")),)
    binding = {"role": four(), "bands": bands}
    return Desk(made({"base": {"left_stick": binding, "south": "LEFTSHIFT"}}, commands=[SPRINT]))


def test_they_are_tapped_on_entering_and_on_leaving() -> None:
    desk = sprinting()
    assert desk.at(0, left_stick=(0, -0.95)) == ["+W", "+LEFTSHIFT"]
    assert desk.timed(100 * MS) == ["30 -LEFTSHIFT"]
    assert desk.at(200 * MS, left_stick=(0, -0.7)) == ["+LEFTSHIFT"]
    assert desk.timed(900 * MS) == ["230 -LEFTSHIFT"]


def test_their_pulses_never_join_but_queue_with_thirty_ms_between() -> None:
    desk = sprinting()
    desk.at(0, left_stick=(0, -0.95))
    desk.at(5 * MS, left_stick=(0, -0.7))
    desk.at(10 * MS, left_stick=(0, -0.95))
    assert desk.timed(900 * MS) == [
        "30 -LEFTSHIFT",
        "60 +LEFTSHIFT",
        "90 -LEFTSHIFT",
        "120 +LEFTSHIFT",
        "150 -LEFTSHIFT",
    ]


def test_they_are_never_masked() -> None:
    desk = sprinting()
    desk.at(0, south=1)
    assert desk.at(10 * MS, left_stick=(0, -0.95)) == ["+W"]
    assert desk.at(50 * MS, south=0) == ["-LEFTSHIFT"]
    assert desk.timed(900 * MS) == ["80 +LEFTSHIFT", "110 -LEFTSHIFT"]


def test_a_stop_drops_what_waits_and_says_so() -> None:
    desk = sprinting()
    desk.at(0, left_stick=(0, -0.95))
    desk.at(5 * MS, left_stick=(0, -0.7))
    assert desk.engine.lost_pulses == 0
    assert desk.stop(10 * MS) == ["-LEFTSHIFT", "-W"]
    assert desk.engine.lost_pulses == 1
    assert desk.timed(900 * MS) == []


def test_unplugging_drops_the_pulses_of_that_controller_alone() -> None:
    bands = (Band(0.9, sends("/sprint")),)
    both = {"left_stick": {"bands": bands}, "2:left_stick": {"bands": bands}}
    desk = Desk(made({"base": both}, commands=[SPRINT], seats=(Seat("1"), Seat("2"))))
    desk.at(0, left_stick=(0, -1))
    desk.at(5 * MS, seat="2", left_stick=(0, -1))
    assert desk.unplug(10 * MS) == ["-LEFTSHIFT"]
    assert desk.timed(900 * MS) == ["40 +LEFTSHIFT", "70 -LEFTSHIFT"]  # the other one's turn, 30 ms later
    assert desk.engine.lost_pulses == 1  # the tap that would have switched it off again


def test_the_waiting_pulses_of_a_controller_that_goes_are_dropped() -> None:
    bands = (Band(0.9, sends("/sprint")),)
    both = {"left_stick": {"bands": bands}, "2:left_stick": {"bands": bands}}
    desk = Desk(made({"base": both}, commands=[SPRINT], seats=(Seat("1"), Seat("2"))))
    desk.at(0, left_stick=(0, -1))
    desk.at(5 * MS, seat="2", left_stick=(0, -1))
    assert desk.unplug(10 * MS, "2") == []
    assert desk.timed(900 * MS) == ["30 -LEFTSHIFT"]


CTRL = (Command("one", "One", ("LEFTCTRL", "Q"), toggles=True), Command("two", "Two", ("LEFTCTRL", "E"), toggles=True))


def test_two_that_share_a_key_are_both_sent_when_it_is_free() -> None:
    profile = made(
        {
            "base": {
                "left_trigger": {"bands": (Band(0.2, sends("/one")),)},
                "right_trigger": {"bands": (Band(0.2, sends("/two")),)},
                "south": "LEFTCTRL",
            }
        },
        commands=CTRL,
    )
    desk = Desk(profile)
    desk.at(0, south=1)
    assert desk.at(10 * MS, left_trigger=1.0) == []
    assert desk.at(11 * MS, right_trigger=1.0) == []
    assert desk.at(20 * MS, south=0) == ["-LEFTCTRL"]
    assert desk.timed(500 * MS) == [
        "50 +LEFTCTRL",
        "50 +Q",
        "80 -Q",
        "80 -LEFTCTRL",
        "110 +LEFTCTRL",
        "110 +E",
        "140 -E",
        "140 -LEFTCTRL",
    ]


def test_a_pulse_does_not_join_a_key_that_a_stick_lets_go_in_the_same_step() -> None:
    run = (Command("run", "Run", ("LEFTSHIFT",), toggles=True),)
    profile = made({"base": {"left_stick": {"role": four("LEFTSHIFT", "/run")}}}, commands=run)
    desk = Desk(profile)
    assert desk.at(0, left_stick=(0, -1)) == ["+LEFTSHIFT"]
    assert desk.at(MS, left_stick=(1, 0)) == ["-LEFTSHIFT"]
    assert desk.timed(200 * MS) == ["31 +LEFTSHIFT", "61 -LEFTSHIFT"]


def test_plugged_anew_while_one_waits_for_a_held_key_nothing_raises() -> None:
    profile = made(
        {"base": {"left_trigger": {"bands": (Band(0.2, sends("/run")),)}, "2:south": "LEFTSHIFT"}},
        commands=(Command("run", "Run", ("LEFTSHIFT",), toggles=True),),
        seats=(Seat("1"), Seat("2")),
    )
    desk = Desk(profile)
    desk.at(0, seat="2", south=1)
    desk.at(MS, left_trigger=1.0)
    desk.plug(2 * MS, left_trigger=1.0)
    assert desk.engine.lost_pulses > 0
    desk.unplug(3 * MS)
    desk.at(4 * MS, left_trigger=1.0)
    assert desk.at(10 * MS, seat="2", south=0) == ["-LEFTSHIFT"]
    assert desk.timed(500 * MS) == ["40 +LEFTSHIFT", "70 -LEFTSHIFT"]
