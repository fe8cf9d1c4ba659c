"""A widget that is painted by us: knows the look, follows its changes, and sets a painter up."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QFocusEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from nubshift.app.theme import BODY, Look, Theme, font, metrics
from nubshift.app.timing import once

SOON_MS = 28
"""Longest wait of what is painted soon: every second frame."""


class Canvas(QWidget):
    """A painted widget. Subclasses paint in `draw`."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.look = look
        self._soon = once(self, SOON_MS, self.update)
        look.changed.connect(self.update)

    @property
    def theme(self) -> Theme:
        """The colours in use."""
        return self.look.theme

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Set a painter up and draw."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.draw(painter)
        painter.end()

    def update_soon(self) -> None:
        """Paint again in a moment, thirty times a second at most: for what is glanced at, beside what is followed."""
        if not self._soon.isActive():
            self._soon.start()

    def draw(self, painter: QPainter) -> None:
        """Paint the widget."""

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        """Show the focus."""
        self.update()

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        """Show that it left."""
        self.update()


def line_height(factor: float = BODY) -> float:
    """The height of a line of text of this size."""
    return metrics(factor).height()


def elided(text: str, width: float, factor: float = BODY, bold: bool = False) -> str:
    """`text` cut with an ellipsis to fit `width`."""
    return metrics(factor, bold).elidedText(text, Qt.TextElideMode.ElideRight, width)


def draw_name(
    painter: QPainter, rect: QRectF, text: str, factor: float, *, bold: bool, flags: Qt.AlignmentFlag
) -> None:
    """Draw a name in the present pen; one that is too long is set smaller before it is cut."""
    for size, weight in ((factor, bold), (factor * 0.9, bold), (factor * 0.9, False)):
        painter.setFont(font(size, weight))
        if text_width(text, size, weight) <= rect.width():
            break
    painter.drawText(rect, flags, elided(text, rect.width(), size, weight))


def text_width(text: str, factor: float = BODY, bold: bool = False) -> float:
    """The width of `text`."""
    return metrics(factor, bold).horizontalAdvance(text)


def draw_focus(painter: QPainter, rect: QRectF, theme: Theme, radius: float = 9.0) -> None:
    """The ring that shows where the keyboard is, or what is selected."""
    painter.setPen(QPen(theme.input, 2))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRoundedRect(rect.adjusted(1, 1, -1, -1), radius, radius)
