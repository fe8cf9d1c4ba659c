"""A slot as rows: what it sends, each with its caps, and a place for one more (N20). Armed, it listens, with a ring."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen
from PyQt6.QtWidgets import QApplication

from nubshift.app.client.mirror import now_us
from nubshift.app.painting.canvas import Canvas, draw_focus, elided
from nubshift.app.painting.caps import cap_height, draw_caps
from nubshift.app.painting.key_labels import MOUSE_BUTTONS
from nubshift.app.painting.theme import BODY, SMALL, font
from nubshift.app.painting.timing import every
from nubshift.app.stage import Stage
from nubshift.model import edits
from nubshift.model.entries import Entries, entries_in
from nubshift.model.falling_through import brought, shown_sends
from nubshift.model.sends import Send, SendKey, Sends
from nubshift.model.sentences import keys_of, send_name, slot_name
from nubshift.model.slots import Slot
from nubshift.texts import _, listed

ROW = 8.0
REMOVE = 24.0


class SlotView(Canvas):
    """The entries of a slot under each other, and a place for one more.

    A click or Enter on an entry or on the free place arms it; while armed, a mouse button pressed here is the answer.
    Entries are put in another order by dragging them, or with Alt and the arrows.
    """

    row_changed = pyqtSignal()

    def __init__(self, stage: Stage) -> None:
        super().__init__(stage.look)
        self._stage = stage
        self.slot = stage.selection.slot()
        self.row = 0
        self._armed_at = 0
        self._pressed: tuple[int, QPointF] | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        stage.assigning.armed_changed.connect(self._armed_changed)
        stage.live.held_changed.connect(self.update)
        self._ticking = every(self, 100, self.update)

    @property
    def sends(self) -> Sends:
        """What stands in it."""
        return shown_sends(self._stage.studio.profile, self.slot)

    @property
    def entries(self) -> Entries:
        """The same as rows."""
        return entries_in(self.sends)

    @property
    def _pitch(self) -> float:
        return cap_height() + ROW

    def show_slot(self, slot: Slot) -> None:
        """Show this slot as it is now."""
        if slot != self.slot:
            self.slot, self.row = slot, 0
        profile = self._stage.studio.profile
        rows = self.entries.rows
        names = listed([send_name(profile, send) for send in rows]) or _("Unassigned")
        self.setAccessibleName(
            _("{slot_name} sends {names}").format(
                slot_name=slot_name(profile, slot, self._stage.selection.names), names=names
            )
        )
        self.row = min(self.row, len(rows))
        self.setFixedHeight(round((len(rows) + 1) * self._pitch + 4))
        self.update()

    def sizeHint(self) -> QSize:
        """A row for each entry."""
        return QSize(240, self.height())

    def _rect(self, index: int) -> QRectF:
        return QRectF(1, 2 + index * self._pitch, self.width() - 2, self._pitch - 3)

    @property
    def _armed_row(self) -> int | None:
        armed = self._stage.assigning.armed
        if armed is None or armed.slot != self.slot:
            return None
        return len(self.entries.rows) if armed.index is None else armed.index

    # Painting

    def draw(self, painter: QPainter) -> None:
        """The entries and the free place."""
        entries = self.entries
        for index, send in enumerate(entries.rows):
            self._draw_entry(painter, self._rect(index), send, index, entries.ordered)
        self._draw_free(painter, self._rect(len(entries.rows)), len(entries.rows))

    def _draw_entry(self, painter: QPainter, rect: QRectF, send: Send, index: int, ordered: bool) -> None:
        theme = self.theme
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.raised)
        painter.drawRoundedRect(rect, 7, 7)
        left = rect.left() + 9
        if ordered:
            painter.setFont(font(SMALL))
            painter.setPen(theme.quiet)
            painter.drawText(QRectF(left, rect.top(), 14, rect.height()), Qt.AlignmentFlag.AlignVCenter, f"{index + 1}")
            left += 14
        y = rect.center().y() - cap_height() / 2
        caps = self._stage.caps(keys_of(self._stage.studio.profile, (send,)))
        x = draw_caps(painter, left, y, caps, theme, rect.right() - 60)
        painter.setFont(font(BODY))
        listening = self._armed_row == index
        painter.setPen(theme.input if listening else theme.ink)
        said = _("Press another key, or Esc to end") if listening else self._said(send)
        room = rect.right() - REMOVE - x - 6
        painter.drawText(
            QRectF(x + 3, rect.top(), room, rect.height()), Qt.AlignmentFlag.AlignVCenter, elided(said, room)
        )
        painter.setPen(theme.quiet)
        painter.drawText(
            QRectF(rect.right() - REMOVE, rect.top(), REMOVE - 4, rect.height()), Qt.AlignmentFlag.AlignCenter, "×"
        )
        if listening:
            self._draw_time(painter, rect)
        if listening or (self.hasFocus() and self.row == index):
            draw_focus(painter, rect, theme, 7)
        elif self.row == index and len(self.entries.rows) > 1:
            painter.setPen(QPen(theme.line, 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(rect.adjusted(0.5, 0.5, -0.5, -0.5), 7, 7)

    def _said(self, send: Send) -> str:
        """The name of what is sent; a bare key says all on its cap."""
        return "" if isinstance(send, SendKey) else send_name(self._stage.studio.profile, send)

    def _draw_free(self, painter: QPainter, rect: QRectF, at: int) -> None:
        theme = self.theme
        listening = self._armed_row == at
        painter.setPen(QPen(theme.input if listening else theme.line, 1, Qt.PenStyle.DashLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(rect.adjusted(0.5, 0.5, -0.5, -0.5), 7, 7)
        painter.setFont(font(BODY))
        painter.setPen(theme.input if listening else theme.quiet)
        text = (
            _("Press a key or a mouse button, or Esc to end")
            if listening
            else _("Add another…")
            if at
            else _("Press a key")
        )
        painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, elided(text, rect.width() - 12))
        if listening:
            self._draw_time(painter, rect)
        if listening or (self.hasFocus() and self.row == at):
            draw_focus(painter, rect, theme, 7)

    def _draw_time(self, painter: QPainter, rect: QRectF) -> None:
        """How much of the time to answer is left: a line that grows shorter."""
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self.theme.input)
        wide = (rect.width() - 14) * self._stage.assigning.time_left
        painter.drawRoundedRect(QRectF(rect.left() + 7, rect.bottom() - 4, wide, 2), 1, 1)

    # Handling

    def _armed_changed(self) -> None:
        if self._armed_row is not None:
            self._armed_at = now_us()
            self._go_to(self._armed_row)
            self.setFocus(Qt.FocusReason.OtherFocusReason)
            self._ticking.start()
        else:
            self._ticking.stop()
        self.update()

    def _go_to(self, row: int) -> None:
        if row != self.row:
            self.row = row
            self.row_changed.emit()
        self.update()

    def arm(self, row: int = 0) -> None:
        """Let an entry, or the free place, listen."""
        self._stage.assigning.arm(self.slot, row if row < len(self.entries.rows) else None)

    def put(self, rows: Sends) -> None:
        """Let the slot have these rows, in order if they were."""
        entries = self.entries
        self._stage.assigning.set_sends(self.slot, Entries(rows, entries.ordered, entries.gap).sends)

    def remove(self, row: int) -> None:
        """Take an entry out."""
        rows = self.entries.rows
        if row < len(rows):
            self.put(rows[:row] + rows[row + 1 :])

    def shift(self, row: int, to: int) -> None:
        """Put an entry in another place of the order."""
        rows = list(self.entries.rows)
        if row < len(rows) and 0 <= to < len(rows) and to != row:
            rows.insert(to, rows.pop(row))
            self.put(tuple(rows))
            self._go_to(to)

    def _row_at(self, y: float) -> int:
        return max(0, min(len(self.entries.rows), int((y - 2) // self._pitch)))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Answer with a mouse button if armed; else remove an entry at its ×, or arm when the button comes up."""
        if event is None:
            return
        studio = self._stage.studio
        if self._armed_row is not None:
            if event.button() in MOUSE_BUTTONS and not self._part_of_double_click():
                studio.assigning.give_key(MOUSE_BUTTONS[event.button()])
            return
        if event.button() != Qt.MouseButton.LeftButton:
            return
        row = self._row_at(event.position().y())
        self._go_to(row)
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        if row < len(self.entries.rows) and event.position().x() > self.width() - REMOVE:
            self.remove(row)
        else:
            self._pressed = (row, event.position())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Drag an entry to another place."""
        if event is None or self._pressed is None:
            return
        row, start = self._pressed
        to = min(self._row_at(event.position().y()), len(self.entries.rows) - 1)
        if row < len(self.entries.rows) and to != row and abs(event.position().y() - start.y()) > self._pitch * 0.6:
            self.shift(row, to)
            self._pressed = (to, event.position())

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """A click that was no drag arms."""
        pressed, self._pressed = self._pressed, None
        if event is None or pressed is None or pressed[0] != self._row_at(event.position().y()):
            return
        if (event.position() - pressed[1]).manhattanLength() < QApplication.startDragDistance():
            self.arm(pressed[0])

    def _part_of_double_click(self) -> bool:
        return now_us() - self._armed_at < QApplication.doubleClickInterval() * 1000

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up and down choose an entry (with Alt: move it), Enter arms it, Delete takes it out."""
        if event is None:
            return
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()), 0)
        if step and event.modifiers() & Qt.KeyboardModifier.AltModifier:
            self.shift(self.row, self.row + step)
        elif step and 0 <= self.row + step <= len(self.entries.rows):
            self._go_to(self.row + step)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.arm(self.row)
        elif event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.remove(self.row)
        else:
            super().keyPressEvent(event)

    # For the editor of the chosen entry

    @property
    def entry(self) -> Send | None:
        """The entry chosen, None on the free place."""
        rows = self.entries.rows
        return rows[self.row] if self.row < len(rows) else None

    def change_entry(self, title: str, send: Send, merge: str = "") -> None:
        """Put something else in the place of the entry chosen, as a step of its own name."""
        entries, studio, slot = self.entries, self._stage.studio, self.slot
        rows = (*entries.rows[: self.row], send, *entries.rows[self.row + 1 :])
        sends = replace_rows(entries, rows)
        name = f"{title}, {slot_name(studio.profile, slot, studio.selection.names)}"
        studio.document.edit(name, lambda p: edits.with_sends(brought(p, slot), slot, sends), merge)

    def set_order(self, ordered: bool, gap: int | None = None, merge: str = "") -> None:
        """Send the rows one after the other, or all at once."""
        entries, studio, slot = self.entries, self._stage.studio, self.slot
        sends = Entries(entries.rows, ordered, gap).sends
        title = _("In order") if ordered else _("Assign all directions")
        name = f"{title}, {slot_name(studio.profile, slot, studio.selection.names)}"
        studio.document.edit(name, lambda p: edits.with_sends(brought(p, slot), slot, sends), merge)


def replace_rows(entries: Entries, rows: Sends) -> Sends:
    """`entries` with other rows, as sends."""
    return Entries(rows, entries.ordered, entries.gap).sends
