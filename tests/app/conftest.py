"""The real window with a real runner behind it, driven as a person would: pressing, dragging, typing."""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path

import pytest
from PyQt6.QtCore import QEvent
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from nubshift.app.window import MainWindow
from nubshift.model.store import ProfileFile
from standins.waiting import PATIENCE
from tests.app.hand import Hand
from tests.app.program import Process
from tests.app.windows import SINK, SharedWindow, Timers, closed, opened


@pytest.fixture(scope="package")
def shared(qapp: QApplication, tmp_path_factory: pytest.TempPathFactory) -> Iterator[SharedWindow]:
    """The window that tests have after each other. It ends before others begin: its runner has the stop key."""
    window = SharedWindow(qapp, tmp_path_factory.mktemp("w"))
    yield window
    window.close()


@pytest.fixture(autouse=True)
def nothing_left(request: pytest.FixtureRequest, qapp: QApplication, shared: SharedWindow) -> Iterator[None]:
    """No window, thread or running timer outlives its test, but for those of the shared window; and that is not there
    while a test runs that does not have it."""
    if not {"lend", "opening"} & set(request.fixturenames):
        shared.close()
    threads, windows = set(threading.enumerate()), set(QApplication.topLevelWidgets())
    timers = Timers(qapp) if shared.window is None else None
    yield
    qapp.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    qapp.processEvents()
    left = [window for window in set(QApplication.topLevelWidgets()) - windows if window.isVisible()]
    left = [window for window in left if window is not shared.window]
    assert not left, left
    assert not {thread for thread in threading.enumerate() if thread.is_alive()} - threads
    if timers is not None and shared.window is None:
        timers.check()


@pytest.fixture
def start(qtbot: QtBot, qapp: QApplication, shared: SharedWindow, own_home: Path) -> Iterator[Callable[..., Hand]]:
    """Opens windows with a runner and a home of their own: with a profile, or with the demo."""
    shared.close()
    windows: list[MainWindow] = []

    def open_window(profile: Path | None = None, sink: str = SINK) -> Hand:
        hand = opened(qtbot, qapp, profile, sink)
        windows.append(hand.window)
        return hand

    yield open_window
    for window in windows:
        closed(qapp, window)


@pytest.fixture
def lend(
    qtbot: QtBot, shared: SharedWindow, monkeypatch: pytest.MonkeyPatch, own_home: Path
) -> Iterator[Callable[..., Hand]]:
    """Lends the shared window: with a profile, or with the demo. For all that changes no more than the profile."""
    yield partial(shared.lend, qtbot, monkeypatch)
    shared.give_back()


@pytest.fixture
def opening(request: pytest.FixtureRequest) -> Callable[..., Hand]:
    """Opens the shared window; or one of its own for a test with the mark `own_window`, which changes more than that."""
    own = request.node.get_closest_marker("own_window") is not None
    fixture: Callable[..., Hand] = request.getfixturevalue("start" if own else "lend")
    return fixture


@pytest.fixture
def hand(opening: Callable[..., Hand]) -> Hand:
    """The window with the demo."""
    return opening()


@pytest.fixture
def tuned(opening: Callable[..., Hand], tmp_path: Path) -> Hand:
    """The window with a small profile, open at Tune."""
    from tests.app.tuning import LOOK

    file = ProfileFile(tmp_path / "look.nubshift.json")
    file.write(LOOK)
    hand = opening(file.path)
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
