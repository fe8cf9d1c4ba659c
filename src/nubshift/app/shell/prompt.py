"""A small question over the window: one line to type, with what is known already to choose from."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QPushButton, QVBoxLayout, QWidget

from nubshift.app.editors.panel import link
from nubshift.app.widgets.fields import LineField
from nubshift.app.widgets.plain import Label
from nubshift.texts import _

WIDTH = 340


class Prompt(QFrame):
    """Asks for a few words. Enter answers, Escape or a click beside it does not."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setObjectName("finder")
        self._done: Callable[[str], object] | None = None
        self._question = Label()
        self._question.setWordWrap(True)
        self.field = LineField()
        self.field.installEventFilter(self)
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(14, 12, 14, 12)
        self._column.setSpacing(6)
        self._column.addWidget(self._question)
        self._column.addWidget(self.field)
        self._known: list[QPushButton] = []

    def ask(self, question: str, present: str, done: Callable[[str], object], known: tuple[str, ...] = ()) -> None:
        """Ask; `done` gets the answer, without spaces around it."""
        self._done = done
        self._question.setText(question)
        self.field.setText(present)
        self.field.selectAll()
        self.field.setAccessibleName(question)
        for button in self._known:
            self._column.removeWidget(button)
            button.deleteLater()
        self._known = []
        for text in known:
            button = link(text or _("No group"), partial(self._answer, text, True))
            self._column.addWidget(button, 0, Qt.AlignmentFlag.AlignLeft)
            self._known.append(button)
        parent = self.parentWidget()
        self.setFixedWidth(WIDTH)
        self.adjustSize()
        if parent is not None:
            corner = parent.mapToGlobal(parent.rect().topLeft())
            self.move(corner.x() + (parent.width() - WIDTH) // 2, corner.y() + 120)
        self.show()
        self.field.setFocus()

    def _answer(self, text: str, empty_too: bool = False) -> None:
        done, self._done = self._done, None
        self.hide()
        if done is not None and (text.strip() or empty_too):
            done(text.strip()[:200])

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Enter in the field answers, and goes no further."""
        entered = isinstance(event, QKeyEvent) and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        if watched is self.field and entered and event is not None and event.type() == QEvent.Type.KeyPress:
            self._answer(self.field.text())
            return True
        return super().eventFilter(watched, event)
