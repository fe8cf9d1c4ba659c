"""Contract R1: what comes before what, with everything that can be due."""

from __future__ import annotations

from nubshift.engine.owner import outputs_of
from nubshift.events import Motion
from nubshift.model.roles import MenuEntry, MenuRole, MouseRole
from nubshift.model.sends import SendMotion, Turbo
from tests.support.playing import MS, Desk
from tests.support.profiles import four, made, sends

FEEL = {"base": {"right_stick": {"inner": 0.0, "outer": 1.0}}}


def test_timers_due_at_t_run_before_input_at_t() -> None:
    desk = Desk(made({"base": {"south": {"hold": "H"}, "east": "E"}}))
    desk.at(0, south=1)
    assert desk.at(200 * MS, east=1) == ["+H", "+E"]


def test_by_due_time_then_by_when_they_were_set() -> None:
    desk = Desk(made({"base": {"south": {"hold": "S"}, "east": {"hold": "E", "hold_at": 100}, "west": {"hold": "W"}}}))
    desk.at(0, west=1, south=1)
    desk.at(100 * MS, east=1)
    assert desk.timed(900 * MS) == ["200 +W", "200 +S", "200 +E"]


def test_motion_comes_last() -> None:
    profile = made({"base": {"right_stick": MouseRole(), "south": {"hold": "H"}}}, FEEL)
    desk = Desk(profile)
    desk.at(0, right_stick=(1, 0), south=1)
    log = [output for output in outputs_of(desk.engine.advance(200 * MS)) if output.t == 200 * MS]
    assert [type(output).__name__ for output in log] == ["Key", "Motion"]


def test_a_hold_that_enters_a_layer_changes_the_speed_in_its_own_microsecond() -> None:
    feel = {
        "base": {"right_stick": {"inner": 0.0, "outer": 1.0, "speed": 360.0}},
        "aim": {"right_stick": {"speed": 36.0}},
    }
    desk = Desk(
        made({"base": {"right_stick": MouseRole(), "south": {"hold": ">aim", "hold_at": 101}}, "aim": {}}, feel)
    )
    desk.at(0, right_stick=(1, 0), south=1)
    desk.to(200 * MS)
    counts = sum(output.dx for output in desk.log if isinstance(output, Motion))
    assert counts == round(101 * 9 + 99 * 0.9)


def test_each_output_carries_the_time_at_which_it_was_due() -> None:
    desk = Desk(made({"base": {"south": Turbo(sends("A"), rate=20)}}))
    desk.at(0, south=1)
    late = outputs_of(desk.engine.advance(1000 * MS))
    assert [output.t // MS for output in late][:4] == [25, 50, 75, 100]


def test_a_combination_that_changes_layers_comes_first_in_its_report() -> None:
    profile = made({"base": {"west": "A"}, "aim": {"west": "B"}}, together={"base": {"south east": ">aim"}})
    desk = Desk(profile)
    desk.at(0, south=1)
    assert desk.at(10 * MS, west=1, east=1) == [">aim", "+B"]


def test_a_press_that_sends_a_menus_entry_acts_with_the_layers_at_the_end_of_the_step() -> None:
    menu = MenuRole((MenuEntry(sends("1")), MenuEntry(sends("2"))), on="press", by="south")
    desk = Desk(made({"base": {"left_stick": menu, "east": ">aim"}, "aim": {"left_stick": four()}}))
    desk.at(0, left_stick=(0, -1))
    assert desk.at(1, south=1, east=1) == [">aim", "+W"]  # the menu is gone by the end of the step


def test_counts_sent_by_a_button_do_not_disturb_the_carry() -> None:
    profile = made({"base": {"right_stick": MouseRole(), "south": SendMotion(7, 0)}}, FEEL)
    desk, plain = Desk(profile), Desk(profile)
    for one in (desk, plain):
        one.at(0, right_stick=(0.33, 0))
    desk.at(10 * MS, south=1)
    for one in (desk, plain):
        one.to(500 * MS)
    assert sum(o.dx for o in desk.log if isinstance(o, Motion)) == 7 + sum(
        o.dx for o in plain.log if isinstance(o, Motion)
    )
