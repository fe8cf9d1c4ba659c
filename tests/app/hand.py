"""A person at the window: presses, drags, types, and waits until they see it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtWidgets import QApplication, QMenu, QPushButton, QWidget
from pytestqt.qtbot import QtBot

from nubshift.app.window import MainWindow
from nubshift.model.store import read_profile
from nubshift.protocol.messages import Steer
from standins.waiting import PATIENCE


class Hand:
    """A person at the window."""

    def __init__(self, qtbot: QtBot, window: MainWindow) -> None:
        self.bot, self.window = qtbot, window
        self.studio, self.live, self.link = window.studio, window.live, window.link

    def until(self, condition: Callable[[], Any]) -> None:
        self.bot.waitUntil(lambda: bool(condition()), timeout=round(PATIENCE * 1000))

    def tile(self, control: str) -> QWidget:
        return self.window.map.hands.tiles[control]

    def command(self, command: str) -> tuple[QWidget, QPoint]:
        """The row of a command, belt or macro, and where it is."""
        view = self.window.map.keys.view
        viewport = view.viewport()
        assert viewport is not None
        return viewport, view.place(command).center()

    def choose(self, widget: QWidget, name: str) -> None:
        """Click the button, choice or link with this text (or its beginning) within a widget."""

        def found() -> QPushButton | None:
            buttons = (b for b in widget.findChildren(QPushButton) if b.isVisible() and b.text().startswith(name))
            return next(buttons, None)

        try:
            self.until(found)
        except self.bot.TimeoutError:
            there = [b.text() for b in widget.findChildren(QPushButton) if b.isVisible()]
            raise AssertionError(f"no button {name!r}; there are {there}") from None
        button = found()
        assert button is not None
        self.click(button)

    def answer(self, text: str) -> None:
        """Answer the question that the window asks."""
        field = self.window.asker.field
        self.until(field.isVisible)
        field.clear()
        self.bot.keyClicks(field, text)
        self.bot.keyClick(field, Qt.Key.Key_Return)

    @property
    def panel(self) -> Any:
        """What the inspector shows."""
        return self.window.map.inspector.panel

    def click(
        self, widget: QWidget, at: QPoint | None = None, button: Qt.MouseButton = Qt.MouseButton.LeftButton
    ) -> None:
        self.bot.mouseClick(widget, button, pos=at if at is not None else widget.rect().center())

    def press(
        self, key: Qt.Key, widget: QWidget | None = None, modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier
    ) -> None:
        if widget is not None and widget.focusPolicy() != Qt.FocusPolicy.NoFocus:
            widget.setFocus()  # keys go where the keyboard is
        self.bot.keyClick(widget or self.window.focusWidget() or self.window, key, modifier)

    def steer(self, control: str, x: float, y: float = 0.0) -> None:
        """Move the simulated controller, and wait until the window shows it."""
        self.until(lambda: self.window.playing.settled)
        self.link.send(Steer(control, x, y))
        wanted = (x * x + y * y) ** 0.5
        self.until(lambda: abs(self.live.depth(control) - min(1.0, wanted)) < 0.1)

    def saved(self) -> Any:
        """The profile as it is on disk once every edit is kept."""
        self.until(lambda: self.studio.document.saved)
        return read_profile(self.studio.document.file.path)


def at(x: float, y: float) -> QPoint:
    return QPointF(x, y).toPoint()


def choose_in(menu: QMenu, *path: str) -> None:
    """Choose an entry of a menu, by the words on the way."""
    for word in path:
        action = next(a for a in menu.actions() if a.text() == word)
        inner = action.menu()
        if inner is None:
            action.trigger()
        else:
            menu = inner


def take_from_menu(hand: Hand, *path: str) -> None:
    """Choose an entry of the menu that is open, by the words on the way."""
    menu = QApplication.activePopupWidget()
    assert isinstance(menu, QMenu)
    choose_in(menu, *path)
    popup = QApplication.activePopupWidget()
    if popup is not None:
        popup.close()
