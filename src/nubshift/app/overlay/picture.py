"""What stands on the screen during play, painted: tiles, menus, the keyboard, what everything does, a layer."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from math import cos, radians, sin

from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPen

from nubshift.app.client.at_play import AtPlay
from nubshift.app.overlay.everything import EverythingPicture
from nubshift.app.painting.canvas import elided, line_height, text_width
from nubshift.app.painting.caps import CapState, cap_height, cap_width, draw_caps
from nubshift.app.painting.theme import BODY, STRONG, Look, Theme, faded, font
from nubshift.events import Surface
from nubshift.model.roles import BoardRole, MenuRole, Overlay, Role, TilesRole
from nubshift.model.sends import SendKey, Sends
from nubshift.model.sentences import keys_of, sends_name
from nubshift.records import Record


class ShownSurface(Record, frozen=True):
    """A surface in use with its role and the place that its player gave it; ``all`` has neither."""

    surface: Surface
    role: Role | None = None
    place: Overlay | None = None


class OverlayPicture:
    """Draws what is shown on a screen of `size`, and knows its outline."""

    def __init__(self, at_play: AtPlay, look: Look, label_of: Callable[[str], str]) -> None:
        self._at_play, self._live, self._look, self._label_of = at_play, at_play.live, look, label_of
        self._everything = EverythingPicture(at_play, look, label_of)
        self.size = QSizeF(1, 1)

    def outline(self, shown: Sequence[ShownSurface], told: str) -> QPainterPath:
        """Where anything is drawn."""
        path = QPainterPath()
        for one in shown:
            if one.surface.use == "all":
                path.addRoundedRect(self._everything.rect(self.size), 14, 14)
            elif one.place is not None:
                self._add_surface(path, one.role, self._box(one.place))
        if told:
            path.addRoundedRect(self._told_rect(told), 10, 10)
        return path

    @staticmethod
    def _add_surface(path: QPainterPath, role: Role | None, box: QRectF) -> None:
        match role:
            case TilesRole(slices=0):
                path.addRoundedRect(box, 8, 8)
            case BoardRole():
                path.addRoundedRect(_board_rect(box), 8, 8)
            case _:
                path.addEllipse(box)

    def draw(self, painter: QPainter, shown: Sequence[ShownSurface], told: str) -> None:
        """All that is in use."""
        for one in shown:
            if one.surface.use == "all":
                self._everything.draw(painter, self.size)
            elif one.place is not None:
                painter.setOpacity(one.place.opacity)
                self._draw_surface(painter, one, self._box(one.place))
                painter.setOpacity(1.0)
        if told:
            self._draw_told(painter, told)

    def _box(self, place: Overlay) -> QRectF:
        side = place.size * self.size.height()
        x = min(max(place.x * self.size.width(), side / 2), self.size.width() - side / 2)
        y = min(max(place.y * self.size.height(), side / 2), self.size.height() - side / 2)
        return QRectF(x - side / 2, y - side / 2, side, side)

    def _draw_surface(self, painter: QPainter, one: ShownSurface, box: QRectF) -> None:
        surface = one.surface
        match one.role:
            case TilesRole() as tiles:
                if tiles.slices:
                    self._draw_wheel(painter, box, [(what, "") for what in tiles.cells], surface.cell, 0.35)
                else:
                    self._draw_tiles(painter, box, tiles, surface.cell)
            case MenuRole() as menu:
                self._draw_wheel(painter, box, [(e.what, e.label) for e in menu.entries], surface.cell, 0.35)
                if menu.middle:
                    painter.setPen(Qt.PenStyle.NoPen)
                    painter.setBrush(self._theme.surface)
                    painter.drawEllipse(box.center(), box.width() * 0.175, box.width() * 0.175)
                    middle = QRectF(box.center().x() - 40, box.center().y() - 20, 80, 40)
                    self._draw_entry(painter, middle, menu.middle, "", surface.cell == len(menu.entries))
            case BoardRole() as board:
                self._draw_board(painter, box, board, surface.cell)
        x, y = self._live.value(surface.control)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self._theme.input)
        reach = box.width() / 2
        if surface.use != "board":
            painter.drawEllipse(QPointF(box.center().x() + x * reach, box.center().y() + y * reach), 5, 5)

    @property
    def _theme(self) -> Theme:
        return self._look.theme

    def _draw_tiles(self, painter: QPainter, box: QRectF, tiles: TilesRole, cell: int) -> None:
        self._panel(painter, box, False)
        width, height = box.width() / tiles.columns, box.height() / tiles.rows
        for index, what in enumerate(tiles.cells):
            row, column = divmod(index, tiles.columns)
            rect = QRectF(box.left() + column * width, box.top() + row * height, width, height).adjusted(2, 2, -2, -2)
            self._panel(painter, rect, index == cell)
            if what:
                self._draw_entry(painter, rect, what, "", index == cell)

    def _draw_wheel(
        self, painter: QPainter, box: QRectF, entries: list[tuple[Sends, str]], cell: int, inner: float
    ) -> None:
        centre, radius, count = box.center(), box.width() / 2, len(entries)
        ring = QPainterPath()
        ring.addEllipse(centre, radius, radius)
        hole = QPainterPath()
        hole.addEllipse(centre, radius * inner, radius * inner)
        painter.fillPath(ring.subtracted(hole), faded(self._theme.surface, 0.92))
        if 0 <= cell < count:
            span = 360.0 / count
            wedge = QPainterPath(centre)
            wedge.arcTo(box, 90 - cell * span + span / 2, -span)
            wedge.closeSubpath()
            painter.fillPath(wedge.subtracted(hole), self._theme.raised)
            painter.setPen(QPen(self._theme.input, 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPath(wedge.subtracted(hole))
        reach = radius * (1 + inner) / 2
        for index, (what, label) in enumerate(entries):
            angle = radians(360.0 * index / count)
            at = QPointF(centre.x() + reach * sin(angle), centre.y() - reach * cos(angle))
            room = max(40.0, min(110.0, 2 * reach * sin(radians(180 / max(3, count)))))
            self._draw_entry(painter, QRectF(at.x() - room / 2, at.y() - 22, room, 44), what, label, index == cell)

    def _draw_board(self, painter: QPainter, box: QRectF, board: BoardRole, cell: int) -> None:
        wide = _board_rect(box)
        self._panel(painter, wide, False)
        inner = wide.adjusted(8, 8, -8, -8)
        height = inner.height() / len(board.rows)
        number = 0
        for row, cells in enumerate(board.rows):
            width = inner.width() / max(1, len(cells))
            for column, text in enumerate(cells):
                rect = QRectF(inner.left() + column * width, inner.top() + row * height, width - 4, height - 4)
                here = number == cell
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(self._theme.output if here else self._theme.cap_edge)
                painter.drawRoundedRect(rect, 4, 4)
                painter.setBrush(self._theme.output if here else self._theme.cap)
                painter.drawRoundedRect(rect.adjusted(0, 0, 0, -3), 4, 4)
                painter.setPen(self._theme.on_output if here else self._theme.on_cap)
                painter.setFont(font(BODY))
                shown = text if len(text) == 1 else self._label_of(text)
                painter.drawText(
                    rect.adjusted(0, 0, 0, -3), Qt.AlignmentFlag.AlignCenter, elided(shown, rect.width() - 4)
                )
                number += 1

    def _panel(self, painter: QPainter, rect: QRectF, chosen: bool) -> None:
        painter.setPen(QPen(self._theme.input, 1) if chosen else Qt.PenStyle.NoPen)
        painter.setBrush(self._theme.raised if chosen else faded(self._theme.surface, 0.92))
        painter.drawRoundedRect(rect, 8, 8)

    def _draw_entry(self, painter: QPainter, rect: QRectF, what: Sends, label: str, chosen: bool) -> None:
        theme, profile = self._theme, self._at_play.profile
        keys = keys_of(profile, what)[:2]
        bare = all(isinstance(send, SendKey) for send in what)  # a bare key says all on its cap
        name = label or ("" if bare else sends_name(profile, what))
        painter.setFont(font(BODY, bold=chosen))
        painter.setPen(theme.ink if chosen else theme.quiet)
        height = line_height(BODY)
        roomy = bool(keys) and (bare or rect.height() >= cap_height() + height)
        top = rect.center().y() - (cap_height() + (height if name else 0) if roomy else height) / 2
        if roomy:
            state = CapState.HELD if any(key in self._live.held for key in keys) else CapState.REST
            caps = [(key, self._label_of(key), state) for key in keys]
            width = sum(cap_width(key, text) + 5 for key, text, _unused in caps) - 5
            draw_caps(painter, rect.center().x() - width / 2, top, caps, theme, rect.right() + 8)
            painter.setFont(font(BODY, bold=chosen))
            painter.setPen(theme.ink if chosen else theme.quiet)
            top += cap_height() + 1
        where = QRectF(rect.left(), top, rect.width(), height)
        painter.drawText(where, Qt.AlignmentFlag.AlignCenter, elided(name, rect.width() - 2, BODY, chosen))

    def _told_rect(self, told: str) -> QRectF:
        width = text_width(told, STRONG, True) + 58
        return QRectF((self.size.width() - width) / 2, 28, width, line_height(STRONG) + 18)

    def _draw_told(self, painter: QPainter, told: str) -> None:
        theme = self._theme
        rect = self._told_rect(told)
        painter.setPen(QPen(theme.line, 1))
        painter.setBrush(faded(theme.surface, 0.94))
        painter.drawRoundedRect(rect, 10, 10)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.input)
        painter.drawEllipse(QPointF(rect.left() + 20, rect.center().y()), 5, 5)
        painter.setPen(theme.ink)
        painter.setFont(font(STRONG, bold=True))
        painter.drawText(rect.adjusted(34, 0, -8, 0), Qt.AlignmentFlag.AlignVCenter, told)


def _board_rect(box: QRectF) -> QRectF:
    """An on-screen keyboard is wider than high."""
    width, height = box.width() * 1.8, box.height() / 2
    return QRectF(box.center().x() - width / 2, box.center().y() - height / 2, width, height)
