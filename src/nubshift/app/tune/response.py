"""The response curve, large: points dragged, typed and pasted, the least step, and the live point on it (N41, N43)."""

from __future__ import annotations

from collections.abc import Callable
from itertools import pairwise
from math import hypot

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QGuiApplication, QKeyEvent, QKeySequence, QMouseEvent, QPainter, QPen, QPolygonF

from nubshift.app.painting.canvas import draw_focus, line_height, text_width
from nubshift.app.painting.live_picture import LivePicture
from nubshift.app.painting.theme import SMALL, faded, font
from nubshift.app.tune.course import travel
from nubshift.app.tune.tuner import Tuner
from nubshift.feel.curve import LINEAR, curve
from nubshift.feel.response import number
from nubshift.model import parameters as p
from nubshift.model.profile import CurvePoints
from nubshift.texts import _

GRAB = 10.0
GAP = 0.02
"""Least distance of two points sideways."""
STEPS = 60
MOST = 16


class ResponsePicture(LivePicture):
    """The curve: how far out, from rest to full tilt, against what goes out. The first point carries the least step.

    `full` says what full tilt gives, `now` what a share of it is, in words.
    """

    caption = _("Response curve")

    def __init__(self, tuner: Tuner, full: Callable[[], str], now: Callable[[float], str]) -> None:
        super().__init__(tuner.stage.look)
        self._tuner = tuner
        self._full, self._now = full, now
        self.chosen = 0
        self._grabbed = -1
        self.setMinimumSize(190, 180)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(_("Response curve"))
        self.setToolTip(
            _(
                "Drag a point, double-click to add one, Delete to remove it.\nCtrl+C and Ctrl+V copy and "
                "paste the points."
            )
        )
        tuner.moved.connect(self.update)
        tuner.control_changed.connect(self._begin)
        tuner.refreshed.connect(self._refreshed)

    def _begin(self) -> None:
        """Another control, or another profile: the keyboard is at the first handle."""
        self.chosen = 0

    def _refreshed(self) -> None:
        words = "; ".join(_("{x:.0%} gives {y:.0%}").format(x=x, y=y) for x, y in self.points)
        self.setAccessibleDescription(
            _("Points: {words}. Minimum output {least:.0%}").format(words=words, least=self._least)
        )
        self.chosen = min(self.chosen, len(self.points) - 1)
        self.refresh()

    def sizeHint(self) -> QSize:
        """A little higher than wide."""
        return QSize(290, 420)

    @property
    def points(self) -> CurvePoints:
        """The points of the curve."""
        return self._tuner.feel.curve or LINEAR

    @property
    def _least(self) -> float:
        return number(self._tuner.feel.least_step)

    @property
    def box(self) -> QRectF:
        """Where the curve lies: a square, or nearly."""
        words = line_height(SMALL) + 8
        room = QRectF(22, 34, self.width() - 44, self.height() - 34 - words - 14)
        side = min(room.width() * 1.3, room.height())
        return QRectF(room.left(), room.top() + (room.height() - side) / 2, room.width(), side)

    def place(self, x: float, y: float) -> QPointF:
        """Where a point of the curve lies; the least step lifts all but what is dead."""
        box, least = self.box, self._least
        return QPointF(box.left() + x * box.width(), box.bottom() - (least + (1 - least) * y) * box.height())

    def value_at(self, at: QPointF) -> tuple[float, float]:
        """The point of the curve at a place, without the least step."""
        box, least = self.box, self._least
        out = (box.bottom() - at.y()) / box.height()
        return (at.x() - box.left()) / box.width(), (out - least) / (1 - least)

    # Painting

    def draw_still(self, painter: QPainter) -> None:
        """Frame, curve, points and words."""
        theme, box = self.theme, self.box
        painter.setPen(QPen(theme.line, 1))
        painter.setBrush(theme.ground)
        painter.drawRoundedRect(box, 4, 4)
        painter.setPen(QPen(faded(theme.line, 0.8), 1, Qt.PenStyle.DashLine))
        painter.drawLine(box.bottomLeft(), box.topRight())
        value = curve(self.points)
        line = QPolygonF([self.place(i / STEPS, value(i / STEPS)) for i in range(STEPS + 1)])
        painter.setPen(QPen(theme.output, 2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(line)
        for index, (x, y) in enumerate(self.points):
            at = self.place(x, y)
            painter.setBrush(theme.output if index == self.chosen else theme.surface)
            painter.setPen(QPen(theme.output, 2))
            painter.drawRoundedRect(QRectF(at.x() - 5, at.y() - 5, 10, 10), 2, 2)
        painter.setFont(font(SMALL))
        painter.setPen(theme.quiet)
        height = line_height(SMALL)
        painter.drawText(
            QRectF(box.left() + 6, box.top() + 4, box.width() - 12, height), Qt.AlignmentFlag.AlignLeft, self._full()
        )
        below = QRectF(box.left(), box.bottom() + 6, box.width(), height)
        long = text_width("dead zone ends full tilt ", SMALL) <= box.width()
        painter.drawText(below, Qt.AlignmentFlag.AlignLeft, _("dead zone ends") if long else _("rest"))
        painter.drawText(below, Qt.AlignmentFlag.AlignRight, _("full tilt"))
        if self._least:
            where = QRectF(box.left() + 6, box.top() + 4 + height, box.width() - 12, height)
            painter.drawText(
                where,
                Qt.AlignmentFlag.AlignLeft,
                _("minimum output {least_step_text}").format(least_step_text=p.LEAST_STEP.text(self._least)),
            )
        if self.hasFocus():
            draw_focus(painter, QRectF(self.rect()), theme, 12)

    def draw_live(self, painter: QPainter) -> None:
        """Where the stick is on the curve."""
        last = self._tuner.last
        feel = self._tuner.feel
        if last is None:
            return
        along = travel(feel, last.raw[0], last.raw[1])
        if not along:
            return
        theme, box = self.theme, self.box
        at = self.place(along, curve(self.points)(along))
        painter.setPen(QPen(faded(theme.input, 0.7), 1))
        painter.drawLine(QPointF(at.x(), box.bottom()), at)
        painter.setPen(QPen(faded(theme.output, 0.7), 1))
        painter.drawLine(at, QPointF(box.left(), at.y()))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.input)
        painter.drawEllipse(at, 5.5, 5.5)
        words = self._now(hypot(*last.out))
        painter.setFont(font(SMALL))
        painter.setPen(theme.output)
        height = line_height(SMALL)
        clear = box.top() + (2.4 if self._least else 1.4) * height  # of the words that stand at the top
        below = max(at.y() + 3, clear)
        where = QRectF(
            box.left() + 6, at.y() - height - 2 if at.y() - height - 2 > clear else below, box.width() - 12, height
        )
        painter.drawText(where, Qt.AlignmentFlag.AlignLeft, words)

    # Handling

    def _point_at(self, at: QPointF) -> int:
        near = [
            (hypot(at.x() - self.place(*point).x(), at.y() - self.place(*point).y()), index)
            for index, point in enumerate(self.points)
        ]
        off, index = min(near)
        return index if off <= GRAB else -1

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take a point; the right button removes it."""
        if event is None:
            return
        index = self._point_at(event.position())
        if index < 0:
            return
        self.chosen = index
        self.refresh()
        self._tuner.refreshed.emit()
        if event.button() == Qt.MouseButton.RightButton:
            self.remove()
        else:
            self._grabbed = index

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Drag the point."""
        if event is None or self._grabbed < 0:
            return
        box = self.box
        if self._grabbed == 0 and self.points[0][1] == 0.0:
            self.set_least((box.bottom() - event.position().y()) / box.height())
        else:
            self.put(self._grabbed, *self.value_at(event.position()))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Let it go; the drag is one step of undo."""
        if self._grabbed >= 0:
            self._grabbed = -1
            self._tuner.stage.document.history.settle()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """Another point here."""
        if event is not None and self._point_at(event.position()) < 0 and self.box.contains(event.position()):
            self.add(*self.value_at(event.position()))

    def set_least(self, share: float) -> None:
        """Another least step."""
        kept = p.LEAST_STEP.clamp(round(share * 200) / 200)
        self._tuner.set_feel(
            _("Minimum output {least_step_text}").format(least_step_text=p.LEAST_STEP.text(kept)),
            "least_step",
            least_step=kept,
        )

    def put(self, index: int, x: float, y: float) -> None:
        """Put a point somewhere, between its neighbours."""
        points = list(self.points)
        before, after = points[index - 1] if index else None, points[index + 1] if index + 1 < len(points) else None
        low = before[0] + GAP if before else 0.0
        high = after[0] - GAP if after else 1.0
        x = points[index][0] if before is None or after is None else min(high, max(low, round(x * 100) / 100))
        y = min(after[1] if after else 1.0, max(before[1] if before else 0.0, round(y * 100) / 100))
        points[index] = (round(x, 4), round(y, 4))
        self._set(_("Point at {x:.0%} gives {y:.0%}").format(x=x, y=y), points, f"curve:{index}")

    def add(self, x: float, y: float) -> None:
        """One more point."""
        points = self.points
        at = next((index for index, point in enumerate(points) if point[0] > x), 0)
        if not at > 0 or len(points) >= MOST or min(x - points[at - 1][0], points[at][0] - x) < GAP:
            return
        y = min(points[at][1], max(points[at - 1][1], y))
        self.chosen = at
        self._set(_("Add point"), [*points[:at], (round(x, 2), round(y, 2)), *points[at:]])

    def remove(self) -> None:
        """The chosen point goes, unless it is an end."""
        points = self.points
        if 0 < self.chosen < len(points) - 1:
            self._set(_("Delete point"), [*points[: self.chosen], *points[self.chosen + 1 :]])

    def _set(self, title: str, points: list[tuple[float, float]], part: str = "") -> None:
        self._tuner.set_feel(title, part, curve=tuple(points))

    def settle(self) -> None:
        """What was done so far is one step of undo."""
        self._tuner.stage.document.history.settle()

    def copy(self) -> None:
        """The points as text."""
        clipboard = QGuiApplication.clipboard()
        if clipboard is not None:
            clipboard.setText("\n".join(f"{x:g} {y:g}" for x, y in self.points))

    def paste(self) -> None:
        """Points from text: two numbers a line, or with commas."""
        clipboard = QGuiApplication.clipboard()
        points = points_in(clipboard.text() if clipboard is not None else "")
        if points is None:
            self._tuner.stage.document.noticed.emit(
                "info", _("There are no points to paste. Copy lines like “0.5 0.28” first, from 0 to 1.")
            )
        else:
            self._set(_("Paste points"), list(points))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Page keys choose a point, arrows move it, Insert adds, Delete removes."""
        if event is None:
            return
        arrows = {
            Qt.Key.Key_Left: (-0.01, 0.0),
            Qt.Key.Key_Right: (0.01, 0.0),
            Qt.Key.Key_Up: (0.0, 0.01),
            Qt.Key.Key_Down: (0.0, -0.01),
        }
        points = self.points
        if event.matches(QKeySequence.StandardKey.Copy):
            self.copy()
        elif event.matches(QKeySequence.StandardKey.Paste):
            self.paste()
        elif event.key() in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown):
            self.chosen = (self.chosen + (1 if event.key() == Qt.Key.Key_PageDown else -1)) % len(points)
            self._tuner.refreshed.emit()
        elif event.key() in arrows:
            dx, dy = arrows[Qt.Key(event.key())]
            x, y = points[self.chosen]
            if self.chosen == 0 and y == 0.0 and dy:
                self.set_least(self._least + dy)
            else:
                self.put(self.chosen, x + dx, y + dy)
            self._tuner.stage.document.history.settle()
        elif event.key() == Qt.Key.Key_Delete:
            self.remove()
        elif event.key() == Qt.Key.Key_Insert and self.chosen + 1 < len(points):
            (x0, _unused), (x1, _unused) = points[self.chosen], points[self.chosen + 1]
            self.add((x0 + x1) / 2, curve(points)((x0 + x1) / 2))
        else:
            super().keyPressEvent(event)


def points_in(text: str) -> CurvePoints | None:
    """Curve points in a text: pairs of numbers between 0 and 1, rising from x = 0 to x = 1; None if it holds none."""
    words = text.replace(";", " ").replace(",", " ").replace("\n", " ").split()
    try:
        numbers = [float(word) for word in words]
    except ValueError:
        return None
    points = tuple(zip(numbers[::2], numbers[1::2], strict=False))
    rising = all(b[0] > a[0] and b[1] >= a[1] for a, b in pairwise(points))
    inside = all(0 <= value <= 1 for value in numbers)
    good = len(numbers) % 2 == 0 and 2 <= len(points) <= MOST and rising and inside
    return points if good and points[0][0] == 0 and points[-1][0] == 1 else None
