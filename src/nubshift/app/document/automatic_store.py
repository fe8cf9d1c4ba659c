"""Which profile goes with which game, while the app runs: read once, saved with each change, and told to the runner."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from nubshift.app.document.saving_again import SavingAgain
from nubshift.errors import StorageError
from nubshift.model.automatic import Automatic, read_automatic, write_automatic


class AutomaticStore(QObject):
    """Holds the rules. `reread` tells the runner. `trouble` is a sentence if they could not be read."""

    changed = pyqtSignal()
    noticed = pyqtSignal(str, str)

    def __init__(self, path: Path, reread: Callable[[], object]) -> None:
        super().__init__()
        self._path, self._reread = path, reread
        self._before: list[Automatic] = []
        self.trouble = ""
        self.now = Automatic()
        self.saving = SavingAgain(self, self._write, self.noticed.emit)
        try:
            self.now = read_automatic(path)
        except StorageError as error:
            self.trouble = f"{error}."

    def _write(self) -> None:
        write_automatic(self._path, self.now)
        self._reread()

    def change(self, fresh: Automatic) -> None:
        """Use these rules from now on."""
        if fresh == self.now:
            return
        self._before.append(self.now)
        self._put(fresh)

    def undo(self) -> None:
        """As it was before the last change."""
        if self._before:
            self._put(self._before.pop())

    def _put(self, fresh: Automatic) -> None:
        self.now = fresh
        self.saving.save()
        self.changed.emit()
