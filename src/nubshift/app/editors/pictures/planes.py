"""Pictures of a control's plane with what lies in it: keys around a stick, tiles, the wheel of a radial menu."""

from __future__ import annotations

from collections.abc import Sequence
from math import atan2, cos, degrees, hypot, radians, sin

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPen

from nubshift.app.editors.pictures.picture import PartPicture
from nubshift.app.painting.canvas import draw_focus, elided, line_height
from nubshift.app.painting.caps import cap_height
from nubshift.app.painting.plane import draw_plane, draw_position, draw_ring, draw_sectors, draw_trail
from nubshift.app.painting.theme import SMALL, faded, font
from nubshift.app.stage import Stage
from nubshift.feel.directions import angle_of, plain_sector
from nubshift.model.controls import Kind, kind_of
from nubshift.model.part import DIRECTIONS, Direction
from nubshift.model.profile import Feel
from nubshift.model.roles import KeysRole, MenuRole, Role, TilesRole
from nubshift.model.sentences import sends_name
from nubshift.model.slots import direction_of, index_of, side
from nubshift.model.usage import feel_for, look_up
from nubshift.texts import _

OFFSETS: dict[Direction, tuple[float, float]] = {
    "up": (0, -1),
    "up_right": (0.71, -0.71),
    "right": (1, 0),
    "down_right": (0.71, 0.71),
    "down": (0, 1),
    "down_left": (-0.71, 0.71),
    "left": (-1, 0),
    "up_left": (-0.71, -0.71),
}


class PlanePicture(PartPicture):
    """A plane that the control moves in, with where it stands now."""

    HEIGHT = 258

    def __init__(self, stage: Stage, control: str) -> None:
        super().__init__(stage, control)
        self.setFixedHeight(self.HEIGHT)
        stage.live.controls_changed.connect(self._moved)
        self.refresh()

    def _moved(self, controls: set[str]) -> None:
        if self.control in controls:
            self.update()

    def sizeHint(self) -> QSize:
        """A square."""
        return QSize(260, self.HEIGHT)

    @property
    def role(self) -> Role | None:
        """What the control is used as."""
        studio = self.stage.studio
        found = look_up(studio.profile, studio.selection.layer, self.control, studio.selection.seat)
        return found.binding.role if found else None

    @property
    def feel(self) -> Feel:
        """Its feel in this layer."""
        studio = self.stage.studio
        return feel_for(studio.profile, studio.selection.layer, self.control, studio.selection.seat)

    @property
    def centre(self) -> QPointF:
        """The middle."""
        return QPointF(self.width() / 2, self.height() / 2)

    @property
    def radius(self) -> float:
        """The reach of the control in the picture."""
        return min(self.width(), self.height()) / 2 - 8.0

    def draw_hand(self, painter: QPainter) -> None:
        """Where the control stands and was."""
        live = self.stage.live
        x, y = live.value(self.control)
        draw_trail(painter, self.centre, self.radius, list(live.trails.get(self.control, ())), self.theme)
        draw_position(painter, self.centre, self.radius, x, y, self.theme)


class CompassPicture(PlanePicture):
    """A stick, d-pad or axis used as keys: each direction a place on the rim."""

    HEIGHT = 236

    @property
    def radius(self) -> float:
        """Leaves room for the caps on the rim and the names beyond it."""
        return min(self.width() / 2 - 44, self.height() / 2 - cap_height() / 2 - line_height(SMALL) - 6)

    def parts(self) -> Sequence[str]:
        """The directions that can have keys."""
        role = self.role
        if kind_of(self.control) is Kind.AXIS:
            both = self.control in self.stage.grasp.two_sided or (isinstance(role, KeysRole) and role.left)
            return [side("left"), side("right")] if both else [side("right")]
        eight = isinstance(role, KeysRole) and role.directions == 8
        return [side(d) for d in DIRECTIONS if eight or "_" not in d]

    def place(self, part: str) -> QRectF:
        """Around the cap on the rim."""
        dx, dy = OFFSETS[direction_of(part) or "up"]
        middle = QPointF(self.centre.x() + dx * self.radius, self.centre.y() + dy * self.radius)
        names = line_height(SMALL) + 2 if "_" not in part else 0
        height = cap_height() + 6 + names
        top = middle.y() - cap_height() / 2 - 3 - (names if dy < 0 else 0)
        left = min(max(0.0, middle.x() - 44), self.width() - 88.0)
        return QRectF(left, top, 88, height)

    def part_at(self, position: QPointF) -> str:
        """The nearest direction, anywhere in the picture."""
        found = super().part_at(position)
        if found:
            return found
        way = position - self.centre
        if hypot(way.x(), way.y()) < 12:
            return ""
        parts = self.parts()
        eight = len(parts) == 8
        if len(parts) <= 2:
            return parts[-1] if way.x() > 0 else parts[0]
        sector = plain_sector(angle_of(way.x(), way.y()), 45.0 if eight else 0.0)
        return side(DIRECTIONS[sector])

    def draw(self, painter: QPainter) -> None:
        """Plane, edges, hand and caps."""
        feel, centre, radius = self.feel, self.centre, self.radius
        draw_plane(painter, centre, radius, self.theme)
        inner = radius * (feel.key_radius or 0.5)
        draw_sectors(painter, centre, inner, radius, feel.diagonal or 0.0, self.theme)
        draw_ring(painter, centre, inner, self.theme)
        self.draw_hand(painter)
        for part in self.parts():
            rect = self.place(part)
            sends = self.sends(part)
            current = part == self.current
            if current or part == self._over:
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(faded(self.theme.raised, 0.92))
                painter.drawRoundedRect(rect, 6, 6)
            if self.listening(part):
                painter.setPen(self.theme.input)
                painter.setFont(font(SMALL))
                painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, _("Press a key"))
            else:
                self.draw_sends(painter, rect, sends, (direction_of(part) or "").replace("_", " "))
            if self.listening(part) or (current and self.hasFocus()):
                draw_focus(painter, rect, self.theme, 6)


