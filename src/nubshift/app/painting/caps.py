"""Key caps and the small mouse: everything that goes to the game is square (docs/architecture.md)."""

from __future__ import annotations

from enum import Enum

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen

from nubshift.app.painting.theme import SMALL, Theme, blend, font, metrics

EDGE = 3.0
"""Height of a cap's darker lower edge."""


class CapState(Enum):
    """How a cap is shown: as it lies there, held now, held if output were not withheld, or only inherited."""

    REST = "rest"
    HELD = "held"
    WOULD = "would"
    FAINT = "faint"


Cap = tuple[str, str, CapState]
"""A key or mouse button with what stands on it, and how it is shown."""


def cap_height() -> float:
    """The height of a cap for the present text size."""
    return metrics(SMALL).height() + 6.0


def cap_width(code: str, label: str) -> float:
    """The width of the cap of a key or mouse button."""
    height = cap_height()
    if code in MOUSE_PARTS:
        return height
    return max(height + 2.0, metrics(SMALL).horizontalAdvance(label) + 11.0)


def draw_cap(painter: QPainter, x: float, y: float, code: str, label: str, state: CapState, theme: Theme) -> float:
    """Draw the cap of `code` with its top left corner at (x, y); returns its width."""
    width, height = cap_width(code, label), cap_height()
    rect = QRectF(x, y, width, height)
    face, edge, ink = _colours(state, theme)
    painter.setPen(Qt.PenStyle.NoPen)
    if state is CapState.WOULD:
        painter.setPen(QPen(theme.output, 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(rect.adjusted(0.5, 0.5, -0.5, -0.5), 4, 4)
    else:
        painter.setBrush(edge)
        painter.drawRoundedRect(rect, 4, 4)
        painter.setBrush(face)
        painter.drawRoundedRect(rect.adjusted(0, 0, 0, -EDGE), 4, 4)
    inner = rect.adjusted(0, 0, 0, -EDGE)
    if code in MOUSE_PARTS:
        draw_mouse(painter, inner, code, ink)
    else:
        painter.setPen(ink)
        painter.setFont(font(SMALL))
        painter.drawText(inner, Qt.AlignmentFlag.AlignCenter, label)
    return width


def _colours(state: CapState, theme: Theme) -> tuple[QColor, QColor, QColor]:
    """Face, lower edge and ink of a cap."""
    match state:
        case CapState.REST:
            return theme.cap, theme.cap_edge, theme.on_cap
        case CapState.HELD:
            return theme.output, theme.output.darker(130), theme.on_output
        case CapState.WOULD:
            return theme.surface, theme.surface, theme.output
        case CapState.FAINT:
            return blend(theme.cap, theme.surface, 0.08), blend(theme.cap_edge, theme.surface, 0.4), theme.quiet


MOUSE_PARTS: dict[str, int] = {"BTN_LEFT": 0, "BTN_RIGHT": 1, "BTN_MIDDLE": 2, "BTN_SIDE": 3, "BTN_EXTRA": 4}


def draw_mouse(painter: QPainter, rect: QRectF, code: str, ink: QColor) -> None:
    """A small mouse with the button in question filled."""
    height = rect.height() - 4.0
    width = height * 0.72
    body = QRectF(rect.center().x() - width / 2, rect.top() + 2.0, width, height)
    outline = QPainterPath()
    outline.addRoundedRect(body, width / 2, width / 2)
    painter.setPen(QPen(ink, 1))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPath(outline)
    middle = body.top() + height * 0.45
    part = {
        0: QRectF(body.left(), body.top(), width / 2, middle - body.top()),
        1: QRectF(body.center().x(), body.top(), width / 2, middle - body.top()),
        2: QRectF(body.center().x() - 1.5, body.top() + 2.0, 3.0, middle - body.top() - 2.0),
        3: QRectF(body.left(), middle + 1.0, width * 0.4, height * 0.22),
        4: QRectF(body.left(), middle + 1.0 + height * 0.24, width * 0.4, height * 0.2),
    }[MOUSE_PARTS[code]]
    shape = QPainterPath()
    shape.addRect(part)
    painter.fillPath(outline.intersected(shape), ink)
    painter.drawLine(QPointF(body.left(), middle), QPointF(body.right(), middle))


def draw_caps(painter: QPainter, x: float, y: float, caps: list[Cap], theme: Theme, limit: float = 1e9) -> float:
    """Draw several caps (code, label, state) side by side up to `limit`; returns where the next would begin."""
    for index, (code, label, state) in enumerate(caps):
        width = cap_width(code, label)
        if x + width > limit and index:
            painter.setPen(theme.quiet)
            painter.drawText(QPointF(x, y + cap_height() - 6), "…")
            return x + 10
        x += draw_cap(painter, x, y, code, label, state, theme) + 5.0
    return x
