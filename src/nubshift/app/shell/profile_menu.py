"""The menu under the profile's name: the other profiles, and what can be done with them."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QSize, Qt
from PyQt6.QtGui import QColor, QIcon, QPainter, QPixmap
from PyQt6.QtWidgets import QMenu, QWidget

from nubshift.app.document.shelf import Shelf
from nubshift.app.document.studio import Studio
from nubshift.app.painting.theme import Look
from nubshift.app.shell.actions import ActionTable
from nubshift.app.widgets.plain import tip
from nubshift.model import edits
from nubshift.model.names import COLOUR_NAMES
from nubshift.model.profile import COLOURS, SUFFIX, Colour
from nubshift.texts import _

MOST_DELETED = 10


class ProfileMenu:
    """Makes and shows it."""

    def __init__(self, shelf: Shelf, studio: Studio, look: Look, actions: ActionTable, parent: QWidget) -> None:
        self._shelf, self._studio, self._look, self._actions, self._parent = shelf, studio, look, actions, parent

    def show(self, at: QPoint) -> None:
        """Show it there."""
        self.menu().popup(at)

    def menu(self) -> QMenu:
        """The profiles by title, then what can be done."""
        menu = QMenu(self._parent)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        theme = self._look.theme
        for entry in self._shelf.entries():
            action = menu.addAction(dot(theme.accents[entry.colour]), entry.title)
            if action is None:
                continue
            here = entry.path == self._studio.document.file.path
            action.setCheckable(here)
            action.setChecked(here)
            action.setEnabled(not entry.trouble)
            action.setToolTip(tip(entry.trouble))
            action.triggered.connect(lambda _=False, path=entry.path: self._studio.document.open(path))
        menu.addSeparator()
        for one in self._actions.menu(["new", "duplicate", "about"], menu).actions():
            menu.addAction(one)
        menu.addMenu(self._colours(menu))
        for one in self._actions.menu(["open", "export", "card"], menu).actions():
            menu.addAction(one)
        menu.addSeparator()
        for one in self._actions.menu(["delete profile"], menu).actions():
            menu.addAction(one)
        self._deleted(menu)
        return menu

    def _colours(self, parent: QMenu) -> QMenu:
        menu = QMenu(_("Colour"), parent)
        for colour in COLOURS:
            action = menu.addAction(dot(self._look.theme.accents[colour]), COLOUR_NAMES[colour])
            if action is not None:
                action.triggered.connect(lambda _=False, chosen=colour: self._paint(chosen))
        return menu

    def _paint(self, colour: Colour) -> None:
        self._studio.document.edit(
            _("Colour {colour}").format(colour=COLOUR_NAMES[colour]),
            lambda profile: edits.with_game(profile, colour=colour),
        )

    def _deleted(self, parent: QMenu) -> None:
        paths = self._shelf.deleted()[:MOST_DELETED]
        if not paths:
            return
        menu = QMenu(_("Restore a deleted profile"), parent)
        for path in paths:
            action = menu.addAction(path.name.removesuffix(SUFFIX).replace("-", " "))
            if action is not None:
                action.triggered.connect(lambda _=False, which=path: self._shelf.take_back(which))
        parent.addMenu(menu)


def dot(colour: QColor) -> QIcon:
    """A round spot of a colour."""
    picture = QPixmap(QSize(14, 14))
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(colour)
    painter.drawEllipse(2, 2, 10, 10)
    painter.end()
    return QIcon(picture)
