"""The real window with a real runner behind it, driven as a person would: pressing, dragging, typing."""

from __future__ import annotations

import gc
import threading
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from PyQt6 import sip
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt, QTimer
from PyQt6.QtWidgets import QApplication, QMenu, QPushButton, QWidget
from pytestqt.qtbot import QtBot

from nubshift.app.client.link import Link
from nubshift.app.document.studio import Studio
from nubshift.app.main import first_profile
from nubshift.app.painting.theme import Look, install_font
from nubshift.app.window import MainWindow
from nubshift.model.store import ProfileFile, read_profile
from nubshift.protocol.messages import Steer
from nubshift.protocol.paths import profile_folder, socket_path
from tests.app.program import Process
from tests.support.processes import PATIENCE


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


def running_timers() -> list[QTimer]:
    """All that would still call something."""
    found = [thing for thing in gc.get_objects() if type(thing) is QTimer]
    return [timer for timer in found if not sip.isdeleted(timer) and timer.isActive()]


@pytest.fixture(autouse=True)
def nothing_left(qapp: QApplication) -> Iterator[None]:
    """No window, thread or running timer outlives its test."""
    threads, windows, timers = set(threading.enumerate()), set(QApplication.topLevelWidgets()), running_timers()
    yield
    qapp.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    qapp.processEvents()
    left = [window for window in set(QApplication.topLevelWidgets()) - windows if window.isVisible()]
    assert not left, left
    assert not {thread for thread in threading.enumerate() if thread.is_alive()} - threads
    late = [timer for timer in running_timers() if timer not in timers]
    assert not late, [(timer.parent(), timer.interval(), timer.isSingleShot()) for timer in late]


@pytest.fixture
def start(qtbot: QtBot, qapp: QApplication, own_home: Path) -> Iterator[Callable[..., Hand]]:
    windows: list[MainWindow] = []

    def open_window(profile: Path | None = None, sink: str = "record:/dev/null") -> Hand:
        install_font(qapp)
        file, opened, troubles = first_profile(profile, profile_folder(), "")
        window = MainWindow(
            Studio(file, opened), Link(socket_path(), ["sim:moss"], sink), Look("dusk"), profile_folder()
        )
        for trouble in troubles:
            window.notices.tell("error", trouble)
        windows.append(window)
        window.show()
        window.link.open()
        hand = Hand(qtbot, window)
        hand.until(lambda: window.link.status is not None and "motion" in window.live.values)
        hand.until(lambda: window.isActiveWindow() and window.link.status is not None and window.link.status.withheld)
        return hand

    yield open_window
    for window in windows:
        window.close()
        window.deleteLater()
    qapp.processEvents()


@pytest.fixture
def hand(start: Callable[..., Hand]) -> Hand:
    """The window with the demo."""
    return start()


@pytest.fixture
def tuned(start: Callable[..., Hand], tmp_path: Any) -> Hand:
    """The window with a small profile, open at Tune."""
    from tests.app.tuning import LOOK

    file = ProfileFile(tmp_path / "look.nubshift.json")
    file.write(LOOK)
    hand = start(file.path)
    hand.click(hand.window.top.tabs.buttons["tune"])
    hand.until(lambda: hand.window.tune.isVisible() and hand.window.tune.tuner.past)
    return hand


@pytest.fixture
def app(own_home: Path) -> Iterator[list[Process]]:
    """The apps that a test started."""
    found: list[Process] = []
    yield found
    for process in found:
        if process.poll() is None:
            process.terminate()
        assert "unexpected error" not in process.communicate(timeout=PATIENCE)[1]


@pytest.fixture(scope="session", autouse=True)
def manager(window_manager: None) -> None:
    """No window is ever active without one, and no shortcut works."""


def at(x: float, y: float) -> QPoint:
    return QPointF(x, y).toPoint()


def take_from_menu(hand: Hand, *path: str) -> None:
    """Choose an entry of the menu that is open, by the words on the way."""
    menu = QApplication.activePopupWidget()
    assert isinstance(menu, QMenu)
    for word in path:
        action = next(a for a in menu.actions() if a.text() == word)
        inner = action.menu()
        if inner is None:
            action.trigger()
        else:
            menu = inner
    popup = QApplication.activePopupWidget()
    if popup is not None:
        popup.close()
