"""A box to tick: filled with the input colour, with a tick, so that it is not told by colour alone."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPalette, QPen, QPolygonF
from PyQt6.QtWidgets import QCheckBox, QStyle, QStyleOptionButton

from nubshift.app.widgets.breaking import Breaking

TICK = ((0.24, 0.54), (0.43, 0.72), (0.77, 0.30))
THICK = 0.13
"""Its corners, and how thick it is, as shares of the box's side."""


class TickBox(Breaking, QCheckBox):
    """The only box to tick that this program makes."""

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The box by the style, the tick by us: a style sheet can only take one from a file."""
        super().paintEvent(event)
        style = self.style()
        if not self.isChecked() or style is None:
            return
        option = QStyleOptionButton()
        self.initStyleOption(option)
        box = QRectF(style.subElementRect(QStyle.SubElement.SE_CheckBoxIndicator, option, self))
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(
            QPen(
                self.palette().color(QPalette.ColorRole.HighlightedText),
                box.width() * THICK,
                Qt.PenStyle.SolidLine,
                Qt.PenCapStyle.RoundCap,
                Qt.PenJoinStyle.RoundJoin,
            )
        )
        painter.drawPolyline(
            QPolygonF([QPointF(box.x() + x * box.width(), box.y() + y * box.height()) for x, y in TICK])
        )
