"""Assigning: an armed slot listens for one key; it works both ways, by name, and all at once (N20 to N22)."""

from __future__ import annotations

import pytest
from msgspec.structs import replace
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QWheelEvent
from PyQt6.QtWidgets import QApplication, QCheckBox, QPushButton, QWidget

from nubshift.app.document import subject
from nubshift.app.document.assigning import Armed
from nubshift.app.editors.button_panel import ButtonPanel
from nubshift.app.editors.number_row import NumberSlider
from nubshift.app.editors.roles.role_panel import RolePanel
from nubshift.app.map import touching
from nubshift.app.map.tile import Tile
from nubshift.app.map.touching import HOLD_MS
from nubshift.app.shell.finder import matching
from nubshift.app.shell.key_picker import places
from nubshift.app.shell.search import sendable
from nubshift.app.widgets.calm_wheel import CalmChoice
from nubshift.model.edits import sends_of, with_sends
from nubshift.model.keys import KEYS
from nubshift.model.profile import BASE, Binding, Profile
from nubshift.model.roles import KeysRole, MouseRole, Role
from nubshift.model.sends import HoldLayer, SendCommand, SendKey
from nubshift.model.slots import Slot, side
from standins.waiting import PATIENCE
from tests.app.hand import Hand, at, take_from_menu


def on(hand: Hand, control: str, direction: str | None = None, layer: str = BASE) -> object:
    part = side(direction) if direction else "press"  # type: ignore[arg-type]
    return sends_of(hand.studio.profile, Slot(layer, control, part))


def test_touch_press_see_undo(hand: Hand) -> None:
    """Select by moving the simulated stick, press a key, see the tile change, see the key in the Now strip, undo."""
    hand.until(lambda: hand.link.status and hand.link.status.withheld)
    hand.steer("left_stick", 0, -0.8)
    hand.until(lambda: (hand.studio.selection.control, hand.studio.selection.part) == ("left_stick", side("up")))
    tile = hand.tile("left_stick")
    hand.press(Qt.Key.Key_Return, tile)
    assert hand.studio.assigning.armed is not None
    hand.press(Qt.Key.Key_I)
    assert hand.studio.assigning.armed is None
    assert on(hand, "left_stick", "up") == (SendKey("I"),)
    assert "I" in tile.accessibleName()
    hand.until(lambda: hand.live.held == ("I",))
    hand.window.now.held.repaint()
    assert hand.window.now.held.accessibleDescription() == "Preview: I"
    hand.press(Qt.Key.Key_Z, hand.window, Qt.KeyboardModifier.ControlModifier)
    assert on(hand, "left_stick", "up") == (SendCommand("forward"),)
    hand.until(lambda: hand.live.held == ("W",))
    assert hand.saved().layers[0].binding("left_stick").role.up == (SendCommand("forward"),)


def test_a_key_that_a_command_has_becomes_the_command(hand: Hand) -> None:
    hand.click(hand.tile("east"))
    panel = hand.window.map.inspector.panel
    assert isinstance(panel, ButtonPanel)
    hand.click(panel.slot, at(40, 12))
    assert hand.studio.assigning.armed is not None
    hand.press(Qt.Key.Key_Space)
    assert on(hand, "east") == (SendCommand("hop"),)
    assert "Hop" in hand.tile("east").accessibleName()


@pytest.mark.own_window
def test_the_slot_ends_after_one_key_and_after_its_time(hand: Hand) -> None:
    hand.studio.selection.select("east")
    hand.studio.assigning.arm(hand.studio.selection.slot())
    hand.press(Qt.Key.Key_Y)
    before = hand.studio.profile
    hand.press(Qt.Key.Key_U)
    assert hand.studio.profile is before
    hand.studio.assigning.arm(hand.studio.selection.slot())
    hand.studio.assigning._listen.setInterval(1)
    hand.studio.assigning._listen.start()
    hand.until(lambda: hand.studio.assigning.armed is None)


