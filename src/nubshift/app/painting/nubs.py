"""Round marks: everything that comes from the controller is round and in the input colour (docs/architecture.md)."""

from __future__ import annotations

from math import cos, radians, sin

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from nubshift.app.painting.theme import SMALL, Theme, faded, font, metrics
from nubshift.model.controls import CONTROLS, FACE

RADIUS = 10.0


def draw_nub(
    painter: QPainter,
    centre: QPointF,
    control: str,
    depth: float,
    theme: Theme,
    *,
    radius: float = RADIUS,
    faint: bool = False,
    mark: str = "",
) -> None:
    """The mark of a control, or another one of up to three letters.

    `depth` 0 to 1 is how far it is pressed now: filled means now.
    """
    if control in FACE:
        draw_face(painter, centre, FACE.index(control), depth > 0, theme, radius)
    else:
        draw_mark(painter, centre, mark or CONTROLS[control].mark, depth, theme, radius=radius, faint=faint)


def draw_mark(
    painter: QPainter,
    centre: QPointF,
    mark: str,
    depth: float,
    theme: Theme,
    *,
    radius: float = RADIUS,
    faint: bool = False,
) -> None:
    """A round mark with up to three letters."""
    colour = faded(theme.input, 0.55) if faint else theme.input
    circle = QRectF(centre.x() - radius, centre.y() - radius, 2 * radius, 2 * radius)
    painter.setPen(QPen(colour, 1))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawEllipse(circle)
    if depth > 0:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.input if depth >= 1 else faded(theme.input, 0.25 + 0.5 * depth))
        painter.drawEllipse(circle)
    painter.setPen(theme.on_input if depth >= 0.4 else theme.input)
    size = SMALL * 0.95 if radius >= RADIUS else SMALL * 0.85
    room = 1.45 * radius / max(1.0, metrics(size).horizontalAdvance(mark))
    painter.setFont(font(size * min(1.0, room)))
    painter.drawText(circle, Qt.AlignmentFlag.AlignCenter, mark)


def draw_face(painter: QPainter, centre: QPointF, place: int, down: bool, theme: Theme, radius: float = RADIUS) -> None:
    """Four dots as a diamond with the one at `place` (clockwise from up) filled; thumbs know places, not letters."""
    dot = radius * 0.36
    for index in range(4):
        angle = radians(90.0 * index)
        at = QPointF(centre.x() + radius * 0.64 * sin(angle), centre.y() - radius * 0.64 * cos(angle))
        if index == place:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.input)
            painter.drawEllipse(at, dot * (1.25 if down else 1.0), dot * (1.25 if down else 1.0))
        else:
            painter.setPen(QPen(theme.quiet, 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(at, dot * 0.8, dot * 0.8)
    if down:
        painter.setPen(QPen(theme.input, 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(centre, radius * 1.15, radius * 1.15)


def draw_empty(painter: QPainter, centre: QPointF, theme: Theme, radius: float = RADIUS - 1) -> None:
    """The place of a control that is not there: nothing sends this."""
    painter.setPen(QPen(theme.quiet, 1, Qt.PenStyle.DashLine))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawEllipse(centre, radius, radius)


def draw_clash(painter: QPainter, centre: QPointF, theme: Theme) -> None:
    """Two dots that overlap: one finger is needed in two places."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(theme.output, 1))
    painter.drawEllipse(QPointF(centre.x() - 3, centre.y()), 4.5, 4.5)
    painter.drawEllipse(QPointF(centre.x() + 3, centre.y()), 4.5, 4.5)


def draw_logo(painter: QPainter, rect: QRectF, theme: Theme) -> None:
    """The mark of the app: a round nub sliding onto a square key."""
    side = rect.height() * 0.8
    key = QRectF(rect.right() - side, rect.center().y() - side / 2, side, side)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.output)
    painter.drawRoundedRect(key, 5, 5)
    painter.setBrush(theme.cap)
    painter.drawRoundedRect(key.adjusted(0, 0, 0, -4), 5, 5)
    painter.setBrush(theme.input)
    radius = rect.height() * 0.42
    painter.drawEllipse(QPointF(rect.left() + radius, rect.center().y()), radius, radius)
