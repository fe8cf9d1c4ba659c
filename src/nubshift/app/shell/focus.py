"""The app never operates itself (N13): while one of its windows has the focus, output is withheld."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject
from PyQt6.QtGui import QGuiApplication, QWindow
from PyQt6.QtWidgets import QApplication

from nubshift.app.client.link import Link
from nubshift.app.painting.timing import once
from nubshift.protocol.messages import Status, Withhold

GATE_MS = 300
"""Longest time that keys are kept from the window while the runner has not yet said that it withholds them."""


class FocusGuard(QObject):
    """Tells the runner when a window of ours has the focus.

    Between the focus arriving and the runner's answer a key of its own might still come in; so for those few
    milliseconds no key press reaches the window.
    """

    def __init__(self, app: QApplication, link: Link) -> None:
        super().__init__(app)
        self._link = link
        self._letting_through = False
        self._range = False
        self._closed = False
        self._gate = once(self, GATE_MS, self._open)
        self._app = app
        app.focusWindowChanged.connect(self._focus_changed)
        app.installEventFilter(self)
        link.connected.connect(self.tell)
        link.status_changed.connect(self._status)

    @property
    def wanted(self) -> bool:
        """Whether output should be withheld now."""
        return QGuiApplication.focusWindow() is not None and not self._letting_through and not self._range

    def close(self) -> None:
        """Watch no more."""
        self._gate.stop()
        self._app.focusWindowChanged.disconnect(self._focus_changed)
        self._app.removeEventFilter(self)
        self.deleteLater()

    def let_through(self, on: bool) -> None:
        """Send for real although the window has the focus, as long as a button is held."""
        self._letting_through = on
        self.tell()

    def let_into_range(self, on: bool) -> None:
        """Send for real while the typing range has the keyboard; when it has it no more, keys wait as when we come."""
        if on != self._range:
            self._range = on
            if not on and QGuiApplication.focusWindow() is not None:
                self._closed = True
                self._gate.start()
            self.tell()

    def tell(self) -> None:
        """Say to the runner how it is."""
        self._link.send(Withhold(self.wanted))

    def _focus_changed(self, window: QWindow | None) -> None:
        status = self._link.status
        if window is not None and status is not None and not status.withheld:
            self._closed = True
            self._gate.start()
        self.tell()

    def _status(self, status: Status) -> None:
        if status.withheld:
            self._open()

    def _open(self) -> None:
        self._gate.stop()
        self._closed = False

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Keep keys out while it is not sure whose they are, and while we let our own through."""
        if (self._closed or self._letting_through) and event is not None:
            return event.type() in (QEvent.Type.KeyPress, QEvent.Type.ShortcutOverride)
        return False