def test_while_listening_shortcuts_are_keys_like_others_and_escape_and_delete_cancel(hand: Hand) -> None:
    hand.studio.selection.select("east")
    before = on(hand, "east")
    for key in (Qt.Key.Key_Escape, Qt.Key.Key_Delete):
        hand.studio.assigning.arm(hand.studio.selection.slot(), 0)
        assert 0.5 < hand.studio.assigning.time_left <= 1
        hand.press(key)
        assert (on(hand, "east"), hand.studio.assigning.armed, hand.studio.assigning.time_left) == (before, None, 0)
    hand.studio.assigning.arm(hand.studio.selection.slot(), 0)
    hand.press(Qt.Key.Key_Control)
    assert on(hand, "east") == (SendKey("LEFTCTRL"),)


def test_and_also_makes_a_chord_and_delete_takes_it_apart(hand: Hand) -> None:
    hand.click(hand.tile("east"))
    panel = hand.window.map.inspector.panel
    assert isinstance(panel, ButtonPanel)
    hand.click(panel.slot, at(40, panel.slot.height() - 12))
    hand.press(Qt.Key.Key_Y)
    assert on(hand, "east") == (SendCommand("pack"), SendKey("Y"))
    hand.click(panel.slot, at(panel.slot.width() - 10, 14))
    assert on(hand, "east") == (SendKey("Y"),)
    hand.press(Qt.Key.Key_Delete, hand.tile("east"))
    assert on(hand, "east") == ()
    assert "Unassigned" in hand.tile("east").accessibleName()


def test_a_mouse_button_pressed_on_the_armed_slot(hand: Hand) -> None:
    hand.click(hand.tile("east"))
    panel = hand.window.map.inspector.panel
    assert isinstance(panel, ButtonPanel)
    hand.studio.assigning.arm(hand.studio.selection.slot("east"), 0)
    panel.slot._armed_at = 0
    hand.click(panel.slot, at(40, 12), Qt.MouseButton.MiddleButton)
    assert on(hand, "east") == (SendKey("BTN_MIDDLE"),)


def test_the_other_way_round_command_then_control_then_the_next_without_one(hand: Hand) -> None:
    hand.until(lambda: hand.link.status and hand.link.status.withheld)
    hand.click(*hand.command("sing"))
    hand.press(Qt.Key.Key_Return, hand.window.map.keys.view)
    assert hand.studio.assigning.armed_command == "sing"
    hand.steer("dpad_left", 1)
    hand.until(lambda: on(hand, "dpad_left") == (SendCommand("sing"),))
    assert hand.studio.assigning.armed_command == "left-hand"  # which has just lost its control
    hand.steer("dpad_left", 0)
    hand.steer("dpad_up", 1)
    hand.until(lambda: on(hand, "dpad_up") == (SendCommand("left-hand"),))
    assert hand.studio.assigning.armed_command == "lantern"


def test_by_name(hand: Hand) -> None:
    hand.click(hand.tile("east"))
    panel = hand.window.map.inspector.panel
    assert isinstance(panel, ButtonPanel)
    hand.click(panel.editor.by_name)
    finder = hand.window.searching.finder
    assert finder.isVisible()
    hand.bot.keyClicks(finder.field, "num 7")
    hand.press(Qt.Key.Key_Return, finder.field)
    assert SendKey("KP7") in on(hand, "east")  # type: ignore[operator]
    assert not finder.isVisible()


def test_from_a_drawn_keyboard(hand: Hand) -> None:
    hand.click(hand.tile("east"))
    hand.studio.assigning.arm_control("east")
    panel = hand.window.map.inspector.panel
    assert isinstance(panel, ButtonPanel)
    hand.click(panel.editor.drawn)
    keyboard = hand.window.searching.keyboard
    assert keyboard.isVisible()
    hand.click(keyboard, keyboard.place_of("F13").center().toPoint())
    assert on(hand, "east") == (SendKey("F13"),)
    assert not keyboard.isVisible()
    hand.click(panel.editor.drawn)
    hand.press(Qt.Key.Key_Left, keyboard)
    hand.press(Qt.Key.Key_Escape, keyboard)
    assert on(hand, "east") == (SendKey("F13"),)


def test_every_key_is_on_the_drawn_keyboard() -> None:
    assert set(places()) <= set(KEYS)
    missing = {info.group for info in KEYS.values() if info.name not in places()}
    assert missing <= {"media", "system", "punctuation", "number pad"}


