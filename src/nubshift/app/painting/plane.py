"""A stick's plane: where it stands, where it was, what is dead, and where its keys lie."""

from __future__ import annotations

from collections.abc import Sequence
from math import cos, radians, sin

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPen, QPolygonF

from nubshift.app.painting.theme import Theme, faded
from nubshift.feel.directions import sector_edges

FADES = 4
"""Steps in which a trail fades."""

Trail = Sequence[tuple[float, float]]


def draw_plane(painter: QPainter, centre: QPointF, radius: float, theme: Theme) -> None:
    """The ground of a plane: its reach."""
    painter.setPen(QPen(theme.line, 1))
    painter.setBrush(theme.ground)
    painter.drawEllipse(centre, radius, radius)


def draw_dead(painter: QPainter, centre: QPointF, radius: float, theme: Theme) -> None:
    """Hatching for what is dead."""
    painter.setPen(QPen(theme.quiet, 1))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawEllipse(centre, radius, radius)
    disc = QPainterPath()
    disc.addEllipse(centre, radius, radius)
    painter.save()
    painter.setClipPath(disc)
    painter.setPen(QPen(faded(theme.quiet, 0.5), 1))
    step = 4.0
    offset = -2 * radius
    while offset < radius * 2:
        painter.drawLine(
            QPointF(centre.x() - radius + offset, centre.y() + radius),
            QPointF(centre.x() + offset + radius, centre.y() - radius),
        )
        offset += step
    painter.restore()


def draw_ring(painter: QPainter, centre: QPointF, radius: float, theme: Theme) -> None:
    """A dashed ring: an edge that matters."""
    painter.setPen(QPen(theme.quiet, 1, Qt.PenStyle.DotLine))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawEllipse(centre, radius, radius)


def draw_sectors(painter: QPainter, centre: QPointF, inner: float, outer: float, diagonal: float, theme: Theme) -> None:
    """The edges between the eight sectors, from the inner radius to the outer one."""
    painter.setPen(QPen(faded(theme.line, 0.9), 1))
    for middle, half in sector_edges(diagonal):
        if half > 0:
            angle = radians(middle - half)
            painter.drawLine(
                QPointF(centre.x() + inner * sin(angle), centre.y() - inner * cos(angle)),
                QPointF(centre.x() + outer * sin(angle), centre.y() - outer * cos(angle)),
            )


def draw_trail(painter: QPainter, centre: QPointF, radius: float, trail: Trail, theme: Theme) -> None:
    """What moved, fading with age."""
    left, top = centre.x(), centre.y()
    points = [QPointF(left + x * radius, top + y * radius) for x, y in trail]
    size = max(1, -(-len(points) // FADES))
    for part in range(FADES):
        piece = points[part * size : (part + 1) * size + 1]
        if len(piece) > 1:
            painter.setPen(QPen(faded(theme.input, 0.1 + 0.46 * (part + 1) / FADES), 1))
            painter.drawPolyline(QPolygonF(piece))


def draw_position(painter: QPainter, centre: QPointF, radius: float, x: float, y: float, theme: Theme) -> None:
    """Where the stick stands now, on a line from its rest."""
    at = QPointF(centre.x() + x * radius, centre.y() + y * radius)
    painter.setPen(QPen(faded(theme.input, 0.5), 1))
    painter.drawLine(centre, at)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.input)
    painter.drawEllipse(at, 6, 6)


def draw_vector(
    painter: QPainter, centre: QPointF, radius: float, x: float, y: float, theme: Theme, hollow: bool
) -> None:
    """Mouse motion as an arrow with a square head; (x, y) within the unit circle."""
    at = QPointF(centre.x() + x * radius, centre.y() + y * radius)
    painter.setPen(QPen(theme.output, 1))
    painter.drawLine(centre, at)
    painter.setBrush(Qt.BrushStyle.NoBrush if hollow else theme.output)
    painter.drawRoundedRect(QRectF(at.x() - 3.5, at.y() - 3.5, 7, 7), 1.5, 1.5)
