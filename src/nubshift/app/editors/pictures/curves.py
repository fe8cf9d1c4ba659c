"""The named response curves, each as a small picture drawn with the engine's own function."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from nubshift.app.painting.theme import Look
from nubshift.feel.curve import SHAPES, curve
from nubshift.model.profile import CurvePoints
from nubshift.texts import _


class CurveShapes(QWidget):
    """The shapes side by side; `chosen` is called with the name of the one picked."""

    def __init__(self, look: Look, chosen: Callable[[str], None]) -> None:
        super().__init__()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 2, 0, 2)
        row.setSpacing(6)
        self.buttons: dict[str, CurveButton] = {}
        for name in SHAPES:
            button = CurveButton(look, name)
            button.clicked.connect(lambda _=False, shape=name: chosen(shape))
            self.buttons[name] = button
            row.addWidget(button)
        row.addStretch(1)

    def show_points(self, points: CurvePoints | None) -> None:
        """Mark the one in use, if it is one of these."""
        for name, button in self.buttons.items():
            button.setChecked(SHAPES[name] == points)


SHAPE_NAMES: dict[str, str] = {
    "even": _("Linear"),
    "calm near rest": _("Slow near rest"),
    "quick near rest": _("Quick near rest"),
    "calm, then sudden": _("Slow, then steep"),
    "calm at both ends": _("Slow at both ends"),
}


class CurveButton(QPushButton):
    """One curve."""

    def __init__(self, look: Look, shape: str) -> None:
        super().__init__()
        self._look = look
        self._value = curve(SHAPES[shape])
        self.setCheckable(True)
        self.setFixedSize(46, 40)
        self.setToolTip(SHAPE_NAMES[shape])
        self.setAccessibleName(_("Response curve {shape}").format(shape=SHAPE_NAMES[shape]))

    def sizeHint(self) -> QSize:
        """A small square."""
        return QSize(46, 40)

    def paintEvent(self, event: object) -> None:
        """The curve."""
        theme = self._look.theme
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(theme.input, 1.0) if self.isChecked() or self.hasFocus() else Qt.PenStyle.NoPen)
        painter.setBrush(theme.raised)
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5), 6, 6)
        box = QRectF(8, 7, self.width() - 16, self.height() - 14)
        painter.setPen(QPen(theme.output if self.isChecked() else theme.quiet, 1))
        steps = 24
        points = [
            QPointF(box.left() + box.width() * i / steps, box.bottom() - box.height() * self._value(i / steps))
            for i in range(steps + 1)
        ]
        painter.drawPolyline(QPolygonF(points))
        painter.end()
