"""Every button, box and link of every screen is pressed once; an exception in a slot fails the test."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtWidgets import QAbstractButton, QApplication, QFileDialog, QMessageBox, QScrollArea, QWidget

from nubshift.app.document import subject
from nubshift.app.window import MainWindow
from nubshift.protocol.paths import demo_folder
from tests.app.hand import Hand
from tests.support.settling import settle

MOST = 40
"""Buttons pressed in one place; more come only where pressing makes ever new ones."""


class StrayWindows(QObject):
    """What is shown as a window without being one: it had no parent yet, and flashes on the screen."""

    def __init__(self) -> None:
        super().__init__()
        self.seen: list[str] = []

    def eventFilter(self, widget: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.Show and isinstance(widget, QWidget) and widget.isWindow():
            plain = widget.windowType() == Qt.WindowType.Window and widget.parent() is None
            if plain and not isinstance(widget, MainWindow):
                self.seen.append(f"{type(widget).__name__} {widget.objectName()} {widget.accessibleName()}")
        return False


@pytest.fixture(autouse=True)
def no_stray_windows(qapp: QApplication) -> Iterator[None]:
    stray = StrayWindows()
    qapp.installEventFilter(stray)
    yield
    qapp.removeEventFilter(stray)
    assert stray.seen == []


@pytest.fixture
def no_dialogs(monkeypatch: pytest.MonkeyPatch) -> None:
    """A file dialog or question is answered with nothing."""
    for name in ("getOpenFileName", "getSaveFileName"):
        monkeypatch.setattr(QFileDialog, name, lambda *_: ("", ""))
    monkeypatch.setattr(QMessageBox, "exec", lambda _: QMessageBox.StandardButton.Cancel)


def buttons(within: QWidget) -> Iterator[QAbstractButton]:
    for button in within.findChildren(QAbstractButton):
        if button.isVisible() and button.isEnabled():
            yield button


def bring_in(button: QWidget) -> None:
    """Scroll to it, as a person would."""
    above = button.parentWidget()
    while above is not None:
        if isinstance(above, QScrollArea):
            above.ensureWidgetVisible(button)
        above = above.parentWidget()


def press_all(hand: Hand, within: Callable[[], QWidget], again: Callable[[], None]) -> int:
    """Press each button once, by its place in the order and its words; `again` brings the screen back before each."""
    pressed: set[tuple[str, str, str]] = set()
    for _ in range(MOST):
        again()
        settle()
        found = next((b for b in buttons(within()) if key_of(b) not in pressed), None)
        if found is None:
            break
        pressed.add(key_of(found))
        bring_in(found)
        hand.click(found)
        settle()
        popup = QApplication.activePopupWidget()
        while popup is not None:
            popup.close()
            popup = QApplication.activePopupWidget()
        hand.press(Qt.Key.Key_Escape, hand.window)
    return len(pressed)


def key_of(button: QAbstractButton) -> tuple[str, str, str]:
    return type(button).__name__, button.text(), button.toolTip()


SUBJECTS = (subject.LAYER, subject.PROFILE, subject.command("order"), subject.belt("buildings"), subject.macro("sweep"))
CONTROLS = ("south", "left_stick", "right_stick", "dpad", "left_trigger", "right_trigger", "left_bumper", "motion")


def test_every_button_of_the_inspector_can_be_pressed(
    start: Callable[..., Hand], no_dialogs: None, tmp_path: Path
) -> None:
    path = tmp_path / "saltbarrow.nubshift.json"
    path.write_bytes((demo_folder() / path.name).read_bytes())  # what is pressed edits it
    hand = start(path)
    count = 0
    for layer in ("base", "works"):
        for control in CONTROLS:

            def look(control: str = control, layer: str = layer) -> None:
                hand.window.show_workspace("map")
                hand.studio.selection.show_layer(layer)
                hand.studio.selection.select(control)

            count += press_all(hand, lambda: hand.window.map.inspector, look)
    for wanted in SUBJECTS:

        def show(wanted: subject.Subject = wanted) -> None:
            hand.window.show_workspace("map")
            hand.studio.selection.look_at(wanted)

        count += press_all(hand, lambda: hand.window.map, show)
    assert count > 150


@pytest.mark.parametrize("workspace", ["tune", "try", "controllers"])
def test_every_button_of_a_workspace_can_be_pressed(
    start: Callable[..., Hand], no_dialogs: None, workspace: str
) -> None:
    hand = start()
    page = hand.window.inside.workspaces[workspace]()
    count = 0
    for control in CONTROLS if workspace == "tune" else ("south",):

        def look(control: str = control) -> None:
            hand.window.show_workspace(workspace)
            if workspace == "tune":
                hand.studio.selection.select(control)
            elif workspace == "controllers":
                hand.window.pages.controllers.choose("sim:moss")

        count += press_all(hand, lambda: page, look)
    assert count > 6


def test_every_action_of_the_menu_can_be_done(start: Callable[..., Hand], no_dialogs: None, tmp_path: Path) -> None:
    hand = start()
    for action in list(hand.window.actions_table):
        if action.id != "quit" and action.enabled():
            action.run()
            settle()
            hand.press(Qt.Key.Key_Escape, hand.window)
