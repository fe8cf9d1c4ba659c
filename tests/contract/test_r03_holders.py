"""Contract R3: holders."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from tests.support.playing import Desk
from tests.support.profiles import four, made


def test_down_with_the_first_holder_up_with_the_last() -> None:
    desk = Desk(made({"base": {"south": "A", "east": "A"}}))
    assert desk.at(1, south=1) == ["+A"]
    assert desk.at(2, east=1) == []
    assert desk.at(3, south=0) == []
    assert desk.at(4, east=0) == ["-A"]


def test_a_chord_goes_down_as_listed_and_up_reversed() -> None:
    desk = Desk(made({"base": {"south": ["LEFTCTRL", "LEFTSHIFT", "A"]}}))
    assert desk.at(1, south=1) == ["+LEFTCTRL", "+LEFTSHIFT", "+A"]
    assert desk.at(2, south=0) == ["-A", "-LEFTSHIFT", "-LEFTCTRL"]


def test_a_key_that_stays_is_not_touched_by_a_stick() -> None:
    desk = Desk(made({"base": {"left_stick": four()}}))
    assert desk.at(1, left_stick=(0, -1)) == ["+W"]
    assert desk.at(2, left_stick=(0.7, -0.7)) == ["+D"]
    assert desk.at(3, left_stick=(1, 0)) == ["-W"]
    assert desk.at(4, left_stick=(0, 0)) == ["-D"]


def test_ups_go_first_newest_first_then_downs_in_listed_order() -> None:
    desk = Desk(made({"base": {"left_stick": four(up=["W", "LEFTSHIFT"], down=["S", "C"])}}))
    assert desk.at(1, left_stick=(0.7, -0.7)) == ["+W", "+LEFTSHIFT", "+D"]
    assert desk.at(2, left_stick=(-0.7, 0.7)) == ["-D", "-LEFTSHIFT", "-W", "+S", "+C", "+A"]


def test_repeated_presses_and_releases_are_ignored_and_counted() -> None:
    desk = Desk(made({"base": {"south": "A"}}))
    assert desk.at(1, south=0) == []
    assert desk.at(2, south=1) == ["+A"]
    assert desk.at(3, south=1) == []
    assert desk.at(4, south=0) == ["-A"]
    assert desk.engine.counts.repeated == 2


def test_mouse_buttons_are_no_keys() -> None:
    desk = Desk(made({"base": {"south": "BTN_LEFT", "east": "LEFT"}}))
    desk.at(1, south=1, east=1)
    assert [type(event).__name__ for event in desk.log] == ["Button", "Key"]


SHARED = {"south": ["A"], "east": ["A", "B"], "west": ["B", "C"], "north": ["A", "B", "C"]}


@given(st.lists(st.sampled_from(sorted(SHARED)), max_size=40))
def test_a_key_is_down_while_any_button_holds_it(presses: list[str]) -> None:
    desk = Desk(made({"base": SHARED}))
    down: set[str] = set()
    for t, button in enumerate(presses):
        before = {key for held in down for key in SHARED[held]}
        down ^= {button}
        after = {key for held in down for key in SHARED[held]}
        sent = desk.at(t, **{button: float(button in down)})
        assert sorted(sent) == sorted([f"+{k}" for k in after - before] + [f"-{k}" for k in before - after])
        assert set(desk.engine.held) == after
