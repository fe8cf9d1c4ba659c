"""What is shown over the game during play: tiles, menus, the typing board, layer changes, what everything does (N28).

An own frameless window that never takes the focus and lets every click through. Where the session gives none (no X
server), layer changes are told by the desktop's notifications instead.
"""

from __future__ import annotations

from collections.abc import Callable
from math import cos, radians, sin

from PyQt6.QtCore import QMetaType, QPointF, QRectF, Qt
from PyQt6.QtDBus import QDBusArgument, QDBusConnection, QDBusMessage
from PyQt6.QtGui import QGuiApplication, QPainter, QPainterPath, QPen, QRegion
from PyQt6.QtWidgets import QWidget

from nubshift.app.live import Live
from nubshift.app.map.words import words_for
from nubshift.app.painting.canvas import elided, line_height, text_width
from nubshift.app.painting.caps import CapState, cap_height, cap_width, draw_cap, draw_caps
from nubshift.app.painting.nubs import draw_nub
from nubshift.app.studio import Studio
from nubshift.app.theme import BODY, SMALL, STRONG, Look, Theme, faded, font
from nubshift.app.timing import once
from nubshift.events import Surface
from nubshift.model.controls import CONTROLS
from nubshift.model.profile import BASE
from nubshift.model.roles import BoardRole, MenuRole, Overlay, Role, TilesRole
from nubshift.model.sends import SendKey, Sends
from nubshift.model.sentences import keys_of, sends_name

TOLD_MS = 1400
"""How long a layer change is shown."""
NOTES = "org.freedesktop.Notifications"


Sides = tuple[list[tuple[str, str, tuple[str, ...]]], list[tuple[str, str, tuple[str, ...]]]]
"""For the left and the right hand: control, words, keys."""


