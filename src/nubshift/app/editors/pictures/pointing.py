"""The part of the screen that a pointer reaches, dragged on a small screen (N36)."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen

from nubshift.app.painting.canvas import Canvas, draw_focus
from nubshift.app.painting.theme import Look, faded
from nubshift.model.roles import Area, PointerRole
from nubshift.texts import _

LEAST = 0.1


class AreaPicture(Canvas):
    """The screen with the area; its edges are dragged."""

    def __init__(self, look: Look, changed: Callable[..., None], settled: Callable[[], None]) -> None:
        super().__init__(look)
        self._area: Area = (0.0, 0.0, 1.0, 1.0)
        self._changed, self._settled = changed, settled
        self._edge = -1
        self.setFixedHeight(118)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(_("Area reached: the arrow keys narrow it, with Shift they widen it"))

    def show_role(self, role: Any) -> None:
        """Show the area of a pointer."""
        if isinstance(role, PointerRole):
            self._area = role.area
            self.setAccessibleDescription(", ".join(f"{edge:.0%}" for edge in role.area))
            self.update()

    def sizeHint(self) -> QSize:
        """As a screen."""
        return QSize(200, 118)

    @property
    def _screen(self) -> QRectF:
        height = self.height() - 10.0
        return QRectF(5, 5, min(self.width() - 10.0, height * 16 / 9), height)

    @property
    def _box(self) -> QRectF:
        screen, (left, top, right, bottom) = self._screen, self._area
        return QRectF(
            screen.left() + left * screen.width(),
            screen.top() + top * screen.height(),
            (right - left) * screen.width(),
            (bottom - top) * screen.height(),
        )

    def _handles(self) -> list[QPointF]:
        box = self._box
        return [
            QPointF(box.left(), box.center().y()),
            QPointF(box.center().x(), box.top()),
            QPointF(box.right(), box.center().y()),
            QPointF(box.center().x(), box.bottom()),
        ]

    def draw(self, painter: QPainter) -> None:
        """Screen, area, and a square handle on each edge."""
        theme = self.theme
        painter.setPen(QPen(theme.line, 1))
        painter.setBrush(theme.ground)
        painter.drawRoundedRect(self._screen, 4, 4)
        painter.setPen(QPen(theme.output, 1))
        painter.setBrush(faded(theme.output, 0.25))
        painter.drawRect(self._box)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.output)
        for at in self._handles():
            painter.drawRoundedRect(QRectF(at.x() - 4, at.y() - 4, 8, 8), 1.5, 1.5)
        if self.hasFocus():
            draw_focus(painter, self._screen, theme, 5)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take an edge."""
        if event is not None:
            near = [((at - event.position()).manhattanLength(), edge) for edge, at in enumerate(self._handles())]
            distance, edge = min(near)
            self._edge = edge if distance < 30 else -1

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Drag it."""
        if event is None or self._edge < 0:
            return
        screen, at = self._screen, event.position()
        share = (
            (at.y() - screen.top()) / screen.height() if self._edge % 2 else (at.x() - screen.left()) / screen.width()
        )
        self._set(self._edge, share)

    def _set(self, edge: int, share: float) -> None:
        area = list(self._area)
        other = area[(edge + 2) % 4]
        low, high = (0.0, other - LEAST) if edge < 2 else (other + LEAST, 1.0)
        area[edge] = round(min(high, max(low, share)), 2)
        self._changed(area=tuple(area))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """The drag is one edit."""
        if self._edge >= 0:
            self._edge = -1
            self._settled()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """An arrow moves the edge it points away from inward; with Shift the edge that it points to, outward."""
        keys = (Qt.Key.Key_Left, Qt.Key.Key_Up, Qt.Key.Key_Right, Qt.Key.Key_Down)
        if event is None or event.key() not in keys:
            if event is not None:
                super().keyPressEvent(event)
            return
        edge = keys.index(Qt.Key(event.key()))
        outward = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        moved = edge if outward else (edge + 2) % 4
        way = -0.02 if edge < 2 else 0.02
        self._set(moved, self._area[moved] + way)
        self._settled()
