"""The command table: every action of the window once. Menus, finder and shortcuts are made of it."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from PyQt6.QtCore import QObject, Qt
from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QMenu, QWidget

from nubshift.records import Record


class Action(Record, frozen=True):
    """One action: `text` may depend on the moment, as may whether it is `enabled`.

    What can be on or off has `on`. `where`: the shortcut holds only while the keyboard is in this part of the window.
    """

    id: str
    text: Callable[[], str]
    run: Callable[[], object]
    shortcut: str = ""
    enabled: Callable[[], bool] = lambda: True
    where: QWidget | None = None
    on: Callable[[], bool] | None = None


def always(text: str) -> Callable[[], str]:
    """A text that never changes."""
    return lambda: text


class ActionTable(QObject):
    """The entries, as actions of a window with their shortcuts."""

    def __init__(self, window: QWidget) -> None:
        super().__init__(window)
        self._window = window
        self._entries: dict[str, tuple[Action, QAction]] = {}

    def add(self, *entries: Action) -> None:
        """Put entries in, in the order in which they are shown."""
        for entry in entries:
            action = QAction(entry.text(), self._window)
            action.setCheckable(entry.on is not None)
            if entry.shortcut:
                action.setShortcut(QKeySequence(entry.shortcut))
            action.triggered.connect(lambda _=False, entry=entry: self._do(entry))
            if entry.where is not None:
                action.setShortcutContext(Qt.ShortcutContext.WidgetWithChildrenShortcut)
            (entry.where or self._window).addAction(action)
            self._entries[entry.id] = (entry, action)

    @staticmethod
    def _do(entry: Action) -> None:
        """Do it, if that is possible at this moment: a shortcut is not told beforehand."""
        if entry.enabled():
            entry.run()

    def refresh(self) -> None:
        """Bring the texts up to the moment."""
        for entry, action in self._entries.values():
            action.setText(entry.text())
            if entry.on is not None:
                action.setChecked(entry.on())

    def _show_possible(self) -> None:
        """In a menu, what can't be done now is grey."""
        for entry, action in self._entries.values():
            action.setEnabled(entry.enabled())

    def _all_possible(self) -> None:
        """Outside of menus a shortcut finds out when it is pressed."""
        for _, action in self._entries.values():
            action.setEnabled(True)

    def run(self, entry_id: str) -> None:
        """Do what an entry does, if it can be done now."""
        self._entries[entry_id][0].run()

    def action(self, entry_id: str) -> QAction:
        """An entry as menus show it."""
        return self._entries[entry_id][1]

    def __iter__(self) -> Iterator[Action]:
        return (entry for entry, _ in self._entries.values())

    def menu(self, ids: list[str], parent: QWidget) -> QMenu:
        """A menu of these entries; an empty id is a line between."""
        self.refresh()
        menu = QMenu(parent)
        menu.aboutToShow.connect(self._show_possible)
        menu.aboutToHide.connect(self._all_possible)
        for entry_id in ids:
            if entry_id:
                menu.addAction(self._entries[entry_id][1])
            else:
                menu.addSeparator()
        return menu
