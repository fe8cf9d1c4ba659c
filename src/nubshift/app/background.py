"""Nub Shift without its window: what closing does, the tray, later starts, and the end."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QMessageBox

from nubshift.app.shell.one_window import OneWindow
from nubshift.app.shell.settings_store import SettingsStore
from nubshift.app.shell.tray import Tray, TrayWays
from nubshift.protocol.messages import Keep, SetLive, Stop
from nubshift.texts import _

if TYPE_CHECKING:
    from nubshift.app.window import MainWindow


class Background(QObject):
    """Keeps the program at work while its window is closed, if the player wants that."""

    def __init__(self, window: MainWindow, settings: SettingsStore, socket: Path) -> None:
        super().__init__(window)
        self._window, self._settings = window, settings
        self.one = OneWindow(socket, self)
        self.one.wanted.connect(self._wanted)
        link = window.link
        ways = TrayWays(
            show=self.show,
            live=lambda on: (link.send(SetLive(on)), None)[1],
            release=lambda: (link.send(Stop()), None)[1],
            keep=lambda name: (link.send(Keep(name)), None)[1],
            quit=window.quit,
        )
        self.tray = Tray(window.look, window.shelf, ways, self)
        link.status_changed.connect(self.tray.show_status)
        link.lost.connect(lambda: self.tray.show_status(None))
        link.ended.connect(window.end)

    def show(self) -> None:
        """Bring the window to the front."""
        window = self._window
        if window.isMinimized():
            window.showNormal()
        window.show()
        window.raise_()
        window.activateWindow()

    def _wanted(self, profile: str) -> None:
        """Somebody started Nub Shift again."""
        if profile:
            self._window.bring_in(Path(profile))
        self.show()

    def stays(self) -> bool:
        """The window is being closed: whether the program goes on without it. Said the first time."""
        if self._settings.now.closing != "background":
            return False
        if not self._settings.now.told_background and not self._tell():
            return False
        self._settings.change(told_background=True)
        return True

    def _tell(self) -> bool:
        """Say once what closing the window does; where there is no tray, in a small window that lets choose."""
        if Tray.is_there():
            self.tray.say(
                _("Nub Shift is still running"),
                _("Profiles go on starting with their games. Open the window or quit from this icon."),
            )
            return True
        box = QMessageBox(self._window)
        box.setWindowTitle(_("Nub Shift"))
        box.setText(_("Keep Nub Shift running without its window?"))
        box.setInformativeText(
            _(
                "Profiles then go on starting with their games. This desktop has no tray: to get the window back, "
                "start Nub Shift again. To quit, use Quit in the menu."
            )
        )
        stay = box.addButton(_("Keep running"), QMessageBox.ButtonRole.AcceptRole)
        box.addButton(_("Quit"), QMessageBox.ButtonRole.RejectRole)
        box.setDefaultButton(stay)
        box.exec()
        if box.clickedButton() is stay:
            return True
        self._settings.change(closing="quit")
        return False

    def close(self) -> None:
        """The program ends."""
        self.one.close()
        self.tray.close()
