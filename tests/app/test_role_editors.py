"""Editors of what acts by its position: directions, tiles, wheels, boards, gyro, depths (N21, N30 to N38)."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtWidgets import QWidget

from nubshift.app.editors.pictures.bands import BandsPicture
from nubshift.app.editors.pictures.board import BoardPicture
from nubshift.app.editors.pictures.on_screen import ScreenPicture
from nubshift.model.profile import Band
from nubshift.model.roles import (
    BoardRole,
    GyroRole,
    KeysRole,
    MenuRole,
    MouseRole,
    PadAxisRole,
    PadStickRole,
    PointerRole,
    ScrollRole,
    TilesRole,
)
from nubshift.model.sends import Pulsed, SendCommand
from nubshift.model.slots import side
from nubshift.model.writing import profile_text
from tests.app.editing import EMPTY, binding, drag, key_into, on, used_as
from tests.app.hand import Hand
from tests.support.profiles import sends


@pytest.fixture
def hand(lend: Callable[..., Hand], tmp_path: Path) -> Hand:
    path = tmp_path / "empty.nubshift.json"
    path.write_bytes(profile_text(EMPTY))
    return lend(path)


@pytest.mark.parametrize(
    ("control", "word", "role"),
    [
        ("left_stick", "Keys", KeysRole),
        ("left_stick", "Mouse", MouseRole),
        ("left_stick", "Scroll", ScrollRole),
        ("left_stick", "Tiles", TilesRole),
        ("left_stick", "Radial menu", MenuRole),
        ("left_stick", "Pointer", PointerRole),
        ("left_stick", "On-screen keyboard", BoardRole),
        ("left_stick", "Virtual stick", PadStickRole),
        ("dpad", "Radial menu", MenuRole),
        ("left_trigger", "Virtual axis", PadAxisRole),
        ("left_trigger", "Scroll", ScrollRole),
        ("motion", "Mouse", GyroRole),
        ("motion", "Pointer", GyroRole),
        ("motion", "Virtual stick", GyroRole),
        ("touch_pad", "Pointer", PointerRole),
        ("axis_1", "Keys", KeysRole),
    ],
)
def test_whatever_a_control_is_used_as(hand: Hand, control: str, word: str, role: type) -> None:
    assert isinstance(used_as(hand, control, word), role)
    assert hand.studio.document.saved or hand.studio.profile != EMPTY
    hand.studio.document.undo()
    assert hand.studio.profile == EMPTY


def test_directions_on_the_compass(hand: Hand) -> None:
    used_as(hand, "left_stick", "Keys")
    picture = hand.panel.picture
    hand.bot.mouseDClick(picture, Qt.MouseButton.LeftButton, pos=picture.place(side("right")).center().toPoint())
    assert picture.listening(side("right"))
    hand.press(Qt.Key.Key_L)
    assert on(hand, "left_stick", side("right")) == sends("L")
    hand.press(Qt.Key.Key_Left, picture)
    hand.press(Qt.Key.Key_Return, picture)
    hand.press(Qt.Key.Key_J)
    assert on(hand, "left_stick", side("left")) == sends("J")
    hand.choose(hand.panel, "Pulsed by depth")  # a key that works like an axis
    assert on(hand, "left_stick", side("left")) == (Pulsed(sends("J")),)


def test_tiles_keep_their_cells_when_they_are_divided_otherwise(hand: Hand) -> None:
    used_as(hand, "left_stick", "Tiles")
    picture = hand.panel.picture
    hand.click(picture, picture.place("role.cells[4]").center().toPoint())
    hand.panel.editor.view.arm()
    hand.press(Qt.Key.Key_5)
    assert binding(hand, "left_stick").role.cells[4] == sends("5")  # type: ignore[union-attr]
    hand.choose(hand.panel, "Sixteen")
    role = binding(hand, "left_stick").role
    assert isinstance(role, TilesRole)
    assert (role.rows, role.columns, role.cells[5]) == (4, 4, sends("5"))  # the same row and column
    hand.choose(hand.panel, "Eight ways")
    assert binding(hand, "left_stick").role.slices == 8  # type: ignore[union-attr]
    hand.choose(hand.panel, "Nine")
    box = next(b for b in hand.panel.findChildren(QWidget) if getattr(b, "text", str)() == "Show while in use")
    hand.click(box, QPoint(8, box.height() // 2))
    screen = hand.panel.findChild(ScreenPicture)
    hand.until(screen.isVisible)
    drag(screen, screen._box.center(), screen._screen.center())
    assert binding(hand, "left_stick").role.show.y == pytest.approx(0.5, abs=0.03)  # type: ignore[union-attr]
    hand.press(Qt.Key.Key_Plus, screen)
    assert binding(hand, "left_stick").role.show.size == pytest.approx(0.37)  # type: ignore[union-attr]


def test_a_radial_menu_as_the_wheel(hand: Hand) -> None:
    used_as(hand, "right_stick", "Radial menu")
    picture = hand.panel.picture
    for index, key in enumerate((Qt.Key.Key_1, Qt.Key.Key_2)):
        hand.click(picture, picture.place(f"role.entries[{index}].what").center().toPoint())
        hand.panel.editor.view.arm()
        hand.press(key)
    role = binding(hand, "right_stick").role
    assert isinstance(role, MenuRole)
    assert [entry.what for entry in role.entries] == [sends("1"), sends("2"), (), ()]
    hand.choose(hand.panel, "Add entry")
    hand.choose(hand.panel, "Move right")
    assert len(binding(hand, "right_stick").role.entries) == 5  # type: ignore[union-attr]
    for _ in range(3):
        hand.choose(hand.panel, "Remove")
    assert len(binding(hand, "right_stick").role.entries) == 2  # type: ignore[union-attr]
    hand.choose(hand.panel, "Remove")
    assert len(binding(hand, "right_stick").role.entries) == 2  # type: ignore[union-attr]
    hand.choose(hand.panel, "By a press")
    role = binding(hand, "right_stick").role
    assert isinstance(role, MenuRole)
    assert (role.on, role.by) == ("press", "right_stick_click")
    hand.click(picture, picture.place("role.middle").center().toPoint())
    hand.panel.editor.view.arm()
    hand.press(Qt.Key.Key_M)
    assert binding(hand, "right_stick").role.middle == sends("M")  # type: ignore[union-attr]


def test_the_control_by_which_is_touched(hand: Hand) -> None:
    used_as(hand, "motion", "Mouse")
    hand.choose(hand.panel, "While held")
    role = binding(hand, "motion").role
    assert isinstance(role, GyroRole)
    assert (role.active, role.by) == ("while", "left_trigger")
    hand.press(Qt.Key.Key_Return, hand.panel._by)
    hand.steer("right_bumper", 1)
    hand.until(lambda: getattr(binding(hand, "motion").role, "by", "") == "right_bumper")
    hand.choose(hand.panel, "Gravity")
    assert getattr(binding(hand, "motion").role, "axes", "") == "gravity"


def test_a_typing_board_cell_by_cell(hand: Hand) -> None:
    used_as(hand, "left_stick", "On-screen keyboard")
    board = hand.panel.findChild(BoardPicture)
    hand.click(board, board.place(0, 1).center().toPoint())
    board.setFocus()
    hand.bot.keyClicks(board, "9")
    assert binding(hand, "left_stick").role.rows[0][1] == "9"  # type: ignore[union-attr, index]
    hand.press(Qt.Key.Key_Insert, board)
    assert len(binding(hand, "left_stick").role.rows[0]) == 11  # type: ignore[union-attr, index]
    hand.press(Qt.Key.Key_Return, board)
    hand.answer("tab")
    assert "TAB" in binding(hand, "left_stick").role.rows[0]  # type: ignore[union-attr, index]


# Depths


def test_depths_of_a_trigger_are_dragged_on_the_pull(hand: Hand) -> None:
    key_into(hand, "right_trigger", Qt.Key.Key_Space)
    hand.choose(hand.panel, "By depth")
    assert binding(hand, "right_trigger").bands == (Band(0.2, (SendCommand("jump"),)), Band(0.9, ()))
    assert hand.studio.selection.part == "bands[1].what"
    hand.panel.depths.editor.view.arm()
    hand.press(Qt.Key.Key_C)
    picture = hand.panel.findChild(BandsPicture)
    hand.until(picture.isVisible)
    drag(picture, QPointF(picture._x(0.9), 14), QPointF(picture._x(0.6), 14))
    assert binding(hand, "right_trigger").bands[1].start == pytest.approx(0.6, abs=0.02)
    drag(picture, QPointF(picture._x(0.2), 14), QPointF(picture._x(0.95), 14))
    first, second = binding(hand, "right_trigger").bands
    assert first.start < second.start  # an edge stops at its neighbour
    hand.choose(hand.panel, "Add depth")
    assert len(binding(hand, "right_trigger").bands) == 3
    hand.choose(hand.panel, "Remove depth")
    assert len(binding(hand, "right_trigger").bands) == 2


def test_depths_of_a_stick_are_rings_and_it_keeps_its_keys(hand: Hand) -> None:
    used_as(hand, "left_stick", "Keys")
    hand.choose(hand.panel, "Add an output at a depth")
    hand.panel.depths.editor.view.arm()
    hand.press(Qt.Key.Key_Shift)
    assert binding(hand, "left_stick").bands == (Band(0.5, sends("LEFTSHIFT")),)
    picture = hand.panel.findChild(BandsPicture)
    hand.until(picture.isVisible)
    start = picture._centre + QPointF(picture._radius * 0.5, 0)
    drag(picture, start, picture._centre + QPointF(picture._radius * 0.9, 0))
    assert binding(hand, "left_stick").bands[0].start == pytest.approx(0.9, abs=0.03)
    assert isinstance(binding(hand, "left_stick").role, KeysRole)
    hand.choose(hand.panel, "Held while it is out")
    hand.panel.depths.editor.view.arm()
    hand.press(Qt.Key.Key_C)
    assert binding(hand, "left_stick").out == (SendCommand("duck"),)


def test_a_stick_is_opened_in_tune(hand: Hand) -> None:
    """What a link does does not depend on how it reads."""
    hand.studio.selection.select("right_stick")
    hand.click(hand.window.map.inspector.tune)
    assert hand.window.inside.pages.currentWidget() is hand.window.tune
