"""What happens at different depths, with the edges dragged on the live picture of the pull or of the stick (N30)."""

from __future__ import annotations

from collections.abc import Sequence
from math import hypot

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen

from nubshift.app.editors.pictures.picture import PartPicture
from nubshift.app.painting.canvas import draw_focus, elided, line_height
from nubshift.app.painting.caps import cap_height, cap_width, draw_caps
from nubshift.app.painting.plane import draw_plane, draw_position
from nubshift.app.painting.theme import SMALL, blend, font
from nubshift.app.stage import Stage
from nubshift.model import parameters as p
from nubshift.model.controls import PLANES, kind_of
from nubshift.model.profile import Band, Binding
from nubshift.model.sentences import keys_of, sends_name
from nubshift.model.slots import index_of
from nubshift.model.usage import look_up
from nubshift.texts import _

GRAB = 7.0
BAR = 30.0


class BandsPicture(PartPicture):
    """The depths of a control. A trigger or axis is a bar that fills with the finger, a stick a plane with rings."""

    edged = pyqtSignal(int, float)
    settled = pyqtSignal()

    def __init__(self, stage: Stage, control: str) -> None:
        super().__init__(stage, control)
        self._grabbed = -1
        self.setMouseTracking(True)
        stage.live.controls_changed.connect(self._moved)
        self.refresh()

    def _moved(self, controls: set[str]) -> None:
        if self.control in controls:
            self.update()

    @property
    def binding(self) -> Binding | None:
        """What the control does in the layer shown."""
        studio = self.stage.studio
        found = look_up(studio.profile, studio.selection.layer, self.control, studio.selection.seat)
        return found.binding if found else None

    @property
    def bands(self) -> tuple[Band, ...]:
        """The bands, from the inside out."""
        binding = self.binding
        return binding.bands if binding else ()

    @property
    def _round(self) -> bool:
        return kind_of(self.control) in PLANES

    @property
    def _pitch(self) -> float:
        return cap_height() + 8

    def refresh(self) -> None:
        """The profile or the selection changed."""
        rows = len(self.bands) * self._pitch
        self.setFixedHeight(round(max(132.0, rows + 8) if self._round else BAR + line_height(SMALL) + 14 + rows))
        super().refresh()

    def sizeHint(self) -> QSize:
        """As wide as the inspector."""
        return QSize(260, self.height())

    def parts(self) -> Sequence[str]:
        """The bands."""
        return [f"bands[{index}].what" for index in range(len(self.bands))]

    def place(self, part: str) -> QRectF:
        """The row that says what a band sends; the outermost is at the top, as it is the furthest from the hand."""
        index = index_of(part)
        if self._round:
            left, top = 138.0, 4.0 + (len(self.bands) - 1 - index) * self._pitch
        else:
            left, top = 0.0, BAR + line_height(SMALL) + 12 + index * self._pitch
        return QRectF(left, top, self.width() - left, self._pitch - 2)

    def part_at(self, position: QPointF) -> str:
        """The band of a row, or at a depth in the picture."""
        found = super().part_at(position)
        if found or not self._in_picture(position):
            return found
        depth = self._depth_at(position)
        inside = [index for index, band in enumerate(self.bands) if band.start <= depth]
        return f"bands[{inside[-1]}].what" if inside else ""

    # Depth and place

    @property
    def _centre(self) -> QPointF:
        return QPointF(66, 66)

    @property
    def _radius(self) -> float:
        return 60.0

    def _in_picture(self, at: QPointF) -> bool:
        if self._round:
            way = at - self._centre
            return hypot(way.x(), way.y()) <= self._radius + 6
        return at.y() <= BAR + line_height(SMALL) + 8

    def _depth_at(self, at: QPointF) -> float:
        if self._round:
            way = at - self._centre
            return hypot(way.x(), way.y()) / self._radius
        return (at.x() - 4) / (self.width() - 8)

    def _x(self, depth: float) -> float:
        return 4 + depth * (self.width() - 8)

    # Painting

    def draw(self, painter: QPainter) -> None:
        """The picture and the rows."""
        if self._round:
            self._draw_rings(painter)
        else:
            self._draw_bar(painter)
        profile = self.stage.studio.profile
        for index, band in enumerate(self.bands):
            part = f"bands[{index}].what"
            rect = self.place(part)
            current = part == self.current
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(self.theme.raised if current or part == self._over else Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(rect, 6, 6)
            painter.setFont(font(SMALL))
            painter.setPen(self.theme.quiet)
            text = p.BAND_FROM.text(band.start) + (" +" if band.adds else "")
            painter.drawText(rect.adjusted(6, 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, text)
            keys = keys_of(profile, band.what)[:2]
            x = draw_caps(
                painter,
                rect.left() + 50,
                rect.center().y() - cap_height() / 2,
                self.stage.caps(keys),
                self.theme,
                rect.right(),
            )
            said = (
                _("Press a key")
                if self.listening(part)
                else sends_name(profile, band.what)
                if band.what
                else _("Unassigned")
            )
            painter.setPen(
                self.theme.input if self.listening(part) else self.theme.ink if band.what else self.theme.quiet
            )
            room = rect.right() - x - 4
            if not keys or room > 24:
                painter.drawText(
                    QRectF(x, rect.top(), room, rect.height()), Qt.AlignmentFlag.AlignVCenter, elided(said, room, SMALL)
                )
            if self.listening(part) or (current and self.hasFocus()):
                draw_focus(painter, rect, self.theme, 6)

    def _shade(self, index: int) -> float:
        """The further in, the stronger."""
        return 0.12 + 0.5 * (index + 1) / max(1, len(self.bands))

    def _draw_bar(self, painter: QPainter) -> None:
        theme = self.theme
        painter.setPen(QPen(theme.line, 1))
        painter.setBrush(theme.ground)
        painter.drawRoundedRect(QRectF(4, 2, self.width() - 8, BAR), 6, 6)
        edges = [*(band.start for band in self.bands), 1.0]
        profile = self.stage.studio.profile
        for index, band in enumerate(self.bands):
            left, right = self._x(band.start), self._x(edges[index + 1])
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(blend(theme.input, theme.surface, self._shade(index) * 0.6))
            painter.drawRoundedRect(QRectF(left, 3, right - left - 1, BAR - 2), 3, 3)
            keys = keys_of(profile, band.what)[:2]
            width = sum(cap_width(key, self.stage.label_of(key)) + 5 for key in keys)
            if keys and width < right - left:
                draw_caps(
                    painter, (left + right - width) / 2 + 2, 2 + (BAR - cap_height()) / 2, self.stage.caps(keys), theme
                )
        depth = self.stage.live.depth(self.control)
        if depth > 0:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.input)
            painter.drawEllipse(QPointF(self._x(depth), BAR + 1), 4.5, 4.5)
            painter.drawRect(QRectF(self._x(depth) - 0.75, 2, 1.5, BAR))
        painter.setFont(font(SMALL))
        for index, band in enumerate(self.bands):
            x = self._x(band.start)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.ink if index == self._grabbed else theme.input)
            painter.drawEllipse(QPointF(x, BAR + 2), 4, 4)
            painter.setPen(theme.quiet)
            text = p.BAND_FROM.text(band.start)
            left = min(max(0.0, x - 20), self.width() - 40.0)
            painter.drawText(QRectF(left, BAR + 7, 40, line_height(SMALL)), Qt.AlignmentFlag.AlignCenter, text)

    def _draw_rings(self, painter: QPainter) -> None:
        theme, centre, radius = self.theme, self._centre, self._radius
        draw_plane(painter, centre, radius, theme)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.ground)
        for index, band in enumerate(reversed(self.bands)):
            outer = self.bands[len(self.bands) - index].start if index else 1.0
            painter.setBrush(blend(theme.input, theme.surface, self._shade(len(self.bands) - 1 - index) * 0.6))
            painter.drawEllipse(centre, radius * outer, radius * outer)
            painter.setBrush(theme.ground)
            painter.drawEllipse(centre, radius * band.start, radius * band.start)
        for index, band in enumerate(self.bands):
            painter.setPen(QPen(theme.ink if index == self._grabbed else theme.quiet, 1, Qt.PenStyle.DotLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(centre, radius * band.start, radius * band.start)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.input)
            painter.drawEllipse(QPointF(centre.x() + radius * band.start, centre.y()), 4, 4)
        x, y = self.stage.live.value(self.control)
        draw_position(painter, centre, radius, x, y, theme)

    # Handling

    def _edge_at(self, at: QPointF) -> int:
        if not self._in_picture(at):
            return -1
        scale = self._radius if self._round else self.width() - 8
        near = [(abs(self._depth_at(at) - band.start) * scale, index) for index, band in enumerate(self.bands)]
        best = min(near, default=(1e9, -1))
        return best[1] if best[0] <= GRAB else -1

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take an edge, else select a band."""
        if event is None:
            return
        self._grabbed = self._edge_at(event.position())
        if self._grabbed < 0:
            super().mousePressEvent(event)
        else:
            self.choose(f"bands[{self._grabbed}].what")

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Drag the edge, as far as its neighbours."""
        if event is None:
            return
        if self._grabbed < 0:
            near = self._edge_at(event.position()) >= 0
            self.setCursor(Qt.CursorShape.SplitHCursor if near else Qt.CursorShape.ArrowCursor)
            return
        self._set(self._grabbed, self._depth_at(event.position()))

    def _set(self, index: int, depth: float) -> None:
        low = self.bands[index - 1].start + 0.02 if index else p.BAND_FROM.low
        high = self.bands[index + 1].start - 0.02 if index + 1 < len(self.bands) else p.BAND_FROM.high
        self.edged.emit(index, p.BAND_FROM.clamp(round(min(high, max(low, depth)), 2)))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """The drag is one edit."""
        if self._grabbed >= 0:
            self._grabbed = -1
            self.settled.emit()
            self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """With Alt, left and right move the edge of the band chosen by a hundredth."""
        step = {Qt.Key.Key_Left: -0.01, Qt.Key.Key_Right: 0.01}.get(Qt.Key(event.key()), 0.0) if event else 0.0
        index = index_of(self.current)
        if event is not None and step and event.modifiers() & Qt.KeyboardModifier.AltModifier and index >= 0:
            self._set(index, self.bands[index].start + step)
            self.settled.emit()
        else:
            super().keyPressEvent(event)