class TilesPicture(PlanePicture):
    """The divided plane, each cell with what it holds."""

    @property
    def tiles(self) -> TilesRole:
        """The role, as tiles."""
        role = self.role
        return role if isinstance(role, TilesRole) else TilesRole(((),) * 9)

    @property
    def square(self) -> QRectF:
        """The plane as a square."""
        radius = self.radius
        return QRectF(self.centre.x() - radius, self.centre.y() - radius, 2 * radius, 2 * radius)

    def parts(self) -> Sequence[str]:
        """The cells."""
        return [f"role.cells[{index}]" for index in range(self.tiles.count)]

    def place(self, part: str) -> QRectF:
        """A cell; of those along angles the middle of it."""
        tiles, index, square = self.tiles, index_of(part), self.square
        if tiles.slices:
            angle = radians(360.0 * index / tiles.slices)
            reach = self.radius * (0.68 if tiles.slices > 4 else 0.62)
            width = min(84.0, 2.2 * reach * sin(radians(180.0 / max(3, tiles.slices))) + 14)
            at = QPointF(self.centre.x() + reach * sin(angle), self.centre.y() - reach * cos(angle))
            return QRectF(at.x() - width / 2, at.y() - 22, width, 44)
        row, column = divmod(index, tiles.columns)
        width, height = square.width() / tiles.columns, square.height() / tiles.rows
        return QRectF(square.left() + column * width, square.top() + row * height, width, height)

    def part_at(self, position: QPointF) -> str:
        """The cell, or the slice, under a position."""
        tiles = self.tiles
        if tiles.slices:
            index = _slice_at(position - self.centre, tiles.slices, self.radius * (self.feel.menu_radius or 0.4))
            return f"role.cells[{index}]" if index >= 0 else ""
        return super().part_at(position)

    def draw(self, painter: QPainter) -> None:
        """The cells and the hand."""
        tiles = self.tiles
        if tiles.slices:
            inner = self.radius * (self.feel.menu_radius or 0.4)
            _draw_slices(painter, self, tiles.slices, index_of(self.current), inner)
        else:
            painter.setPen(QPen(self.theme.line, 1))
            painter.setBrush(self.theme.ground)
            painter.drawRoundedRect(self.square, 8, 8)
        self.draw_hand(painter)
        for part in self.parts():
            rect = self.place(part).adjusted(2, 2, -2, -2)
            current = part == self.current
            if not tiles.slices:
                painter.setPen(Qt.PenStyle.NoPen if current else QPen(self.theme.line, 1))
                painter.setBrush(self.theme.raised if current or part == self._over else Qt.BrushStyle.NoBrush)
                painter.drawRoundedRect(rect, 6, 6)
            if self.listening(part):
                painter.setPen(self.theme.input)
                painter.setFont(font(SMALL))
                painter.drawText(rect, Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, _("Press a key"))
            else:
                self.draw_sends(painter, rect, self.sends(part), "–")
            if not tiles.slices and (self.listening(part) or (current and self.hasFocus())):
                draw_focus(painter, rect, self.theme, 6)


