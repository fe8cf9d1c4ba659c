"""How the plane of a stick looks, large: what it says and what the game gets, rings and edges (N40, N43)."""

from __future__ import annotations

from collections import deque
from math import cos, pi, radians, sin

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF

from nubshift.analysis.compass import SLICES
from nubshift.app.editors.pictures.planes import OFFSETS
from nubshift.app.painting.canvas import draw_focus, line_height, text_width
from nubshift.app.painting.caps import cap_height, cap_width, draw_caps
from nubshift.app.painting.live_picture import LivePicture
from nubshift.app.painting.plane import draw_dead, draw_plane, draw_sectors
from nubshift.app.painting.theme import SMALL, faded, font
from nubshift.app.tune.rings import Ring, rings_of
from nubshift.app.tune.tuner import Sample, Tuner
from nubshift.feel.response import number
from nubshift.model.roles import KeysRole
from nubshift.model.sentences import keys_of
from nubshift.texts import _

GRAB = 8.0
TRAIL = 1_300_000
"""µs of the past that the trail shows."""
TRAIL_POINTS = 150
FADES = 3
LONG_WORDS = (_("Input"), _("Output"), _("Measured reach"))
SHORT_WORDS = (_("Input"), _("Output"), _("Reach"))
"""What the lines of the plane are, where there is room for it and where there is less."""
HANDLE = 6.0
"""Radius of a handle."""


