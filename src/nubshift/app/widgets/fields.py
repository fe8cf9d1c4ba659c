"""The lines to type into. Undo within one takes back what is being typed in it, and nothing else."""

from __future__ import annotations

from PyQt6.QtCore import QEvent
from PyQt6.QtGui import QKeyEvent, QKeySequence
from PyQt6.QtWidgets import QLineEdit

_UNDO = (QKeySequence.StandardKey.Undo, QKeySequence.StandardKey.Redo)


class LineField(QLineEdit):
    """A line to type into. Where nothing has been typed, undo and redo are the profile's."""

    def _is_for_profile(self, event: QKeyEvent) -> bool:
        return not self.isModified() and any(event.matches(key) for key in _UNDO)

    def event(self, event: QEvent | None) -> bool:
        """A shortcut of the window is left to it."""
        asked = isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride
        if asked and isinstance(event, QKeyEvent) and self._is_for_profile(event):
            event.ignore()
            return False
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Typing."""
        if event is not None and self._is_for_profile(event):
            event.ignore()
            return
        super().keyPressEvent(event)
