"""Contract R17: tiles, menus, wheel, point; the on-screen keyboard (N38), continuous scroll (N23), the pointer (N36)."""

from __future__ import annotations

from math import cos, radians, sin
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nubshift.events import Wheel
from nubshift.feel.cells import grid_line, slice_at
from nubshift.model.profile import Command
from nubshift.model.roles import BoardRole, MenuEntry, MenuRole, PointerRole, ScrollRole, TilesRole
from nubshift.model.sends import SendPoint, SendScroll, SendWheel, ShowAll, Turbo
from tests.support.playing import MS, Desk, moved
from tests.support.profiles import made, sends

NINE = TilesRole(tuple(sends(f"KP{n}") for n in (7, 8, 9, 4, 5, 6, 1, 2, 3)))


def at(angle: float, radius: float = 1.0) -> tuple[float, float]:
    return radius * sin(radians(angle)), -radius * cos(radians(angle))


# Tiles


def test_nine_tiles_are_held_while_the_position_is_in_them() -> None:
    desk = Desk(made({"base": {"left_stick": NINE}}))
    assert desk.at(0, left_stick=(0, 0)) == ["+KP5"]
    assert desk.at(1, left_stick=(0.9, -0.9)) == ["-KP5", "+KP9"]
    assert [s.cell for s in desk.engine.surfaces] == [2]


def test_tiles_have_two_hundredths_of_hysteresis() -> None:
    desk = Desk(made({"base": {"left_stick": NINE}}))
    desk.at(0, left_stick=(0, 0))
    assert desk.at(1, left_stick=(1 / 3 + 0.019, 0)) == []
    assert desk.at(2, left_stick=(1 / 3 + 0.021, 0)) == ["-KP5", "+KP6"]
    assert desk.at(3, left_stick=(1 / 3 - 0.019, 0)) == []
    assert desk.at(4, left_stick=(1 / 3 - 0.021, 0)) == ["-KP6", "+KP5"]


def test_tiles_along_angles_have_three_degrees_of_hysteresis_and_a_middle_without_key() -> None:
    role = TilesRole(tuple(sends(key) for key in "ABCDEFGH"), slices=8)
    desk = Desk(made({"base": {"left_stick": role}}))
    assert desk.at(0, left_stick=at(0, 0.39)) == []
    assert desk.at(1, left_stick=at(0, 0.41)) == ["+A"]
    assert desk.at(2, left_stick=at(25.4)) == []
    assert desk.at(3, left_stick=at(25.6)) == ["-A", "+B"]
    assert desk.at(4, left_stick=at(45, 0.381)) == []
    assert desk.at(5, left_stick=at(45, 0.379)) == ["-B"]


def test_on_a_touch_pad_tiles_need_a_finger() -> None:
    desk = Desk(made({"base": {"touch_pad": NINE}}))
    assert desk.at(0, touch_pad=(0.9, 0.9)) == []
    assert desk.at(1, touch_pad_touched=1) == ["+KP3"]
    assert desk.at(2, touch_pad_touched=0) == ["-KP3"]


@given(st.floats(-1, 1), st.integers(1, 8))
def test_every_value_has_a_cell_and_keeps_it(value: float, count: int) -> None:
    cell = grid_line(value, count, None, 0.02)
    assert 0 <= cell < count
    assert -1 + cell * 2 / count - 1e-12 <= value <= -1 + (cell + 1) * 2 / count + 1e-12
    assert grid_line(value, count, cell, 0.02) == cell


@given(st.floats(0, 359.99), st.integers(2, 16), st.integers(0, 15))
def test_a_slice_is_kept_only_near_its_edges(angle: float, count: int, held: int) -> None:
    plain = slice_at(angle, count, None, 3.0)
    width = 360 / count
    centre_off = abs((angle - plain * width + 180) % 360 - 180)
    assert centre_off <= width / 2 + 1e-9
    if held < count:
        off = abs((angle - held * width + 180) % 360 - 180)
        assert slice_at(angle, count, held, 3.0) == (held if off <= width / 2 + 3 else plain)


# Menus


def menu(**fields: Any) -> MenuRole:
    return MenuRole(tuple(MenuEntry(sends(key)) for key in "ABCD"), **fields)


def test_sent_on_return_it_sends_the_last_cell_held_above_the_inner_radius() -> None:
    desk = Desk(made({"base": {"left_stick": menu()}}))
    assert desk.at(0, left_stick=at(0)) == []
    desk.at(1 * MS, left_stick=at(90))
    assert [s.cell for s in desk.engine.surfaces] == [1]
    assert desk.at(2 * MS, left_stick=at(180, 0.2)) == ["+B"]
    assert desk.timed(100 * MS) == ["32 -B"]


