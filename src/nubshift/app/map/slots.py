"""Slots: a place that sends something, or nothing yet. Armed, it listens for one key, shown by a ring (N20)."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen
from PyQt6.QtWidgets import QApplication

from nubshift.app.labels import MOUSE_BUTTONS
from nubshift.app.live import now_us
from nubshift.app.map.tiles import Stage
from nubshift.app.painting.canvas import Canvas, draw_focus, elided, line_height, text_width
from nubshift.app.painting.caps import CapState, cap_height, draw_caps
from nubshift.app.studio import Armed
from nubshift.app.theme import BODY, SMALL, faded, font
from nubshift.model.edits import Slot
from nubshift.model.part import Direction
from nubshift.model.sends import HoldLayer, Send
from nubshift.model.sentences import DIRECTION_NAMES, keys_of, send_name
from nubshift.model.usage import look_up

ROW = 8.0
REMOVE = 24.0


class SlotView(Canvas):
    """The entries of a slot under each other, and a place for one more.

    A click or Enter on an entry or on the free place arms it; while armed, a mouse button pressed here is the answer.
    """

    def __init__(self, stage: Stage, control: str, direction: Direction | None = None) -> None:
        super().__init__(stage.look)
        self._stage = stage
        self.control = control
        self.direction: Direction | None = direction
        self._at = 0
        self._armed_at = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        stage.studio.armed_changed.connect(self._armed_changed)
        stage.live.output_changed.connect(self.update)
        self.refresh()

    @property
    def slot(self) -> Slot:
        """The slot in the layer shown."""
        return Slot(self._stage.studio.layer, self.control, self.direction)

    @property
    def sends(self) -> tuple[Send, ...]:
        """What stands in it."""
        return self._stage.studio.shown_sends(self.slot)

    @property
    def _compact(self) -> bool:
        return self.direction is not None

    @property
    def _pitch(self) -> float:
        return cap_height() + ROW

    def refresh(self) -> None:
        """The profile changed."""
        profile = self._stage.studio.profile
        names = ", then ".join(send_name(profile, send) for send in self.sends) or "nothing yet"
        where = f"{DIRECTION_NAMES[self.direction]}: " if self.direction else "Sends "
        self.setAccessibleName(f"{where}{names}")
        self._at = min(self._at, len(self.sends))
        rows = 1 if self._compact else len(self.sends) + 1
        self.setFixedHeight(round(rows * self._pitch + 4))
        self.update()

    def sizeHint(self) -> QSize:
        """A row for each entry."""
        return QSize(110 if self._compact else 240, self.height())

    def _row(self, index: int) -> QRectF:
        return QRectF(1, 2 + index * self._pitch, self.width() - 2, self._pitch - 3)

    @property
    def _armed_row(self) -> int | None:
        armed = self._stage.studio.armed
        if armed is None or armed.slot != self.slot:
            return None
        return len(self.sends) if armed.index is None else armed.index

    def draw(self, painter: QPainter) -> None:
        """The entries and the free place."""
        if self._compact:
            self._draw_compact(painter)
            return
        for index, send in enumerate(self.sends):
            self._draw_entry(painter, self._row(index), send, index)
        self._draw_free(painter, self._row(len(self.sends)), self._armed_row == len(self.sends))

    def _draw_entry(self, painter: QPainter, rect: QRectF, send: Send, index: int) -> None:
        theme = self.theme
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.raised)
        painter.drawRoundedRect(rect, 7, 7)
        y = rect.center().y() - cap_height() / 2
        x = draw_caps(painter, rect.left() + 9, y, self._caps((send,)), theme, rect.right() - 60)
        painter.setFont(font(BODY))
        painter.setPen(theme.ink)
        listening = self._armed_row == index
        said = "press another key" if listening else self._said(send)
        room = rect.right() - REMOVE - x - 6
        painter.drawText(
            QRectF(x + 3, rect.top(), room, rect.height()), Qt.AlignmentFlag.AlignVCenter, elided(said, room)
        )
        painter.setPen(theme.quiet)
        painter.drawText(
            QRectF(rect.right() - REMOVE, rect.top(), REMOVE - 4, rect.height()), Qt.AlignmentFlag.AlignCenter, "×"
        )
        if listening or (self.hasFocus() and self._at == index):
            draw_focus(painter, rect, theme, 7)

    def _said(self, send: Send) -> str:
        name = send_name(self._stage.studio.profile, send)
        return f"{name} while held" if isinstance(send, HoldLayer) else name

    def _draw_free(self, painter: QPainter, rect: QRectF, listening: bool) -> None:
        theme = self.theme
        painter.setPen(QPen(theme.input if listening else theme.line, 1, Qt.PenStyle.DashLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(rect.adjusted(0.5, 0.5, -0.5, -0.5), 7, 7)
        painter.setFont(font(BODY))
        painter.setPen(theme.input if listening else theme.quiet)
        text = "press a key, or a mouse button here" if listening else "and also…" if self.sends else "press a key here"
        painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, elided(text, rect.width() - 12))
        if listening or (self.hasFocus() and self._at == len(self.sends)):
            draw_focus(painter, rect, theme, 7)

    def _draw_compact(self, painter: QPainter) -> None:
        theme, sends = self.theme, self.sends
        rect = self._row(0)
        listening = self._armed_row is not None
        if sends:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.raised)
        else:
            painter.setPen(QPen(theme.line, 1, Qt.PenStyle.DashLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(rect, 7, 7)
        painter.setFont(font(SMALL))
        if listening or not sends:
            painter.setPen(theme.input if listening else theme.quiet)
            text = "press a key" if listening else DIRECTION_NAMES[self.direction or "up"]
            painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, text)
        else:
            y = rect.center().y() - cap_height() / 2
            x = draw_caps(painter, rect.left() + 5, y, self._caps(sends), theme, rect.right() - 4)
            room = rect.right() - x - 3
            names = " + ".join(send_name(self._stage.studio.profile, send) for send in sends)
            if room > text_width("mm", SMALL):
                painter.setPen(theme.ink)
                painter.setFont(font(SMALL))
                text = elided(names, room, SMALL)
                painter.drawText(QRectF(x, rect.top(), room, rect.height()), Qt.AlignmentFlag.AlignVCenter, text)
        if listening or self.hasFocus():
            draw_focus(painter, rect, theme, 7)

    def _caps(self, sends: tuple[Send, ...]) -> list[tuple[str, str, CapState]]:
        live = self._stage.live
        held = CapState.HELD if live.real else CapState.WOULD
        keys = keys_of(self._stage.studio.profile, sends)
        return [(key, self._stage.label_of(key), held if key in live.held else CapState.REST) for key in keys]

    def _armed_changed(self) -> None:
        if self._armed_row is not None:
            self._armed_at = now_us()
            self._at = self._armed_row
            self.setFocus(Qt.FocusReason.OtherFocusReason)
        self.update()

    def arm(self, row: int = 0) -> None:
        """Let an entry, or the free place, listen."""
        studio = self._stage.studio
        studio.select(self.control, self.direction if self.direction is not None else studio.direction)
        if self._compact:
            studio.arm(self.slot, 0 if self.sends else None)
        else:
            studio.arm(self.slot, row if row < len(self.sends) else None)

    def remove(self, row: int) -> None:
        """Take an entry out."""
        sends = self.sends
        if row < len(sends):
            kept = () if self._compact else sends[:row] + sends[row + 1 :]
            self._stage.studio.set_sends(self.slot, kept)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Answer with a mouse button if armed; else arm, or remove an entry at its ×."""
        if event is None:
            return
        studio = self._stage.studio
        if studio.armed == Armed(self.slot, self._armed_index()) and self._armed_row is not None:
            if event.button() in MOUSE_BUTTONS and not self._part_of_double_click():
                studio.give_key(MOUSE_BUTTONS[event.button()])
            return
        if event.button() != Qt.MouseButton.LeftButton:
            return
        row = 0 if self._compact else min(len(self.sends), int((event.position().y() - 2) // self._pitch))
        self._at = row
        if not self._compact and row < len(self.sends) and event.position().x() > self.width() - REMOVE:
            self.remove(row)
        else:
            self.arm(row)

    def _armed_index(self) -> int | None:
        armed = self._stage.studio.armed
        return armed.index if armed else None

    def _part_of_double_click(self) -> bool:
        return now_us() - self._armed_at < QApplication.doubleClickInterval() * 1000

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up and down choose an entry, Enter arms it, Delete takes it out."""
        if event is None:
            return
        match event.key():
            case Qt.Key.Key_Return | Qt.Key.Key_Enter:
                self.arm(self._at)
            case Qt.Key.Key_Delete | Qt.Key.Key_Backspace:
                self.remove(self._at)
            case Qt.Key.Key_Up if not self._compact and self._at > 0:
                self._at -= 1
                self.update()
            case Qt.Key.Key_Down if not self._compact and self._at < len(self.sends):
                self._at += 1
                self.update()
            case _:
                super().keyPressEvent(event)


class PressPicture(Canvas):
    """One press and what it sends: a lane for the finger, one for each thing sent, in its order."""

    def __init__(self, stage: Stage, control: str) -> None:
        super().__init__(stage.look)
        self._stage = stage
        self.control = control
        self.refresh()

    def refresh(self) -> None:
        """The profile changed."""
        self._sends = self._shown()
        self.setFixedHeight(round((1 + max(1, len(self._sends))) * (line_height(SMALL) + 9) + 4))
        self.update()

    def _shown(self) -> tuple[Send, ...]:
        studio = self._stage.studio
        found = look_up(studio.profile, studio.layer, self.control)
        return found.binding.press if found else ()

    def draw(self, painter: QPainter) -> None:
        """The lanes. Everything goes down with the finger and up with it, in reverse."""
        theme = self.theme
        pitch = line_height(SMALL) + 9
        left, start, end = 62.0, 84.0, self.width() - 34.0
        names = ["finger", *(self._lane_name(index) for index in range(len(self._sends)))]
        for index in range(1 + max(1, len(self._sends))):
            y = pitch * index
            base = round(y + pitch - 4) + 0.5
            painter.setFont(font(SMALL))
            painter.setPen(theme.quiet)
            name = names[index] if index < len(names) else "sent"
            painter.drawText(QRectF(0, y, left, pitch), Qt.AlignmentFlag.AlignVCenter, name)
            painter.setPen(QPen(theme.line, 1))
            painter.drawLine(QPointF(left, base), QPointF(self.width(), base))
            if index == 0:
                painter.setPen(QPen(theme.input, 1))
                painter.setBrush(faded(theme.input, 0.3))
                painter.drawRoundedRect(QRectF(start, y + 5, end - start, pitch - 9), 6, 6)
            elif index <= len(self._sends):
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(theme.output)
                bar = QRectF(start + 4 * (index - 1), y + 4, end - start - 8 * (index - 1), pitch - 8)
                painter.drawRoundedRect(bar, 3, 3)
                painter.setPen(theme.on_output)
                text = send_name(self._stage.studio.profile, self._sends[index - 1])
                inside = bar.adjusted(7, 0, -5, 0)
                painter.drawText(inside, Qt.AlignmentFlag.AlignVCenter, elided(text, inside.width(), SMALL))

    def _lane_name(self, index: int) -> str:
        return "sent" if index == 0 else "with it"
