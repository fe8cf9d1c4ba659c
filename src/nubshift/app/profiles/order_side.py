"""Which profile is used when: the order of all rules, programs that are never played in, and what is used otherwise."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace
from PyQt6.QtCore import QPoint, Qt, pyqtSignal
from PyQt6.QtGui import QDropEvent, QKeyEvent
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from nubshift.app.document.automatic_store import AutomaticStore
from nubshift.app.editors.panel import emptied
from nubshift.app.profiles.rule_rows import match_words
from nubshift.app.widgets.calm_wheel import CalmChoice
from nubshift.app.widgets.plain import Label
from nubshift.model.programs import ProgramMatch, SeenProgram, learned_from
from nubshift.texts import _


class OrderSide(QWidget):
    """`pick` shows a menu of programs. `looked_at` carries the name of a profile whose rule was chosen."""

    looked_at = pyqtSignal(str)

    def __init__(self, rules: AutomaticStore, pick: Callable[[QPoint, Callable[[SeenProgram], None]], None]) -> None:
        super().__init__()
        self._rules, self._pick_program = rules, pick
        self._titles: dict[str, str] = {}
        self.why = Label()
        self.why.setWordWrap(True)
        self.order = RuleOrder(self._moved)
        self.order.itemActivated.connect(lambda item: self.looked_at.emit(item.data(Qt.ItemDataRole.UserRole)))
        self.order.itemClicked.connect(lambda item: self.looked_at.emit(item.data(Qt.ItemDataRole.UserRole)))
        self.none = Label(_("No profile starts with a game yet."))
        self.none.setObjectName("quiet")
        self.none.setWordWrap(True)
        self.fallback = CalmChoice()
        self.fallback.setAccessibleName(_("Profile for everything else"))
        self.fallback.activated.connect(self._fallback_chosen)
        self.never = QVBoxLayout()
        self.never.setSpacing(2)
        self.add_never = QPushButton(_("Pick a running program…"))
        self.add_never.clicked.connect(self._pick_never)
        self._lay_out()
        rules.changed.connect(self.refresh)

    def _lay_out(self) -> None:
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 20, 16, 16)
        column.setSpacing(6)
        told = Label(_("The first rule that fits counts. Drag to reorder, or press Alt with an arrow key."))
        told.setObjectName("quiet")
        told.setWordWrap(True)
        for text, widgets in (
            (_("In use now"), (self.why,)),
            (_("Order of the rules"), (told, self.none, self.order)),
            (_("When no rule fits"), (self.fallback,)),
            (_("Never used in"), ()),
        ):
            head = Label(text)
            head.setObjectName("heading")
            head.setContentsMargins(0, 8, 0, 0)
            column.addWidget(head)
            for widget in widgets:
                column.addWidget(widget)
        column.addLayout(self.never)
        column.addWidget(self.add_never)
        column.addStretch(1)

    def show_titles(self, titles: dict[str, str]) -> None:
        """The titles of all profiles."""
        if titles != self._titles:
            self._titles = titles
            self.refresh()

    def refresh(self) -> None:
        """The rules changed."""
        now = self._rules.now
        self.order.show_rules(
            [
                (rule.profile, self._titles.get(rule.profile, rule.profile), ", ".join(map(match_words, rule.matches)))
                for rule in now.rules
            ]
        )
        self.none.setVisible(not now.rules)
        self.order.setVisible(bool(now.rules))
        self.fallback.clear()
        self.fallback.addItem(_("No profile"), "")
        for name, title in self._titles.items():
            self.fallback.addItem(title, name)
        self.fallback.setCurrentIndex(max(0, self.fallback.findData(now.fallback)))
        emptied(self.never)
        for match in now.never:
            self.never.addWidget(self._never_row(match))

    def _never_row(self, match: ProgramMatch) -> QWidget:
        row = QWidget()
        line = QHBoxLayout(row)
        line.setContentsMargins(0, 0, 0, 0)
        text = Label(match_words(match))
        text.setWordWrap(True)
        away = QPushButton("×")
        away.setObjectName("plain")
        away.setFixedWidth(26)
        away.setAccessibleName(_("Remove {match}").format(match=match_words(match)))
        away.clicked.connect(lambda: self._without_never(match))
        line.addWidget(text, 1)
        line.addWidget(away)
        return row

    def _moved(self, place: int, to: int) -> None:
        self._rules.change(self._rules.now.moved(place, to))

    def _fallback_chosen(self) -> None:
        self._rules.change(replace(self._rules.now, fallback=self.fallback.currentData() or ""))

    def _without_never(self, match: ProgramMatch) -> None:
        now = self._rules.now
        self._rules.change(replace(now, never=tuple(one for one in now.never if one != match)))

    def _pick_never(self) -> None:
        below = self.add_never.mapToGlobal(self.add_never.rect().bottomLeft())
        self._pick_program(below, lambda seen: self._add_never(learned_from(seen)))

    def _add_never(self, match: ProgramMatch) -> None:
        self._rules.change(self._rules.now.with_never(match))


class RuleOrder(QListWidget):
    """The rules in their order. `moved` is called with a place and where it goes."""

    def __init__(self, moved: Callable[[int, int], None]) -> None:
        super().__init__()
        self._moved = moved
        self.setAccessibleName(_("Order of the rules"))
        self.setDragDropMode(QAbstractItemView.DragDropMode.InternalMove)
        self.setDefaultDropAction(Qt.DropAction.MoveAction)
        self.setTextElideMode(Qt.TextElideMode.ElideRight)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)

    def show_rules(self, rules: list[tuple[str, str, str]]) -> None:
        """Show these: the name of each profile, its title, and what it starts with."""
        row = self.currentRow()
        self.clear()
        for number, (name, title, words) in enumerate(rules, 1):
            item = QListWidgetItem(_("{number}  {title}: {words}").format(number=number, title=title, words=words))
            item.setData(Qt.ItemDataRole.UserRole, name)
            item.setToolTip(words)
            self.addItem(item)
        self.setCurrentRow(min(row, self.count() - 1))
        height = self.sizeHintForRow(0) if self.count() else 0
        self.setFixedHeight(min(260, max(1, self.count()) * height + 6))

    def dropEvent(self, event: QDropEvent | None) -> None:
        """A rule was dropped: told, and shown when the rules have changed."""
        if event is None:
            return
        place = self.currentRow()
        target = self.indexAt(event.position().toPoint()).row()
        to = self.count() - 1 if target < 0 else target
        event.setDropAction(Qt.DropAction.IgnoreAction)
        event.accept()
        if place >= 0 and to != place:
            self._moved(place, to)
            self.setCurrentRow(to)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Alt and the arrows move a rule."""
        if event is not None and event.modifiers() & Qt.KeyboardModifier.AltModifier:
            step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()), 0)
            place = self.currentRow()
            if step and 0 <= place + step < self.count() and place >= 0:
                self._moved(place, place + step)
                self.setCurrentRow(place + step)
                return
        super().keyPressEvent(event)
