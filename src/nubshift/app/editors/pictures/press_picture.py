"""A press as a picture: a lane for the finger, one for each gesture, and the delays between (contract R6)."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen

from nubshift.app.editors.pictures.picture import PartPicture
from nubshift.app.painting.canvas import draw_focus, elided, line_height, text_width
from nubshift.app.painting.theme import SMALL, faded, font
from nubshift.app.stage import Stage
from nubshift.model import edits, parameters
from nubshift.model.delays import Delay, delays
from nubshift.model.edits import Bound
from nubshift.model.profile import Binding
from nubshift.model.sends import Sends
from nubshift.model.sentences import GESTURE_NAMES, sends_name
from nubshift.model.slots import TOGETHER
from nubshift.model.usage import combinations_of, look_up
from nubshift.texts import _

RIGHT = 10.0
GRAB = 8.0


SINCE = {"press": _("press"), "release": _("release"), "second press": _("second press")}
"""What a delay is counted from."""


class PressPicture(PartPicture):
    """The lanes of what is set. The handle on the time from which a press is a hold, and that of a double tap, are
    dragged; a lane that is clicked is edited below."""

    timed = pyqtSignal(str, int)
    settled = pyqtSignal()

    def __init__(self, stage: Stage, control: str) -> None:
        super().__init__(stage, control)
        self._grabbed = ""
        self.setMouseTracking(True)
        self.refresh()

    @property
    def bound(self) -> Bound | None:
        """What the button does in the layer shown, wherever it comes from."""
        studio = self.stage.studio
        if TOGETHER in self.control:
            names = set(self.control.split(TOGETHER))
            found_ = combinations_of(studio.profile, studio.selection.layer, min(names), studio.selection.seat)
            return next((together for _unused, together in found_ if set(together.controls) == names), None)
        found = look_up(studio.profile, studio.selection.layer, self.control, studio.selection.seat)
        return found.binding if found else None

    def parts(self) -> Sequence[str]:
        """The gestures set, and the one that is about to be."""
        bound = self.bound
        there = list(bound.gestures) if bound is not None else []
        if self.stage.selection.part in GESTURE_NAMES and self.stage.selection.part not in there:
            there.append(self.stage.selection.part)
        return [name for name in GESTURE_NAMES if name in there] or ["press"]

    def sends(self, part: str) -> Sends:
        """What a gesture sends, also where that falls through."""
        bound = self.bound
        return getattr(bound, part, ()) if bound is not None else ()

    @property
    def inherited(self) -> bool:
        """Whether a layer below says all this."""
        return self.bound is not None and edits.bound(self.stage.studio.profile, self.slot("press")) is None

    @property
    def _left(self) -> float:
        """Room for the names of the lanes."""
        return max(text_width(name, SMALL) for name in GESTURE_NAMES.values()) + 8

    @property
    def _pitch(self) -> float:
        return line_height(SMALL) + 11

    def place(self, part: str) -> QRectF:
        """A lane."""
        parts = self.parts()
        index = list(parts).index(part) + 1 if part in parts else 0
        return QRectF(0, index * self._pitch, self.width(), self._pitch)

    def refresh(self) -> None:
        """The profile or the selection changed."""
        foot = line_height(SMALL) + 4 if self._handles() else 4
        self.setFixedHeight(round((len(self.parts()) + 1) * self._pitch + foot))
        super().refresh()
        self.setAccessibleDescription(" ".join(self.sentences()))

    def sizeHint(self) -> QSize:
        """As wide as the inspector."""
        return QSize(240, self.height())

    # Times

    @property
    def hold_at(self) -> int:
        """From when on a press is a hold, in ms."""
        bound, habits = self.bound, self.stage.studio.profile.habits
        return bound.hold_at if bound is not None and bound.hold_at is not None else habits.hold_at

    @property
    def double_within(self) -> int:
        """Within which time the second press makes it a double tap, in ms."""
        bound, habits = self.bound, self.stage.studio.profile.habits
        return bound.double_within if bound is not None and bound.double_within is not None else habits.double_within

    def _has(self, gesture: str) -> bool:
        return gesture in self.parts()

    def _handles(self) -> dict[str, float]:
        """The times that can be dragged, by their field."""
        found: dict[str, float] = {}
        if self._has("hold") or self._has("tap"):
            found["hold_at"] = self.hold_at
        if self._has("double"):
            found["double_within"] = self.double_within
        return found

    @property
    def _span(self) -> float:
        """Milliseconds that the picture shows."""
        return max(500.0, 1.9 * self.hold_at, 1.9 * self.double_within if self._has("double") else 0)

    def _x(self, ms: float) -> float:
        return self._left + 16 + ms / self._span * (self.width() - self._left - RIGHT - 16)

    def _delays(self) -> dict[str, Delay]:
        bound = self.bound or Binding(self.control)
        studio = self.stage.studio
        names = self.control.split(TOGETHER)
        combined = len(names) > 1 or any(
            combinations_of(studio.profile, studio.selection.layer, names[0], studio.selection.seat)
        )
        return {delay.gesture: delay for delay in delays(bound, studio.profile.habits, combined)}

    def sentences(self) -> list[str]:
        """What each gesture costs, for those that cost anything."""
        profile = self.stage.studio.profile
        return [
            text
            for gesture, delay in self._delays().items()
            if (text := cost_of(delay, sends_name(profile, self.sends(gesture))))
        ]

    # Painting

    def _finger(self) -> list[tuple[float, float, bool]]:
        """Presses as (from, until, solid) in ms: a short one, its longer form dashed, and the second of a double."""
        span = self._span
        if self._has("double"):
            return [
                (0, min(self.hold_at, self.double_within) * 0.42, True),
                (self.double_within * 0.72, self.double_within * 0.72 + 90, True),
            ]
        if self._has("tap"):
            return [(0, self.hold_at * 0.55, True), (self.hold_at * 0.55, span * 0.86, False)]
        return [(0, span * 0.86, True)]

    def _bars(self, gesture: str) -> list[tuple[float, float]]:
        """When what a gesture sends is down in this picture, in ms."""
        pulse = max(30.0, self._span * 0.045)
        presses = self._finger()
        end = presses[-1][1]
        match gesture:
            case "press":
                return [(start, until) for start, until, solid in presses if solid or self._has("hold")]
            case "tap" if self._has("double"):
                return [(max(self.double_within, presses[-1][1]), max(self.double_within, presses[-1][1]) + pulse)]
            case "tap":
                return [(presses[0][1], presses[0][1] + pulse)]
            case "hold":
                return [(self.hold_at, max(end, self.hold_at + pulse))]
            case "double":
                return [(presses[-1][0], end)]
            case _:
                return [(end, end + pulse)]

    def draw(self, painter: QPainter) -> None:
        """The lanes, and the handles of the times."""
        theme = self.theme
        pitch = self._pitch
        painter.setFont(font(SMALL))
        self._lane(painter, 0, _("finger"))
        for start, until, solid in self._finger():
            rect = QRectF(self._x(start), 5, self._x(until) - self._x(start), pitch - 9)
            painter.setPen(QPen(theme.input, 1, Qt.PenStyle.SolidLine if solid else Qt.PenStyle.DashLine))
            painter.setBrush(faded(theme.input, 0.3) if solid else Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(rect, 6, 6)
        for index, gesture in enumerate(self.parts(), 1):
            if gesture == self.current and len(self.parts()) > 1:
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(faded(theme.raised, 0.8))
                painter.drawRoundedRect(self.place(gesture).adjusted(-2, 1, 2, -1), 5, 5)
            self._lane(painter, index, GESTURE_NAMES[gesture])
            self._draw_gesture(painter, gesture, index)
        self._draw_handles(painter)
        if self.hasFocus():
            draw_focus(painter, self.place(self.current).adjusted(0, 0, 0, 0), theme, 6)

    def _lane(self, painter: QPainter, index: int, name: str) -> None:
        theme, pitch = self.theme, self._pitch
        base = round(index * pitch + pitch - 4) + 0.5
        painter.setPen(theme.quiet)
        text = elided(name, self._left - 4, SMALL)
        painter.drawText(QRectF(2, index * pitch, self._left - 2, pitch), Qt.AlignmentFlag.AlignVCenter, text)
        painter.setPen(QPen(theme.line, 1))
        painter.drawLine(QPointF(self._left, base), QPointF(self.width(), base))

    def _draw_gesture(self, painter: QPainter, gesture: str, index: int) -> None:
        theme, pitch = self.theme, self._pitch
        sends = self.sends(gesture)
        text = sends_name(self.stage.studio.profile, sends) if sends else _("Unassigned")
        if self.listening(gesture):
            text = _("Press a key")
        for start, until in self._bars(gesture):
            rect = QRectF(self._x(start), index * pitch + 4, max(4.0, self._x(until) - self._x(start)), pitch - 8)
            wide = rect.width() > min(50, text_width(text, SMALL) + 12)
            faint = self.inherited
            if sends and not faint:
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(theme.output)
            elif sends:
                painter.setPen(QPen(theme.output, 1, Qt.PenStyle.DashLine))
                painter.setBrush(faded(theme.output, 0.15))
            else:
                painter.setPen(QPen(theme.quiet, 1, Qt.PenStyle.DashLine))
                painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(rect, 3, 3)
            if wide:
                painter.setPen(theme.on_output if sends and not faint else theme.quiet)
                where = rect.adjusted(7, 0, -5, 0)
            else:
                painter.setPen(theme.ink if sends else theme.quiet)
                room = self.width() - rect.right() - 6
                where = QRectF(rect.right() + 5, rect.top(), room, rect.height())
                if room < 40:
                    where = QRectF(self._left, rect.top(), rect.left() - self._left - 6, rect.height())
            painter.drawText(where, Qt.AlignmentFlag.AlignVCenter, elided(text, where.width(), SMALL))
            self._draw_gap(painter, gesture, start, index)

    def _draw_gap(self, painter: QPainter, gesture: str, start: float, index: int) -> None:
        """The time that passes before it goes out, as a measured gap."""
        since = self._finger()[-1][0] if gesture == "double" else 0.0
        if gesture in ("press", "release") or start - since < 20:
            return
        y = index * self._pitch + self._pitch / 2
        left, right = self._x(since), self._x(start) - 3
        if right - left < 14:
            return
        painter.setPen(QPen(self.theme.quiet, 1))
        painter.drawLine(QPointF(left, y), QPointF(right, y))
        for x in (left, right):
            painter.drawLine(QPointF(x, y - 3), QPointF(x, y + 3))

    def _draw_handles(self, painter: QPainter) -> None:
        theme = self.theme
        bottom = (len(self.parts()) + 1) * self._pitch
        handles = sorted(self._handles().items(), key=lambda item: item[1])
        for number, (field, ms) in enumerate(handles):
            x = self._x(ms)
            strong = field == self._grabbed
            painter.setPen(QPen(theme.ink if strong else theme.quiet, 1, Qt.PenStyle.DotLine))
            painter.drawLine(QPointF(x, 4), QPointF(x, bottom))
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.input)
            painter.drawEllipse(QPointF(x, bottom + 1), 4.5, 4.5)
            text = (_("hold {ms:.0f} ms") if field == "hold_at" else _("double tap {ms:.0f} ms")).format(ms=ms)
            before = len(handles) > 1 and number == 0  # two of them are named on their outer sides
            if not before and text_width(text, SMALL) + 10 > self.width() - x:
                text = _("{ms:.0f} ms").format(ms=ms)  # the line says of what
            width = text_width(text, SMALL) + 2
            left = max(2.0, x - width - 8) if before else min(x + 8, self.width() - width)
            painter.setPen(theme.ink if strong else theme.quiet)
            where = QRectF(left, bottom - 4, width, line_height(SMALL) + 4)
            painter.drawText(where, Qt.AlignmentFlag.AlignVCenter, text)

    # Handling

    def _handle_at(self, at: QPointF) -> str:
        near = [(abs(self._x(ms) - at.x()), field) for field, ms in self._handles().items()]
        best = min(near, default=(1e9, ""))
        return best[1] if best[0] <= GRAB else ""

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take a handle, else select a lane."""
        if event is None:
            return
        self._grabbed = self._handle_at(event.position())
        if not self._grabbed:
            super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Drag the handle."""
        if event is None:
            return
        if not self._grabbed:
            near = self._handle_at(event.position())
            self.setCursor(Qt.CursorShape.SplitHCursor if near else Qt.CursorShape.ArrowCursor)
            return
        ms = (event.position().x() - self._x(0)) / (self._x(1) - self._x(0))
        self._set(self._grabbed, ms)

    def _set(self, field: str, ms: float) -> None:
        parameter = parameters.HOLD_AT if field == "hold_at" else parameters.DOUBLE_WITHIN
        self.timed.emit(field, round(parameter.clamp(round(ms / parameter.step) * parameter.step)))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """The drag is one edit."""
        if self._grabbed:
            self._grabbed = ""
            self.settled.emit()
            self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """With Alt, left and right change the time of a hold; with Alt and Shift that of a double tap."""
        step = {Qt.Key.Key_Left: -10, Qt.Key.Key_Right: 10}.get(Qt.Key(event.key()), 0) if event is not None else 0
        if event is not None and step and event.modifiers() & Qt.KeyboardModifier.AltModifier:
            field = "double_within" if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else "hold_at"
            if field in self._handles():
                self._set(field, self._handles()[field] + step)
                self.settled.emit()
        else:
            super().keyPressEvent(event)


def cost_of(delay: Delay, name: str) -> str:
    """What a gesture that sends this costs, in a sentence; empty for nothing."""
    if delay.at_most:
        late = (
            f"{delay.at_least}"
            if delay.at_least == delay.at_most
            else _("up to {at_most}").format(at_most=delay.at_most)
        )
        return _("{name} is sent {late} ms after the {since}: {because}.").format(
            name=name, late=late, since=SINCE[delay.since], because=delay.because
        )
    if delay.gesture == "tap":
        return _("{name} is sent on release: {because}.").format(name=name, because=delay.because)
    return ""
