"""A picture of which most stands still: the still part is painted once and kept, the live part goes on top."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPixmap, QResizeEvent
from PyQt6.QtWidgets import QWidget

from nubshift.app.painting.canvas import Canvas, elided, line_height
from nubshift.app.painting.theme import SMALL, Look, font

CORNER = 12.0


class LivePicture(Canvas):
    """A lane with soft corners and a caption. `refresh` has the still part painted anew."""

    caption = ""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, parent)
        self._still: QPixmap | None = None
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        look.changed.connect(self.refresh)

    def refresh(self) -> None:
        """What stands still changed."""
        self._still = None
        self.update()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Another size is another picture."""
        self._still = None
        super().resizeEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The kept part, then the live one."""
        if self._still is None:
            self._still = self._paint_still()
        painter = QPainter(self)
        painter.drawPixmap(0, 0, self._still)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.draw_live(painter)
        painter.end()

    def _paint_still(self) -> QPixmap:
        ratio = self.devicePixelRatioF()
        still = QPixmap(round(self.width() * ratio), round(self.height() * ratio))
        still.setDevicePixelRatio(ratio)
        still.fill(self.theme.ground)
        painter = QPainter(still)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self.theme.surface)
        painter.drawRoundedRect(QRectF(self.rect()), CORNER, CORNER)
        if self.caption:
            painter.setPen(self.theme.quiet)
            painter.setFont(font(SMALL))
            place = QRectF(14, 8, self.width() - 28, line_height(SMALL))
            painter.drawText(place, Qt.AlignmentFlag.AlignLeft, elided(self.caption, place.width(), SMALL))
        self.draw_still(painter)
        painter.end()
        return still

    def draw_still(self, painter: QPainter) -> None:
        """Paint what stands still."""

    def draw_live(self, painter: QPainter) -> None:
        """Paint what moves."""
