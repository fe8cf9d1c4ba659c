"""The ranges: a figure of eight to follow, targets to reach, and a horizon to turn against, in real degrees."""

from __future__ import annotations

from math import floor, pi, sin

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QHideEvent, QPainter, QPen, QPolygonF, QShowEvent

from nubshift.app.client.mirror import now_us
from nubshift.app.painting.canvas import line_height, text_width
from nubshift.app.painting.live_picture import LivePicture
from nubshift.app.painting.theme import BODY, SMALL, TITLE, faded, font
from nubshift.app.painting.timing import every
from nubshift.app.stage import Stage
from nubshift.app.trying.aim import Aim
from nubshift.app.trying.rounds import LAPS, SIZE, TARGETS, EightRound, Round, TargetRound
from nubshift.texts import _

HALF_WIDE = 31.0
"""Degrees from the middle of a range to its side."""
TRAIL = 1_500_000
"""µs of the aim's past that are shown."""
FOV = 90.0
"""Degrees across the horizon."""


class RangePicture(LivePicture):
    """A part of the view in degrees, with the aim as a square: it is what goes to the game."""

    def __init__(self, stage: Stage, aim: Aim) -> None:
        super().__init__(stage.look)
        self._stage = stage
        self.aim = aim
        self.setMinimumSize(340, 200)
        aim.moved.connect(self._moved)
        self._timer = every(self, 16, self._tick)

    def sizeHint(self) -> QSize:
        """Wide."""
        return QSize(740, 430)

    @property
    def scale(self) -> float:
        """Pixels a degree."""
        return min(self.width() / 2 / HALF_WIDE, (self.height() - 60) / 2 / 19.0)

    def place(self, x: float, y: float) -> QPointF:
        """Where degrees right and down of the middle lie."""
        return QPointF(self.width() / 2 + x * self.scale, self.height() / 2 + 6 + y * self.scale)

    def showEvent(self, event: QShowEvent | None) -> None:
        """Somebody looks."""
        self.aim.begin()

    def hideEvent(self, event: QHideEvent | None) -> None:
        """Nobody looks."""
        self._timer.stop()

    def _moved(self) -> None:
        if self.isVisible():
            self.update()

    def _tick(self) -> None:
        """Time passes."""

    def draw_aim(self, painter: QPainter) -> None:
        """The aim and where it was."""
        theme = self.theme
        course = self.aim.course
        last = course[-1][0] if course else 0
        points = [self.place(x, y) for t, x, y in course[-400:] if t > last - TRAIL]
        if len(points) > 1:
            half = len(points) // 2
            for part, alpha in ((points[: half + 1], 0.25), (points[half:], 0.7)):
                painter.setPen(QPen(faded(theme.output, alpha), 1))
                painter.drawPolyline(QPolygonF(part))
        at = self.place(self.aim.x, self.aim.y)
        painter.setPen(QPen(theme.output, 2))
        painter.setBrush(faded(theme.output, 0.35))
        painter.drawRoundedRect(QRectF(at.x() - 7, at.y() - 7, 14, 14), 3, 3)

    def draw_words(self, painter: QPainter, text: str) -> None:
        """A line in the middle, above."""
        painter.setPen(self.theme.ink)
        painter.setFont(font(BODY))
        painter.drawText(QRectF(0, 30, self.width(), line_height() + 4), Qt.AlignmentFlag.AlignCenter, text)


class ExercisePicture(RangePicture):
    """An exercise with rounds. `finished` carries the scores of one."""

    finished = pyqtSignal(dict)
    changed = pyqtSignal()
    round: Round

    def begin(self) -> None:
        """Ask for a round; asked again while one is on, it ends without a score."""
        if self.round.waiting or self.round.running:
            self.stop()
            return
        self.aim.begin()
        self.round.ask(max(now_us(), self.aim.t))
        self._timer.start()
        self.changed.emit()
        self.update()

    def stop(self) -> None:
        """No score this time."""
        self.round.asked = None
        self._timer.stop()
        self.changed.emit()
        self.update()

    def hideEvent(self, event: QHideEvent | None) -> None:
        """Leaving ends it."""
        self.stop()

    @property
    def on(self) -> bool:
        """Whether a round is asked for or under way."""
        return self.round.waiting or self.round.running

    def _moved(self) -> None:
        self.advance(self.aim.t)
        super()._moved()

    def _tick(self) -> None:
        self.advance(now_us())
        self.update()

    def advance(self, now: int) -> None:
        """Time passes up to `now`."""
        waited = self.round.waiting
        over = self.round.advance(now)
        if waited and self.round.running:
            self.aim.begin()
        if over:
            self._timer.stop()
            scores = self.scores()
            if scores:
                self.finished.emit(scores)
            self.changed.emit()

    def scores(self) -> dict[str, float]:
        """What the round that is over measured; empty if it measured nothing."""
        return {}

    def _waiting_words(self) -> str:
        left = max(0.0, (self.round.begins - self.round.now) / 1e6)
        return _("Ready… {left:.1f}").format(left=left)


