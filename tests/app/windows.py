"""Windows for tests: one of its own, or the one that most tests have after each other."""

from __future__ import annotations

import gc
from hashlib import sha256
from pathlib import Path
from shutil import rmtree

import pytest
from PyQt6 import sip
from PyQt6.QtCore import QEvent, QTimer
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from nubshift.app.client.link import Link
from nubshift.app.document.studio import Studio
from nubshift.app.main import first_profile
from nubshift.app.painting.theme import Look, install_font
from nubshift.app.tune.tuner import FIRST
from nubshift.app.window import MainWindow
from nubshift.protocol.messages import Steer
from nubshift.protocol.paths import profile_folder, socket_path
from tests.app.hand import Hand
from tests.conftest import homes_in

SINK = "record:/dev/null"
AT_REST = 0.1
"""A simulated stick trembles, as a real one does."""


def opened(qtbot: QtBot, app: QApplication, profile: Path | None = None, sink: str = SINK) -> Hand:
    """A window of its own with its runner; with the demo, if no profile is named."""
    install_font(app)
    file, profile_there, troubles = first_profile(profile, profile_folder(), "")
    link = Link(socket_path(), ["sim:moss"], sink)
    window = MainWindow(Studio(file, profile_there), link, Look("dusk"), profile_folder())
    for trouble in troubles:
        window.notices.tell("error", trouble)
    window.show()
    window.link.open()
    hand = Hand(qtbot, window)
    hand.until(lambda: link.status is not None and "motion" in window.live.values)
    hand.until(lambda: window.isActiveWindow() and link.status is not None and link.status.withheld)
    return hand


def closed(app: QApplication, window: MainWindow) -> None:
    """Close it, and have all of it deleted."""
    window.close()
    window.deleteLater()
    app.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    app.processEvents()


class Timers:
    """Those that run now, so that one which is started later and left running is found."""

    def __init__(self, app: QApplication) -> None:
        self._app = app
        self._before = self._running()

    @staticmethod
    def _running() -> list[QTimer]:
        found = [thing for thing in gc.get_objects() if type(thing) is QTimer]
        return [timer for timer in found if not sip.isdeleted(timer) and timer.isActive()]

    def check(self) -> None:
        """Nothing else would still call something."""
        late = [timer for timer in self._running() if timer not in self._before]
        assert not late, [(timer.parent(), timer.interval(), timer.isSingleShot()) for timer in late]


class SharedWindow:
    """The window that tests of editing share, each with a profile of its own; see `lend`.

    Its runner and its home stay too. A test that leaves anything changed but the profile is the last to have it: so all
    of them find a window as if it was new, and none has to tidy up.
    """

    def __init__(self, app: QApplication, home: Path) -> None:
        self._app, self._home = app, home
        self._timers: Timers | None = None
        self._number = 0
        self.window: MainWindow | None = None
        self._first: tuple[object, ...] = ()

    def lend(self, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch, profile: Path | None = None) -> Hand:
        """The window at Map with this profile, or with the demo; all paths are in its home until the test ends."""
        fresh = self.window is None
        self._number += fresh
        for name, folder in homes_in(self._home / str(self._number), fresh).items():
            monkeypatch.setenv(name, str(folder))
        if self.window is None:
            self._timers = Timers(self._app)
            hand = opened(qtbot, self._app, profile)
            self.window = hand.window
        else:
            hand = Hand(qtbot, self.window)
            try:
                self._begin(hand, profile)
            except Exception:
                self.close()
                raise
        hand.until(lambda: hand.studio.document.saved and hand.window.playing.settled)
        self._first = self._present()
        return hand

    def _begin(self, hand: Hand, profile: Path | None) -> None:
        """Another profile in the window that is there."""
        window, folder = hand.window, profile_folder()
        hand.studio.document.save()
        rmtree(folder, ignore_errors=True)
        self._app.processEvents()  # what watched the files there has seen it
        file, there, _troubles = first_profile(profile, folder, "")
        window.show_workspace("map")
        hand.studio.document.begin(file, there)
        hand.studio.selection.select("south")
        window.tune.tuner.open(FIRST)
        window.map.hands.focus("south")
        window.notices.clear()
        hand.until(lambda: window.playing.settled and not window.live.held and not window.live.layers)
        hand.until(lambda: not self._moved(window))
        hand.until(window.isActiveWindow)

    def give_back(self) -> None:
        """The test that had it ends; it is closed if anything but the profile is not as it was."""
        window = self.window
        if window is None:
            return
        for control in self._moved(window):
            window.link.send(Steer(control, 0.0, 0.0))
        if self._app.activePopupWidget() is not None or self._present() != self._first:
            self.close()

    @staticmethod
    def _moved(window: MainWindow) -> list[str]:
        """The controls that are not at rest."""
        values = window.live.values.items()
        return [control for control, at in values if control != "motion" and max(map(abs, at)) > AT_REST]

    def _present(self) -> tuple[object, ...]:
        """All that a test may change besides the profile."""
        window = self.window
        assert window is not None
        status = window.link.status
        files = {
            path: sha256(path.read_bytes()).digest()
            for path in (self._home / str(self._number)).rglob("*")
            if path.is_file() and profile_folder() not in path.parents
        }
        shown = {top for top in self._app.topLevelWidgets() if top.isVisible()}
        return (
            files,
            shown,
            window.link.runner_pid,
            status and (status.live, status.playing, status.controller, status.seats, status.controllers, status.kept),
            window.settings.now,
            window.look.wanted,
            window.size(),
            window.stays,
            window.must_end,
        )

    def close(self) -> None:
        """End it, if it is there."""
        if self.window is not None and self._timers is not None:
            window, self.window = self.window, None
            closed(self._app, window)
            self._timers.check()