def test_sent_on_release_it_sends_when_its_layer_is_left() -> None:
    desk = Desk(
        made({"base": {"left_bumper": ">pick"}, "pick": {"right_stick": menu(on="release", middle=sends("M"))}})
    )
    desk.at(0, left_bumper=1)
    desk.at(1 * MS, right_stick=at(270))
    assert desk.at(2 * MS, left_bumper=0) == ["<pick", "+D"]
    desk.at(50 * MS, right_stick=(0, 0))
    desk.at(60 * MS, left_bumper=1)
    assert desk.at(70 * MS, left_bumper=0) == ["<pick", "+M"]
    assert desk.engine.surfaces == ()


def test_sent_on_release_it_sends_when_the_finger_leaves() -> None:
    desk = Desk(made({"base": {"touch_pad": menu(on="release")}}))
    desk.at(0, touch_pad_touched=1, touch_pad=at(0))
    assert desk.at(1, touch_pad_touched=0) == ["+A"]


def test_sent_on_a_press_it_is_held_with_it() -> None:
    desk = Desk(made({"base": {"left_stick": menu(on="press", by="left_stick_click")}}))
    desk.at(0, left_stick=at(180))
    assert desk.at(1, left_stick_click=1) == ["+C"]
    assert desk.at(2, left_stick=at(0)) == []
    assert desk.at(3, left_stick_click=0) == ["-C"]


def test_a_menu_on_the_d_pad() -> None:
    desk = Desk(made({"base": {"dpad": menu()}}))
    desk.at(0, dpad_right=1)
    assert desk.at(1, dpad_right=0) == ["+B"]


def test_a_stop_sends_nothing() -> None:
    desk = Desk(made({"base": {"left_stick": menu()}}))
    desk.at(0, left_stick=at(0))
    assert desk.stop(1) == []
    assert desk.unplug(2) == []


@pytest.mark.parametrize("count", range(2, 17))
def test_any_number_of_entries_from_two_to_sixteen(count: int) -> None:
    keys = "ABCDEFGHIJKLMNOP"[:count]
    desk = Desk(made({"base": {"left_stick": MenuRole(tuple(MenuEntry(sends(key)) for key in keys))}}))
    for index, key in enumerate(keys):
        desk.at(index * 100 * MS, left_stick=at(index * 360 / count))
        assert desk.at(index * 100 * MS + 1, left_stick=(0, 0))[-1] == f"+{key}"


# The on-screen keyboard

BOARD = BoardRole((("a", "b", "c"), ("d", "e", "BACKSPACE")), by="south")


def test_a_stick_moves_the_mark_and_a_button_types() -> None:
    desk = Desk(made({"base": {"left_stick": BOARD}}))
    desk.at(0, left_stick=(1, 0))
    desk.at(10 * MS, left_stick=(0, 0))
    assert [s.cell for s in desk.engine.surfaces] == [1]
    assert desk.at(20 * MS, south=1) == ["+B"]
    desk.at(60 * MS, south=0)
    desk.at(100 * MS, left_stick=(0, 1))
    desk.at(110 * MS, left_stick=(1, 0))
    assert [s.cell for s in desk.engine.surfaces] == [5]
    assert desk.at(120 * MS, south=1) == ["+BACKSPACE"]


def test_a_direction_that_is_held_goes_on() -> None:
    desk = Desk(made({"base": {"left_stick": BOARD}}))
    desk.at(0, left_stick=(1, 0))
    cells = []
    for t in (349, 351, 471, 591):
        desk.to(t * MS)
        cells.append(desk.engine.surfaces[0].cell)
    assert cells == [1, 2, 0, 1]


def test_a_finger_puts_the_mark_and_types_when_it_leaves() -> None:
    role = BoardRole((("a", "b", "c"), ("d", "e", "f")))
    desk = Desk(made({"base": {"touch_pad": role}}))
    desk.at(0, touch_pad_touched=1, touch_pad=(0.9, 0.9))
    assert desk.at(1, touch_pad_touched=0) == ["+F"]


# Wheel


def test_a_notch_goes_out_at_the_begin_of_its_gesture_and_has_no_up() -> None:
    desk = Desk(
        made({"base": {"south": SendWheel("up"), "east": SendWheel("left", 2), "west": {"hold": SendWheel("down")}}})
    )
    assert desk.play("0 south 10 -south 20 east 30 -east 40 west 300 -west") == [
        "0 wheel 0,1",
        "20 wheel -2,0",
        "240 wheel 0,-1",
    ]


def test_a_notch_is_the_key_of_a_command() -> None:
    commands = [
        Command("next", "Next", ("WHEEL_DOWN",)),
        Command("zoom", "Zoom", ("LEFTCTRL", "WHEEL_UP"), toggles=True),
    ]
    desk = Desk(made({"base": {"south": "/next", "east": "/zoom"}}, commands=commands))
    assert desk.play("0 south 50 -south 100 east 150 -east") == [
        "0 wheel 0,-1",
        "100 +LEFTCTRL",
        "100 wheel 0,1",
        "150 -LEFTCTRL",
    ]


