"""The tile of a stick: its plane with the keys around it or the mouse vector in it."""

from __future__ import annotations

from math import cos, pi, sin
from typing import assert_never

from PyQt6.QtCore import QPointF, QRectF, QSize, QSizeF, Qt
from PyQt6.QtGui import QKeyEvent, QPainter, QPen, QPixmap

from nubshift.app.editors.pictures.planes import OFFSETS
from nubshift.app.map.tile import PAD, Tile
from nubshift.app.painting.canvas import elided, line_height, text_width
from nubshift.app.painting.caps import cap_height, cap_width, draw_caps
from nubshift.app.painting.nubs import RADIUS, draw_nub
from nubshift.app.painting.plane import (
    draw_dead,
    draw_plane,
    draw_position,
    draw_ring,
    draw_sectors,
    draw_trail,
    draw_vector,
)
from nubshift.app.painting.theme import SMALL, font
from nubshift.app.stage import Stage
from nubshift.feel.directions import angle_of, plain_sector
from nubshift.feel.response import Response, response
from nubshift.model import parameters as p
from nubshift.model.part import DIRECTIONS
from nubshift.model.profile import Feel
from nubshift.model.roles import (
    BoardRole,
    GyroRole,
    KeysRole,
    MenuRole,
    MouseRole,
    PadAxisRole,
    PadStickRole,
    PointerRole,
    Role,
    ScrollRole,
    TilesRole,
)
from nubshift.model.sends import SendCommand
from nubshift.model.sentences import keys_of, sends_name
from nubshift.model.slots import side
from nubshift.model.steering import as_read
from nubshift.model.usage import feel_for
from nubshift.texts import _

TILT = {
    Qt.Key.Key_Left: (-1.0, 0.0),
    Qt.Key.Key_Right: (1.0, 0.0),
    Qt.Key.Key_Up: (0.0, -1.0),
    Qt.Key.Key_Down: (0.0, 1.0),
}


