"""Bringing in and giving away: the file dialogs of profiles and key lists."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QWidget

from nubshift.app.card.content import Card
from nubshift.app.card.page import CardPages
from nubshift.app.document.open_document import OpenDocument
from nubshift.app.document.shelf import Shelf
from nubshift.app.painting.theme import DAY
from nubshift.errors import StorageError
from nubshift.model.files import read_text
from nubshift.model.profile import SUFFIX
from nubshift.texts import _


class ProfileFiles:
    """Asks for a file, and does what it is for.

    `take_keys` reads the text of a key list, `bring_in` a profile; `card` gives the card of the open one.
    """

    def __init__(
        self,
        document: OpenDocument,
        shelf: Shelf,
        take_keys: Callable[[str], object],
        bring_in: Callable[[Path], object],
        card: Callable[[], Card],
        label_of: Callable[[str], str],
        parent: QWidget,
    ) -> None:
        self._document, self._shelf, self._take_keys, self._parent = document, shelf, take_keys, parent
        self._bring_in, self._card, self._label_of = bring_in, card, label_of

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

    def write_card(self) -> None:
        """Ask for a place and write the printable card there."""
        name = self._document.file.name
        path, _unused = QFileDialog.getSaveFileName(
            self._parent, _("Save card"), f"{name}.pdf", _("Documents (*.pdf);;Pictures (*.png)")
        )
        if path:
            self.card_to(Path(path))

    def card_to(self, path: Path) -> None:
        """Write the card of the open profile, light as paper is."""
        if path.suffix.lower() not in (".pdf", ".png"):
            path = path.with_name(f"{path.name}.pdf")
        profile = self._document.profile
        try:
            CardPages(self._card(), profile.game.colour, DAY, self._label_of).write(path)
        except StorageError as error:
            self._document.noticed.emit("error", f"{error}.")
            return
        self._document.noticed.emit("info", _("The card was saved as {path}.").format(path=path))

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