def test_four_directions_at_once_and_mouse_look_in_one_step(hand: Hand) -> None:
    hand.click(hand.tile("right_stick"))
    panel = hand.window.map.inspector.panel
    assert isinstance(panel, RolePanel)
    hand.click(panel.choices["keys"])
    role = hand.studio.profile.layers[0].binding("right_stick").role  # type: ignore[union-attr]
    assert isinstance(role, KeysRole)
    assert (role.up, role.left) == ((SendCommand("forward"),), (SendCommand("left"),))
    panel = hand.window.map.inspector.panel
    assert isinstance(panel, RolePanel)
    eight = next(b for b in panel.findChildren(QPushButton) if b.text().startswith("Eight"))
    hand.click(eight)
    role = hand.studio.profile.layers[0].binding("right_stick").role  # type: ignore[union-attr]
    assert isinstance(role, KeysRole)
    assert (role.directions, role.up_right) == (8, (SendKey("KP9"),))
    panel = hand.window.map.inspector.panel
    assert isinstance(panel, RolePanel)
    hand.click(panel.choices["mouse"])
    assert isinstance(hand.studio.profile.layers[0].binding("right_stick").role, MouseRole)  # type: ignore[union-attr]
    for _ in range(3):
        hand.press(Qt.Key.Key_Z, hand.window, Qt.KeyboardModifier.ControlModifier)
    assert hand.studio.document.history.undo_title == ""


def test_in_a_layer_only_what_is_set_changes_and_it_can_be_given_back(hand: Hand) -> None:
    hand.click(hand.window.map.rail.nodes["aim"])
    hand.click(hand.tile("east"))
    assert "inherited" in hand.tile("east").accessibleName()
    hand.press(Qt.Key.Key_Return, hand.tile("east"))
    hand.press(Qt.Key.Key_Y)
    assert on(hand, "east", layer="aim") == (SendKey("Y"),)
    assert on(hand, "east") == (SendCommand("pack"),)
    below = hand.window.map.inspector.below
    assert below._text.text() == "Base sends Pack here."
    hand.click(below._use)
    assert hand.studio.profile.layer("aim").binding("east") is None  # type: ignore[union-attr]
    hand.click(below._block)
    assert hand.studio.profile.layer("aim").binding("east").blocked  # type: ignore[union-attr]


def test_one_direction_of_an_inherited_stick_brings_the_others_along(hand: Hand) -> None:
    hand.studio.selection.show_layer("aim")
    hand.studio.selection.select("left_stick", side("up"))
    hand.studio.assigning.arm(hand.studio.selection.slot("left_stick", side("up")), 0)
    hand.press(Qt.Key.Key_Y)
    assert on(hand, "left_stick", "up", "aim") == (SendKey("Y"),)
    assert on(hand, "left_stick", "left", "aim") == (SendCommand("left"),)


def test_holding_a_new_layer(hand: Hand) -> None:
    hand.click(hand.tile("mode"))
    panel = hand.window.map.inspector.panel
    assert isinstance(panel, ButtonPanel)
    hand.press(Qt.Key.Key_Down, panel.slot)  # to the free place: what is chosen otherwise takes the place of the entry
    hand.choose(panel, "Other output…")
    take_from_menu(hand, "Layer", "New layer, while held")
    layer = hand.studio.profile.layers[-1].id
    assert on(hand, "mode") == (SendCommand("journal"), HoldLayer(layer))
    assert layer in hand.window.map.rail.nodes
    hand.steer("mode", 1)
    hand.until(lambda: hand.live.layers == (layer,))
    assert "active" in hand.window.map.rail.nodes[layer].accessibleName()


