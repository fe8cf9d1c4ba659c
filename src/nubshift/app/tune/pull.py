"""The pull of a trigger, or the way of a lone axis, large: where it presses and lets go, and its depths (N30, N40).

An axis that goes both ways has rest in the middle, and every threshold on both sides.
"""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen

from nubshift.app.painting.canvas import draw_focus, elided, line_height, text_width
from nubshift.app.painting.caps import cap_height, cap_width, draw_caps
from nubshift.app.painting.live_picture import LivePicture
from nubshift.app.painting.theme import SMALL, blend, faded, font
from nubshift.app.tune.thresholds import Threshold, parts_of
from nubshift.app.tune.tuner import Tuner
from nubshift.model.controls import Kind, kind_of
from nubshift.model.sentences import keys_of, sends_name
from nubshift.texts import _

BAR = 62.0
GRAB = 9.0


class PullPicture(LivePicture):
    """A wide bar that fills with the finger. Thresholds are dragged; below each, hatched, is where it ends again."""

    caption = _("Trigger")

    def __init__(self, tuner: Tuner) -> None:
        super().__init__(tuner.stage.look)
        self._tuner = tuner
        self._grabbed = -1
        self._chosen = 0
        self._steering = False
        self.deepest: float | None = None
        self.setMinimumHeight(160)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(_("Trigger"))
        tuner.moved.connect(self.update)
        tuner.control_changed.connect(self._begin)
        tuner.refreshed.connect(self._refreshed)
        tuner.stage.live.held_changed.connect(self.refresh)

    def _begin(self) -> None:
        """Another control, or another profile: the keyboard is at the first handle."""
        self._chosen = 0

    def _refreshed(self) -> None:
        words = ", ".join(threshold.text() for threshold in self.thresholds)
        self.setAccessibleDescription(
            f"{self._tuner.stage.selection.names.title(self._tuner.control)}: {words}" if self._tuner.control else ""
        )
        self.caption = _("Trigger") if kind_of(self._tuner.control) is Kind.TRIGGER else _("Travel")
        self.refresh()

    def show_deepest(self, depth: float | None) -> None:
        """How deep it was pulled when that was measured."""
        self.deepest = depth
        self.refresh()

    def sizeHint(self) -> QSize:
        """Wide."""
        return QSize(440, 300)

    @property
    def thresholds(self) -> list[Threshold]:
        """What can be taken hold of."""
        return self._tuner.thresholds if self._tuner.control else []

    @property
    def bar(self) -> QRectF:
        """The way of the finger, from rest at the left; from one end to the other where it goes both ways."""
        return QRectF(28, max(64.0, self.height() * 0.32), self.width() - 56, BAR)

    def across(self, depth: float) -> float:
        """Where a depth lies; one below 0 is on the lower side."""
        bar = self.bar
        return bar.center().x() + depth * bar.width() / 2 if self._both else bar.left() + depth * bar.width()

    def depth_at(self, x: float) -> float:
        """The other way round."""
        bar = self.bar
        return (x - bar.center().x()) * 2 / bar.width() if self._both else (x - bar.left()) / bar.width()

    @property
    def _both(self) -> bool:
        return self._tuner.two_sided

    @property
    def _sides(self) -> tuple[int, ...]:
        return (1, -1) if self._both else (1,)

    # Painting

    def draw_still(self, painter: QPainter) -> None:
        """Bar, bands, thresholds and words."""
        theme, bar = self.theme, self.bar
        painter.setPen(QPen(theme.line, 1))
        painter.setBrush(theme.ground)
        painter.drawRoundedRect(bar, 8, 8)
        thresholds = self.thresholds
        if self._tuner.control:
            self._draw_parts(painter, thresholds)
        painter.setFont(font(SMALL))
        painter.setPen(theme.quiet)
        below = QRectF(bar.left(), bar.bottom() + 34, bar.width(), line_height(SMALL))
        if self._both:
            painter.drawText(below, Qt.AlignmentFlag.AlignHCenter, _("released"))
        painter.drawText(below, Qt.AlignmentFlag.AlignLeft, _("fully in") if self._both else _("released"))
        painter.drawText(below, Qt.AlignmentFlag.AlignRight, _("fully in"))
        if self.deepest is not None:
            painter.setPen(QPen(theme.quiet, 1.2, Qt.PenStyle.DashLine))
            painter.drawLine(
                QPointF(self.across(self.deepest), bar.top() - 6), QPointF(self.across(self.deepest), bar.bottom() + 6)
            )
        for index, threshold in enumerate(thresholds):
            held = index == self._grabbed or (self.hasFocus() and index == self._chosen)
            for side in self._sides:
                self._draw_threshold(painter, threshold, side, held)
        if self.hasFocus():
            draw_focus(painter, QRectF(self.rect()), theme, 12)

    def _draw_parts(self, painter: QPainter, thresholds: list[Threshold]) -> None:
        """What each part of the way does."""
        theme, bar = self.theme, self.bar
        binding, profile = self._tuner.binding, self._tuner.profile
        dead = thresholds[0].depth if thresholds else 0.0
        begin = self.across(-dead) if self._both else bar.left() + 1
        self._hatch(painter, QRectF(begin, bar.top() + 1, self.across(dead) - begin, bar.height() - 2))
        if self._both:
            painter.setPen(QPen(theme.line, 1))
            painter.drawLine(QPointF(self.across(0), bar.top()), QPointF(self.across(0), bar.bottom()))
        for low, high, what in parts_of(binding, thresholds, self._both):
            left, right = self.across(low), self.across(high)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(blend(theme.input, theme.ground, 0.10 + 0.22 * max(abs(low), abs(high))))
            painter.drawRoundedRect(QRectF(left, bar.top() + 1, right - left - 1, bar.height() - 2), 4, 4)
            keys = keys_of(profile, what)[:2]
            width = sum(cap_width(key, self._tuner.stage.label_of(key)) + 5 for key in keys)
            if keys and width < right - left:
                draw_caps(
                    painter,
                    (left + right - width) / 2 + 2,
                    bar.center().y() - cap_height() / 2,
                    self._tuner.stage.caps(keys),
                    theme,
                )
            painter.setPen(theme.ink)
            painter.setFont(font(SMALL))
            name = elided(sends_name(profile, what) if what else _("Unassigned"), right - left - 8, SMALL)
            painter.drawText(
                QRectF(left, bar.top() - line_height(SMALL) - 8, right - left, line_height(SMALL)),
                Qt.AlignmentFlag.AlignCenter,
                name,
            )

    def _hatch(self, painter: QPainter, rect: QRectF) -> None:
        if rect.width() <= 0:
            return
        painter.save()
        painter.setClipRect(rect)
        painter.setPen(QPen(faded(self.theme.quiet, 0.35), 1))
        x = rect.left() - rect.height()
        while x < rect.right():
            painter.drawLine(QPointF(x, rect.bottom()), QPointF(x + rect.height(), rect.top()))
            x += 6
        painter.restore()

    def _draw_threshold(self, painter: QPainter, threshold: Threshold, side: int, held: bool) -> None:
        theme, bar = self.theme, self.bar
        x = self.across(side * threshold.depth)
        if threshold.until < threshold.depth:
            ends = self.across(side * threshold.until)
            painter.fillRect(QRectF(ends, bar.top() + 1, x - ends, bar.height() - 2), faded(theme.output, 0.22))
        painter.setPen(QPen(theme.ink if held else theme.input, 2))
        painter.drawLine(QPointF(x, bar.top() - 2), QPointF(x, bar.bottom() + 8))
        painter.setBrush(theme.surface)
        painter.drawEllipse(QPointF(x, bar.bottom() + 12), 6, 6)
        painter.setFont(font(SMALL))
        painter.setPen(theme.ink)
        text = threshold.text()
        width = text_width(text, SMALL) + 8
        left = min(max(bar.left() - 10, x - width / 2), bar.right() - width + 10)
        painter.drawText(QRectF(left, bar.bottom() + 20, width, line_height(SMALL)), Qt.AlignmentFlag.AlignCenter, text)

    def draw_live(self, painter: QPainter) -> None:
        """How deep it is pulled now."""
        last = self._tuner.last
        depth = last.raw[0] if last is not None else self._tuner.stage.live.depth(self._tuner.control or "south")
        bar, theme = self.bar, self.theme
        rest, here = self.across(0.0), self.across(self._kept_in(depth))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(faded(theme.input, 0.5))
        painter.drawRoundedRect(QRectF(min(rest, here), bar.center().y() + 18, abs(here - rest), 9), 4, 4)
        painter.setBrush(theme.input)
        painter.drawEllipse(QPointF(here, bar.center().y() + 22.5), 7, 7)

    def _kept_in(self, depth: float) -> float:
        return min(1.0, max(-1.0 if self._both else 0.0, depth))

    # Handling

    def _at(self, at: QPointF) -> int:
        if not self.bar.top() - 8 <= at.y() <= self.bar.bottom() + 40:
            return -1
        near = [
            (abs(at.x() - self.across(side * t.depth)), index)
            for index, t in enumerate(self.thresholds)
            for side in self._sides
        ]
        off, index = min(near, default=(1e9, -1))
        return index if off <= GRAB else -1

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take a threshold; beside all, pull the simulated trigger."""
        if event is None:
            return
        self._grabbed = self._at(event.position())
        self._steering = self._grabbed < 0
        if self._steering:
            self._steer(event)
        else:
            self._chosen = self._grabbed
            self.refresh()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Drag it."""
        if event is None:
            return
        if self._steering:
            self._steer(event)
        elif self._grabbed >= 0:
            self.move_to(self._grabbed, abs(self.depth_at(event.position().x())))
        else:
            near = self._at(event.position()) >= 0
            self.setCursor(Qt.CursorShape.SplitHCursor if near else Qt.CursorShape.ArrowCursor)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Let go; a drag is one step of undo."""
        if self._steering:
            self._steering = False
            self._tuner.stage.steering.put(self._tuner.control, 0.0, 0.0, self._tuner.stage.selection.seat)
        elif self._grabbed >= 0:
            self._grabbed = -1
            self._tuner.stage.document.history.settle()
            self.refresh()

    def _steer(self, event: QMouseEvent) -> None:
        depth = self._kept_in(self.depth_at(event.position().x()))
        self._tuner.stage.steering.put(self._tuner.control, depth, 0.0, self._tuner.stage.selection.seat)

    def move_to(self, index: int, depth: float) -> None:
        """Put a threshold at a depth, between its neighbours."""
        thresholds = self.thresholds
        threshold = thresholds[index]
        low = max(threshold.parameter.low, thresholds[index - 1].depth + 0.02 if index else 0.0)
        high = min(threshold.parameter.high, thresholds[index + 1].depth - 0.02 if index + 1 < len(thresholds) else 1.0)
        kept = threshold.parameter.clamp(round(min(high, max(low, depth)) * 100) / 100)
        title = f"{threshold.word.capitalize()} {threshold.parameter.text(kept)}"
        if threshold.field.startswith("band:"):
            self._tuner.set_band(title, index, kept)
        else:
            self._tuner.set_feel(title, threshold.field, **{threshold.field: kept})

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up and down choose a threshold, left and right move it by a hundredth."""
        thresholds = self.thresholds
        if event is None or not thresholds:
            return
        self._chosen = min(self._chosen, len(thresholds) - 1)
        match event.key():
            case Qt.Key.Key_Up | Qt.Key.Key_Down:
                self._chosen = (self._chosen + (1 if event.key() == Qt.Key.Key_Up else -1)) % len(thresholds)
                self.refresh()
            case Qt.Key.Key_Left | Qt.Key.Key_Right:
                step = 0.01 if event.key() == Qt.Key.Key_Right else -0.01
                self.move_to(self._chosen, thresholds[self._chosen].depth + step)
                self._tuner.stage.document.history.settle()
            case _:
                super().keyPressEvent(event)