class EightPicture(ExercisePicture):
    """The figure of eight with a mark that walks along it."""

    caption = _("Follow the round mark")

    def __init__(self, stage: Stage, aim: Aim) -> None:
        super().__init__(stage, aim)
        self.round: EightRound = EightRound()
        self.setAccessibleName(_("A figure of eight to follow"))

    def draw_still(self, painter: QPainter) -> None:
        """The way of the mark."""
        from nubshift.analysis.walk import HIGH, WIDE

        steps = 120
        way = [self.place(WIDE * sin(2 * pi * i / steps), HIGH * sin(4 * pi * i / steps)) for i in range(steps + 1)]
        painter.setPen(QPen(self.theme.line, 2, Qt.PenStyle.DashLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(QPolygonF(way))

    def draw_live(self, painter: QPainter) -> None:
        """The mark and the aim."""
        from nubshift.analysis.walk import mark_at

        theme = self.theme
        x, y = mark_at(self.round.seconds if self.round.running else 0.0)
        at = self.place(x, y)
        painter.setPen(QPen(faded(theme.quiet, 0.7), 1))
        if self.round.running:
            painter.drawLine(at, self.place(self.aim.x, self.aim.y))
        painter.setPen(QPen(theme.input, 2))
        painter.setBrush(faded(theme.input, 0.3))
        painter.drawEllipse(at, 11, 11)
        self.draw_aim(painter)
        if self.round.waiting:
            self.draw_words(painter, self._waiting_words())
        elif self.round.running:
            self.draw_words(painter, f"{max(0.0, LAPS * self.round.lap - self.round.seconds):.0f} s")

    def scores(self) -> dict[str, float]:
        """How far off, how late and how rough it was."""
        from nubshift.analysis.pursuit import pursuit_of

        begins = self.round.begins
        aims = [((t - begins) / 1e6, x, y) for t, x, y in self.aim.course if begins <= t <= self.round.now]
        found = pursuit_of(aims)
        if found is None:
            return {}
        return {"mean": found.mean, "worst": found.worst, "late": found.late, "rough": found.rough}


class TargetsPicture(ExercisePicture):
    """Targets at random places."""

    caption = _("Bring the square into the ring and hold it there for a moment")

    def __init__(self, stage: Stage, aim: Aim) -> None:
        super().__init__(stage, aim)
        self.round: TargetRound = TargetRound()
        self.setAccessibleName(_("Targets to reach"))

    def _moved(self) -> None:
        for t, x, y in self.aim.course[-40:]:
            if t > self.round.now:
                self.round.aim(t, x, y)
        super()._moved()

    def _tick(self) -> None:
        if self.round.running:
            self.round.aim(now_us(), self.aim.x, self.aim.y)
        super()._tick()

    def draw_still(self, painter: QPainter) -> None:
        """A cross in the middle."""
        painter.setPen(QPen(self.theme.line, 1))
        painter.drawLine(self.place(-2, 0), self.place(2, 0))
        painter.drawLine(self.place(0, -2), self.place(0, 2))

    def draw_live(self, painter: QPainter) -> None:
        """The target and the aim."""
        theme, round_ = self.theme, self.round
        if round_.running:
            at, radius = self.place(*round_.target), SIZE * self.scale
            painter.setPen(QPen(theme.input, 2))
            painter.setBrush(faded(theme.input, 0.2))
            painter.drawEllipse(at, radius, radius)
            if round_.dwelling:
                painter.setPen(QPen(theme.ink, 3))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                box = QRectF(at.x() - radius - 4, at.y() - radius - 4, 2 * radius + 8, 2 * radius + 8)
                painter.drawArc(box, 90 * 16, round(-360 * 16 * round_.dwelling))
            self.draw_words(painter, f"{len(round_.times)} of {TARGETS}")
        elif round_.waiting:
            self.draw_words(painter, self._waiting_words())
        self.draw_aim(painter)

    def scores(self) -> dict[str, float]:
        """How long a target takes."""
        return self.round.scores


class HorizonPicture(RangePicture):
    """A level land with posts every ten degrees, which turns as the game's view would."""

    caption = _("Turn, and compare: one post is ten degrees")

    def __init__(self, stage: Stage, aim: Aim) -> None:
        super().__init__(stage, aim)
        self.setAccessibleName(_("A horizon to turn against"))

    def draw_live(self, painter: QPainter) -> None:
        """Sky, land, posts and figures."""
        theme = self.theme
        box = QRectF(12, 34, self.width() - 24, self.height() - 46)
        scale = box.width() / FOV
        level = box.center().y() - self.aim.y * scale
        painter.save()
        painter.setClipRect(box)
        painter.fillRect(box, theme.ground)
        land = QRectF(box.left(), max(box.top(), level), box.width(), max(0.0, box.bottom() - max(box.top(), level)))
        painter.fillRect(land, theme.raised)
        painter.setFont(font(SMALL))
        for pitch in range(-80, 90, 10):
            y = level + pitch * scale
            painter.setPen(QPen(theme.quiet if not pitch else faded(theme.line, 0.7), 1))
            painter.drawLine(QPointF(box.left(), y), QPointF(box.right(), y))
            if pitch and box.top() < y < box.bottom():
                painter.setPen(theme.quiet)
                words = (_("{angle}° down") if pitch > 0 else _("{angle}° up")).format(angle=abs(pitch))
                painter.drawText(QRectF(box.left() + 6, y - 16, 80, 16), Qt.AlignmentFlag.AlignLeft, words)
        away = not box.top() < level - 40 < box.bottom()  # the posts are out of sight; their headings stand below
        first = floor((self.aim.x - FOV / 2) / 10) * 10
        for post in range(int(first), int(first + FOV + 20), 10):
            x = box.center().x() + (post - self.aim.x) * scale
            heading = post % 360
            painter.setPen(QPen(faded(theme.line, 0.7), 1))
            painter.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()))
            tall = 46 if heading % 90 == 0 else 26 if heading % 30 == 0 else 14
            painter.setPen(QPen(theme.ink if heading % 90 == 0 else theme.quiet, 2 if heading % 30 == 0 else 1))
            painter.drawLine(QPointF(x, level - tall), QPointF(x, level))
            if heading % 30 == 0:
                where = QRectF(x - 24, box.bottom() - 22 if away else level - tall - 18, 48, 16)
                painter.drawText(where, Qt.AlignmentFlag.AlignCenter, f"{heading}°")
        painter.restore()
        middle = box.center()
        painter.setPen(QPen(theme.output, 2))
        painter.setBrush(faded(theme.output, 0.35))
        painter.drawRoundedRect(QRectF(middle.x() - 7, middle.y() - 7, 14, 14), 3, 3)
        painter.setFont(font(TITLE, bold=True))
        painter.setPen(theme.ink)
        words = (_("{angle:.1f}° right") if self.aim.x >= 0 else _("{angle:.1f}° left")).format(angle=abs(self.aim.x))
        if abs(self.aim.y) >= 0.05:
            nod = _("{angle:.1f}° down") if self.aim.y > 0 else _("{angle:.1f}° up")
            words += "   " + nod.format(angle=abs(self.aim.y))
        wide = text_width(words, TITLE, True) + 28
        plate = QRectF(self.width() / 2 - wide / 2, 42, wide, 40)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(faded(theme.surface, 0.9))
        painter.drawRoundedRect(plate, 9, 9)
        painter.setPen(theme.ink)
        painter.drawText(plate, Qt.AlignmentFlag.AlignCenter, words)

    def level(self) -> None:
        """From zero again."""
        self.aim.begin()
        self.update()
