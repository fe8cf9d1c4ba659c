"""A button with a sentence on it: broken into lines where there is no room for one."""

from __future__ import annotations

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtWidgets import QPushButton, QVBoxLayout

from nubshift.app.widgets.plain import Label


class LongButton(QPushButton):
    """As a push button; its text is a label within it, which may take several lines."""

    def __init__(self, text: str) -> None:
        super().__init__()
        self._label = Label(text)
        self._label.setWordWrap(True)
        self._label.setMinimumWidth(1)  # any width is enough: it is broken into lines
        self._label.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self._label.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.setAccessibleName(text)
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(10, 5, 10, 5)
        self._column.addWidget(self._label)

    def text(self) -> str:
        """What stands on it."""
        return self._label.text()

    def sizeHint(self) -> QSize:
        """As large as its text."""
        return self._column.totalSizeHint()

    def minimumSizeHint(self) -> QSize:
        """As wide as its longest word."""
        return self._column.totalMinimumSize()
