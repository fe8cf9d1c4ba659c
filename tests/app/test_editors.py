"""Editors for each kind of binding: live pictures that are handled, and what the game then receives (N20 to N35)."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtWidgets import QWidget

from nubshift.app.editors.pictures.pickers import ScreenPoint
from nubshift.app.editors.pictures.pulses import PulsePicture
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
from nubshift.model.writing import profile_text
from standins.game import Game
from tests.app.editing import EMPTY, binding, drag, key_into, on, used_as
from tests.app.hand import Hand, take_from_menu
from tests.support.profiles import sends


@pytest.fixture
def hand(lend: Callable[..., Hand], tmp_path: Path) -> Hand:
    path = tmp_path / "empty.nubshift.json"
    path.write_bytes(profile_text(EMPTY))
    return lend(path)


# Gestures


def test_gestures_are_added_on_the_picture_and_their_delay_is_said(hand: Hand) -> None:
    key_into(hand, "south", Qt.Key.Key_Space)
    hand.choose(hand.panel, "Hold")
    hand.press(Qt.Key.Key_C)
    assert binding(hand, "south").gestures == {"press": (SendCommand("jump"),), "hold": (SendCommand("duck"),)}
    assert hand.panel.picture.parts() == ["press", "hold"]
    assert "Duck is sent 200 ms after the press" in hand.panel.costs.text()
    hand.choose(hand.panel, "Double tap")
    hand.press(Qt.Key.Key_R)
    assert binding(hand, "south").double == (SendKey("R"),)
    hand.window.grab()


def test_a_tap_costs_and_can_be_sent_at_once_instead(hand: Hand) -> None:
    hand.studio.selection.select("south", "tap")
    hand.studio.assigning.arm(hand.studio.selection.slot("south", "tap"))
    hand.press(Qt.Key.Key_Space)
    assert "Jump is sent on release" in hand.panel.costs.text()
    hand.choose(hand.panel, "Send at once instead")
    assert binding(hand, "south").gestures == {"press": (SendCommand("jump"),)}
    assert hand.studio.document.history.undo_title == "Send at once, lower face button"
    assert not hand.panel.costs.isVisible()


def test_the_time_of_a_hold_is_dragged_and_is_one_step(hand: Hand) -> None:
    hand.studio.selection.select("south", "hold")
    hand.studio.assigning.arm(hand.studio.selection.slot("south", "hold"))
    hand.press(Qt.Key.Key_C)
    picture = hand.panel.picture
    hand.until(picture.isVisible)
    start = QPointF(picture._x(200), 12)
    drag(picture, start, QPointF(picture._x(300), 12))
    assert 280 <= (binding(hand, "south").hold_at or 0) <= 320
    hand.studio.document.undo()
    assert binding(hand, "south").hold_at is None
    hand.press(Qt.Key.Key_Right, picture, Qt.KeyboardModifier.AltModifier)
    assert binding(hand, "south").hold_at == 210


def test_a_lane_is_chosen_by_click_and_by_arrow(hand: Hand) -> None:
    for gesture, key in (("press", Qt.Key.Key_A), ("hold", Qt.Key.Key_B)):
        hand.studio.selection.select("south", gesture)
        hand.studio.assigning.arm(hand.studio.selection.slot("south", gesture))
        hand.press(key)
    picture = hand.panel.picture
    hand.click(picture, picture.place("press").center().toPoint())
    assert hand.studio.selection.part == "press"
    assert hand.panel.editor.view.sends == sends("A")
    hand.press(Qt.Key.Key_Down, picture)
    assert hand.panel.editor.view.sends == sends("B")
    assert "hold: B" in picture.accessibleName()


def test_two_controls_together_by_touching_the_other(hand: Hand) -> None:
    hand.studio.selection.select("left_bumper")
    hand.choose(hand.panel, "Combination")
    hand.steer("right_bumper", 1)
    hand.until(lambda: hand.studio.selection.control == "left_bumper+right_bumper")
    hand.press(Qt.Key.Key_Space)
    assert on(hand, "left_bumper+right_bumper") == (SendCommand("jump"),)
    assert "combinations" in hand.tile("left_bumper").accessibleName()
    hand.steer("right_bumper", 0)
    hand.click(hand.tile("right_bumper"))
    hand.choose(hand.panel, "With left bumper: Jump")
    assert hand.studio.selection.control == "left_bumper+right_bumper"
    assert hand.window.map.inspector._title.text() == "Left bumper and right bumper"
    hand.press(Qt.Key.Key_Delete, hand.panel.editor.view)
    assert hand.studio.profile.layers[0].together == ()


# What is sent


def test_staying_on_and_turbo_with_pulses_dragged(hand: Hand) -> None:
    key_into(hand, "south", Qt.Key.Key_A)
    hand.choose(hand.panel, "Toggle")
    assert on(hand, "south") == (Toggled(sends("A")),)
    hand.choose(hand.panel, "Turbo")
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
    hand.choose(hand.panel, "While held")
    assert isinstance(on(hand, "south")[0], Turbo)
    key_into(hand, "south", Qt.Key.Key_B)  # another key beside it
    hand.panel.editor.view.arm(0)
    hand.press(Qt.Key.Key_C)
    assert on(hand, "south")[0].what == (SendCommand("duck"),)  # a new key keeps repeating


def test_a_trigger_can_repeat_by_depth_and_pulse_in_proportion(hand: Hand) -> None:
    key_into(hand, "right_trigger", Qt.Key.Key_A)
    hand.choose(hand.panel, "Turbo, faster with depth")
    turbo = on(hand, "right_trigger")[0]
    assert isinstance(turbo, Turbo)
    assert turbo.rate_at_full == 12.0
    hand.press(Qt.Key.Key_Right, hand.panel.findChild(PulsePicture), Qt.KeyboardModifier.ShiftModifier)
    assert on(hand, "right_trigger")[0].rate_at_full == 13.0
    hand.choose(hand.panel, "Pulsed by depth")
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
    hand.choose(hand.panel, "In order")
    assert on(hand, "south") == (InOrder(sends(["A", "B"])),)
    key_into(hand, "south", Qt.Key.Key_D)
    assert on(hand, "south") == (InOrder(sends(["A", "B", "D"])),)
    hand.choose(hand.panel, "Together")
    assert on(hand, "south") == sends(["A", "B", "D"])


OFFERED = [
    (("Layer", "aim, toggle"), ChangeLayer("aim")),
    (("Layer", "aim, while held"), HoldLayer("aim")),
    (("Wheel", "Wheel up, one notch"), SendWheel("up")),
    (("Mouse", "Move the mouse by…"), SendMotion(0, 100)),
    (("Mouse", "Move the cursor to a point"), SendPoint(0.5, 0.5)),
    (("Mouse", "Increase stick speed"), ChangeSpeed(1.1)),
    (("Gyro", "Recentre the gyro"), Gyro("recentre")),
    (("Virtual pad", "start"), None),
    (("Text", ""), SendText("hello")),
    (("Controller", "Rumble"), SendRumble()),
    (("Show", "Show what everything does, while held"), ShowAll()),
    (("Virtual pad", "right bumper"), SendPad("right_bumper")),
]


@pytest.mark.parametrize(("path", "wanted"), [entry for entry in OFFERED if entry[1] is not None])
def test_everything_else_is_in_the_menu_of_a_slot(hand: Hand, path: tuple[str, str], wanted: object) -> None:
    hand.studio.selection.select("south")
    hand.choose(hand.panel, "Other output…")
    take_from_menu(hand, *(("Text",) if path[0] == "Text" else path))
    assert on(hand, "south") == (wanted,)
    hand.window.grab()
    hand.studio.document.undo()
    assert on(hand, "south") == ()


def test_the_details_of_what_is_sent_are_set_beside_it(hand: Hand) -> None:
    hand.studio.assigning.set_sends(hand.studio.selection.slot("south"), (SendText("hello"),))
    hand.studio.selection.select("south")
    field = next(f for f in hand.panel.editor.details.findChildren(QWidget) if f.accessibleName() == "Types")
    field.selectAll()  # type: ignore[attr-defined]
    hand.bot.keyClicks(field, "well met")
    hand.press(Qt.Key.Key_Return, field)
    assert on(hand, "south") == (SendText("well met"),)
    hand.studio.assigning.set_sends(hand.studio.selection.slot("south"), (SendPoint(0.5, 0.5),))
    screen = hand.panel.findChild(ScreenPoint)
    hand.until(screen.isVisible)
    box = screen._screen
    drag(screen, box.center(), QPointF(box.left() + box.width() * 0.25, box.bottom()))
    assert on(hand, "south") == (SendPoint(0.25, 1.0),)
    hand.studio.assigning.set_sends(hand.studio.selection.slot("south"), (ChangeLayer("aim"),))
    hand.choose(hand.panel, "For the next press")
    assert on(hand, "south") == (ChangeLayer("aim", "once"),)
    hand.studio.assigning.set_sends(hand.studio.selection.slot("south"), (SendWheel("up"),))
    hand.choose(hand.panel, "Left")
    assert on(hand, "south") == (SendWheel("left"),)


def test_a_bare_key_becomes_a_command_everywhere(hand: Hand) -> None:
    for control in ("south", "east"):
        key_into(hand, control, Qt.Key.Key_G)
    hand.choose(hand.panel, "Name the command for G")
    hand.answer("Throw")
    assert on(hand, "south") == on(hand, "east") == (SendCommand("throw"),)
    assert hand.studio.profile.command("throw").keys == ("G",)  # type: ignore[union-attr]


# What arrives


def test_what_is_edited_here_is_what_the_game_gets(start: Callable[..., Hand], tmp_path: Path) -> None:
    """Each binding is made in the window by hand; then a real X client with the focus receives it."""
    path = tmp_path / "all.nubshift.json"
    path.write_bytes(profile_text(EMPTY))
    hand = start(path, sink="xtest")
    key_into(hand, "south", Qt.Key.Key_A)
    hand.choose(hand.panel, "Hold")
    hand.press(Qt.Key.Key_B)
    key_into(hand, "east", Qt.Key.Key_X)
    hand.choose(hand.panel, "Toggle")
    used_as(hand, "left_stick", "Tiles")
    hand.studio.selection.select("left_stick", "role.cells[1]")
    hand.studio.assigning.arm(hand.studio.selection.slot("left_stick", "role.cells[1]"))
    hand.press(Qt.Key.Key_T)
    key_into(hand, "right_trigger", Qt.Key.Key_P)
    hand.choose(hand.panel, "By depth")
    hand.studio.assigning.arm(hand.studio.selection.slot("right_trigger", "bands[1].what"))
    hand.press(Qt.Key.Key_Q)
    used_as(hand, "right_stick", "Radial menu")
    hand.studio.selection.select("right_stick", "role.entries[0].what")
    hand.studio.assigning.arm(hand.studio.selection.slot("right_stick", "role.entries[0].what"))
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
