"""Contract R1: pure and timed; the report is the unit of input."""

from __future__ import annotations

from nubshift.events import Motion
from nubshift.model.roles import MouseRole
from nubshift.outputs.port import Sink
from nubshift.outputs.recorder import Recorder
from tests.support.playing import Desk, words
from tests.support.profiles import four, made


def test_presses_that_change_layers_come_first_in_a_report() -> None:
    desk = Desk(made({"base": {"south": "A", "east": ">aim"}, "aim": {"south": "B"}}))
    assert desk.at(1000, south=1, east=1) == [">aim", "+B"]


def test_other_buttons_keep_the_order_given() -> None:
    desk = Desk(made({"base": {"south": "A", "east": "B", "west": "C"}}))
    assert desk.at(1000, west=1, south=1, east=1) == ["+C", "+A", "+B"]


def test_a_layer_press_is_looked_up_after_the_one_before_it() -> None:
    desk = Desk(
        made({"base": {"south": ">one", "east": ">two"}, "one": {"east": ["B", ">three"]}, "two": {}, "three": {}})
    )
    assert desk.at(1000, south=1, east=1) == [">one", "+B", ">three"]


def test_sticks_come_last_with_the_last_layers_and_values() -> None:
    profile = made({"base": {"left_stick": four(), "south": ">aim"}, "aim": {"left_stick": four(up="UP")}})
    desk = Desk(profile)
    assert desk.at(1000, left_stick=(0, -1), south=1) == [">aim", "+UP"]


def test_a_stick_that_did_not_move_follows_once_at_the_end() -> None:
    profile = made({"base": {"left_stick": four(), "south": ">aim"}, "aim": {"left_stick": four(up="UP"), "east": "E"}})
    desk = Desk(profile)
    desk.at(1000, left_stick=(0, -1))
    assert desk.at(2000, south=1, east=1) == [">aim", "-W", "+E", "+UP"]


def test_ticks_run_before_input_of_the_same_time_and_carry_their_own() -> None:
    desk = Desk(made({"base": {"right_stick": MouseRole(), "south": "A"}}, {"base": {"right_stick": {"inner": 0.0}}}))
    desk.at(0, right_stick=(1, 0))
    desk.at(12_000, south=1)
    assert [type(event).__name__ for event in desk.log] == ["Motion", "Motion", "Motion", "Key"]
    assert [event.t for event in desk.log] == [4000, 8000, 12_000, 12_000]


def test_the_steps_of_time_do_not_matter() -> None:
    profile = made({"base": {"right_stick": MouseRole()}})
    fine, coarse = Desk(profile), Desk(profile)
    for desk in (fine, coarse):
        desk.at(100, right_stick=(0.7, 0.3))
    for t in range(137, 50_000, 137):
        fine.to(t)
    fine.to(50_000)
    coarse.to(50_000)
    assert fine.log == coarse.log
    assert any(isinstance(event, Motion) for event in fine.log)


def test_a_sink_spaces_down_and_up_of_one_batch_by_a_tap() -> None:
    desk = Desk(made({"base": {"south": "A"}}))
    recorder = Recorder()
    sink = Sink(recorder)
    desk.at(1000, south=1)
    desk.at(2000, south=0)
    sink.send(desk.log, 500_000)
    assert words(recorder.events) == ["+A"]
    assert sink.next_deadline == 530_000
    sink.flush(530_000)
    assert words(recorder.events) == ["+A", "-A"]