class PlayOverlay(QWidget):
    """Covers the screen while there is something to show, and is away else."""

    def __init__(self, studio: Studio, live: Live, look: Look, label_of: Callable[[str], str]) -> None:
        super().__init__(None)
        flags = Qt.WindowType
        self.setWindowFlags(
            flags.FramelessWindowHint | flags.WindowStaysOnTopHint | flags.Tool | flags.WindowDoesNotAcceptFocus
            | flags.WindowTransparentForInput | flags.X11BypassWindowManagerHint
        )  # fmt: skip
        self.setAttribute(Qt.WidgetAttribute.WA_TranslucentBackground)
        self.setAttribute(Qt.WidgetAttribute.WA_ShowWithoutActivating)
        self.setAttribute(Qt.WidgetAttribute.WA_QuitOnClose, False)
        self.setAccessibleName("Shown over the game")
        self.setWindowTitle("Nub Shift over the game")
        self._studio, self._live, self._look, self._label_of = studio, live, look, label_of
        self.on = True
        self.told = ""
        self._note = 0
        self._layers: tuple[str, ...] = ()
        self._shape: tuple[object, ...] = ()
        self._untell = once(self, TOLD_MS, self._forget)
        self.can_show = QGuiApplication.platformName() == "xcb"
        live.surfaces_changed.connect(self.refresh)
        live.layers_changed.connect(self._layers_changed)
        live.output_changed.connect(self._output)

    # When there is something to show

    @property
    def surfaces(self) -> tuple[Surface, ...]:
        """What is in use and wants to be shown, while output really goes to the game."""
        if not self.on or not self._live.real:
            return ()
        return tuple(s for s in self._live.surfaces if s.use == "all" or self._place(s) is not None)

    def _role(self, surface: Surface) -> Role | None:
        layer = self._studio.profile.layer(surface.layer)
        binding = layer.binding(surface.control, surface.seat) if layer is not None else None
        return binding.role if binding is not None else None

    def _place(self, surface: Surface) -> Overlay | None:
        role = self._role(surface)
        if not isinstance(role, TilesRole | MenuRole | BoardRole) or role.show is None:
            return None
        if surface.use != "board" and not self._out(surface):
            return None
        return role.show

    def _out(self, surface: Surface) -> bool:
        """Whether the control is moved at all: tiles and menus at rest need not cover the game."""
        return self._live.depth(surface.control) > 0.15

    def _layers_changed(self) -> None:
        before, now = self._layers, self._live.layers
        self._layers = now
        if not self.on or not self._live.real:
            return
        new = [layer for layer in now if layer not in before]
        gone = [layer for layer in before if layer not in now]
        if new:
            self.tell(self._name(new[-1]))
        elif gone:
            self.tell(self._name(now[-1]) if now else self._studio.profile.layers[0].name)

    def _name(self, layer: str) -> str:
        entry = self._studio.profile.layer(layer)
        return entry.name if entry is not None else layer.partition("/")[0]

    def tell(self, text: str) -> None:
        """Show the name of a layer for a moment; by the desktop where there is no window over the game."""
        self.told = text
        if self.can_show:
            self._untell.start()
            self.refresh()
        else:
            self._note = notify(text, self._note)

    def _forget(self) -> None:
        self.told = ""
        self.refresh()

    def _output(self) -> None:
        if self.isVisible():
            self.refresh()

    def refresh(self) -> None:
        """Show or hide, and paint anew."""
        wanted = self.can_show and self.on and self._live.real and bool(self.surfaces or self.told)
        if wanted and not self.isVisible():
            screen = QGuiApplication.primaryScreen()
            if screen is not None:
                self.setGeometry(screen.geometry())
            self._shape = ()
            self._cut()
            self.show()
        elif not wanted and self.isVisible():
            self.hide()
        elif wanted:
            self._cut()
        self.update()

    def _cut(self) -> None:
        """Give the window the shape of what is drawn, so that it hides nothing else where nothing blends windows."""
        shape = (self.told, self.size(), *((s.seat, s.control, s.use, s.layer) for s in self.surfaces))
        if shape != self._shape:
            self._shape = shape
            self.setMask(QRegion(self._outline().simplified().toFillPolygon().toPolygon()))

    def _outline(self) -> QPainterPath:
        """Where anything is drawn."""
        path = QPainterPath()
        for surface in self.surfaces:
            place = self._place(surface)
            if surface.use == "all":
                path.addRoundedRect(self._all_rect(self._everything()), 14, 14)
            elif place is not None:
                self._add_surface(path, self._role(surface), self._box(place))
        if self.told:
            path.addRoundedRect(self._told_rect(), 10, 10)
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

    # Painting

    def paintEvent(self, event: object) -> None:
        """All that is in use."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for surface in self.surfaces:
            if surface.use == "all":
                self._draw_all(painter)
                continue
            place = self._place(surface)
            if place is not None:
                painter.setOpacity(place.opacity)
                self._draw_surface(painter, surface, self._box(place))
                painter.setOpacity(1.0)
        if self.told:
            self._draw_told(painter)
        painter.end()

    def _box(self, place: Overlay) -> QRectF:
        side = place.size * self.height()
        x = min(max(place.x * self.width(), side / 2), self.width() - side / 2)
        y = min(max(place.y * self.height(), side / 2), self.height() - side / 2)
        return QRectF(x - side / 2, y - side / 2, side, side)

    def _draw_surface(self, painter: QPainter, surface: Surface, box: QRectF) -> None:
        match self._role(surface):
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
        theme, profile = self._theme, self._studio.profile
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
            width = sum(cap_width(key, text) + 5 for key, text, _ in caps) - 5
            draw_caps(painter, rect.center().x() - width / 2, top, caps, theme, rect.right() + 8)
            painter.setFont(font(BODY, bold=chosen))
            painter.setPen(theme.ink if chosen else theme.quiet)
            top += cap_height() + 1
        where = QRectF(rect.left(), top, rect.width(), height)
        painter.drawText(where, Qt.AlignmentFlag.AlignCenter, elided(name, rect.width() - 2, BODY, chosen))

    def _told_rect(self) -> QRectF:
        width = text_width(self.told, STRONG, True) + 58
        return QRectF((self.width() - width) / 2, 28, width, line_height(STRONG) + 18)

    def _draw_told(self, painter: QPainter) -> None:
        theme = self._theme
        rect = self._told_rect()
        painter.setPen(QPen(theme.line, 1))
        painter.setBrush(faded(theme.surface, 0.94))
        painter.drawRoundedRect(rect, 10, 10)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.input)
        painter.drawEllipse(QPointF(rect.left() + 20, rect.center().y()), 5, 5)
        painter.setPen(theme.ink)
        painter.setFont(font(STRONG, bold=True))
        painter.drawText(rect.adjusted(34, 0, -8, 0), Qt.AlignmentFlag.AlignVCenter, self.told)

    @property
    def _top_layer(self) -> str:
        """The layer entered last that this profile has, else the base."""
        known = [layer for layer in self._live.layers if self._studio.profile.layer(layer) is not None]
        return known[-1] if known else BASE

    def _everything(self) -> Sides:
        """What every control does now, for the left and the right hand: its name, its words and its keys."""
        sides: Sides = ([], [])
        for control in CONTROLS:
            words = words_for(self._studio.profile, self._top_layer, control)
            if words.found is not None and not words.found.binding.blocked:
                hint = f"; {words.hint}" if words.hint else ""
                sides["right" in CONTROLS[control].reach].append((control, f"{words.title}{hint}", words.keys))
        return sides

    def _all_rect(self, sides: Sides) -> QRectF:
        height = max(len(side) for side in sides) * (cap_height() + 6) + line_height(STRONG) + 36
        width = min(self.width() * 0.9, 860.0)
        return QRectF((self.width() - width) / 2, max(10.0, (self.height() - height) / 2), width, height)

    def _draw_all(self, painter: QPainter) -> None:
        """What every control does now, in two columns as the hands lie: left hand left, right hand right."""
        theme, studio, layer = self._theme, self._studio, self._top_layer
        sides = self._everything()
        box, pitch = self._all_rect(sides), cap_height() + 6
        width = box.width()
        painter.setPen(QPen(theme.line, 1))
        painter.setBrush(faded(theme.surface, 0.94))
        painter.drawRoundedRect(box, 14, 14)
        entry = studio.profile.layer(layer)
        painter.setFont(font(STRONG, bold=True))
        painter.setPen(theme.ink)
        head = QRectF(box.left() + 20, box.top() + 12, width - 40, line_height(STRONG))
        painter.drawText(head, Qt.AlignmentFlag.AlignVCenter, f"Now: {entry.name if entry else layer}")
        for side, rows_of_side in enumerate(sides):
            left = box.left() + 20 + side * width / 2
            for row, (control, text, keys) in enumerate(rows_of_side):
                y = box.top() + line_height(STRONG) + 24 + row * pitch
                draw_nub(painter, QPointF(left + 10, y + cap_height() / 2), control, self._live.depth(control), theme)
                x = left + 28
                for key in keys[:2]:
                    state = CapState.HELD if key in self._live.held else CapState.REST
                    x += draw_cap(painter, x, y, key, self._label_of(key), state, theme) + 5
                painter.setFont(font(SMALL))
                painter.setPen(theme.ink)
                room = left + width / 2 - 30 - x
                painter.drawText(
                    QRectF(x + 3, y, room, cap_height()), Qt.AlignmentFlag.AlignVCenter, elided(text, room, SMALL)
                )


def _board_rect(box: QRectF) -> QRectF:
    """A typing board is wider than high."""
    width, height = box.width() * 1.8, box.height() / 2
    return QRectF(box.center().x() - width / 2, box.center().y() - height / 2, width, height)


def notify(text: str, replaces: int) -> int:
    """Tell a layer change by the desktop's notifications; returns the number to replace it by. 0 if nobody listens."""
    bus = QDBusConnection.sessionBus()  # first of all: it makes the types known that arguments are made of
    message = QDBusMessage.createMethodCall(NOTES, "/org/freedesktop/Notifications", NOTES, "Notify")
    number, actions = QDBusArgument(), QDBusArgument()
    number.add(replaces, QMetaType.Type.UInt.value)  # type: ignore[arg-type]  # the stub wants a plain int
    actions.add([], QMetaType.Type.QStringList.value)  # type: ignore[arg-type]  # an empty list has no type of its own
    message.setArguments(["Nub Shift", number, "", text, "", actions, {"transient": True}, TOLD_MS])
    answer = bus.call(message, timeout=300)
    arguments = answer.arguments()
    return int(arguments[0]) if arguments and isinstance(arguments[0], int) else 0
