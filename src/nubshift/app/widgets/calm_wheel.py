"""Fields that the wheel changes only where the keyboard is: scrolling a page past them changes nothing."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QWheelEvent
from PyQt6.QtWidgets import QComboBox, QWidget


def passes_by(widget: QWidget, event: QWheelEvent | None) -> bool:
    """Whether a turn of the wheel is meant for the page that the widget is on, which gets it then."""
    if event is None or widget.hasFocus():
        return False
    event.ignore()
    return True


class CalmChoice(QComboBox):
    """A list that folds out. The only one that this program makes."""

    def __init__(self) -> None:
        super().__init__()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)  # the wheel would give it the keyboard first

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Another choice, where the keyboard is."""
        if not passes_by(self, event):
            super().wheelEvent(event)
