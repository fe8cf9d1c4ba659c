"""A widget that is painted by us: knows the look, follows its changes, and sets a painter up."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from nubshift.app.painting.theme import BODY, SMALL, Look, Theme, font, metrics
from nubshift.app.painting.timing import once

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


class ClickableCanvas(Canvas):
    """One that is clicked as a whole, with the mouse, Enter or Space."""

    clicked = pyqtSignal()

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """A click."""
        self.clicked.emit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Enter and Space are a click."""
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.clicked.emit()
        else:
            super().keyPressEvent(event)


def line_height(factor: float = BODY) -> float:
    """The height of a line of text of this size."""
    return metrics(factor).height()


def elided(text: str, width: float, factor: float = BODY, bold: bool = False) -> str:
    """`text` cut with an ellipsis to fit `width`."""
    return metrics(factor, bold).elidedText(text, Qt.TextElideMode.ElideRight, width)


def fitted(text: str, width: float, factor: float, bold: bool, lines: int = 1) -> tuple[tuple[str, ...], float, bool]:
    """The lines of a name, and the size and weight in which it fits `width`.

    What is too long for one line is broken into as many as there may be, then set smaller, and cut at last.
    """
    sizes = ((factor, bold), (factor * 0.9, bold), (factor * 0.9, False))
    least = (min(factor, SMALL), False)
    for allowed, some in ((1, sizes), (lines, sizes), (lines, (least,))):
        for size, weight in some:
            found = broken(text, width, size, weight)
            if len(found) <= allowed and all(text_width(line, size, weight) <= width for line in found):
                return tuple(found), size, weight
    size, weight = least
    found = broken(text, width, size, weight)
    kept = [*found[: lines - 1], " ".join(found[lines - 1 :])]
    return tuple(elided(line, width, size, weight) for line in kept), size, weight


def broken(text: str, width: float, factor: float = BODY, bold: bool = False) -> list[str]:
    """`text` in lines of whole words, as long as they fit."""
    return in_lines(text, width, lambda line: text_width(line, factor, bold))


def in_lines(text: str, width: float, measure: Callable[[str], float]) -> list[str]:
    """`text` in lines of whole words, as long as each of them measures no more than `width`."""
    lines: list[str] = []
    for word in text.split():
        longer = f"{lines[-1]} {word}" if lines else word
        if lines and measure(longer) <= width:
            lines[-1] = longer
        else:
            lines.append(word)
    return lines or [""]


def draw_name(
    painter: QPainter, rect: QRectF, text: str, factor: float, *, bold: bool, flags: Qt.AlignmentFlag, lines: int = 1
) -> None:
    """Draw a name in the present pen, as `fitted`; `rect` is where its first line stands."""
    fits, size, weight = fitted(text, rect.width(), factor, bold, lines)
    painter.setFont(font(size, weight))
    for index, line in enumerate(fits):
        painter.drawText(rect.translated(0, index * line_height(size)), flags, line)


def text_width(text: str, factor: float = BODY, bold: bool = False) -> float:
    """The width of `text`."""
    return metrics(factor, bold).horizontalAdvance(text)


def draw_focus(painter: QPainter, rect: QRectF, theme: Theme, radius: float = 9.0) -> None:
    """The ring that shows where the keyboard is, or what is selected."""
    painter.setPen(QPen(theme.input, 2))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRoundedRect(rect.adjusted(1, 1, -1, -1), radius, radius)
