"""All of Map by keyboard alone, and what a screen reader is told (N70)."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QAbstractButton, QLabel, QLineEdit, QListView, QPlainTextEdit, QPushButton, QSlider, QWidget

from nubshift.app.document.subject import CONTROL, LAYER, PROFILE, belt, command, macro
from nubshift.model import edits
from nubshift.model.controls import PAD_CONTROLS
from nubshift.model.profile import BASE
from nubshift.model.sends import SendKey
from nubshift.model.slots import Slot
from tests.app.hand import Hand

SUBJECTS = (CONTROL, LAYER, command("order"), PROFILE, belt("buildings"), macro("sweep"))


def tree(widget: QWidget) -> list[str]:
    """What is said of a widget and of everything below it, in the order in which a screen reader walks it.

    The bindings of Qt have no door to its accessible objects, so this asks for what those are made of: the names of
    widgets, and the accessible text of each row of a list.
    """
    found = [widget.accessibleName() or (widget.text() if isinstance(widget, QAbstractButton | QLabel) else "")]
    model = widget.model() if isinstance(widget, QListView) else None
    if model is not None:
        found += [str(model.index(row, 0).data(Qt.ItemDataRole.AccessibleTextRole)) for row in range(model.rowCount())]
    for child in widget.children():
        if isinstance(child, QWidget) and child.isVisible():
            found += tree(child)
    return [text for text in found if text]


def can_be_used(widget: QWidget) -> bool:
    """Whether a person can do something with it, so that it must be reached and named."""
    return widget.isVisible() and widget.isEnabled() and bool(widget.focusPolicy() & Qt.FocusPolicy.TabFocus)


def test_everything_that_can_be_used_has_a_name(hand: Hand) -> None:
    hand.studio.document.open(hand.window._folder / "saltbarrow.nubshift.json")
    nameless = []
    for subject in SUBJECTS:
        for control in (
            ("left_stick", "right_stick", "dpad_up", "right_trigger", "motion") if subject == CONTROL else ("",)
        ):
            for layer in (BASE, "works", "write"):
                hand.studio.selection.show_layer(layer)
                if control:
                    hand.studio.selection.select(control)
                else:
                    hand.studio.selection.look_at(subject)
                hand.bot.wait(1)
                for widget in hand.window.findChildren(QWidget):
                    text = widget.text() if isinstance(widget, QAbstractButton) else ""
                    if can_be_used(widget) and not (widget.accessibleName() or text):
                        nameless.append((subject, control, type(widget).__name__, type(widget.parentWidget()).__name__))
    assert not nameless, sorted({entry[2:] for entry in nameless})


def test_the_tree_of_the_window_says_what_every_control_and_command_does(hand: Hand) -> None:
    said = tree(hand.window)
    for control in PAD_CONTROLS:
        assert hand.tile(control).accessibleName() in said
    assert "Left trigger: Steady lamp, key Right button, enters Aim" in said
    rows = tree(hand.window.map.keys.view)
    assert "Hop, Space, lower face button" in rows
    assert "Group Move" in rows
    assert "Sing, N, No control. No control sends “Sing”." in rows
    assert any("editing" in text or "Layer Base, active" in text for text in said)


def test_tab_goes_through_the_window_and_comes_back(hand: Hand) -> None:
    hand.window.map.hands.focus("south")
    seen: list[QWidget] = []
    for _ in range(200):
        focus = hand.window.focusWidget()
        assert focus is not None
        if focus in seen:
            break
        seen.append(focus)
        hand.bot.keyClick(focus, Qt.Key.Key_Tab)
    kinds = {type(widget).__name__ for widget in seen}
    assert {"ProfileTitle", "LiveSwitch", "CommandView", "AddField", "LayerNode", "SlotView", "PressPicture"} <= kinds
    assert kinds & {"ButtonTile", "CellTile"}
    assert len(seen) > 25


def test_a_binding_is_made_without_a_mouse(hand: Hand) -> None:
    """The control by finder, a hold by Tab and Enter, a repeat by choice, another place in the order by Alt."""
    hand.press(Qt.Key.Key_K, hand.window, Qt.KeyboardModifier.ControlModifier)
    hand.bot.keyClicks(hand.window.searching.finder.field, "lower face")
    hand.press(Qt.Key.Key_Return, hand.window.searching.finder.field)
    assert hand.studio.selection.control == "south"
    hand.press(Qt.Key.Key_Return, hand.tile("south"))
    hand.press(Qt.Key.Key_U)
    assert edits.sends_of(hand.studio.profile, Slot(BASE, "south")) == (SendKey("U"),)
    links = lambda: [b for b in hand.panel.findChildren(QAbstractButton) if b.text() == "Hold" and b.isVisible()]  # noqa: E731
    hand.until(links)
    hand.press(Qt.Key.Key_Space, links()[0])
    assert hand.studio.assigning.armed is not None
    hand.press(Qt.Key.Key_Y)
    assert edits.sends_of(hand.studio.profile, Slot(BASE, "south", "hold")) == (SendKey("Y"),)
    picture = hand.panel.picture
    hand.press(Qt.Key.Key_Right, picture, Qt.KeyboardModifier.AltModifier)
    assert hand.studio.profile.layers[0].binding("south").hold_at == 210  # type: ignore[union-attr]
    hand.press(Qt.Key.Key_Z, hand.window, Qt.KeyboardModifier.ControlModifier)
    hand.press(Qt.Key.Key_Z, hand.window, Qt.KeyboardModifier.ControlModifier)
    assert hand.studio.profile.layers[0].binding("south").gestures.keys() == {"press"}  # type: ignore[union-attr]


def test_what_listens_is_told_and_focus_is_visible(hand: Hand) -> None:
    hand.window.map.hands.focus("south")
    plain = hand.tile("south").grab().toImage()
    hand.window.map.keys.add.setFocus()
    hand.studio.selection.select("east")
    assert hand.tile("south").grab().toImage() != plain
    fields = [w for w in hand.window.findChildren(QWidget) if isinstance(w, QLineEdit | QPlainTextEdit | QSlider)]
    assert all(field.accessibleName() for field in fields if field.isVisible())


def test_the_list_of_edits_goes_back_several_at_once(hand: Hand) -> None:
    before = hand.studio.profile
    for key in (Qt.Key.Key_Y, Qt.Key.Key_U, Qt.Key.Key_O):
        hand.studio.selection.select("east")
        hand.studio.assigning.arm(hand.studio.selection.slot(), 0)
        hand.press(key)
    menu = hand.window.actions_table._undo_list(hand.window)  # type: ignore[arg-type]
    titles = [action.text() for action in menu.actions()]
    assert titles == ["O to right face button", "U to right face button", "Y to right face button"]
    menu.actions()[2].trigger()
    assert hand.studio.profile == before


def test_a_choice_that_builds_the_panel_anew_keeps_the_keyboard(hand: Hand) -> None:
    hand.studio.selection.select("left_stick")
    choice = next(b for b in hand.panel.findChildren(QPushButton) if b.text() == "Mouse")
    choice.setFocus()
    before = hand.panel
    hand.bot.keyClick(choice, Qt.Key.Key_Space)
    hand.until(lambda: hand.panel is not before)
    focus = hand.window.focusWidget()
    assert isinstance(focus, QPushButton)
    assert (focus.text(), hand.panel.isAncestorOf(focus)) == ("Mouse", True)
