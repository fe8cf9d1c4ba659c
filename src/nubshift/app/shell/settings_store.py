"""The player's settings while the app runs: read once, saved with each change."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from msgspec.structs import replace
from PyQt6.QtCore import QObject, pyqtSignal

from nubshift.app.document.saving_again import SavingAgain
from nubshift.errors import StorageError
from nubshift.model.player_settings import PlayerSettings, read_settings, write_settings


class SettingsStore(QObject):
    """Holds them. `trouble` is a sentence if they could not be read, else empty."""

    changed = pyqtSignal()
    noticed = pyqtSignal(str, str)

    def __init__(self, path: Path) -> None:
        super().__init__()
        self.path = path
        self.trouble = ""
        self.now = PlayerSettings()
        self.saving = SavingAgain(self, lambda: write_settings(path, self.now), self.noticed.emit)
        try:
            self.now = read_settings(path)
        except StorageError as error:
            self.trouble = f"{error}."

    def change(self, **fields: Any) -> None:
        """Set some of them, and save all."""
        fresh = replace(self.now, **fields)
        if fresh == self.now:
            return
        self.now = fresh
        self.saving.save()
        self.changed.emit()
