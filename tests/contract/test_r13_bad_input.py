"""Contract R2, R13: normal form and bad input."""

from __future__ import annotations

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nubshift.engine.compile import compile_profile
from nubshift.engine.engine import Engine
from nubshift.engine.owner import Caused, outputs_of
from nubshift.events import Button, Key, LayerChange, Output, Plugged, Report, Unplugged
from nubshift.model.controls import CONTROLS
from nubshift.model.roles import MouseRole
from nubshift.model.sends import InOrder, Pulsed, Send, SendKey, SendNothing, SendText, Toggled, Turbo
from nubshift.units import NEVER
from tests.support.playing import Desk, moved
from tests.support.profiles import four, made

PROFILE = made(
    {
        "base": {
            "south": "A",
            "east": ["LEFTSHIFT", "A"],
            "west": ">aim",
            "north": ">menu",
            "left_stick": four(up=["W", ">aim"]),
            "right_stick": MouseRole(),
            "left_trigger": ["B", ">menu"],
            "dpad_up": "C",
        },
        "aim": {"south": "D", "left_stick": four(left="LEFT"), "west": "A"},
        "menu": {"south": None, "right_stick": four(), "east": ">aim"},
    },
    hiding=["menu"],
)


def test_out_of_range_is_clamped() -> None:
    desk = Desk(made({"base": {"right_stick": MouseRole()}}, {"base": {"right_stick": {"speed": 100.0}}}))
    desk.at(0, right_stick=(7, 0))
    desk.to(1_000_000)
    assert moved(desk.log)[0] == 2500
    assert desk.engine.counts.clamped == 1


def test_a_non_number_leaves_the_control_at_its_last_value() -> None:
    desk = Desk(PROFILE)
    assert desk.at(1, left_stick=(0, 1)) == ["+S"]
    assert desk.at(2, left_stick=(math.nan, 0)) == []
    assert desk.engine.feed(Report(3, (("left_stick", "far", 0.0), ("south", None, 0.0)))) == []  # type: ignore[arg-type]
    assert desk.engine.held == ("S",)
    assert desk.engine.counts.not_numbers == 3


def test_a_late_release_is_taken_at_the_latest_time() -> None:
    desk = Desk(PROFILE)
    desk.at(5000, south=1)
    assert desk.at(1000, south=0) == ["-A"]
    assert desk.log[-1].t == 5000
    assert desk.engine.counts.late == 1


def test_unknown_controls_and_seats_are_counted() -> None:
    desk = Desk(PROFILE)
    assert desk.at(1, nose=1) == []
    assert desk.at(2, seat="9", south=1) == []
    assert desk.engine.counts.unknown == 2


def test_what_is_no_event_at_all_is_counted_and_ignored() -> None:
    desk = Desk(PROFILE)
    desk.at(1000, south=1)
    for odd in (None, "south", 7, object()):
        assert desk.engine.feed(odd) == []  # type: ignore[arg-type]
    assert desk.engine.feed(Report(2000, (("south", 0.0),))) == []  # type: ignore[arg-type]
    assert desk.engine.feed(Report(math.nan, (("east", 1.0, 0.0),)))[-1][0].t == 2000  # type: ignore[arg-type]
    assert desk.engine.counts.unknown == 5
    assert desk.at(3000, south=0, east=0) == ["-A", "-LEFTSHIFT"]


def test_a_time_that_cannot_be_is_the_present_one() -> None:
    desk = Desk(made({"base": {"south": "A", "right_stick": MouseRole()}}))
    desk.at(1000, south=1, right_stick=(1, 0))
    for never in (NEVER, NEVER + 1, 1 << 70):
        desk.engine.feed(Report(never, (("right_stick", 0.5, 0.0),)))
        assert desk.engine.next_deadline == 4000
    assert desk.at(3000, south=0) == ["-A"]


number = st.one_of(st.sampled_from([0.0, 1.0, 1.0, 0.0, -1.0]), st.floats(allow_nan=True, allow_infinity=True))
change = st.tuples(st.sampled_from([*CONTROLS, "nose"]), number, number)
report = st.builds(Report, st.integers(0, 500_000), st.lists(change, max_size=4).map(tuple))
event = st.one_of(
    report,
    report,
    report,
    st.builds(Unplugged, st.integers(0, 500_000)),
    st.builds(Plugged, st.integers(0, 500_000), st.lists(change, max_size=3).map(tuple)),
)
step = st.one_of(event, event, event, st.sampled_from(["stop", "resume", "edit", "back"]))


def play(steps: list[object]) -> list[Output]:
    """Everything sent for some steps and the stop at their end."""
    other = made({"base": {"south": "Q", "left_stick": four()}, "aim": {"east": "R"}})
    engine = Engine(compile_profile(PROFILE))
    out: list[Caused] = []
    now = 0
    for one in steps:
        if one == "stop":
            out += engine.release_all(now)
        elif one == "resume":
            out += engine.resume(now)
        elif one in ("edit", "back"):
            out += engine.replace(compile_profile(other if one == "edit" else PROFILE), now)
        else:
            now = max(now, one.t)  # type: ignore[attr-defined]
            out += engine.feed(one)  # type: ignore[arg-type]
    out += engine.release_all(now)
    assert engine.held == ()
    assert engine.active_layers == ()
    assert engine.next_deadline is None
    return outputs_of(out)


@settings(max_examples=150)
@given(st.lists(step, max_size=40))
def test_nothing_sticks_nothing_is_sent_twice_and_nothing_raises(steps: list[object]) -> None:
    down: set[str] = set()
    layers: set[str] = set()
    last = 0
    for sent in play(steps):
        assert sent.t >= last
        last = sent.t
        if isinstance(sent, Key | Button):
            assert (sent.code in down) != bool(sent.value)
            (down.add if sent.value else down.discard)(sent.code)
        elif isinstance(sent, LayerChange):
            assert (sent.code in layers) != bool(sent.value)
            (layers.add if sent.value else layers.discard)(sent.code)
    assert not down
    assert not layers


@settings(max_examples=60)
@given(st.lists(step, max_size=30))
def test_the_same_input_gives_the_same_output(steps: list[object]) -> None:
    assert play(steps) == play(steps)


NOTHING: list[Send] = [SendNothing(), SendText("中")]


@pytest.mark.parametrize("nothing", NOTHING)
@pytest.mark.parametrize("depth", [None, 30.0])
def test_a_modifier_around_nothing_is_nothing_and_still_sets_its_control(nothing: Send, depth: float | None) -> None:
    what = (nothing,)
    for modified in (
        InOrder(what),
        Turbo(what, rate_at_full=depth),
        Pulsed(what),
        Toggled(what),
        Turbo((InOrder(what),)),
    ):
        layers = {
            "base": {"south": "A", "left_stick": four(), "east": "!aim"},
            "aim": {"south": {"tap": modified, "double": "D"}, "left_stick": four(up=modified)},
        }
        desk = Desk(made(layers))
        desk.at(0, east=1)
        assert desk.at(1, south=1, left_stick=(0, -1)) == []
        assert desk.at(2, left_stick=(0.1, 0), south=0) == []
        assert desk.to(900_000) == []


def test_it_leaves_the_rest_of_a_row_in_order() -> None:
    desk = Desk(made({"base": {"south": InOrder((SendNothing(), SendKey("A"), SendNothing(), SendKey("B")))}}))
    assert desk.at(0, south=1) == ["+A"]
    assert desk.timed(100_000) == ["30 +B"]
