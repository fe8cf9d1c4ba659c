"""A slab that turns as the controller turns, with the axis that looks sideways drawn through it (N35)."""

from __future__ import annotations

from math import cos, radians, sin

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF

from nubshift.app.painting.canvas import line_height
from nubshift.app.painting.live_picture import LivePicture
from nubshift.app.painting.theme import SMALL, blend, faded, font
from nubshift.app.tune.tuner import Tuner
from nubshift.feel.gravity import Vector
from nubshift.model.roles import GyroRole
from nubshift.texts import _

HALF: Vector = (1.0, 0.16, 0.55)
"""Half the slab's width, thickness and depth."""
VIEW = radians(28.0)
"""The slab is seen from this far above."""
FACES: tuple[tuple[Vector, tuple[Vector, ...]], ...] = (
    ((0, -1, 0), ((-1, -1, -1), (1, -1, -1), (1, -1, 1), (-1, -1, 1))),
    ((0, 1, 0), ((-1, 1, -1), (1, 1, -1), (1, 1, 1), (-1, 1, 1))),
    ((0, 0, -1), ((-1, -1, -1), (1, -1, -1), (1, 1, -1), (-1, 1, -1))),
    ((0, 0, 1), ((-1, -1, 1), (1, -1, 1), (1, 1, 1), (-1, 1, 1))),
    ((1, 0, 0), ((1, -1, -1), (1, -1, 1), (1, 1, 1), (1, 1, -1))),
    ((-1, 0, 0), ((-1, -1, -1), (-1, -1, 1), (-1, 1, 1), (-1, 1, -1))),
)
AXIS_WORDS = {"turn": _("Yaw"), "lean": _("Roll"), "gravity": _("Gravity")}


class PadPicture(LivePicture):
    """The slab, its rotation, and the rates that go out as a square that moves."""

    caption = _("Orientation")

    def __init__(self, tuner: Tuner) -> None:
        super().__init__(tuner.stage.look)
        self._tuner = tuner
        self.setMinimumSize(190, 180)
        self.setAccessibleName(_("Orientation of the controller"))
        tuner.moved.connect(self.update)
        tuner.refreshed.connect(self.refresh)

    def sizeHint(self) -> QSize:
        """A square."""
        return QSize(330, 330)

    @property
    def axes(self) -> str:
        """What looks sideways; empty where motion does nothing."""
        role = self._tuner.role
        return role.axes if isinstance(role, GyroRole) else ""

    def _world(self, vector: Vector) -> Vector:
        """A vector of the pad's own axes as it lies in the world: right, down, away."""
        down, north = self._tuner.gyro.sense.gravity.down, self._tuner.gyro.north
        right = (
            down[1] * north[2] - down[2] * north[1],
            down[2] * north[0] - down[0] * north[2],
            down[0] * north[1] - down[1] * north[0],
        )
        x, y, z = (sum(a * b for a, b in zip(vector, axis, strict=True)) for axis in (right, down, north))
        return x, y, z

    def _seen(self, world: Vector) -> QPointF:
        """Where a place of the world is in the picture: from behind the player's hands, a little above."""
        scale = min(self.width(), self.height() - 40) * 0.34
        x, y, z = world
        return QPointF(self.width() / 2 + x * scale, self.height() / 2 + 4 + (y * cos(VIEW) - z * sin(VIEW)) * scale)

    def draw_still(self, painter: QPainter) -> None:
        """The words."""
        painter.setFont(font(SMALL))
        painter.setPen(self.theme.quiet)
        words = _("Look sideways: {axis}").format(axis=AXIS_WORDS[self.axes]) if self.axes else _("Unassigned here")
        foot = QRectF(10, self.height() - line_height(SMALL) - 10, self.width() - 20, line_height(SMALL))
        painter.drawText(foot, Qt.AlignmentFlag.AlignCenter, words)

    def draw_live(self, painter: QPainter) -> None:
        """The faces that look at us, the sticks on top, the axis."""
        theme = self.theme
        eye = (0.0, -sin(VIEW), -cos(VIEW))
        below = self._world((0.0, 1.0, 0.0))
        if self.axes:
            self._draw_axis(painter, behind=True)
        for normal, corners in FACES:
            facing = sum(a * b for a, b in zip(self._world(normal), eye, strict=True))
            if facing <= 0:
                continue
            points = [self._corner(corner) for corner in corners]
            painter.setPen(QPen(theme.quiet, 1))
            painter.setBrush(blend(theme.raised, theme.line, min(1.0, 0.25 + 0.75 * facing)))
            painter.drawPolygon(QPolygonF(points))
        if below[1] * cos(VIEW) + below[2] * -sin(VIEW) > -0.2:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.input)
            for x, z in ((-0.5, 0.05), (0.5, 0.05)):
                painter.drawEllipse(self._seen(self._world((x, -HALF[1], z))), 7, 5)
        if self.axes:
            self._draw_axis(painter, behind=False)

    def _corner(self, corner: Vector) -> QPointF:
        """Where a corner of the slab is seen; -1 and 1 are its ends."""
        return self._seen(self._world((corner[0] * HALF[0], corner[1] * HALF[1], corner[2] * HALF[2])))

    def _axis(self) -> Vector:
        """The axis in the world about which turning looks sideways."""
        match self.axes:
            case "turn":
                return self._world((0.0, 1.0, 0.0))
            case "lean":
                return self._world((0.0, 0.0, 1.0))
        return (0.0, 1.0, 0.0)

    def _draw_axis(self, painter: QPainter, behind: bool) -> None:
        """The axis as a line through the slab; the half that lies behind it first."""
        theme, axis = self.theme, self._axis()
        toward = sum(a * b for a, b in zip(axis, (0.0, -sin(VIEW), -cos(VIEW)), strict=True)) > 0
        sign = (-1.0 if behind else 1.0) * (1.0 if toward else -1.0)
        tip = self._seen((axis[0] * 1.1 * sign, axis[1] * 1.1 * sign, axis[2] * 1.1 * sign))
        painter.setPen(QPen(faded(theme.input, 0.6) if behind else theme.input, 2, Qt.PenStyle.DashLine))
        painter.drawLine(self._seen((0.0, 0.0, 0.0)), tip)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.input)
        painter.drawEllipse(tip, 3.5, 3.5)
        if not behind:
            last = self._tuner.last
            rate = last.out[0] if last is not None else 0.0
            span = max(-300.0, min(300.0, rate * 2.0))
            painter.setPen(QPen(theme.output, 3))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawArc(QRectF(tip.x() - 17, tip.y() - 8, 34, 16), 270 * 16, round(span * 16))
