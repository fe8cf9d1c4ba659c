"""The finder: controls, commands, keys, layers and actions by name (Ctrl+K); for an armed slot, what it can send."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from nubshift.app.widgets.fields import LineField
from nubshift.records import Record
from nubshift.texts import _

MOST = 40
WIDTH, HIGHEST = 480, 420


class Hit(Record, frozen=True):
    """Something that can be found: its name, what it is, words to find it by, and what choosing it does."""

    name: str
    kind: str
    words: str
    choose: Callable[[], object]


def matching(hits: Iterable[Hit], text: str) -> list[Hit]:
    """The hits that contain every word of `text`, those whose name begins with it first."""
    wanted = text.lower().split()
    found = [hit for hit in hits if all(word in f"{hit.name} {hit.kind} {hit.words}".lower() for word in wanted)]
    begin = text.lower().strip()
    return sorted(found, key=lambda hit: _rank(hit, begin))[:MOST]


def _rank(hit: Hit, begin: str) -> tuple[bool, bool, bool]:
    """What is called just so comes first, then what begins so, then what has it in its name."""
    name = hit.name.lower()
    called = [word.strip() for word in hit.words.lower().split(",")]
    return begin not in (name, *called), not name.startswith(begin), begin not in name


class Finder(QFrame):
    """A field with a list below it, over the middle of the window."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self._hits: list[Hit] = []
        self._shown: list[Hit] = []
        self.field = LineField()
        self.field.setAccessibleName(_("Search"))
        self.field.textChanged.connect(self._filter)
        self.field.installEventFilter(self)
        self.list = QListWidget()
        self.list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.list.itemClicked.connect(lambda _: self._choose())
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 10, 10, 10)
        column.addWidget(self.field)
        column.addWidget(self.list)
        self.setObjectName("finder")

    def ask(self, hits: Iterable[Hit], prompt: str) -> None:
        """Offer these."""
        self._hits = list(hits)
        self.field.clear()
        self.field.setPlaceholderText(prompt)
        self._filter()
        parent = self.parentWidget()
        if parent is not None:
            top_left = parent.mapToGlobal(parent.rect().topLeft())
            self.setFixedWidth(WIDTH)
            self.move(top_left.x() + (parent.width() - WIDTH) // 2, top_left.y() + 96)
            self._fit()
        self.show()
        self.field.setFocus()

    def _filter(self) -> None:
        self._shown = matching(self._hits, self.field.text())
        self.list.clear()
        for hit in self._shown:
            self.list.addItem(QListWidgetItem(f"{hit.name}   ·   {hit.kind}"))
        if self._shown:
            self.list.setCurrentRow(0)
        self._fit()

    def _fit(self) -> None:
        """As high as what was found, up to `HIGHEST`."""
        row = self.list.sizeHintForRow(0) if self._shown else 0
        wanted = self.field.sizeHint().height() + 36 + row * len(self._shown)
        self.resize(self.width(), min(HIGHEST, wanted))

    def _choose(self) -> None:
        row = self.list.currentRow()
        if 0 <= row < len(self._shown):
            hit = self._shown[row]
            self.hide()
            hit.choose()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Arrows and Enter in the field belong to the list."""
        if watched is self.field and isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1, Qt.Key.Key_PageDown: 8, Qt.Key.Key_PageUp: -8}.get(
                Qt.Key(event.key())
            )
            if step is not None:
                self.list.setCurrentRow(max(0, min(self.list.count() - 1, self.list.currentRow() + step)))
                return True
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self._choose()
                return True
        return super().eventFilter(watched, event)