def test_a_turbo_of_notches() -> None:
    desk = Desk(made({"base": {"south": Turbo((SendWheel("right"),), rate=10)}}))
    assert desk.play("0 south 210 -south 900") == ["0 wheel 1,0", "100 wheel 1,0", "200 wheel 1,0"]


def test_a_stick_scrolls_evenly_in_parts_of_a_notch() -> None:
    profile = made(
        {"base": {"right_stick": ScrollRole()}},
        {"base": {"right_stick": {"scroll_speed": 10.0, "inner": 0.0, "outer": 1.0}}},
    )
    desk = Desk(profile)
    desk.at(0, right_stick=(0, -1.0))
    desk.to(1000 * MS)
    wheels = [output for output in desk.log if isinstance(output, Wheel)]
    assert sum(wheel.dy for wheel in wheels) == 1200
    assert max(wheel.dy for wheel in wheels) <= 6
    assert all(wheel.dx == 0 for wheel in wheels)


def test_a_button_scrolls_while_it_is_held() -> None:
    desk = Desk(made({"base": {"south": SendScroll("down", 5.0)}}))
    desk.play("0 south 400 -south 900")
    assert sum(output.dy for output in desk.log if isinstance(output, Wheel)) == -240


# Pointer


def test_a_point_is_sent_in_shares_of_the_area_clipped_to_it() -> None:
    role = PointerRole(area=(0.25, 0.0, 0.75, 0.5), margin=0.1)
    desk = Desk(made({"base": {"pointer": role}}))
    assert desk.at(0, pointer=(0, 0)) == ["point 0.5,0.25"]
    assert desk.at(1, pointer=(0.8, 0.8)) == ["point 0.75,0.5"]
    assert desk.at(2, pointer=(1.0, 1.0)) == []  # the margin: nothing new
    assert desk.at(3, pointer=(-1.0, -1.0)) == ["point 0.25,0"]


def test_lost_dots_hold_the_last_point_for_half_a_second_then_it_parks() -> None:
    desk = Desk(made({"base": {"pointer": PointerRole(park=(1.0, 1.0))}}))
    desk.at(0, pointer=(0.5, 0))
    desk.at(10 * MS, pointer_seen=0)
    assert desk.timed(600 * MS) == ["510 point 1,1"]
    assert desk.at(700 * MS, pointer_seen=1, pointer=(0.5, 0)) == ["point 0.75,0.5"]
    desk.at(800 * MS, pointer_seen=0)
    desk.at(900 * MS, pointer_seen=1)
    assert desk.timed(2000 * MS) == []


def test_a_window_instead_of_the_screen_and_a_stick_by_its_tilt() -> None:
    desk = Desk(
        made(
            {"base": {"right_stick": PointerRole(target="window")}},
            {"base": {"right_stick": {"outer": 1.0, "inner": 0.0}}},
        )
    )
    assert desk.at(0, right_stick=(1.0, 0)) == ["point 1,0.5 window"]


def test_relative_a_touch_pad_moves_the_mouse_by_what_changes() -> None:
    desk = Desk(
        made({"base": {"touch_pad": PointerRole(relative=True)}}, {"base": {"touch_pad": {"pointer_speed": 1000.0}}})
    )
    assert desk.at(0, touch_pad_touched=1, touch_pad=(0.5, 0.5)) == []
    assert desk.at(1, touch_pad=(0.6, 0.5)) == ["~50,0"]
    assert desk.at(2, touch_pad_touched=0) == []
    assert desk.at(3, touch_pad_touched=1, touch_pad=(-0.5, -0.5)) == []
    assert moved(desk.log) == (50, 0)


def test_a_button_puts_the_cursor_on_a_point() -> None:
    assert Desk(made({"base": {"south": SendPoint(0.25, 0.75)}})).play("0 south 10 -south") == ["0 point 0.25,0.75"]


def test_the_picture_of_everything_is_asked_for_as_long_as_any_hold_of_it_lasts() -> None:
    desk = Desk(made({"base": {"south": ShowAll(), "east": {"hold": (ShowAll(),)}}}))

    def shown() -> list[str]:
        return [surface.use for surface in desk.engine.surfaces]

    desk.at(0, south=1)
    assert shown() == ["all"]
    desk.at(10 * MS, east=1)
    desk.at(300 * MS, south=0)
    assert shown() == ["all"]  # the other one still holds it
    desk.at(400 * MS, east=0)
    assert shown() == []
    desk.at(500 * MS, south=1)
    desk.stop(600 * MS)
    assert shown() == []
    desk.resume(700 * MS)
    assert shown() == []
