"""Bringing in and giving away: the file dialogs of profiles and key lists."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QWidget

from nubshift.app.document.open_document import OpenDocument
from nubshift.app.document.shelf import Shelf
from nubshift.errors import StorageError
from nubshift.model.files import read_text
from nubshift.model.profile import SUFFIX
from nubshift.texts import _


class ProfileFiles:
    """Asks for a file, and does what it is for. `take_keys` reads the text of a key list, `bring_in` a profile."""

    def __init__(
        self,
        document: OpenDocument,
        shelf: Shelf,
        take_keys: Callable[[str], object],
        bring_in: Callable[[Path], object],
        parent: QWidget,
    ) -> None:
        self._document, self._shelf, self._take_keys, self._parent = document, shelf, take_keys, parent
        self._bring_in = bring_in

    def open_file(self) -> None:
        """Ask for a profile's file and bring it in."""
        path, _unused = QFileDialog.getOpenFileName(
            self._parent, _("Import profile"), "", _("Profiles (*{suffix} *.json)").format(suffix=SUFFIX)
        )
        if path:
            self._bring_in(Path(path))

    def export_file(self) -> None:
        """Ask for a place and write the profile there."""
        path, _unused = QFileDialog.getSaveFileName(self._parent, _("Export profile"), self._document.file.path.name)
        if path:
            self._shelf.give_away(Path(path))

    def read_keys(self) -> None:
        """Ask for a text or CSV file with a key list and add its commands."""
        path, _unused = QFileDialog.getOpenFileName(
            self._parent, _("Import key list"), "", _("Lists (*.txt *.csv *.tsv);;All files (*)")
        )
        if path:
            self.add_keys_from(Path(path))

    def add_keys_from(self, path: Path) -> None:
        """Add the commands of a file."""
        try:
            self._take_keys(read_text(path))
        except StorageError as error:
            self._document.noticed.emit("error", f"{error}.")
