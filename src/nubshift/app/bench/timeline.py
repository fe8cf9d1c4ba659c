"""A macro as a timeline: its steps in their order along the time, and a lane for each thing that it holds (N31)."""

from __future__ import annotations

from collections.abc import Sequence
from typing import assert_never

from msgspec.structs import replace
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen

from nubshift.app.bench.picture import BenchPicture
from nubshift.app.document import subject
from nubshift.app.painting.canvas import draw_focus, elided, line_height, text_width
from nubshift.app.painting.caps import cap_height, draw_caps
from nubshift.app.painting.theme import SMALL, faded, font
from nubshift.app.stage import Stage
from nubshift.model import edits
from nubshift.model.profile import Macro, MacroPress, MacroRelease, MacroStep, MacroTap, MacroWait
from nubshift.model.sends import Send, Sends, SendText
from nubshift.model.sentences import keys_of, send_name, sends_name
from nubshift.model.slots import index_of
from nubshift.texts import _

PER_MS = 0.16
GRAB = 6.0
TYPED_MS = 30
"""How long one typed character takes."""


class MacroTimeline(BenchPicture):
    """Steps in a row, as wide as they last; below, what is held. The right edge of a wait or a tap is dragged."""

    def __init__(self, stage: Stage, macro: str) -> None:
        super().__init__(stage, subject.macro(macro))
        self._id = macro
        self._edge = -1
        self.setMouseTracking(True)
        self.refresh()

    @property
    def macro(self) -> Macro:
        """The macro, or an empty one while it is being taken out."""
        return self.stage.studio.profile.macro(self._id) or Macro(self._id, "", (MacroWait(100),))

    @property
    def step(self) -> MacroStep:
        """The step chosen."""
        return self.macro.steps[min(self.at, len(self.macro.steps) - 1)]

    def parts(self) -> Sequence[str]:
        """The steps."""
        return [f"steps[{index}].what" for index in range(len(self.macro.steps))]

    def sends(self, part: str) -> Sends:
        """What a step holds; a wait holds nothing."""
        steps, index = self.macro.steps, index_of(part)
        return getattr(steps[index], "what", ()) if 0 <= index < len(steps) else ()

    # Times and places

    def lasts(self, step: MacroStep) -> int:
        """How long a step takes, in ms."""
        match step:
            case MacroWait(ms):
                return ms
            case MacroTap(what, ms):
                typed = sum(len(send.text) * TYPED_MS for send in what if isinstance(send, SendText))
                return typed or (ms if ms is not None else self.stage.studio.profile.habits.pulse)
            case MacroPress() | MacroRelease():
                return 0
            case never:
                assert_never(never)

    def _width(self, step: MacroStep) -> float:
        return max(self._least, min(420.0, self.lasts(step) * PER_MS + 30))

    def _lefts(self) -> list[float]:
        lefts, x = [], self._left
        for step in self.macro.steps:
            lefts.append(x)
            x += self._width(step)
        return [*lefts, x]

    @property
    def _left(self) -> float:
        """Room for the names of what is held."""
        return text_width(_("mouse by 140, 0"), SMALL) + 16

    @property
    def _least(self) -> float:
        """A step can't be narrower than what it says."""
        return text_width(_("wait 120 ms"), SMALL) + 18

    @property
    def _head(self) -> float:
        return cap_height() + line_height(SMALL) + 20

    @property
    def _pitch(self) -> float:
        return line_height(SMALL) + 12

    def place(self, part: str) -> QRectF:
        """The block of a step."""
        lefts, index = self._lefts(), max(0, index_of(part))
        return QRectF(lefts[index] + 1, 4, lefts[index + 1] - lefts[index] - 2, self._head)

    def refresh(self) -> None:
        """The profile or the selection changed."""
        lanes = max(1, len(spans_held(self.macro.steps, self._lefts())))
        self.setFixedHeight(round(self._head + 12 + lanes * self._pitch + line_height(SMALL) + 12))
        self.setMinimumWidth(round(self._lefts()[-1] + 24))
        super().refresh()

    def sizeHint(self) -> QSize:
        """As long as it takes."""
        return QSize(round(self._lefts()[-1] + 24), self.height())

    # Painting

    def draw(self, painter: QPainter) -> None:
        """Blocks, lanes, and the time below."""
        theme = self.theme
        lefts = self._lefts()
        painter.setFont(font(SMALL))
        painter.setPen(theme.quiet)
        painter.drawText(QRectF(0, 4, self._left - 10, self._head), Qt.AlignmentFlag.AlignVCenter, _("steps"))
        for index, step in enumerate(self.macro.steps):
            self._draw_block(painter, index, step)
        top = self._head + 12
        for row, (send, spans) in enumerate(spans_held(self.macro.steps, self._lefts()).items()):
            base = round(top + (row + 1) * self._pitch - 4) + 0.5
            painter.setPen(theme.quiet)
            name = elided(send_name(self.stage.studio.profile, send), self._left - 10, SMALL)
            painter.drawText(
                QRectF(0, base - self._pitch + 4, self._left - 10, self._pitch - 4), Qt.AlignmentFlag.AlignVCenter, name
            )
            painter.setPen(QPen(theme.line, 1))
            painter.drawLine(QPointF(self._left, base), QPointF(lefts[-1], base))
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.output)
            for left, right in spans:
                painter.drawRoundedRect(QRectF(left, base - self._pitch + 9, right - left, self._pitch - 10), 3, 3)
        self._draw_times(painter, lefts)

    def _draw_block(self, painter: QPainter, index: int, step: MacroStep) -> None:
        theme = self.theme
        part = f"steps[{index}].what"
        rect = self.place(part)
        current = index == self.at
        waits = isinstance(step, MacroWait)
        painter.setPen(QPen(theme.line, 1, Qt.PenStyle.DashLine) if waits else Qt.PenStyle.NoPen)
        painter.setBrush(faded(theme.raised, 0.35) if waits else theme.raised)
        painter.drawRoundedRect(rect, 7, 7)
        length = self.lasts(step)
        words = {
            MacroPress: _("down"),
            MacroRelease: _("up"),
            MacroTap: _("tap {length} ms") if length else _("tap"),
            MacroWait: _("wait {length} ms"),
        }
        text = words[type(step)].format(length=length)
        painter.setFont(font(SMALL))
        painter.setPen(theme.quiet)
        line = QRectF(rect.left() + 7, rect.top() + 4, rect.width() - 10, line_height(SMALL))
        painter.drawText(line, Qt.AlignmentFlag.AlignVCenter, elided(text, line.width(), SMALL))
        sends = self.sends(part)
        keys = keys_of(self.stage.studio.profile, sends)[:3]
        y = line.bottom() + 4
        if self.listening(part):
            painter.setPen(theme.input)
            painter.drawText(
                QRectF(line.left(), y, line.width(), cap_height()),
                Qt.AlignmentFlag.AlignVCenter,
                elided(_("Press a key"), line.width(), SMALL),
            )
        elif keys:
            draw_caps(painter, line.left(), y, self.stage.caps(keys), theme, rect.right() - 2)
        elif not waits:
            name = sends_name(self.stage.studio.profile, sends) if sends else _("Unassigned")
            painter.setPen(theme.ink if sends else theme.quiet)
            painter.drawText(
                QRectF(line.left(), y, line.width(), cap_height()),
                Qt.AlignmentFlag.AlignVCenter,
                elided(name, line.width(), SMALL),
            )
        if self.can_stretch(step):
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.ink if index == self._edge else theme.quiet)
            painter.drawRoundedRect(QRectF(rect.right() - 4, rect.center().y() - 7, 3, 14), 1.5, 1.5)
        if current or part == self._over:
            draw_focus(painter, rect, theme, 7)

    def _draw_times(self, painter: QPainter, lefts: list[float]) -> None:
        theme = self.theme
        y = self.height() - line_height(SMALL) - 4
        painter.setFont(font(SMALL))
        painter.setPen(theme.quiet)
        t, taken = 0, -1e9
        for index, left in enumerate(lefts):
            text = f"{t} ms"
            if left > taken and (index == 0 or index == len(lefts) - 1 or self.lasts(self.macro.steps[index - 1])):
                painter.drawText(QPointF(left + 2, y + line_height(SMALL) - 4), text)
                taken = left + text_width(text, SMALL) + 8
            if index < len(self.macro.steps):
                t += self.lasts(self.macro.steps[index])

    # Handling

    @staticmethod
    def can_stretch(step: MacroStep) -> bool:
        """Whether a step has a length of its own."""
        typed = isinstance(step, MacroTap) and any(isinstance(send, SendText) for send in step.what)
        return isinstance(step, MacroWait | MacroTap) and not typed

    def _edge_at(self, at: QPointF) -> int:
        if at.y() > self._head + 6:
            return -1
        lefts = self._lefts()
        for index, step in enumerate(self.macro.steps):
            if self.can_stretch(step) and abs(at.x() - (lefts[index + 1] - 3)) <= GRAB:
                return index
        return -1

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take the edge of a step, else select a step."""
        if event is None or event.button() != Qt.MouseButton.LeftButton:
            return
        self._edge = self._edge_at(event.position())
        if self._edge >= 0:
            self.choose(f"steps[{self._edge}].what")
            return
        part = self.part_at(event.position())
        if part:
            self.choose(part)
            self._pressed = (index_of(part), event.position())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Stretch the step, or drag it to another place."""
        if event is None:
            return
        if self._edge >= 0:
            left = self._lefts()[self._edge]
            self.stretch(self._edge, round((event.position().x() + 3 - left - 30) / PER_MS / 10) * 10)
        elif self._pressed is not None:
            self.drag_to(event.position())
        else:
            near = self._edge_at(event.position()) >= 0
            self.setCursor(Qt.CursorShape.SplitHCursor if near else Qt.CursorShape.ArrowCursor)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """A drag is one edit."""
        if self._edge >= 0:
            self._edge = -1
            self.stage.document.history.settle()
            self.update()
        self._pressed = None

    def put(self, title: str, steps: tuple[MacroStep, ...], at: int | None = None, merge: str = "") -> None:
        """Give the macro these steps and choose one of them."""
        macro = self.macro
        if at is not None:
            self.stage.selection.part = f"steps[{max(0, min(len(steps) - 1, at))}].what"
        changed = replace(macro, steps=steps)
        self.stage.document.edit(f"{title}, {macro.name}", lambda profile: edits.with_macro(profile, changed), merge)
        self.refresh()

    def stretch(self, index: int, ms: int) -> None:
        """Let a wait or a tap last this long."""
        steps = self.macro.steps
        step = steps[index]
        if isinstance(step, MacroWait | MacroTap):
            changed = replace(step, ms=max(10, min(60_000, ms)))
            self.put(
                f"{changed.ms} ms", (*steps[:index], changed, *steps[index + 1 :]), merge=f"{self.control}:{index}"
            )

    def add(self, step: MacroStep) -> None:
        """One more step after the one chosen; it listens if it holds something."""
        steps, at = self.macro.steps, self.at + 1
        self.put(_("Add step"), (*steps[:at], step, *steps[at:]), at)
        if not isinstance(step, MacroWait):
            self.arm(f"steps[{at}].what")

    def remove(self) -> None:
        """Take the step chosen out; a macro keeps at least one."""
        steps, at = self.macro.steps, self.at
        if len(steps) > 1:
            self.put(_("Remove step"), (*steps[:at], *steps[at + 1 :]), at)

    def shift(self, at: int, to: int) -> None:
        """Put a step in another place."""
        steps = list(self.macro.steps)
        if 0 <= to < len(steps) and to != at:
            steps.insert(to, steps.pop(at))
            self.put(_("Move step"), tuple(steps), to)

    def arm(self, part: str) -> None:
        """Let a step listen, unless it only waits."""
        if not isinstance(self.macro.steps[index_of(part)], MacroWait):
            super().arm(part)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """With Alt, left and right move the step, up and down make it longer or shorter; Shift+Delete takes it out."""
        if event is None:
            return
        alt = bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0)
        longer = {Qt.Key.Key_Up: 10, Qt.Key.Key_Down: -10}.get(Qt.Key(event.key()), 0)
        if alt and step:
            self.shift(self.at, self.at + step)
        elif alt and longer and self.can_stretch(self.step):
            self.stretch(self.at, self.lasts(self.step) + longer)
            self.stage.document.history.settle()
        elif event.key() == Qt.Key.Key_Delete and event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self.remove()
        else:
            super().keyPressEvent(event)


def spans_held(steps: Sequence[MacroStep], lefts: Sequence[float]) -> dict[Send, list[tuple[float, float]]]:
    """For each thing that steps hold: from where to where. `lefts` are their left edges, and the right one of all."""
    lanes: dict[Send, list[tuple[float, float]]] = {}
    open_: dict[Send, float] = {}
    for index, step in enumerate(steps):
        start, end = lefts[index], lefts[index + 1]
        match step:
            case MacroPress(what):
                for send in what:
                    lanes.setdefault(send, [])
                    open_.setdefault(send, start + (end - start) / 2)
            case MacroRelease(what):
                for send in what:
                    if send in open_:
                        lanes[send].append((open_.pop(send), start + (end - start) / 2))
            case MacroTap(what):
                for send in what:
                    lanes.setdefault(send, []).append((start + 6, end - 6))
            case MacroWait():
                pass
            case never:
                assert_never(never)
    for send, start in open_.items():
        lanes[send].append((start, lefts[-1]))
    return lanes
