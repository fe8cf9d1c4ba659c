"""Editors for each kind of binding: live pictures that are handled, and what the game then receives (N20 to N35)."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtWidgets import QApplication, QWidget

from nubshift.app.editors.bands import BandsPicture
from nubshift.app.editors.board import BoardPicture
from nubshift.app.editors.entry_editor import ScreenPoint
from nubshift.app.editors.on_screen import ScreenPicture
from nubshift.app.editors.pulses import PulsePicture
from nubshift.model import edits
from nubshift.model.profile import BASE, Band, Binding, Command
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
from nubshift.model.sends import (
    ChangeLayer,
    ChangeSpeed,
    Gyro,
    HoldLayer,
    InOrder,
    Pulsed,
    SendCommand,
    SendKey,
    SendMotion,
    SendPad,
    SendPoint,
    SendRumble,
    SendText,
    SendWheel,
    ShowAll,
    Toggled,
    Turbo,
)
from nubshift.model.slots import Slot, side
from nubshift.model.writing import profile_text
from tests.app.conftest import Hand, take_from_menu
from tests.support.processes import Game
from tests.support.profiles import made, sends

EMPTY = made({"base": {}, "aim": {}}, commands=[Command("jump", "Jump", ("SPACE",)), Command("duck", "Duck", ("C",))])


@pytest.fixture
def hand(start: Callable[..., Hand], tmp_path: Path) -> Hand:
    path = tmp_path / "empty.nubshift.json"
    path.write_bytes(profile_text(EMPTY))
    return start(path)


def on(hand: Hand, control: str, part: str = "press", layer: str = BASE) -> Any:
    return edits.sends_of(hand.studio.profile, Slot(layer, control, part))


def binding(hand: Hand, control: str, layer: str = BASE) -> Binding:
    found = hand.studio.profile.layer(layer).binding(control)  # type: ignore[union-attr]
    assert found is not None
    return found


def drag(widget: QWidget, start: QPointF, end: QPointF) -> None:
    """Press, move in steps, let go: as a hand does with a handle."""
    left, none = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    kinds = [(QEvent.Type.MouseButtonPress, start)]
    kinds += [(QEvent.Type.MouseMove, start + (end - start) * step / 4) for step in range(1, 5)]
    kinds.append((QEvent.Type.MouseButtonRelease, end))
    for kind, at in kinds:
        QApplication.sendEvent(
            widget, QMouseEvent(kind, at, QPointF(widget.mapToGlobal(at.toPoint())), left, left, none)
        )


def key_into(hand: Hand, control: str, key: Qt.Key) -> None:
    hand.studio.select(control)
    hand.studio.arm(hand.studio.slot())
    hand.press(key)


# Gestures


def test_gestures_are_added_on_the_picture_and_their_delay_is_said(hand: Hand) -> None:
    key_into(hand, "south", Qt.Key.Key_Space)
    hand.choose(hand.panel, "kept down")
    hand.press(Qt.Key.Key_C)
    assert binding(hand, "south").gestures == {"press": (SendCommand("jump"),), "hold": (SendCommand("duck"),)}
    assert hand.panel.picture.parts() == ["press", "hold"]
    assert "Duck goes out 200 ms after the press" in hand.panel.costs.text()
    hand.choose(hand.panel, "tapped twice")
    hand.press(Qt.Key.Key_R)
    assert binding(hand, "south").double == (SendKey("R"),)
    hand.window.grab()


def test_a_tap_costs_and_can_be_sent_at_once_instead(hand: Hand) -> None:
    hand.studio.select("south", "tap")
    hand.studio.arm(hand.studio.slot("south", "tap"))
    hand.press(Qt.Key.Key_Space)
    assert "Jump goes out when the finger leaves" in hand.panel.costs.text()
    hand.choose(hand.panel, "send it at once")
    assert binding(hand, "south").gestures == {"press": (SendCommand("jump"),)}
    assert hand.studio.document.undo_title == "Sent at once, lower face button"
    assert not hand.panel.costs.isVisible()


def test_the_time_of_a_hold_is_dragged_and_is_one_step(hand: Hand) -> None:
    hand.studio.select("south", "hold")
    hand.studio.arm(hand.studio.slot("south", "hold"))
    hand.press(Qt.Key.Key_C)
    picture = hand.panel.picture
    hand.until(picture.isVisible)
    start = QPointF(picture._x(200), 12)
    drag(picture, start, QPointF(picture._x(300), 12))
    assert 280 <= (binding(hand, "south").hold_at or 0) <= 320
    hand.studio.undo()
    assert binding(hand, "south").hold_at is None
    hand.press(Qt.Key.Key_Right, picture, Qt.KeyboardModifier.AltModifier)
    assert binding(hand, "south").hold_at == 210


def test_a_lane_is_chosen_by_click_and_by_arrow(hand: Hand) -> None:
    for gesture, key in (("press", Qt.Key.Key_A), ("hold", Qt.Key.Key_B)):
        hand.studio.select("south", gesture)
        hand.studio.arm(hand.studio.slot("south", gesture))
        hand.press(key)
    picture = hand.panel.picture
    hand.click(picture, picture.place("press").center().toPoint())
    assert hand.studio.part == "press"
    assert hand.panel.editor.view.sends == sends("A")
    hand.press(Qt.Key.Key_Down, picture)
    assert hand.panel.editor.view.sends == sends("B")
    assert "kept down: B" in picture.accessibleName()


def test_two_controls_together_by_touching_the_other(hand: Hand) -> None:
    hand.studio.select("left_bumper")
    hand.choose(hand.panel, "together with another control")
    hand.steer("right_bumper", 1)
    hand.until(lambda: hand.studio.control == "left_bumper+right_bumper")
    hand.press(Qt.Key.Key_Space)
    assert on(hand, "left_bumper+right_bumper") == (SendCommand("jump"),)
    assert "with others" in hand.tile("left_bumper").accessibleName()
    hand.steer("right_bumper", 0)
    hand.click(hand.tile("right_bumper"))
    hand.choose(hand.panel, "with left bumper: Jump")
    assert hand.studio.control == "left_bumper+right_bumper"
    assert hand.window.map.inspector._title.text() == "Left bumper and right bumper"
    hand.press(Qt.Key.Key_Delete, hand.panel.editor.view)
    assert hand.studio.profile.layers[0].together == ()


# What is sent


def test_staying_on_and_turbo_with_pulses_dragged(hand: Hand) -> None:
    key_into(hand, "south", Qt.Key.Key_A)
    hand.choose(hand.panel, "stays on")
    assert on(hand, "south") == (Toggled(sends("A")),)
    hand.choose(hand.panel, "repeating")
    assert on(hand, "south") == (Toggled((Turbo(sends("A")),)),)
    picture = hand.panel.findChild(PulsePicture)
    hand.until(picture.isVisible)
    _, x, row = next(edge for edge in picture._edges() if edge[0] == "rate")
    drag(picture, QPointF(x, row.center().y()), QPointF(picture._x(200), row.center().y()))
    turbo = on(hand, "south")[0].what[0]
    assert turbo.rate == pytest.approx(5, abs=0.6)
    picture = hand.panel.findChild(PulsePicture)
    hand.press(Qt.Key.Key_Up, picture)
    assert on(hand, "south")[0].what[0].duty == pytest.approx(0.55)
    hand.choose(hand.panel, "as long as")
    assert isinstance(on(hand, "south")[0], Turbo)
    key_into(hand, "south", Qt.Key.Key_B)  # another key beside it
    hand.panel.editor.view.arm(0)
    hand.press(Qt.Key.Key_C)
    assert on(hand, "south")[0].what == (SendCommand("duck"),)  # a new key keeps repeating


def test_a_trigger_can_repeat_by_depth_and_pulse_in_proportion(hand: Hand) -> None:
    key_into(hand, "right_trigger", Qt.Key.Key_A)
    hand.choose(hand.panel, "faster with depth")
    turbo = on(hand, "right_trigger")[0]
    assert isinstance(turbo, Turbo)
    assert turbo.rate_at_full == 12.0
    hand.press(Qt.Key.Key_Right, hand.panel.findChild(PulsePicture), Qt.KeyboardModifier.ShiftModifier)
    assert on(hand, "right_trigger")[0].rate_at_full == 13.0
    hand.choose(hand.panel, "share by depth")
    assert on(hand, "right_trigger") == (Pulsed(sends("A")),)
    hand.press(Qt.Key.Key_Right, hand.panel.findChild(PulsePicture))
    assert on(hand, "right_trigger")[0].period == 90


def test_chords_their_order_and_one_after_the_other(hand: Hand) -> None:
    key_into(hand, "south", Qt.Key.Key_A)
    key_into(hand, "south", Qt.Key.Key_B)
    view = hand.panel.editor.view
    hand.press(Qt.Key.Key_Up, view, Qt.KeyboardModifier.AltModifier)
    assert on(hand, "south") == sends(["B", "A"])
    drag(view, view._rect(0).center(), view._rect(1).center() + QPointF(0, 4))
    assert on(hand, "south") == sends(["A", "B"])
    hand.choose(hand.panel, "one after the other")
    assert on(hand, "south") == (InOrder(sends(["A", "B"])),)
    key_into(hand, "south", Qt.Key.Key_D)
    assert on(hand, "south") == (InOrder(sends(["A", "B", "D"])),)
    hand.choose(hand.panel, "all at once")
    assert on(hand, "south") == sends(["A", "B", "D"])


OFFERED = [
    (("layer", "aim, on and off"), ChangeLayer("aim")), (("layer", "aim, while held"), HoldLayer("aim")),
    (("wheel", "wheel up, one notch"), SendWheel("up")), (("mouse", "a nudge of the mouse"), SendMotion(0, 100)),
    (("mouse", "the cursor to a point"), SendPoint(0.5, 0.5)), (("mouse", "sticks turn faster"), ChangeSpeed(1.1)),
    (("gyro", "recentre the gyro"), Gyro("recentre")), (("virtual pad", "start"), None),
    (("text", ""), SendText("hello")), (("controller", "a rumble"), SendRumble()),
    (("show", "what everything does, while held"), ShowAll()), (("virtual pad", "right bumper"), SendPad("right_bumper")),
]  # fmt: skip


@pytest.mark.parametrize(("path", "wanted"), [entry for entry in OFFERED if entry[1] is not None])
def test_everything_else_is_in_the_menu_of_a_slot(hand: Hand, path: tuple[str, str], wanted: object) -> None:
    hand.studio.select("south")
    hand.choose(hand.panel, "more…")
    take_from_menu(hand, *(("a text",) if path[0] == "text" else path))
    assert on(hand, "south") == (wanted,)
    hand.window.grab()
    hand.studio.undo()
    assert on(hand, "south") == ()


def test_the_details_of_what_is_sent_are_set_beside_it(hand: Hand) -> None:
    hand.studio.set_sends(hand.studio.slot("south"), (SendText("hello"),))
    hand.studio.select("south")
    field = next(f for f in hand.panel.editor.details.findChildren(QWidget) if f.accessibleName() == "Types")
    field.selectAll()  # type: ignore[attr-defined]
    hand.bot.keyClicks(field, "well met")
    hand.press(Qt.Key.Key_Return, field)
    assert on(hand, "south") == (SendText("well met"),)
    hand.studio.set_sends(hand.studio.slot("south"), (SendPoint(0.5, 0.5),))
    screen = hand.panel.findChild(ScreenPoint)
    hand.until(screen.isVisible)
    box = screen._screen
    drag(screen, box.center(), QPointF(box.left() + box.width() * 0.25, box.bottom()))
    assert on(hand, "south") == (SendPoint(0.25, 1.0),)
    hand.studio.set_sends(hand.studio.slot("south"), (ChangeLayer("aim"),))
    hand.choose(hand.panel, "for one press")
    assert on(hand, "south") == (ChangeLayer("aim", "once"),)
    hand.studio.set_sends(hand.studio.slot("south"), (SendWheel("up"),))
    hand.choose(hand.panel, "left")
    assert on(hand, "south") == (SendWheel("left"),)


def test_a_bare_key_becomes_a_command_everywhere(hand: Hand) -> None:
    for control in ("south", "east"):
        key_into(hand, control, Qt.Key.Key_G)
    hand.choose(hand.panel, "a command for G")
    hand.answer("Throw")
    assert on(hand, "south") == on(hand, "east") == (SendCommand("throw"),)
    assert hand.studio.profile.command("throw").keys == ("G",)  # type: ignore[union-attr]


# Roles


def used_as(hand: Hand, control: str, word: str) -> Any:
    hand.studio.select(control)
    hand.choose(hand.panel, word)
    hand.until(hand.panel.isVisible)
    hand.window.grab()
    return binding(hand, control).role


@pytest.mark.parametrize(("control", "word", "role"), [
    ("left_stick", "keys", KeysRole), ("left_stick", "mouse", MouseRole), ("left_stick", "scroll", ScrollRole),
    ("left_stick", "tiles", TilesRole), ("left_stick", "radial menu", MenuRole), ("left_stick", "pointer", PointerRole),
    ("left_stick", "typing board", BoardRole), ("left_stick", "pad's stick", PadStickRole), ("dpad", "radial menu", MenuRole),
    ("left_trigger", "pad's axis", PadAxisRole), ("left_trigger", "scroll", ScrollRole), ("motion", "mouse", GyroRole),
    ("motion", "pointer", GyroRole), ("motion", "pad's stick", GyroRole), ("touch_pad", "pointer", PointerRole),
    ("axis_1", "keys", KeysRole),
])  # fmt: skip
def test_whatever_a_control_is_used_as(hand: Hand, control: str, word: str, role: type) -> None:
    assert isinstance(used_as(hand, control, word), role)
    assert hand.studio.kept or hand.studio.profile != EMPTY
    hand.studio.undo()
    assert hand.studio.profile == EMPTY


def test_directions_on_the_compass(hand: Hand) -> None:
    used_as(hand, "left_stick", "keys")
    picture = hand.panel.picture
    hand.bot.mouseDClick(picture, Qt.MouseButton.LeftButton, pos=picture.place(side("right")).center().toPoint())
    assert picture.listening(side("right"))
    hand.press(Qt.Key.Key_L)
    assert on(hand, "left_stick", side("right")) == sends("L")
    hand.press(Qt.Key.Key_Left, picture)
    hand.press(Qt.Key.Key_Return, picture)
    hand.press(Qt.Key.Key_J)
    assert on(hand, "left_stick", side("left")) == sends("J")
    hand.choose(hand.panel, "share by depth")  # a key that works like an axis
    assert on(hand, "left_stick", side("left")) == (Pulsed(sends("J")),)


def test_tiles_keep_their_cells_when_they_are_divided_otherwise(hand: Hand) -> None:
    used_as(hand, "left_stick", "tiles")
    picture = hand.panel.picture
    hand.click(picture, picture.place("role.cells[4]").center().toPoint())
    hand.panel.editor.view.arm()
    hand.press(Qt.Key.Key_5)
    assert binding(hand, "left_stick").role.cells[4] == sends("5")  # type: ignore[union-attr]
    hand.choose(hand.panel, "sixteen")
    role = binding(hand, "left_stick").role
    assert isinstance(role, TilesRole)
    assert (role.rows, role.columns, role.cells[5]) == (4, 4, sends("5"))  # the same row and column
    hand.choose(hand.panel, "eight ways")
    assert binding(hand, "left_stick").role.slices == 8  # type: ignore[union-attr]
    hand.choose(hand.panel, "nine")
    box = next(b for b in hand.panel.findChildren(QWidget) if getattr(b, "text", str)() == "shown while in use")
    hand.click(box, QPoint(8, box.height() // 2))
    screen = hand.panel.findChild(ScreenPicture)
    hand.until(screen.isVisible)
    drag(screen, screen._box.center(), screen._screen.center())
    assert binding(hand, "left_stick").role.show.y == pytest.approx(0.5, abs=0.03)  # type: ignore[union-attr]
    hand.press(Qt.Key.Key_Plus, screen)
    assert binding(hand, "left_stick").role.show.size == pytest.approx(0.37)  # type: ignore[union-attr]


def test_a_radial_menu_as_the_wheel(hand: Hand) -> None:
    used_as(hand, "right_stick", "radial menu")
    picture = hand.panel.picture
    for index, key in enumerate((Qt.Key.Key_1, Qt.Key.Key_2)):
        hand.click(picture, picture.place(f"role.entries[{index}].what").center().toPoint())
        hand.panel.editor.view.arm()
        hand.press(key)
    role = binding(hand, "right_stick").role
    assert isinstance(role, MenuRole)
    assert [entry.what for entry in role.entries] == [sends("1"), sends("2"), (), ()]
    hand.choose(hand.panel, "one more entry")
    hand.choose(hand.panel, "further on")
    assert len(binding(hand, "right_stick").role.entries) == 5  # type: ignore[union-attr]
    for _ in range(3):
        hand.choose(hand.panel, "remove it")
    assert len(binding(hand, "right_stick").role.entries) == 2  # type: ignore[union-attr]
    hand.choose(hand.panel, "remove it")
    assert len(binding(hand, "right_stick").role.entries) == 2  # type: ignore[union-attr]
    hand.choose(hand.panel, "by a press")
    role = binding(hand, "right_stick").role
    assert isinstance(role, MenuRole)
    assert (role.on, role.by) == ("press", "right_stick_click")
    hand.click(picture, picture.place("role.middle").center().toPoint())
    hand.panel.editor.view.arm()
    hand.press(Qt.Key.Key_M)
    assert binding(hand, "right_stick").role.middle == sends("M")  # type: ignore[union-attr]


def test_the_control_by_which_is_touched(hand: Hand) -> None:
    used_as(hand, "motion", "mouse")
    hand.choose(hand.panel, "while held")
    role = binding(hand, "motion").role
    assert isinstance(role, GyroRole)
    assert (role.active, role.by) == ("while", "left_trigger")
    hand.press(Qt.Key.Key_Return, hand.panel._by)
    hand.steer("right_bumper", 1)
    hand.until(lambda: getattr(binding(hand, "motion").role, "by", "") == "right_bumper")
    hand.choose(hand.panel, "whichever way up")
    assert getattr(binding(hand, "motion").role, "axes", "") == "gravity"


def test_a_typing_board_cell_by_cell(hand: Hand) -> None:
    used_as(hand, "left_stick", "typing board")
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
    hand.choose(hand.panel, "by depth")
    assert binding(hand, "right_trigger").bands == (Band(0.2, (SendCommand("jump"),)), Band(0.9, ()))
    assert hand.studio.part == "bands[1].what"
    hand.panel.depths.editor.view.arm()
    hand.press(Qt.Key.Key_C)
    picture = hand.panel.findChild(BandsPicture)
    hand.until(picture.isVisible)
    drag(picture, QPointF(picture._x(0.9), 14), QPointF(picture._x(0.6), 14))
    assert binding(hand, "right_trigger").bands[1].start == pytest.approx(0.6, abs=0.02)
    drag(picture, QPointF(picture._x(0.2), 14), QPointF(picture._x(0.95), 14))
    first, second = binding(hand, "right_trigger").bands
    assert first.start < second.start  # an edge stops at its neighbour
    hand.choose(hand.panel, "another depth")
    assert len(binding(hand, "right_trigger").bands) == 3
    hand.choose(hand.panel, "remove this depth")
    assert len(binding(hand, "right_trigger").bands) == 2


def test_depths_of_a_stick_are_rings_and_it_keeps_its_keys(hand: Hand) -> None:
    used_as(hand, "left_stick", "keys")
    hand.choose(hand.panel, "something at a depth")
    hand.panel.depths.editor.view.arm()
    hand.press(Qt.Key.Key_Shift)
    assert binding(hand, "left_stick").bands == (Band(0.5, sends("LEFTSHIFT")),)
    picture = hand.panel.findChild(BandsPicture)
    hand.until(picture.isVisible)
    start = picture._centre + QPointF(picture._radius * 0.5, 0)
    drag(picture, start, picture._centre + QPointF(picture._radius * 0.9, 0))
    assert binding(hand, "left_stick").bands[0].start == pytest.approx(0.9, abs=0.03)
    assert isinstance(binding(hand, "left_stick").role, KeysRole)
    hand.choose(hand.panel, "held as long as it is out")
    hand.panel.depths.editor.view.arm()
    hand.press(Qt.Key.Key_C)
    assert binding(hand, "left_stick").out == (SendCommand("duck"),)


# What arrives


def test_what_is_edited_here_is_what_the_game_gets(start: Callable[..., Hand], tmp_path: Path) -> None:
    """Each binding is made in the window by hand; then a real X client with the focus receives it."""
    path = tmp_path / "all.nubshift.json"
    path.write_bytes(profile_text(EMPTY))
    hand = start(path, sink="xtest")
    key_into(hand, "south", Qt.Key.Key_A)
    hand.choose(hand.panel, "kept down")
    hand.press(Qt.Key.Key_B)
    key_into(hand, "east", Qt.Key.Key_X)
    hand.choose(hand.panel, "stays on")
    used_as(hand, "left_stick", "tiles")
    hand.studio.select("left_stick", "role.cells[1]")
    hand.studio.arm(hand.studio.slot("left_stick", "role.cells[1]"))
    hand.press(Qt.Key.Key_T)
    key_into(hand, "right_trigger", Qt.Key.Key_P)
    hand.choose(hand.panel, "by depth")
    hand.studio.arm(hand.studio.slot("right_trigger", "bands[1].what"))
    hand.press(Qt.Key.Key_Q)
    used_as(hand, "right_stick", "radial menu")
    hand.studio.select("right_stick", "role.entries[0].what")
    hand.studio.arm(hand.studio.slot("right_stick", "role.entries[0].what"))
    hand.press(Qt.Key.Key_M)
    game = Game(0, 0, 300, 200)
    try:
        hand.until(lambda: hand.link.status and not hand.link.status.withheld)
        hand.steer("south", 1)
        game.wait(lambda: {"+38", "+56"} <= set(game.words()), "A at once and B when it is held")
        hand.steer("south", 0)
        hand.steer("east", 1)
        hand.steer("east", 0)
        game.wait(lambda: "+53" in game.words(), "X goes down")
        assert "-53" not in game.words()
        hand.steer("east", 1)
        game.wait(lambda: "-53" in game.words(), "and up with the next press")
        hand.steer("left_stick", 0, -0.9)
        game.wait(lambda: "+28" in game.words(), "T from its tile")
        hand.steer("left_stick", 0, 0)
        hand.steer("right_trigger", 0.5)
        game.wait(lambda: game.words()[-1] == "+33", "P at the first depth")
        hand.steer("right_trigger", 1)
        game.wait(lambda: game.words()[-2:] == ["-33", "+24"], "Q at the second instead")
        hand.steer("right_trigger", 0)
        hand.steer("right_stick", 0, -1)
        hand.steer("right_stick", 0, 0)
        game.wait(lambda: game.words()[-2:] == ["+58", "-58"], "M when the stick came back")
    finally:
        game.close()