class WheelPicture(PlanePicture):
    """A radial menu as the wheel that it becomes."""

    @property
    def menu(self) -> MenuRole | None:
        """The role, as a menu."""
        role = self.role
        return role if isinstance(role, MenuRole) else None

    def parts(self) -> Sequence[str]:
        """The entries, clockwise from up, and the middle."""
        menu = self.menu
        count = len(menu.entries) if menu else 0
        return [*(f"role.entries[{index}].what" for index in range(count)), "role.middle"]

    def place(self, part: str) -> QRectF:
        """The middle of a sector."""
        if part == "role.middle":
            side_length = self.radius * (self.feel.menu_radius or 0.4) * 1.3
            return QRectF(self.centre.x() - side_length / 2, self.centre.y() - 20, side_length, 40)
        menu = self.menu
        count = len(menu.entries) if menu else 4
        angle = radians(360.0 * index_of(part) / count)
        inner = self.feel.menu_radius or 0.4
        reach = self.radius * (inner + 1) / 2
        width = min(88.0, max(34.0, 2 * reach * sin(radians(180.0 / max(3, count)))))
        at = QPointF(self.centre.x() + reach * sin(angle), self.centre.y() - reach * cos(angle))
        return QRectF(at.x() - width / 2, at.y() - 21, width, 42)

    def part_at(self, position: QPointF) -> str:
        """The sector under a position, or the middle."""
        menu = self.menu
        if menu is None:
            return ""
        way = position - self.centre
        inner = self.radius * (self.feel.menu_radius or 0.4)
        if hypot(way.x(), way.y()) < inner:
            return "role.middle"
        index = _slice_at(way, len(menu.entries), inner)
        return f"role.entries[{index}].what" if index >= 0 else ""

    def draw(self, painter: QPainter) -> None:
        """The wheel, its entries and the hand."""
        menu = self.menu
        if menu is None:
            return
        inner = self.radius * (self.feel.menu_radius or 0.4)
        current = index_of(self.current) if self.current != "role.middle" else -1
        _draw_slices(painter, self, len(menu.entries), current, inner)
        if self.current == "role.middle":
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(self.theme.raised)
            painter.drawEllipse(self.centre, inner - 2, inner - 2)
        self.draw_hand(painter)
        for part in self.parts():
            rect = self.place(part)
            if self.listening(part):
                painter.setPen(self.theme.input)
                painter.setFont(font(SMALL))
                painter.drawText(rect, Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, _("Press a key"))
                continue
            index = index_of(part)
            label = menu.entries[index].label if index >= 0 else ""
            if label:
                self._draw_label(painter, rect, label, part)
            else:
                rest = "middle" if part == self.current else ""
                self.draw_sends(painter, rect, self.sends(part), "–" if index >= 0 else rest)

    def _draw_label(self, painter: QPainter, rect: QRectF, label: str, part: str) -> None:
        painter.setFont(font(SMALL, bold=True))
        painter.setPen(self.theme.ink)
        half = rect.height() / 2
        painter.drawText(
            QRectF(rect.left(), rect.top(), rect.width(), half),
            Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignBottom,
            elided(label, rect.width(), SMALL, True),
        )
        painter.setFont(font(SMALL * 0.92))
        painter.setPen(self.theme.quiet)
        name = sends_name(self.stage.studio.profile, self.sends(part))
        painter.drawText(
            QRectF(rect.left(), rect.top() + half, rect.width(), half),
            Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop,
            elided(name, rect.width(), SMALL),
        )


def _slice_at(way: QPointF, count: int, inner: float) -> int:
    """The number of the slice in a direction, clockwise from up; -1 within `inner`."""
    if hypot(way.x(), way.y()) < inner:
        return -1
    angle = degrees(atan2(way.x(), -way.y())) % 360
    return int((angle + 180 / count) % 360 // (360 / count))


def _draw_slices(painter: QPainter, picture: PlanePicture, count: int, current: int, inner: float) -> None:
    """A ring cut into slices, one of them raised; within it nothing is chosen."""
    theme, centre, radius = picture.theme, picture.centre, picture.radius
    draw_plane(painter, centre, radius, theme)
    if 0 <= current < count:
        span = 360.0 / count
        wedge = QPainterPath(centre)
        box = QRectF(centre.x() - radius, centre.y() - radius, 2 * radius, 2 * radius)
        wedge.arcTo(box, 90 - current * span + span / 2, -span)
        wedge.closeSubpath()
        hole = QPainterPath()
        hole.addEllipse(centre, inner, inner)
        wedge = wedge.subtracted(hole)
        painter.fillPath(wedge, theme.raised)
        if picture.hasFocus():
            painter.setPen(QPen(theme.input, 1))
            painter.drawPath(wedge)
    painter.setPen(QPen(theme.line, 1))
    for index in range(count):
        angle = radians(360.0 * (index + 0.5) / count)
        painter.drawLine(
            QPointF(centre.x() + inner * sin(angle), centre.y() - inner * cos(angle)),
            QPointF(centre.x() + radius * sin(angle), centre.y() - radius * cos(angle)),
        )
    draw_ring(painter, centre, inner, theme)
