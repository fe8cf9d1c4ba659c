"""The last seconds: what the control said and what was made of it, running by (N43)."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPixmap, QPolygonF, QRegion, QResizeEvent

from nubshift.app.painting.canvas import line_height, text_width
from nubshift.app.painting.live_picture import LivePicture
from nubshift.app.painting.theme import SMALL, faded, font
from nubshift.app.tune.tuner import SECONDS, Sample, Tuner
from nubshift.records import Record
from nubshift.texts import _

SILENT = 14_000
"""µs; a control that says nothing for longer stands still."""


class PastLane(Record, frozen=True):
    """One value over time: what the ways up and down mean, the value at the end, and how to read it off a sample: raw,
    and made of it.

    `marks` are heights at which a line is drawn, with a word each. A lane of one side begins at the bottom; in one that
    `rises` more is higher, else lower, as down is on a stick.
    """

    above: str
    below: str
    full: float
    raw: Callable[[Sample], float]
    out: Callable[[Sample], float] | None = None
    marks: tuple[tuple[float, str], ...] = ()
    one_side: bool = False
    rises: bool = False

    @property
    def look(self) -> tuple[object, ...]:
        """All that is seen of it before anything comes."""
        return self.above, self.below, self.full, self.out is None, self.marks, self.one_side, self.rises


class PastPicture(LivePicture):
    """Lanes above each other. What is new is drawn at the right edge and what is drawn moves left with time."""

    caption = _("Last four seconds")

    def __init__(self, tuner: Tuner) -> None:
        super().__init__(tuner.stage.look)
        self._tuner = tuner
        self.lanes: tuple[PastLane, ...] = ()
        self._strip: QPixmap | None = None
        self._until = 0.0
        self._last: Sample | None = None
        self.setMinimumHeight(96)
        self.setAccessibleName(_("Last four seconds"))
        tuner.moved.connect(self._grow)
        tuner.control_changed.connect(self.clear)

    def show_lanes(self, lanes: tuple[PastLane, ...]) -> None:
        """Show these values."""
        self.lanes = lanes
        self.clear()

    def clear(self) -> None:
        """Begin anew."""
        self._strip, self._last = None, None
        self.refresh()

    def refresh(self) -> None:
        """Another theme or size is another strip."""
        self._strip = None
        super().refresh()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Begin anew."""
        self._strip = None
        super().resizeEvent(event)

    def sizeHint(self) -> QSize:
        """Wide."""
        return QSize(740, 190)

    @property
    def _room(self) -> QRectF:
        return QRectF(12, 12 + line_height(SMALL), self.width() - 24, self.height() - line_height(SMALL) - 22)

    def _lane(self, index: int) -> QRectF:
        room = self._room
        height = room.height() / max(1, len(self.lanes))
        return QRectF(room.left(), room.top() + index * height + 2, room.width(), height - 4)

    def _y(self, lane: PastLane, place: QRectF, value: float) -> float:
        share = max(-1.05, min(1.05, value / lane.full))
        if lane.one_side:
            return place.bottom() - 2 - share * (place.height() - 6)
        return place.center().y() + (-share if lane.rises else share) * (place.height() / 2 - 3)

    # Painting

    def draw_still(self, painter: QPainter) -> None:
        """What the colours mean, and the lanes' grounds; the strip covers those once there is one."""
        x = self.width() - 14.0
        painter.setFont(font(SMALL))
        both = any(lane.out is not None for lane in self.lanes)
        says, gets = _("Input"), _("Output")
        for text, colour in (((gets, self.theme.output),) if both else ()) + ((says, self.theme.input),):
            width = text_width(text, SMALL)
            painter.setPen(self.theme.ink)
            painter.drawText(QRectF(x - width, 8, width, line_height(SMALL)), Qt.AlignmentFlag.AlignLeft, text)
            painter.setPen(QPen(colour, 2))
            y = 8 + line_height(SMALL) / 2
            painter.drawLine(QPointF(x - width - 18, y), QPointF(x - width - 6, y))
            x -= width + 34
        self._draw_lanes(painter, self._room)

    def _draw_lanes(self, painter: QPainter, where: QRectF) -> None:
        theme = self.theme
        for index, lane in enumerate(self.lanes):
            place = self._lane(index)
            here = QRectF(where.left(), place.top(), where.width(), place.height())
            painter.fillRect(here, theme.ground)
            zero = self._y(lane, place, 0.0)
            painter.setPen(QPen(faded(theme.line, 0.9), 1))
            painter.drawLine(QPointF(here.left(), zero), QPointF(here.right(), zero))
            painter.setPen(QPen(faded(theme.quiet, 0.8), 1))
            for height, _unused in lane.marks:
                y = round(self._y(lane, place, height)) + 0.5
                painter.drawLine(QPointF(here.left(), y), QPointF(here.right(), y))

    def _grow(self) -> None:
        fresh = self._tuner.fresh
        if not fresh or not self.lanes or not self.isVisible():
            return
        room = self._room
        ratio = self.devicePixelRatioF()
        if self._strip is None:
            self._strip = QPixmap(round(room.width() * ratio), round(self.height() * ratio))
            self._strip.setDevicePixelRatio(ratio)
            self._strip.fill(self.theme.surface)
            painter = QPainter(self._strip)
            painter.translate(-room.left(), 0)
            self._draw_lanes(painter, room)
            painter.end()
            self._until = float(fresh[0].t)
            self._last = None
            fresh = list(self._tuner.past)
            self._until = float(max(fresh[0].t, fresh[-1].t - SECONDS * 1e6))
        each = SECONDS * 1e6 / room.width()  # µs a pixel
        pixels = min(int((fresh[-1].t - self._until) / each), round(room.width()))
        if pixels < 1:
            return
        self._until = self._until + pixels * each if pixels < room.width() else float(fresh[-1].t)
        self._strip.scroll(round(-pixels * ratio), 0, self._strip.rect())
        self._draw_new(self._strip, room, pixels, each)
        self.update(room.toAlignedRect())

    def _draw_new(self, strip: QPixmap, room: QRectF, pixels: int, each: float) -> None:
        """The rightmost `pixels`: what came in that time, joined to what was there."""
        begin = self._until - (pixels + 1) * each - 8_000
        samples: list[Sample] = []  # and one beyond either end, so that lines lead there
        for sample in reversed(self._tuner.past):
            if sample.t > self._until:
                samples.clear()
            samples.append(sample)
            if sample.t < begin:
                break
        samples.reverse()
        painter = QPainter(strip)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.translate(-room.left(), 0)
        new = QRectF(room.right() - pixels, 0, pixels, self.height())
        painter.setClipRect(new)
        self._draw_lanes(painter, new)
        if len(samples) > 1:
            for index, lane in enumerate(self.lanes):
                place = self._lane(index)
                self._draw_line(painter, lane, place, samples, lane.raw, self.theme.input, each, room.right())
                if lane.out is not None:
                    self._draw_line(painter, lane, place, samples, lane.out, self.theme.output, each, room.right())
        painter.end()

    def _draw_line(
        self,
        painter: QPainter,
        lane: PastLane,
        place: QRectF,
        samples: list[Sample],
        read: Callable[[Sample], float],
        colour: QColor,
        each: float,
        right: float,
    ) -> None:
        painter.setPen(QPen(colour, 1))
        until, points = self._until, list[QPointF]()
        zero, one = self._y(lane, place, 0.0), self._y(lane, place, lane.full) - self._y(lane, place, 0.0)
        last = samples[0].t
        for sample in samples:
            y = zero + one * max(-1.05, min(1.05, read(sample) / lane.full))
            if sample.t - last > SILENT:  # it stayed where it was until now
                points.append(QPointF(right - (until - sample.t + 2_000) / each, points[-1].y()))
            points.append(QPointF(right - (until - sample.t) / each, y))
            last = sample.t
        painter.drawPolyline(QPolygonF(points))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The strip over what stands still, and the words over both."""
        if self._strip is None:
            super().paintEvent(event)
            return
        if self._still is None:
            self._still = self._paint_still()
        painter = QPainter(self)
        room = self._room.toAlignedRect()
        if event is not None and not room.contains(event.rect()):
            painter.setClipRegion(QRegion(self.rect()))
            painter.drawPixmap(0, 0, self._still)
        ratio = self.devicePixelRatioF()
        part = QRectF(0, self._room.top() * ratio, self._strip.width(), self._room.height() * ratio)
        painter.drawPixmap(self._room, self._strip, part)
        painter.setFont(font(SMALL))
        for index, lane in enumerate(self.lanes):
            self._draw_words(painter, lane, self._lane(index))
        painter.end()

    def draw_live(self, painter: QPainter) -> None:
        """Before anything came: only the words."""
        painter.setFont(font(SMALL))
        for index, lane in enumerate(self.lanes):
            self._draw_words(painter, lane, self._lane(index))

    def _draw_words(self, painter: QPainter, lane: PastLane, place: QRectF) -> None:
        painter.setPen(self.theme.quiet)
        room = place.adjusted(6, 2, 0, -2)
        painter.drawText(room, Qt.AlignmentFlag.AlignLeft, lane.above)
        painter.drawText(room, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignBottom, lane.below)
        for height, word in lane.marks:
            if word:
                y = self._y(lane, place, height)
                wide, high = text_width(word, SMALL) + 10, line_height(SMALL)
                top = y - high - 2 if y - high > place.top() else y + 3
                box = QRectF(place.right() - wide - 4, top, wide, high)
                painter.fillRect(box, faded(self.theme.ground, 0.85))
                painter.drawText(box, Qt.AlignmentFlag.AlignCenter, word)
