"""An image that is painted anew where something was or is, for panes that bring pixels to a server."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeAlias

from PyQt6.QtCore import QRect, QRectF, QSize, Qt
from PyQt6.QtGui import QImage, QPainter, QPainterPath

Rect: TypeAlias = tuple[int, int, int, int]
"""Left, top, width and height, in pixels."""
AROUND = 8
"""Units around an outline in which its strokes and dots may stand."""


class PixelCanvas:
    """What `draw` paints, in pixels."""

    def __init__(self, draw: Callable[[QPainter], None]) -> None:
        self._draw = draw
        self._image = QImage()
        self._drawn: list[Rect] = []

    def paint(self, size: QSize, scale: float, rects: list[Rect]) -> QImage:
        """The picture of `size` pixels, `scale` of them to a unit; something stands within `rects` alone."""
        if self._image.size() != size:
            self._image = QImage(size, QImage.Format.Format_ARGB32_Premultiplied)
            self._drawn = [(0, 0, size.width(), size.height())]
        painter = QPainter(self._image)
        painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Source)
        for rect in self._drawn:
            painter.fillRect(*rect, Qt.GlobalColor.transparent)
        painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceOver)
        painter.scale(scale, scale)
        self._draw(painter)
        painter.end()
        self._drawn = rects
        return self._image

    def forget(self) -> None:
        """Give its memory back."""
        self._image, self._drawn = QImage(), []


def rects_of(outline: QPainterPath, scale: float, size: QSize) -> list[Rect]:
    """The rectangles of pixels that what is drawn lies in."""
    found = []
    for polygon in outline.toFillPolygons():
        box = polygon.boundingRect().adjusted(-AROUND, -AROUND, AROUND, AROUND)
        scaled = QRectF(box.topLeft() * scale, box.size() * scale).toAlignedRect() & QRect(
            0, 0, size.width(), size.height()
        )
        if not scaled.isEmpty():
            found.append((scaled.left(), scaled.top(), scaled.width(), scaled.height()))
    return found