def test_commands_are_added_by_typing_pressing_and_pasting(hand: Hand) -> None:
    field = hand.window.map.keys.add
    hand.bot.keyClicks(field, "Dig in = K")
    hand.press(Qt.Key.Key_Return, field)
    assert hand.studio.profile.command("dig-in").keys == ("K",)  # type: ignore[union-attr]
    for text in ("Next item = wheel down", "Chat text", "Greeting = T"):  # none listens for what is typed next
        hand.bot.keyClicks(field, text)
        hand.press(Qt.Key.Key_Return, field)
    keys = {c.name: c.keys for c in hand.studio.profile.commands[-3:]}
    assert keys == {"Next item": ("WHEEL_DOWN",), "Chat text": (), "Greeting": ("T",)}
    hand.press(Qt.Key.Key_Z, field, Qt.KeyboardModifier.ControlModifier)  # undo is the profile's
    assert (field.text(), hand.studio.profile.command("greeting")) == ("", None)
    hand.bot.keyClicks(field, "Wave =")
    hand.press(Qt.Key.Key_Return, field)
    assert hand.studio.assigning.armed_key == "wave"
    hand.press(Qt.Key.Key_O)
    assert hand.studio.profile.command("wave").keys == ("O",)  # type: ignore[union-attr]
    QApplication.clipboard().setText("[Talk]\nGreet = T\nBarter = Y\nBad = Spaec")  # type: ignore[union-attr]
    hand.bot.keyClick(field, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    assert [c.group for c in hand.studio.profile.commands[-3:]] == ["Talk"] * 3
    assert "Spaec" in hand.window.notices.text
    assert "without a control" in hand.window.map.keys.missing.text()
    hand.studio.document.undo()
    assert hand.studio.profile.command("greet") is None


def test_arrow_keys_go_from_tile_to_tile(hand: Hand) -> None:
    hand.click(hand.tile("left_trigger"))
    for key, control in (
        (Qt.Key.Key_Right, "left_bumper"),
        (Qt.Key.Key_Right, "right_bumper"),
        (Qt.Key.Key_Down, "north"),
    ):
        hand.press(key, hand.tile(hand.studio.selection.control))
        assert hand.studio.selection.control == control


def turn(widget: QWidget) -> None:
    """A notch of the wheel over a widget."""
    place = QPointF(widget.rect().center())
    event = QWheelEvent(
        place,
        QPointF(widget.mapToGlobal(widget.rect().center())),
        QPoint(),
        QPoint(0, -120),
        Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier,
        Qt.ScrollPhase.NoScrollPhase,
        False,
    )
    QApplication.sendEvent(widget, event)


def test_the_wheel_changes_a_setting_only_where_the_keyboard_is(hand: Hand) -> None:
    hand.studio.selection.look_at(subject.PROFILE)
    hand.until(lambda: hand.panel.findChildren(NumberSlider))
    slider = next(s for s in hand.panel.findChildren(NumberSlider) if s.minimum() < s.value() < s.maximum())
    choice = CalmChoice()
    choice.addItems(["a", "b", "c"])
    choice.setCurrentIndex(1)
    before, value = hand.studio.profile, slider.value()
    for widget in (slider, choice):
        turn(widget)
        assert not widget.hasFocus()
    assert (hand.studio.profile, slider.value(), choice.currentIndex()) == (before, value, 1)
    slider.setFocus()
    turn(slider)
    assert slider.value() != value


def test_two_quick_touches_are_play_and_a_second_one_that_stays_arms(
    hand: Hand, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(touching, "DOUBLE_TOUCH_US", PATIENCE * 1_000_000)  # a busy machine is no slow thumb
    for _ in range(2):
        hand.steer("north", 1)
        hand.steer("north", 0)
    hand.bot.wait(HOLD_MS + 200)
    assert hand.studio.assigning.armed is None
    for again in range(2):
        hand.steer("west", 1)
        if not again:
            hand.steer("west", 0)
    hand.until(lambda: hand.studio.assigning.armed is not None)
    hand.press(Qt.Key.Key_Escape)
    hand.steer("west", 0)
    assert hand.studio.assigning.armed is None


def test_a_shortcut_whose_action_became_possible_works_at_once(hand: Hand) -> None:
    hand.press(Qt.Key.Key_D, modifier=Qt.KeyboardModifier.ControlModifier)
    hand.until(lambda: hand.link.status is not None and hand.link.status.playing)


def test_a_touch_that_is_waited_for_can_be_made_with_the_mouse(hand: Hand) -> None:
    hand.studio.assigning.arm_command("journal")
    before = hand.studio.selection.control
    tile = hand.tile("right_grip_2")
    assert isinstance(tile, Tile)
    mark = tile.nub_centre().toPoint()
    hand.bot.mousePress(tile, Qt.MouseButton.LeftButton, pos=mark)
    hand.until(lambda: hand.studio.assigning.armed_command is None)
    hand.bot.mouseRelease(tile, Qt.MouseButton.LeftButton, pos=mark)
    assert SendCommand("journal") in on(hand, "right_grip_2")  # type: ignore[operator]
    assert before != "right_grip_2"


def test_one_thing_a_press_is_kept_to_while_editing(hand: Hand) -> None:
    hand.studio.document.edit("One output per press", lambda p: replace(p, habits=replace(p.habits, one_to_one=True)))
    hand.studio.selection.select("north")
    before = on(hand, "north")
    hand.studio.assigning.arm(hand.studio.selection.slot())
    hand.press(Qt.Key.Key_Y)
    assert on(hand, "north") == before
    assert "one press may send only one output" in hand.window.notices.text
    hand.studio.assigning.arm(hand.studio.selection.slot(), 0)
    hand.press(Qt.Key.Key_Y)
    assert on(hand, "north") == (SendKey("Y"),)


def test_a_d_pad_used_as_a_whole_says_so_on_its_buttons_and_takes_their_keys(hand: Hand) -> None:
    role = KeysRole(up=(SendKey("I"),))
    buttons = {"dpad_up", "dpad_down", "dpad_left", "dpad_right"}

    def as_whole(profile: Profile, role: Role) -> Profile:
        base = profile.layers[0]
        kept = tuple(b for b in base.bindings if b.control not in buttons)
        base = replace(base, bindings=(*kept, Binding("dpad", role=role)))
        return replace(profile, layers=(base, *profile.layers[1:]))

    hand.studio.document.edit("Whole", lambda profile: as_whole(profile, role))
    assert "I" in hand.tile("dpad_up").accessibleName()
    hand.studio.selection.select("dpad_left")
    hand.studio.assigning.arm(hand.studio.selection.slot())
    hand.press(Qt.Key.Key_Y)
    binding = hand.studio.profile.layers[0].binding("dpad")
    assert binding is not None
    assert binding.role == replace(role, left=(SendKey("Y"),))
    assert hand.studio.profile.layers[0].binding("dpad_left") is None
    hand.studio.document.edit("Mouse", lambda profile: as_whole(without_dpad(profile), MouseRole()))
    hand.studio.selection.select("dpad_right")
    hand.studio.assigning.arm(hand.studio.selection.slot())
    hand.press(Qt.Key.Key_Y)
    assert hand.studio.profile.layers[0].binding("dpad_right") is None
    assert "The d-pad is used as a whole here" in hand.window.notices.text


def without_dpad(profile: Profile) -> Profile:
    base = profile.layers[0]
    base = replace(base, bindings=tuple(b for b in base.bindings if b.control != "dpad"))
    return replace(profile, layers=(base, *profile.layers[1:]))


def test_a_key_is_found_by_every_word_for_it(hand: Hand) -> None:
    armed = Armed(hand.studio.selection.slot("north"))
    hits = list(sendable(hand.studio, hand.window.label_of, hand.window.grasp.controls, armed))
    for word, key in (("lmb", "BTN_LEFT"), ("left click", "BTN_LEFT"), ("mouse 4", "BTN_SIDE"), ("numpad 5", "KP5")):
        assert matching(hits, word)[0].name == hand.window.label_of(key), word


def test_a_key_that_was_bound_before_its_command_is_linked_in_all_places(hand: Hand) -> None:
    for control in ("north", "right_bumper"):
        hand.studio.document.edit(control, lambda p, c=control: with_sends(p, Slot(BASE, c), (SendKey("F9"),)))  # type: ignore[misc]
    field = hand.window.map.keys.add
    hand.bot.keyClicks(field, "Slot seven = F9")
    hand.press(Qt.Key.Key_Return, field)
    hand.choose(hand.panel, "Its key is also sent on its own in 2 places: link them")
    assert on(hand, "north") == on(hand, "right_bumper") == (SendCommand("slot-seven"),)
    hand.studio.document.undo()
    assert on(hand, "north") == (SendKey("F9"),)


def test_what_comes_with_staying_on_is_there_at_once(hand: Hand) -> None:
    hand.studio.selection.select("north")
    hand.choose(hand.panel, "Toggle")

    def offered() -> bool:
        boxes = hand.panel.findChildren(QCheckBox)
        return any(box.isVisible() and box.text() == "On again when the game is back" for box in boxes)

    hand.until(offered)
    hand.choose(hand.panel, "While held")
    hand.until(lambda: not offered())