class PlanePainting(LivePicture):
    """The plane as it looks; what can be done with it is in `stick_plane`."""

    caption = _("Stick")

    def __init__(self, tuner: Tuner) -> None:
        super().__init__(tuner.stage.look)
        self._tuner = tuner
        self.edge: list[float | None] = [None] * SLICES
        self._grabbed: Ring | int | None = None
        self._chosen = 0
        self.setMinimumSize(220, 200)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(_("Stick"))
        self._trail: deque[Sample] = deque()
        tuner.moved.connect(self._remember)
        tuner.control_changed.connect(self._begin)
        tuner.refreshed.connect(self._refreshed)
        tuner.stage.live.held_changed.connect(self._held)

    def _begin(self) -> None:
        """Another control, or another profile: nothing of the one before."""
        self._trail.clear()
        self._chosen = 0

    def _refreshed(self) -> None:
        rings = ", ".join(ring.text() for ring in self.rings)
        self.setAccessibleDescription(
            _("{control}: {rings}").format(
                control=self._tuner.stage.selection.names.title(self._tuner.control), rings=rings or _("No handle")
            )
        )
        self.refresh()

    def _remember(self) -> None:
        """Of the last moment, as many samples as the eye can tell apart."""
        trail = self._trail
        for sample in self._tuner.fresh:
            if not trail or not 0 <= sample.t - trail[-1].t < TRAIL // TRAIL_POINTS:
                trail.append(sample)
        while trail and trail[0].t < trail[-1].t - TRAIL:
            trail.popleft()
        self.update()

    def _held(self) -> None:
        """Caps show what is down."""
        if self.isVisible() and self._has_edges:
            self.refresh()

    def show_edge(self, edge: list[float | None]) -> None:
        """How far the stick really gets, by direction; None where that is not known."""
        self.edge = edge
        self.refresh()

    def sizeHint(self) -> QSize:
        """A square with a line of words."""
        return QSize(440, 420)

    # Geometry

    @property
    def centre(self) -> QPointF:
        """Rest."""
        return QPointF(self.width() / 2, (self.height() - self._foot) / 2 + 6)

    @property
    def _foot(self) -> float:
        return line_height(SMALL) + 14

    @property
    def radius(self) -> float:
        """Full reach."""
        return min(self.width() / 2 - 20, (self.height() - self._foot) / 2 - 18)

    def place(self, x: float, y: float) -> QPointF:
        """Where a value lies in the picture."""
        return QPointF(self.centre.x() + x * self.radius, self.centre.y() + y * self.radius)

    def value_at(self, at: QPointF) -> tuple[float, float]:
        """The value that lies at a place of the picture."""
        way = at - self.centre
        return way.x() / self.radius, way.y() / self.radius

    @property
    def rings(self) -> list[Ring]:
        """What can be taken hold of."""
        return rings_of(self._tuner.feel, self._tuner.binding, self._tuner.tuned)

    @property
    def _has_edges(self) -> bool:
        return isinstance(self._tuner.role, KeysRole)

    def handle(self, ring: Ring) -> QPointF:
        """The middle of a ring's handle: rings that lie close have theirs at other angles."""
        angle = radians(self._angle_of(ring))
        return QPointF(
            self.centre.x() + ring.radius * self.radius * sin(angle),
            self.centre.y() - ring.radius * self.radius * cos(angle),
        )

    def _angle_of(self, ring: Ring) -> float:
        index = next((i for i, other in enumerate(self.rings) if other.field == ring.field), 0)
        if ring.field == "key_radius":
            return 225.0  # between the caps
        if not ring.field.startswith("band:"):
            return 90.0
        return 132.0 + 16.0 * index if not self._has_edges else 28.0 + 17.0 * index  # clear of caps and edges

    # Painting

    def draw_still(self, painter: QPainter) -> None:
        """Reach, dead zone, rings, edges and handles."""
        theme, centre, radius = self.theme, self.centre, self.radius
        feel = self._tuner.feel
        draw_plane(painter, centre, radius, theme)
        painter.setPen(QPen(faded(theme.line, 0.7), 1))
        painter.drawLine(self.place(-1, 0), self.place(1, 0))
        painter.drawLine(self.place(0, -1), self.place(0, 1))
        rings = self.rings
        dead = next((ring.radius for ring in rings if ring.field in ("inner", "key_radius", "menu_radius")), 0.0)
        if dead and feel.zone == "axes" and self._tuner.tuned:
            self._draw_dead_axes(painter, dead)
        elif dead:
            draw_dead(painter, centre, radius * dead, theme)
        if self._has_edges:
            draw_sectors(painter, centre, radius * dead, radius, number(feel.diagonal), theme)
            self._draw_edge_handles(painter, number(feel.diagonal))
        self._draw_caps(painter)
        self._draw_edge(painter)
        for index, ring in enumerate(rings):
            self._draw_ring(painter, ring, index == self._chosen and self.hasFocus())
        self._draw_words(painter)
        if self.hasFocus():
            draw_focus(painter, QRectF(self.rect()), theme, 12)

    def _draw_caps(self, painter: QPainter) -> None:
        """What each direction sends, in the output colour while it is down."""
        role, profile, stage = self._tuner.role, self._tuner.profile, self._tuner.stage
        for direction, (x, y) in OFFSETS.items() if isinstance(role, KeysRole) else ():
            keys = keys_of(profile, role.sends(direction))[:2] if isinstance(role, KeysRole) else ()
            width = sum(cap_width(key, stage.label_of(key)) + 5 for key in keys) - 5
            at = self.place(0.76 * x, 0.76 * y)
            if keys:
                draw_caps(painter, at.x() - width / 2, at.y() - cap_height() / 2, stage.caps(keys), self.theme)

    def _draw_dead_axes(self, painter: QPainter, dead: float) -> None:
        """Each axis dead by itself: a cross, of which only the middle holds both still."""
        theme = self.theme
        disc = QPainterPath()
        disc.addEllipse(self.centre, self.radius, self.radius)
        painter.save()
        painter.setClipPath(disc)
        wide = 2 * dead * self.radius
        painter.fillRect(QRectF(self.centre.x() - wide / 2, 0, wide, self.height()), faded(theme.quiet, 0.12))
        painter.fillRect(QRectF(0, self.centre.y() - wide / 2, self.width(), wide), faded(theme.quiet, 0.12))
        painter.restore()
        painter.setPen(QPen(theme.quiet, 1))
        painter.setBrush(faded(theme.quiet, 0.25))
        painter.drawRect(QRectF(self.centre.x() - wide / 2, self.centre.y() - wide / 2, wide, wide))

    def _draw_edge(self, painter: QPainter) -> None:
        """How far it really gets, dashed."""
        painter.setPen(QPen(self.theme.quiet, 1.2, Qt.PenStyle.DashLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        run: list[QPointF] = []
        closed = all(value is not None for value in self.edge)
        for index in range(SLICES + 1):
            value = self.edge[index % SLICES]
            if value is not None and (index < SLICES or closed):
                angle = 2 * pi * index / SLICES
                run.append(self.place(value * sin(angle), -value * cos(angle)))
            elif run:
                painter.drawPolyline(QPolygonF(run))
                run = []
        if run:
            painter.drawPolyline(QPolygonF(run))

    def _draw_ring(self, painter: QPainter, ring: Ring, chosen: bool) -> None:
        theme = self.theme
        held = self._grabbed == ring or chosen
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(theme.ink if held else faded(theme.input, 0.85), 1.6 if held else 1.2))
        painter.drawEllipse(self.centre, ring.radius * self.radius, ring.radius * self.radius)
        at = self.handle(ring)
        painter.setBrush(theme.surface)
        painter.setPen(QPen(theme.ink if held else theme.input, 2))
        painter.drawEllipse(at, HANDLE, HANDLE)
        painter.setFont(font(SMALL))
        text = ring.text()
        width = text_width(text, SMALL) + 10
        left = at.x() + 10 if ring.radius < 0.55 and at.x() >= self.centre.x() else at.x() - width - 8
        high = line_height(SMALL) + 2
        clear = HANDLE + 2  # of the handles of other rings, which lie on the same line
        box = QRectF(left, at.y() + clear if ring.field != "outer" else at.y() - clear - high, width, high)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(faded(theme.ground, 0.82))
        painter.drawRoundedRect(box, 4, 4)
        painter.setPen(theme.ink)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    def edge_handles(self) -> list[tuple[int, QPointF]]:
        """Sector and place of the handles of the diagonals' edges, near the rim."""
        half = number(self._tuner.feel.diagonal) / 2
        found = []
        for sector in (1, 3, 5, 7):
            for side in (-1, 1):
                angle = radians(45 * sector + side * half)
                found.append((sector, self.place(0.9 * sin(angle), -0.9 * cos(angle))))
        return found

    def _draw_edge_handles(self, painter: QPainter, diagonal: float) -> None:
        theme = self.theme
        painter.setBrush(theme.surface)
        painter.setPen(QPen(theme.ink if isinstance(self._grabbed, int) else theme.input, 1.6))
        for _unused, at in self.edge_handles():
            painter.drawEllipse(at, 4.5, 4.5)
        painter.setFont(font(SMALL))
        painter.setPen(theme.quiet)
        at = self.place(-0.62 * sin(radians(40)), -0.62 * cos(radians(40)))
        painter.drawText(
            QRectF(at.x() - 60, at.y() - 10, 120, 20),
            Qt.AlignmentFlag.AlignCenter,
            _("diagonals {diagonal:g}°").format(diagonal=diagonal),
        )

    def _draw_words(self, painter: QPainter) -> None:
        """What is what, below the plane."""
        theme = self.theme
        painter.setFont(font(SMALL))
        shown = [True, self._tuner.tuned, any(value is not None for value in self.edge)]
        colours = (theme.input, theme.output, theme.quiet)
        for texts in (LONG_WORDS, SHORT_WORDS):
            words = [(text, colour) for text, colour, on in zip(texts, colours, shown, strict=True) if on]
            widths = [text_width(text, SMALL) + 34 for text, _unused in words]
            if sum(widths) <= self.width() - 8:
                break
        x = (self.width() - sum(widths)) / 2 + 6
        y = self.height() - self._foot / 2 - 3
        for index, ((text, colour), width) in enumerate(zip(words, widths, strict=True)):
            painter.setPen(
                QPen(colour, 2, Qt.PenStyle.DashLine if index == 2 or colour == theme.quiet else Qt.PenStyle.SolidLine)
            )
            painter.drawLine(QPointF(x, y), QPointF(x + 12, y))
            painter.setPen(theme.ink if index < 2 else theme.quiet)
            painter.drawText(QRectF(x + 18, y - 10, width, 20), Qt.AlignmentFlag.AlignVCenter, text)
            x += width

    def draw_live(self, painter: QPainter) -> None:
        """The trails and where it stands now."""
        last = self._tuner.last
        if last is None:
            x, y = self._tuner.stage.live.value(self._tuner.control)
            last = Sample(0, (x, y), (0.0, 0.0))
        samples = [*self._trail, last]
        theme = self.theme
        self._draw_trail(painter, [s.raw for s in samples], theme.input)
        if self._tuner.tuned:
            self._draw_trail(painter, [s.out for s in samples], theme.output)
            at = self.place(last.out[0], last.out[1])
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.output)
            painter.drawRoundedRect(QRectF(at.x() - 5, at.y() - 5, 10, 10), 2, 2)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.input)
        painter.drawEllipse(self.place(last.raw[0], last.raw[1]), 6, 6)

    def _draw_trail(self, painter: QPainter, values: list[tuple[float, ...]], colour: QColor) -> None:
        centre, radius = self.centre, self.radius
        left, top = centre.x(), centre.y()
        points = [QPointF(left + v[0] * radius, top + v[1] * radius) for v in values]
        size = max(1, -(-len(points) // FADES))
        for part in range(FADES):
            piece = points[part * size : (part + 1) * size + 1]
            if len(piece) > 1:
                painter.setPen(QPen(faded(colour, 0.12 + 0.68 * (part + 1) / FADES), 1))
                painter.drawPolyline(QPolygonF(piece))
