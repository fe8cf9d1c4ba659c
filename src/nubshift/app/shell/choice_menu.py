"""Choosing the profile in use by hand: by the rules again, or one to stay on."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QActionGroup
from PyQt6.QtWidgets import QMenu, QWidget

from nubshift.app.document.shelf import Shelf
from nubshift.model.store import name_of
from nubshift.protocol.messages import Status
from nubshift.texts import _


def choice_menu(parent: QWidget, shelf: Shelf, status: Status | None, keep: Callable[[str | None], object]) -> QMenu:
    """A menu of all profiles, the one that is stayed on ticked. `keep` is told which, None for the rules."""
    menu = QMenu(_("Profile in use"), parent)
    group = QActionGroup(menu)
    kept = status.kept if status is not None else None
    choices: list[tuple[str, str | None]] = [(_("Choose automatically"), None)]
    choices += [
        (_("Stay on {title}").format(title=entry.title), name_of(entry.path, shelf.folder))
        for entry in shelf.entries()
        if not entry.trouble
    ]
    for title, name in choices:
        action = menu.addAction(title)
        assert action is not None
        action.setCheckable(True)
        group.addAction(action)
        action.setChecked(name == kept)
        action.triggered.connect(lambda _=False, name=name: keep(name))
        if name is None:
            menu.addSeparator()
    return menu


def pop_up_choice(
    at: QPoint, parent: QWidget, shelf: Shelf, status: Status | None, keep: Callable[[str | None], object]
) -> None:
    """Show that menu at a place of the screen."""
    menu = choice_menu(parent, shelf, status, keep)
    menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    menu.popup(at)
