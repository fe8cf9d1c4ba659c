"""Turbo as a picture of its pulses: half a second of them, with the edges to drag."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen, QResizeEvent

from nubshift.app.painting.canvas import Canvas, broken, draw_focus, line_height
from nubshift.app.painting.theme import SMALL, Look, faded, font
from nubshift.model import parameters as p
from nubshift.model.sends import Pulsed, Turbo
from nubshift.texts import _

SPAN = 600.0
"""Milliseconds that the picture shows."""
GRAB = 7.0
LEFT = 6.0

Beat = Turbo | Pulsed


class PulsePicture(Canvas):
    """Pulses over time. The end of the first one sets how long it is down, the start of the second how often."""

    def __init__(self, look: Look, changed: Callable[[Beat], None], settled: Callable[[], None]) -> None:
        super().__init__(look)
        self._changed = changed
        self._settled = settled
        self._beat: Beat | None = None
        self._held = ""
        self._grabbed = ""
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)

    def show_beat(self, beat: Beat | None) -> None:
        """Show how it repeats."""
        self._beat = beat
        self._fit()
        self.setAccessibleName(_("Pulses. Left and right change how often, up and down how long each is held"))
        self.setAccessibleDescription(self.text)
        self.update()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The words below are broken into lines that fit."""
        super().resizeEvent(event)
        self._fit()

    def _fit(self) -> None:
        self.setFixedHeight(round(len(self._rows()) * self._pitch + len(self._foot()) * line_height(SMALL) + 8))

    def _foot(self) -> list[str]:
        """The beat in words, in lines."""
        return broken(self.text, self.width() - LEFT, SMALL)

    def sizeHint(self) -> QSize:
        """As wide as the inspector."""
        return QSize(240, 80)

    @property
    def text(self) -> str:
        """The beat in words."""
        match self._beat:
            case Turbo(rate=rate, duty=duty, rate_at_full=None):
                return _("{rate:g} a second, held for {duty:.0%} of each").format(rate=rate, duty=duty)
            case Turbo(rate=rate, duty=duty, rate_at_full=full):
                return _("{rate:g} a second at rest, {full:g} fully in, held for {duty:.0%}").format(
                    rate=rate, full=full, duty=duty
                )
            case Pulsed(period=period):
                return _("a pulse every {period} ms, longer with depth").format(period=period)
        return ""

    @property
    def _pitch(self) -> float:
        return line_height(SMALL) + 12

    def _rows(self) -> list[tuple[str, str, float, float]]:
        """Name of each row, the field that its period is, period in ms, and share that it is down."""
        match self._beat:
            case Turbo(rate=rate, duty=duty, rate_at_full=None):
                return [("", "rate", 1000 / rate, duty)]
            case Turbo(rate=rate, duty=duty, rate_at_full=full):
                return [(_("at rest"), "rate", 1000 / rate, duty), (_("fully in"), "full", 1000 / (full or rate), duty)]
            case Pulsed(period=period):
                return [(f"{share:.0%}", "period", period, share) for share in (0.25, 0.5, 0.75)]
        return []

    @property
    def _left(self) -> float:
        return LEFT + (46 if len(self._rows()) > 1 else 0)

    def _x(self, ms: float) -> float:
        return self._left + ms / SPAN * (self.width() - self._left - LEFT)

    def _edges(self) -> list[tuple[str, float, QRectF]]:
        """What each draggable edge sets: ``duty`` or the field of a period; where, and the row it belongs to."""
        found = []
        for index, (_unused, field, period, duty) in enumerate(self._rows()):
            row = QRectF(0, index * self._pitch, self.width(), self._pitch)
            if isinstance(self._beat, Turbo):
                found.append(("duty", self._x(period * duty), row))
            found.append((field, self._x(period), row))
        return found

    def draw(self, painter: QPainter) -> None:
        """A line with teeth for each row."""
        theme = self.theme
        painter.setFont(font(SMALL))
        for index, (name, _unused, period, duty) in enumerate(self._rows()):
            base = (index + 1) * self._pitch - 4.5
            painter.setPen(theme.quiet)
            painter.drawText(
                QRectF(0, base - self._pitch + 8, 50, self._pitch - 8), Qt.AlignmentFlag.AlignVCenter, name
            )
            painter.setPen(QPen(theme.line, 1))
            painter.drawLine(QPointF(self._left, base), QPointF(self.width() - LEFT, base))
            start, tooth = 0.0, 0
            while start < SPAN:
                left, right = self._x(start), self._x(min(SPAN, start + period * duty))
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(theme.output if tooth == 0 else faded(theme.output, 0.55))
                painter.drawRoundedRect(QRectF(left, base - self._pitch + 12, right - left, self._pitch - 12), 2, 2)
                start += period
                tooth += 1
        for name, x, row in self._edges():
            strong = name in (self._held, self._grabbed)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.ink if strong else theme.quiet)
            painter.drawRoundedRect(QRectF(x - 3.5, row.bottom() - 10, 7, 7), 1.5, 1.5)
        painter.setPen(theme.quiet)
        lines, height = self._foot(), line_height(SMALL)
        foot = QRectF(LEFT, self.height() - len(lines) * height - 3, self.width() - LEFT, height)
        for index, line in enumerate(lines):
            painter.drawText(foot.translated(0, index * height), Qt.AlignmentFlag.AlignVCenter, line)
        if self.hasFocus():
            draw_focus(painter, QRectF(self.rect()), theme, 6)

    def _edge_at(self, at: QPointF) -> str:
        near = [(abs(x - at.x()), name) for name, x, row in self._edges() if row.top() <= at.y() <= row.bottom() + 4]
        best = min(near, default=(1e9, ""))
        return best[1] if best[0] <= GRAB else ""

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take an edge."""
        if event is not None:
            self._grabbed = self._edge_at(event.position())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Drag it."""
        if event is None:
            return
        if not self._grabbed:
            self._held = self._edge_at(event.position())
            self.setCursor(Qt.CursorShape.SplitHCursor if self._held else Qt.CursorShape.ArrowCursor)
            self.update()
            return
        ms = (event.position().x() - self._left) / (self.width() - self._left - LEFT) * SPAN
        self._drag(max(10.0, ms), event.position().y())

    def _drag(self, ms: float, y: float) -> None:
        beat = self._beat
        if isinstance(beat, Pulsed):
            self._changed(replace(beat, period=round(p.PULSED_PERIOD.clamp(round(ms / 10) * 10))))
        elif isinstance(beat, Turbo):
            row = min(len(self._rows()) - 1, max(0, int(y // self._pitch)))
            if self._grabbed == "duty":
                period = self._rows()[row][2]
                self._changed(replace(beat, duty=p.TURBO_DUTY.clamp(round(ms / period, 2))))
            elif self._grabbed == "full":
                self._changed(replace(beat, rate_at_full=p.TURBO_RATE.clamp(round(1000 / ms * 2) / 2)))
            else:
                self._changed(replace(beat, rate=p.TURBO_RATE.clamp(round(1000 / ms * 2) / 2)))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Let it go; the drag is one edit."""
        if self._grabbed:
            self._grabbed = ""
            self._settled()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Left and right change how often, up and down how long; with Shift, the rate all the way in."""
        steps = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, 1), Qt.Key.Key_Down: (0, -1)}
        if event is None or event.key() not in steps:
            super().keyPressEvent(event)
            return
        more, longer = steps[Qt.Key(event.key())]
        match self._beat:
            case Pulsed(period=period) as beat:
                self._changed(replace(beat, period=round(p.PULSED_PERIOD.clamp(period - 10 * more + 10 * longer))))
            case Turbo(rate_at_full=full) as beat:
                if longer:
                    self._changed(replace(beat, duty=p.TURBO_DUTY.clamp(beat.duty + 0.05 * longer)))
                elif full is not None and event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
                    self._changed(replace(beat, rate_at_full=p.TURBO_RATE.clamp(full + more)))
                else:
                    self._changed(replace(beat, rate=p.TURBO_RATE.clamp(beat.rate + more)))
        self._settled()
