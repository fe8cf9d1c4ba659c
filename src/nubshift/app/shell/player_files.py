"""What is kept of the player beside profiles, as one: settings, rules, times of play, versions."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from nubshift.app.client.link import Link
from nubshift.app.client.play_times import PlayClock
from nubshift.app.document.automatic_store import AutomaticStore
from nubshift.app.document.sharing_keeper import SharingKeeper
from nubshift.app.document.studio import Studio
from nubshift.app.document.synced_folder import SyncedFolder
from nubshift.app.document.version_keeper import VersionKeeper
from nubshift.app.shell.settings_store import SettingsStore
from nubshift.protocol.messages import Reread
from nubshift.protocol.paths import automatic_path


class PlayerFiles(QObject):
    """Reads them all once. `folder` is that of the profiles."""

    noticed = pyqtSignal(str, str)

    def __init__(self, studio: Studio, link: Link, folder: Path, settings: SettingsStore) -> None:
        super().__init__(link)
        self.settings = settings
        self._link = link
        self.rules = AutomaticStore(automatic_path(), self._tell)
        self.clock = PlayClock(folder.parent / "played.json", link)
        self.versions = VersionKeeper(studio.document, folder)
        self.synced = SyncedFolder(studio.document, folder, folder.parent / "synced.json")
        self.sharing = SharingKeeper(studio.document, folder, folder.parent / "sharing.json")
        self._told = self._of_runner
        for part in (self.settings, self.rules, self.versions, self.synced, self.sharing):
            part.noticed.connect(self.noticed)
        settings.changed.connect(self._settings_changed)

    @property
    def _of_runner(self) -> tuple[object, ...]:
        """The settings that the runner goes by."""
        now = self.settings.now
        return now.stop_key, now.read_keyboards, now.stop_controls, now.stop_hold, now.menu_controls, now.menu_hold

    def begin(self) -> None:
        """Whoever is told of notices is there."""
        self._follow_folder()
        self.sharing.begin()

    def _follow_folder(self) -> None:
        self.synced.follow(self.settings.now.synced_folder, self.settings.now.synced_gives)

    def _settings_changed(self) -> None:
        self._follow_folder()
        if self._of_runner != self._told:
            self._told = self._of_runner
            self._tell()

    def _tell(self) -> None:
        """What the runner reads has changed."""
        self._link.send(Reread())

    def close(self) -> None:
        """Try once more what could not be written so far, since the program ends."""
        self.clock.stop()
        self.synced.follow("", False)
        for saving in (self.settings.saving, self.rules.saving):
            if saving.pending:
                saving.save()

    def troubles(self) -> list[str]:
        """A sentence for each that could not be read."""
        return [part.trouble for part in (self.settings, self.rules, self.clock, self.sharing) if part.trouble]
