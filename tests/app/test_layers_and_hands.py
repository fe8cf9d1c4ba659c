"""Layers, several controls at once, seats, and who reaches what (N05, N28, N70)."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import QMimeData, QPoint, QPointF, QRect, Qt
from PyQt6.QtGui import QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import QApplication

from nubshift.app.document import subject
from nubshift.app.stage import CONTROL_MIME
from nubshift.model import edits
from nubshift.model.controls import Finger
from nubshift.model.profile import BASE, Binding, Seat
from nubshift.model.reach import read_reach
from nubshift.model.sends import HoldLayer, SendCommand, SendKey
from nubshift.model.slots import Slot
from nubshift.model.writing import profile_text
from nubshift.protocol.messages import Choose, Steer
from nubshift.protocol.paths import demo_folder, profile_folder
from standins.game import Game
from tests.app.hand import Hand, take_from_menu
from tests.support.profiles import made, sends

CTRL = Qt.KeyboardModifier.ControlModifier


def on(hand: Hand, control: str, layer: str = BASE, seat: str = "1") -> object:
    return edits.sends_of(hand.studio.profile, Slot(layer, control, "press", seat))


# Layers


def test_a_layer_is_added_named_entered_and_told_on_every_lane(hand: Hand) -> None:
    hand.press(Qt.Key.Key_L, hand.window, CTRL)
    hand.answer("Swim")
    layer = hand.studio.profile.layers[-1]
    assert (layer.name, hand.studio.selection.layer) == ("Swim", layer.id)
    assert {lane.layer for lane in hand.window.map.hands.lanes.values()} == {"Swim"}
    node = hand.window.map.rail.nodes[layer.id]
    assert "editing" in node.accessibleName()
    hand.studio.selection.show_layer(BASE)
    assert {lane.layer for lane in hand.window.map.hands.lanes.values()} == {""}
    hand.click(hand.tile("right_grip_2"))
    hand.choose(hand.panel, "Other output…")
    take_from_menu(hand, "Layer", "Swim, while held")
    assert HoldLayer(layer.id) in on(hand, "right_grip_2")  # type: ignore[operator]
    hand.steer("right_grip_2", 1)
    hand.until(lambda: hand.live.layers == (layer.id,))
    assert "active" in hand.window.map.rail.nodes[layer.id].accessibleName()


def test_what_can_be_set_of_a_layer_stands_in_the_inspector(hand: Hand) -> None:
    rail = hand.window.map.rail
    hand.click(rail.nodes["aim"])
    hand.click(rail.nodes["aim"])  # once more: about the layer itself
    assert hand.studio.selection.subject == subject.LAYER
    panel = hand.panel
    hand.choose(panel, "While held: left trigger")
    assert hand.studio.selection.control == "left_trigger"
    hand.studio.selection.look_at(subject.LAYER)
    hand.studio.selection.show_layer("aim")
    hand.choose(hand.panel, "Block")
    assert hand.studio.profile.layer("aim").hides  # type: ignore[union-attr]
    field = hand.panel.name.field
    field.selectAll()
    hand.bot.keyClicks(field, "Steady")
    hand.press(Qt.Key.Key_Return, field)
    assert hand.studio.profile.layer("aim").name == "Steady"  # type: ignore[union-attr]
    hand.choose(hand.panel, "Move up")
    assert [layer.id for layer in hand.studio.profile.layers] == ["base", "climb", "aim"]
    hand.choose(hand.panel, "Delete layer")
    assert hand.studio.selection.layer == BASE
    for _ in range(4):
        hand.studio.document.undo()
    assert hand.studio.profile.layer("aim").name == "Aim"  # type: ignore[union-attr]


def test_bindings_are_copied_and_moved_between_layers_and_given_back(hand: Hand) -> None:
    hand.click(hand.tile("east"))
    hand.window.map.menus.control("east", hand.window.pos())
    take_from_menu(hand, "Copy to layer", "Aim")
    assert on(hand, "east", "aim") == on(hand, "east") == (SendCommand("pack"),)
    hand.window.map.menus.control("east", hand.window.pos())
    take_from_menu(hand, "Move to layer", "Climb")
    assert on(hand, "east") == ()
    assert on(hand, "east", "climb") == (SendCommand("pack"),)
    hand.studio.selection.show_layer("climb")
    hand.press(Qt.Key.Key_Delete, hand.tile("east"))
    assert on(hand, "east", "climb") == ()
    assert hand.studio.document.history.undo_title == "Clear right face button"


def test_changing_one_gesture_in_a_layer_brings_the_others_along(hand: Hand) -> None:
    hand.studio.assigning.set_sends(hand.studio.selection.slot("east", "hold"), sends("H"))
    hand.studio.selection.show_layer("aim")
    hand.studio.selection.select("east", "hold")
    hand.studio.assigning.arm(hand.studio.selection.slot("east", "hold"), 0)
    hand.press(Qt.Key.Key_Y)
    binding = hand.studio.profile.layer("aim").binding("east")  # type: ignore[union-attr]
    assert binding is not None
    assert binding.gestures == {"press": (SendCommand("pack"),), "hold": (SendKey("Y"),)}


# Several at once


def test_several_controls_are_selected_copied_pasted_mirrored_and_cleared(hand: Hand) -> None:
    hand.click(hand.tile("north"))
    hand.press(Qt.Key.Key_C, hand.tile("north"), CTRL)
    hand.click(hand.tile("west"))
    hand.bot.mouseClick(hand.tile("east"), Qt.MouseButton.LeftButton, CTRL)
    assert hand.studio.selection.chosen == ("west", "east")
    assert hand.window.map.inspector._title.text() == "2 controls"
    hand.press(Qt.Key.Key_V, hand.tile("east"), CTRL)
    assert on(hand, "west") == on(hand, "east") == (SendCommand("listen"),)
    assert hand.studio.document.history.undo_title == "Paste on 2 controls"
    hand.press(Qt.Key.Key_Delete, hand.tile("east"))
    assert on(hand, "west") == on(hand, "east") == ()
    hand.studio.document.undo(2)
    assert on(hand, "west") == (SendCommand("refill-oil"),)
    hand.click(hand.tile("left_bumper"))
    hand.press(Qt.Key.Key_M, hand.tile("left_bumper"), CTRL)
    assert on(hand, "right_bumper") == (SendCommand("brace"),)
    assert on(hand, "left_bumper") == (SendCommand("next-tool"),)


def test_arrows_with_ctrl_select_more_and_a_layer_is_made_of_them(hand: Hand) -> None:
    hand.click(hand.tile("left_trigger"))
    hand.press(Qt.Key.Key_Right, hand.tile("left_trigger"), CTRL)
    assert hand.studio.selection.chosen == ("left_trigger", "left_bumper")
    hand.choose(hand.panel, "New layer from these…")
    hand.answer("Lamp")
    layer = hand.studio.profile.layers[-1]
    assert {binding.control for binding in layer.bindings} == {"left_trigger", "left_bumper"}
    assert hand.studio.selection.layer == layer.id


def test_what_is_no_binding_is_not_pasted(hand: Hand) -> None:
    QApplication.clipboard().setText("just words")  # type: ignore[union-attr]
    hand.click(hand.tile("east"))
    hand.press(Qt.Key.Key_V, hand.tile("east"), CTRL)
    assert "Nothing to paste" in hand.window.notices.text
    assert on(hand, "east") == (SendCommand("pack"),)


# Seats


TWO = made({"base": {"south": "A", "2:south": "B"}}, seats=(Seat("1", "Warden"), Seat("2", "Helper")))


def test_two_seats_have_hands_of_their_own_and_live_ones(start: Callable[..., Hand], tmp_path: Path) -> None:
    path = tmp_path / "two.nubshift.json"
    path.write_bytes(profile_text(TWO))
    hand = start(path, sink="xtest")
    rail = hand.window.map.rail
    assert [button.text() for button in rail.seats.values()] == ["Warden", "Helper"]
    hand.link.send(Choose("sim:swift", "2"))
    hand.until(lambda: hand.link.status is not None and hand.link.status.seats == {"2": "sim:swift"})
    hand.click(rail.seats["2"])
    assert "key B" in hand.tile("south").accessibleName()
    hand.click(hand.tile("east"))
    hand.press(Qt.Key.Key_Return, hand.tile("east"))
    hand.press(Qt.Key.Key_C)
    assert on(hand, "east", seat="2") == (SendKey("C"),)
    assert on(hand, "east") == ()
    game = Game(0, 0, 300, 200)
    try:
        hand.until(lambda: hand.link.status and not hand.link.status.withheld)
        hand.link.send(Steer("south", 1.0, 0.0, "2"))
        hand.until(lambda: hand.live.depth("south") == 1.0)  # the hands shown are those of the second seat
        game.wait(lambda: game.words() == ["+56"], "B of the second player")
        hand.link.send(Choose("", "2"))
        game.wait(lambda: game.words() == ["+56", "-56"], "and up when the controller leaves the seat")
    finally:
        game.close()
    hand.click(rail.seats["1"])
    assert "key A" in hand.tile("south").accessibleName()


@pytest.mark.own_window
def test_whose_hands_are_shown_is_seen_however_many_layers_there_are(opening: Callable[..., Hand]) -> None:
    hand = opening(demo_folder() / "saltbarrow.nubshift.json")
    hand.window.resize(1100, 640)
    rail = hand.window.map.rail
    hand.until(lambda: rail.edges[1].isVisible())  # the layers have less room than they need
    assert len(rail.seats) == 2
    assert all(button.visibleRegion().boundingRect() == button.rect() for button in rail.seats.values())


def test_players_come_and_go_in_the_profile(hand: Hand) -> None:
    hand.press(Qt.Key.Key_I, hand.window, CTRL)
    hand.choose(hand.panel, "Two")
    assert [seat.id for seat in hand.studio.profile.seats] == ["1", "2"]
    hand.click(hand.window.map.rail.seats["2"])
    assert hand.studio.selection.seat == "2"
    hand.studio.document.undo()
    assert hand.studio.selection.seat == "1"
    assert hand.window.map.rail.seats == {}


# Finger


def drop(hand: Hand, control: str, reach: Finger) -> None:
    lane = hand.window.map.hands.lanes[reach]
    data = QMimeData()
    data.setData(CONTROL_MIME, control.encode())
    move, left, none = Qt.DropAction.MoveAction, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    enter = QDragEnterEvent(lane.rect().center(), move, data, left, none)
    QApplication.sendEvent(lane, enter)
    assert enter.isAccepted()
    QApplication.sendEvent(lane, QDropEvent(QPointF(lane.rect().center()), move, data, left, none))


@pytest.mark.own_window
def test_a_control_is_dragged_to_the_mouth_and_stays_there(hand: Hand) -> None:
    hands = hand.window.map.hands
    assert not hands.lanes[Finger.MOUTH].isVisible()
    hands._drag(True)  # what a drag under way shows
    hand.until(hands.lanes[Finger.MOUTH].isVisible)
    hands._drag(False)
    drop(hand, "south", Finger.MOUTH)
    hand.until(lambda: hands.lanes[Finger.MOUTH].isVisible())
    assert hands.lanes[Finger.MOUTH].isAncestorOf(hand.tile("south"))
    assert hand.studio.document.history.undo_title == "Lower face button to mouth"
    kept = read_reach(profile_folder().parent / "reach.json")
    assert kept.of("1", "Moss pad") == {"south": Finger.MOUTH}
    hand.studio.document.undo()
    assert hands.lanes[Finger.RIGHT_THUMB].isAncestorOf(hand.tile("south"))
    hand.studio.document.redo()
    assert hand.window.grasp.finger("south") is Finger.MOUTH


def test_tiles_are_put_anew_only_where_fingers_have_others_and_are_there_at_once(hand: Hand) -> None:
    before = hand.tile("south")
    hand.window.grasp.changed.emit()  # as when a controller comes that has the same controls
    assert hand.tile("south") is before
    hand.window.grasp.give("mode", Finger.LEFT_GRIP)
    assert hand.tile("south") is not before
    assert all(hand.tile(control).isVisible() for control in ("south", "mode", "left_stick"))


@pytest.mark.parametrize("control", ["left_stick", "motion", "dpad_up", "left_trigger"])
@pytest.mark.own_window
def test_any_control_can_be_reached_by_anything_from_its_menu(hand: Hand, control: str) -> None:
    hand.click(hand.tile(control))
    hand.window.map.menus.control(control, hand.window.pos())
    take_from_menu(hand, "Reached by", "Left foot")
    assert hand.window.map.hands.lanes[Finger.LEFT_FOOT].isAncestorOf(hand.tile(control))
    hand.window.grab()
    assert hand.tile(control).isVisible()


@pytest.mark.own_window
def test_two_commands_on_one_finger_say_so_and_can_be_parted(hand: Hand) -> None:
    hand.click(hand.tile("left_bumper"))
    note = hand.window.map.inspector.clash
    assert "The left index holds Aim with left trigger" in note.text.text()
    assert "The left index holds Aim" in hand.tile("left_bumper").accessibleName()
    hand.window.map.menus.control("left_bumper", hand.window.pos())
    take_from_menu(hand, "Reached by", "Left grip and centre")
    assert not note.isVisible()
    assert "holds Aim" not in hand.tile("left_bumper").accessibleName()


def test_commands_marked_as_needed_together(hand: Hand) -> None:
    hand.studio.document.edit("free", lambda profile: edits.without_binding(profile, BASE, "right_grip_2"))
    hand.studio.selection.look_at(subject.command("hop"))
    combo = hand.panel.with_
    combo.setCurrentIndex(combo.findText("Pack"))
    combo.activated.emit(combo.currentIndex())
    assert hand.studio.document.history.undo_title == "Hop together with Pack"
    reason = "Hop and Pack are needed together, and the right thumb has both."
    hand.until(lambda: any(reason in hand.tile(name).accessibleName() for name in ("east", "south")))
    mark = next(c for name in ("east", "south") if (c := hand.window.grasp.clash_of(name)) and c.reason == reason)
    hand.click(hand.tile(mark.control))
    hand.choose(hand.window.map.inspector.clash, "Move to lower right grip")
    hand.until(lambda: reason not in hand.tile(mark.control).accessibleName())
    assert on(hand, "right_grip_2") in ((SendCommand("pack"),), (SendCommand("hop"),))


def test_a_combination_of_the_base_shows_through_and_can_be_changed_in_a_layer(hand: Hand) -> None:
    pair = "left_bumper+right_bumper"
    hand.studio.assigning.set_sends(hand.studio.selection.slot(pair), sends("Y"))
    hand.studio.selection.show_layer("aim")
    hand.studio.selection.select(pair)
    assert hand.panel.picture.accessibleName().endswith(": Y")
    assert hand.panel.picture.inherited
    hand.studio.assigning.arm(hand.studio.selection.slot(pair))
    hand.press(Qt.Key.Key_U)
    assert on(hand, pair, "aim") == sends("U")
    assert on(hand, pair) == sends("Y")


def test_a_command_given_to_a_button_that_is_only_tapped_takes_the_place_of_the_tap(hand: Hand) -> None:
    hand.studio.document.edit("tap", lambda profile: edits.with_binding(profile, BASE, Binding("east", tap=sends("Y"))))
    hand.studio.assigning.arm_command("sing")
    hand.steer("east", 1)
    hand.until(lambda: hand.studio.assigning.armed_command is None or hand.studio.assigning.armed_command != "sing")
    binding = hand.studio.profile.layers[0].binding("east")
    assert binding is not None
    assert binding.gestures == {"tap": (SendCommand("sing"),)}


def test_a_rail_with_more_layers_than_room_shows_that_there_are_more(hand: Hand) -> None:
    rail = hand.window.map.rail
    for number in range(8):
        hand.studio.document.edit("more", lambda profile, n=number: edits.with_layer(profile, f"Another layer {n}")[0])  # type: ignore[misc]
    last = list(rail.nodes.values())[-1]
    hand.until(lambda: rail.edges[1].isVisible() and not rail.edges[-1].isVisible())
    while rail.edges[1].isVisible():
        hand.click(rail.edges[1])
    assert rail.edges[-1].isVisible()
    assert rail.rect().contains(QRect(last.mapTo(rail, QPoint()), last.size()))