class StickTile(Tile):
    """A stick. On a simulated pad the nub in the plane is moved with the mouse, or with Shift and the arrows."""

    def __init__(self, stage: Stage, control: str, small: bool = False) -> None:
        self.small = small
        self._feel: Feel = feel_for(stage.studio.profile, stage.selection.layer, control, stage.selection.seat)
        self._respond: Response = response(self._feel)
        self._tilt: dict[int, tuple[float, float]] = {}
        self._still: QPixmap | None = None
        super().__init__(stage, control)

    def refresh(self) -> None:
        """The profile or the layer changed."""
        studio = self.stage.studio
        self._feel = feel_for(studio.profile, studio.selection.layer, self.control, studio.selection.seat)
        self._respond = response(self._feel)
        super().refresh()

    def sizeHint(self) -> QSize:
        """A plane with caps around it."""
        return QSize(190, 220)

    def minimumSizeHint(self) -> QSize:
        """The least at which the plane can be read; where there is little room, at which it can be seen."""
        return QSize(98, 84) if self.small else QSize(150, 170)

    def _plane(self) -> tuple[QPointF, float]:
        """Its centre and radius: as large as the caps on its rim and the names beyond them allow."""
        top = PAD + 2 * RADIUS + 2
        beside, above = 10.0, 6.0
        if isinstance(self._role, KeysRole):
            beside, above = cap_height() / 2 + 7, cap_height() / 2 + line_height(SMALL) + 2
        radius = min((self.height() - top) / 2 - above - 2, self.width() / 2 - beside, 150.0)
        return QPointF(self.width() / 2, top + (self.height() - top) / 2), max(24.0, radius)

    @property
    def _role(self) -> Role | None:
        binding = self.words.binding
        return binding.role if binding else None

    def update(self) -> None:  # type: ignore[override]
        """Something else than the stick changed."""
        self._still = None
        super().update()

    def follow(self) -> None:
        """The stick moved; what stands still is not painted again."""
        super().update()

    def draw(self, painter: QPainter) -> None:
        """What stands still, kept from before, and on it the stick."""
        if self._still is None or self._still.deviceIndependentSize() != QSizeF(self.size()):
            self._still = self._paint_still()
        painter.drawPixmap(0, 0, self._still)
        down = 1.0 if self.moved > 0.15 else 0.0
        draw_nub(
            painter,
            self.nub_centre(),
            self.control,
            down,
            self.theme,
            faint=not self.words.own,
            mark=self.stage.selection.names.mark(self.control),
        )
        self._draw_hand(painter, *self._plane())

    def _paint_still(self) -> QPixmap:
        ratio = self.devicePixelRatioF()
        still = QPixmap((QSizeF(self.size()) * ratio).toSize())
        still.setDevicePixelRatio(ratio)
        still.fill(Qt.GlobalColor.transparent)
        painter = QPainter(still)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._draw_still(painter)
        painter.end()
        return still

    def _draw_still(self, painter: QPainter) -> None:
        """Words, plane, and what it sends."""
        self.draw_ground(painter)
        theme = self.theme
        faint = not self.words.own
        painter.setFont(font(SMALL))
        painter.setPen(theme.quiet)
        head = PAD + 2 * RADIUS + 7
        rect = QRectF(head, PAD, self.width() - head - 6, 2 * RADIUS)
        said = next((text for text in self._said() if text_width(text, SMALL) <= rect.width()), self._said()[-1])
        painter.drawText(rect, Qt.AlignmentFlag.AlignVCenter, elided(said, rect.width(), SMALL))
        centre, radius = self._plane()
        draw_plane(painter, centre, radius, theme)
        match self._role:
            case KeysRole():
                self._draw_edges(painter, centre, radius)
            case MouseRole():
                draw_dead(painter, centre, radius * (self._feel.inner or 0.0), theme)
                draw_ring(painter, centre, radius * (self._feel.outer or 1.0), theme)
            case TilesRole() | MenuRole() as surface:
                self._draw_surface(painter, centre, radius, surface)
            case ScrollRole() | PointerRole() | BoardRole() | PadStickRole() | PadAxisRole() | GyroRole() | None:
                pass
            case never:
                assert_never(never)
        if isinstance(self._role, KeysRole):
            self._draw_keys(painter, centre, radius, self._role, faint)
        self.draw_selection(painter)

    def _said(self) -> tuple[str, ...]:
        """What it is used as, at length and in fewer words."""
        match self._role:
            case KeysRole(directions):
                words = _("Eight keys") if directions == 8 else _("Four keys")
                key_radius = (self._feel.key_radius or 0) * 100
                return _("{words}, from {key_radius:.0f} %").format(words=words, key_radius=key_radius), words
            case MouseRole():
                studio = self.stage.studio
                speed = as_read(p.SPEED, studio.profile, studio.selection.layer).text(self._feel.speed or 0)
                return _("Mouse, {speed}").format(speed=speed), _("Mouse")
            case MenuRole():
                return self.words.title, _("Radial menu")
            case _:
                return (self.words.title,)

    def _draw_surface(self, painter: QPainter, centre: QPointF, radius: float, role: TilesRole | MenuRole) -> None:
        """Cells or entries, each with the first of its keys where there is room."""
        profile = self.stage.studio.profile
        painter.setPen(QPen(self.theme.line, 1))
        if isinstance(role, TilesRole) and not role.slices:
            what = list(role.cells)
            box = QRectF(centre.x() - radius, centre.y() - radius, 2 * radius, 2 * radius)
            for line in range(1, role.columns):
                x = box.left() + box.width() * line / role.columns
                painter.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()))
            for line in range(1, role.rows):
                y = box.top() + box.height() * line / role.rows
                painter.drawLine(QPointF(box.left(), y), QPointF(box.right(), y))
            places = [
                QPointF(
                    box.left() + box.width() * (column + 0.5) / role.columns,
                    box.top() + box.height() * (row + 0.5) / role.rows,
                )
                for row in range(role.rows)
                for column in range(role.columns)
            ]
        else:
            what = list(role.cells) if isinstance(role, TilesRole) else [entry.what for entry in role.entries]
            count, inner = len(what), radius * (self._feel.menu_radius or 0.4)
            draw_ring(painter, centre, inner, self.theme)
            painter.setPen(QPen(self.theme.line, 1))
            for index in range(count):
                angle = 2 * pi * (index + 0.5) / count
                way = QPointF(sin(angle), -cos(angle))
                painter.drawLine(centre + way * inner, centre + way * radius)
            turns = [2 * pi * index / count for index in range(count)]
            places = [centre + QPointF(sin(turn), -cos(turn)) * (inner + radius) / 2 for turn in turns]
        for place, sends in zip(places, what, strict=True):
            keys = keys_of(profile, sends)[:1]
            if keys:
                code, label, state = self.caps(keys, not self.words.own)[0]
                room = 2 * radius / max(3, role.columns) if isinstance(role, TilesRole) else radius * 0.6
                if cap_width(code, label) > room:
                    label = label.removeprefix("Num ")
                width = cap_width(code, label)
                if width <= room:
                    at = place - QPointF(width / 2, cap_height() / 2)
                    draw_caps(painter, at.x(), at.y(), [(code, label, state)], self.theme)

    def _draw_edges(self, painter: QPainter, centre: QPointF, radius: float) -> None:
        inner = radius * (self._feel.key_radius or 0.5)
        draw_sectors(painter, centre, inner, radius, self._feel.diagonal or 0.0, self.theme)
        draw_ring(painter, centre, inner, self.theme)

    def _draw_hand(self, painter: QPainter, centre: QPointF, radius: float) -> None:
        x, y = self.stage.live.value(self.control)
        draw_trail(painter, centre, radius, list(self.stage.live.trails.get(self.control, ())), self.theme)
        draw_position(painter, centre, radius, x, y, self.theme)
        if isinstance(self._role, MouseRole):
            out_x, out_y, _unused = self._respond(x, y)
            if out_x or out_y:
                draw_vector(painter, centre, radius, out_x, out_y, self.theme, not self.stage.live.real)

    def _draw_keys(self, painter: QPainter, centre: QPointF, radius: float, role: KeysRole, faint: bool) -> None:
        """Caps on the rim, each with its command on the side away from the plane."""
        profile = self.stage.studio.profile
        for direction in DIRECTIONS:
            sends = role.sends(direction)
            if not sends and (role.directions == 4 and "_" in direction):
                continue
            keys = keys_of(profile, sends)[: 1 if "_" in direction else 2]
            dx, dy = OFFSETS[direction]
            at = QPointF(centre.x() + dx * radius, centre.y() + dy * radius)
            widths = sum(cap_width(key, self.stage.label_of(key)) + 5 for key in keys) - 5
            x = min(max(5.0, at.x() - widths / 2), self.width() - widths - 5)
            draw_caps(painter, x, at.y() - cap_height() / 2, self.caps(keys, faint), self.theme)
            if "_" not in direction:
                self._draw_name(painter, at, dy, sends_name(profile, sends) if sends else "")

    def _draw_name(self, painter: QPainter, at: QPointF, dy: float, name: str) -> None:
        height = line_height(SMALL)
        y = at.y() - cap_height() / 2 - height if dy < 0 else at.y() + cap_height() / 2
        room = self.width() - 12.0 if dy else 64.0
        text = elided(name, room, SMALL)
        width = text_width(text, SMALL)
        x = min(max(6.0, at.x() - width / 2), self.width() - width - 6)
        painter.setFont(font(SMALL))
        painter.setPen(self.theme.ink if self.words.own else self.theme.quiet)
        painter.drawText(QRectF(x, y, width + 2, height), Qt.AlignmentFlag.AlignVCenter, text)

    def on_hand(self, position: QPointF) -> bool:
        """Whether a position lies in the plane."""
        centre, radius = self._plane()
        return (position.x() - centre.x()) ** 2 + (position.y() - centre.y()) ** 2 <= radius**2

    def steer(self, position: QPointF) -> None:
        """Move the stick to the mouse."""
        centre, radius = self._plane()
        self.put((position.x() - centre.x()) / radius, (position.y() - centre.y()) / radius)

    def steer_key(self, event: QKeyEvent, down: bool) -> bool:
        """Shift and the arrows tilt the stick as long as they are held."""
        key = event.key()
        if key not in TILT or not self._can_steer:
            return False
        if not event.isAutoRepeat():
            if down and event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
                self._tilt[key] = TILT[Qt.Key(key)]
            else:
                self._tilt.pop(key, None)
            self._steering = bool(self._tilt)
            x = sum(tilt[0] for tilt in self._tilt.values())
            y = sum(tilt[1] for tilt in self._tilt.values())
            self.put(x, y)
        return True

    def let_go(self) -> None:
        """The hand leaves the stick."""
        self._tilt.clear()
        super().let_go()

    def arm(self) -> None:
        """Let the selected direction listen, the upper one if none is."""
        if isinstance(self._role, KeysRole):
            studio = self.stage.studio
            studio.assigning.arm_control(
                self.control, studio.selection.part if studio.selection.part.startswith("role.") else side("up")
            )

    def drop_command(self, command: str, position: QPointF) -> None:
        """Let the nearest direction send the command."""
        centre, _unused = self._plane()
        sector = plain_sector(angle_of(position.x() - centre.x(), position.y() - centre.y()), 0.0)
        studio = self.stage.studio
        part = side(DIRECTIONS[sector])
        studio.selection.select(self.control, part)
        studio.assigning.set_sends(studio.selection.slot(self.control, part), (SendCommand(command),))
