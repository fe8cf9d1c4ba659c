"""Small pictures to pick from: a point of the screen, a colour of the light."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPen

from nubshift.app.painting.canvas import Canvas, draw_focus
from nubshift.app.painting.theme import LIGHT_NAMES, LIGHTS
from nubshift.app.stage import Stage
from nubshift.texts import _


class ScreenPoint(Canvas):
    """A small screen with a point on it that is dragged."""

    moved = pyqtSignal(float, float)
    settled = pyqtSignal()

    def __init__(self, stage: Stage) -> None:
        super().__init__(stage.look)
        self._x, self._y = 0.5, 0.5
        self.setFixedHeight(130)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(_("Point on the screen; the arrow keys move it"))

    def show_point(self, x: float, y: float) -> None:
        """Show the point without saying that it moved."""
        self._x, self._y = x, y
        self.update()

    def sizeHint(self) -> QSize:
        """As a screen."""
        return QSize(230, 130)

    @property
    def _screen(self) -> QRectF:
        height = self.height() - 8.0
        width = min(self.width() - 8.0, height * 16 / 9)
        return QRectF(4, 4, width, height)

    def draw(self, painter: QPainter) -> None:
        """The screen and the point."""
        theme, rect = self.theme, self._screen
        painter.setPen(QPen(theme.line, 1))
        painter.setBrush(theme.ground)
        painter.drawRoundedRect(rect, 4, 4)
        at = QPointF(rect.left() + self._x * rect.width(), rect.top() + self._y * rect.height())
        painter.setPen(QPen(theme.quiet, 1, Qt.PenStyle.DotLine))
        painter.drawLine(QPointF(rect.left(), at.y()), QPointF(rect.right(), at.y()))
        painter.drawLine(QPointF(at.x(), rect.top()), QPointF(at.x(), rect.bottom()))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.output)
        painter.drawRoundedRect(QRectF(at.x() - 5, at.y() - 5, 10, 10), 2, 2)
        if self.hasFocus():
            draw_focus(painter, rect, theme, 5)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Put it here."""
        self.mouseMoveEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Drag it."""
        if event is not None:
            rect = self._screen
            x = (event.position().x() - rect.left()) / rect.width()
            y = (event.position().y() - rect.top()) / rect.height()
            self._move(x, y)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """A drag is one edit."""
        self.settled.emit()

    def _move(self, x: float, y: float) -> None:
        self._x, self._y = round(min(1.0, max(0.0, x)), 3), round(min(1.0, max(0.0, y)), 3)
        self.moved.emit(self._x, self._y)
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows move it by a hundredth."""
        steps = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
        if event is not None and event.key() in steps:
            dx, dy = steps[Qt.Key(event.key())]
            self._move(self._x + dx / 100, self._y + dy / 100)
        elif event is not None:
            super().keyPressEvent(event)


class Swatches(Canvas):
    """Colours for the controller's light."""

    chosen = pyqtSignal(str)

    def __init__(self, stage: Stage) -> None:
        super().__init__(stage.look)
        self._colour = ""
        self.setFixedHeight(36)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(_("Light colour; the arrow keys change it"))

    def show_colour(self, colour: str) -> None:
        """Mark one."""
        self._colour = colour
        self.setAccessibleDescription(LIGHT_NAMES.get(colour, colour))
        self.update()

    @property
    def _all(self) -> tuple[str, ...]:
        return LIGHTS if self._colour in LIGHTS or not self._colour else (*LIGHTS, self._colour)

    def draw(self, painter: QPainter) -> None:
        """Round, since the light is on the controller."""
        for index, colour in enumerate(self._all):
            at = QPointF(16 + index * 34, 18)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(colour))
            painter.drawEllipse(at, 9, 9)
            if colour == self._colour:
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.setPen(QPen(self.theme.input if self.hasFocus() else self.theme.quiet, 1))
                painter.drawEllipse(at, 13, 13)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Choose one."""
        index = int(event.position().x() // 34) if event is not None else -1
        if 0 <= index < len(self._all):
            self.chosen.emit(self._all[index])

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows choose the next."""
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0) if event is not None else 0
        if step and self._colour in self._all:
            self.chosen.emit(self._all[(self._all.index(self._colour) + step) % len(self._all)])
        elif event is not None:
            super().keyPressEvent(event)
