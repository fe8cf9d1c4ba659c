"""The tray: what is in use and why, while no window is there; and everything that is wanted then."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, QRectF, QSize, Qt
from PyQt6.QtGui import QIcon, QPainter, QPixmap
from PyQt6.QtWidgets import QMenu, QSystemTrayIcon

from nubshift.app.document.shelf import Shelf
from nubshift.app.painting.nubs import draw_logo
from nubshift.app.painting.theme import Look, Theme
from nubshift.app.shell.choice_menu import choice_menu
from nubshift.protocol.messages import Status
from nubshift.records import Record
from nubshift.texts import _

SIZES = (16, 22, 32, 48, 64)


class TrayWays(Record, frozen=True):
    """What the tray can do."""

    show: Callable[[], None]
    live: Callable[[bool], None]
    release: Callable[[], None]
    keep: Callable[[str | None], None]
    quit: Callable[[], None]


class Tray(QObject):
    """An icon in the tray of the desktop, where there is one (StatusNotifierItem, or the older X tray)."""

    def __init__(self, look: Look, shelf: Shelf, ways: TrayWays, parent: QObject) -> None:
        super().__init__(parent)
        self._look, self._shelf, self._ways = look, shelf, ways
        self._status: Status | None = None
        self.menu = QMenu()
        self._choices: QMenu | None = None
        self.menu.aboutToShow.connect(self._fill)
        self.icon = QSystemTrayIcon(self)
        self.icon.setContextMenu(self.menu)
        self.icon.activated.connect(self._clicked)
        look.changed.connect(self._show)
        self._begin()

    @staticmethod
    def is_there() -> bool:
        """Whether the desktop has a tray."""
        return QSystemTrayIcon.isSystemTrayAvailable()

    def show_status(self, status: Status | None) -> None:
        """What the runner says of itself."""
        self._status = status
        self._show()

    def _show(self) -> None:
        live = self._status is not None and self._status.live
        self.icon.setIcon(mark(self._look.theme, live))
        self.icon.setToolTip(self.told())
        self.icon.show()

    def told(self) -> str:
        """What is in use, and why."""
        status = self._status
        if status is None:
            return _("Nub Shift: not running")
        if not status.live:
            return _("Nub Shift: paused")
        return _("Nub Shift: {title}\n{why}").format(title=status.title or _("no profile"), why=status.why)

    def say(self, title: str, text: str) -> None:
        """A sentence beside the tray."""
        self.icon.showMessage(title, text, self.icon.icon())

    def _clicked(self, reason: QSystemTrayIcon.ActivationReason) -> None:
        if reason in (QSystemTrayIcon.ActivationReason.Trigger, QSystemTrayIcon.ActivationReason.DoubleClick):
            self._ways.show()

    def _fill(self) -> None:
        """The menu as things are, with all profiles."""
        self._begin()
        if self._choices is not None:
            self._choices.deleteLater()
        self._choices = choice_menu(self.menu, self._shelf, self._status, self._ways.keep)
        self.menu.insertMenu(self._last, self._choices)

    def _begin(self) -> None:
        """The menu without the profiles, which are read only when somebody looks: a start is not to wait for them."""
        status, menu = self._status, self.menu
        menu.clear()
        head = menu.addAction(self.told().partition("\n")[0])
        assert head is not None
        head.setEnabled(False)
        if status is not None and status.live:
            self._entry(menu, status.why, None)
        menu.addSeparator()
        self._entry(menu, _("Open Nub Shift"), self._ways.show)
        live = status is not None and status.live
        self._entry(menu, _("Pause") if live else _("Resume"), lambda: self._ways.live(not live))
        self._entry(menu, _("Release all keys"), self._ways.release)
        self._last = menu.addSeparator()
        self._entry(menu, _("Quit"), self._ways.quit)

    @staticmethod
    def _entry(menu: QMenu, text: str, act: Callable[[], object] | None) -> None:
        action = menu.addAction(text)
        assert action is not None
        action.setEnabled(act is not None)
        if act is not None:
            action.triggered.connect(lambda _=False: act())

    def close(self) -> None:
        """Away with it."""
        self.icon.hide()
        self.menu.deleteLater()


def mark(theme: Theme, live: bool) -> QIcon:
    """The mark of the app; faint while paused."""
    icon = QIcon()
    for size in SIZES:
        picture = QPixmap(QSize(size, size))
        picture.fill(Qt.GlobalColor.transparent)
        painter = QPainter(picture)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setOpacity(1.0 if live else 0.45)
        height = size * 26 / 38
        draw_logo(painter, QRectF(0, (size - height) / 2, size, height), theme)
        painter.end()
        icon.addPixmap(picture)
    return icon
