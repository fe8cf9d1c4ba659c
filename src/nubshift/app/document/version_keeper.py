"""Saves earlier states of the profile that is edited, by itself."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from nubshift.app.document.open_document import OpenDocument
from nubshift.errors import StorageError
from nubshift.model.versions import Sessions, utc_now
from nubshift.model.writing import profile_text


class VersionKeeper(QObject):
    """Follows the open document while it is one of the player's own, in `folder`."""

    changed = pyqtSignal()
    noticed = pyqtSignal(str, str)

    def __init__(self, document: OpenDocument, folder: Path) -> None:
        super().__init__(document)
        self._document, self._folder = document, folder
        self._sessions: Sessions | None = None
        self._trouble = ""
        document.opened.connect(self._opened)
        document.saved_changed.connect(self._saved)
        self._opened()

    def _opened(self) -> None:
        path = self._document.file.path
        self._sessions = Sessions(path, utc_now()) if path.parent.resolve() == self._folder.resolve() else None
        self._saved_as: object = self._document.profile
        if self._sessions is not None and path.exists():
            self._do(lambda sessions: sessions.opened(profile_text(self._document.profile)))

    def _saved(self) -> None:
        document = self._document
        if document.saved and document.profile is not self._saved_as:
            self._saved_as = document.profile
            self._do(lambda sessions: sessions.saved(profile_text(document.profile), utc_now()))

    def _do(self, act: Callable[[Sessions], None]) -> None:
        if self._sessions is None:
            return
        try:
            act(self._sessions)
            self._trouble = ""
        except StorageError as error:
            if str(error) != self._trouble:
                self._trouble = str(error)
                self.noticed.emit("warning", f"{error}.")
        self.changed.emit()
