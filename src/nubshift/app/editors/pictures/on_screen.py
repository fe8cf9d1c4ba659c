"""Where tiles, a menu or an on-screen keyboard are shown during play: a small screen, the surface dragged on it."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen, QWheelEvent

from nubshift.app.painting.canvas import Canvas, draw_focus
from nubshift.app.painting.theme import Look, faded
from nubshift.app.widgets.calm_wheel import passes_by
from nubshift.model.roles import Overlay
from nubshift.texts import _

CORNER = 9.0


class ScreenPicture(Canvas):
    """The screen; the surface is moved by dragging it and resized by its corner, by the wheel or with + and -."""

    def __init__(self, look: Look, changed: Callable[[Overlay], None], settled: Callable[[], None]) -> None:
        super().__init__(look)
        self._overlay = Overlay()
        self._changed, self._settled = changed, settled
        self._grab: tuple[str, QPointF] | None = None
        self.setFixedHeight(118)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(_("Place on the screen: the arrow keys move it, plus and minus resize it"))

    def show_overlay(self, overlay: Overlay) -> None:
        """Show it without saying that it changed."""
        self._overlay = overlay
        self.setAccessibleDescription(
            _("at {x:.0%}, {y:.0%}, size {size:.0%}").format(x=overlay.x, y=overlay.y, size=overlay.size)
        )
        self.update()

    def sizeHint(self) -> QSize:
        """As a screen."""
        return QSize(200, 118)

    @property
    def _screen(self) -> QRectF:
        height = self.height() - 6.0
        return QRectF(3, 3, min(self.width() - 6.0, height * 16 / 9), height)

    @property
    def _box(self) -> QRectF:
        screen, overlay = self._screen, self._overlay
        side = overlay.size * screen.height()
        return QRectF(
            screen.left() + overlay.x * screen.width() - side / 2,
            screen.top() + overlay.y * screen.height() - side / 2,
            side,
            side,
        )

    def draw(self, painter: QPainter) -> None:
        """Screen and surface."""
        theme = self.theme
        painter.setPen(QPen(theme.line, 1))
        painter.setBrush(theme.ground)
        painter.drawRoundedRect(self._screen, 4, 4)
        painter.setClipRect(self._screen)
        painter.setPen(QPen(theme.output, 1))
        painter.setBrush(faded(theme.output, 0.35 * self._overlay.opacity))
        painter.drawRoundedRect(self._box, 5, 5)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.output)
        corner = self._box.bottomRight()
        painter.drawRoundedRect(QRectF(corner.x() - 4, corner.y() - 4, 7, 7), 1.5, 1.5)
        painter.setClipping(False)
        if self.hasFocus():
            draw_focus(painter, self._screen, theme, 5)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take the surface or its corner."""
        if event is None:
            return
        at = event.position()
        if (at - self._box.bottomRight()).manhattanLength() < 2 * CORNER:
            self._grab = ("size", at)
        elif self._box.contains(at):
            self._grab = ("move", at - self._box.center())
        elif self._screen.contains(at):
            self._grab = ("move", QPointF(0, 0))
            self.mouseMoveEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Drag it."""
        if event is None or self._grab is None:
            return
        what, start = self._grab
        screen, at = self._screen, event.position()
        if what == "size":
            reach = max(at.x() - self._box.center().x(), at.y() - self._box.center().y())
            self._resize(2 * reach / screen.height())
        else:
            centre = at - start
            self._put((centre.x() - screen.left()) / screen.width(), (centre.y() - screen.top()) / screen.height())

    def _put(self, x: float, y: float) -> None:
        self._changed(replace(self._overlay, x=round(min(1, max(0, x)), 2), y=round(min(1, max(0, y)), 2)))

    def _resize(self, size: float) -> None:
        self._changed(replace(self._overlay, size=round(min(1.0, max(0.05, size)), 2)))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """The drag is one edit."""
        if self._grab is not None:
            self._grab = None
            self._settled()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Larger or smaller, where the keyboard is."""
        if event is not None and not passes_by(self, event):
            self._resize(self._overlay.size + (0.02 if event.angleDelta().y() > 0 else -0.02))
            event.accept()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows move it, plus and minus change its size."""
        steps = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
        if event is None:
            return
        if event.key() in steps:
            dx, dy = steps[Qt.Key(event.key())]
            self._put(self._overlay.x + dx / 50, self._overlay.y + dy / 50)
        elif event.text() in ("+", "-", "="):
            self._resize(self._overlay.size + (-0.02 if event.text() == "-" else 0.02))
        else:
            super().keyPressEvent(event)
            return
        self._settled()
