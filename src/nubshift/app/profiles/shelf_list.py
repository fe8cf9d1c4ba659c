"""The list of profiles: the colour and title of each, whether it is in use, and a line about it."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen

from nubshift.app.painting.canvas import Canvas, draw_focus, elided, line_height, text_width
from nubshift.app.painting.theme import BODY, SMALL, Look, font
from nubshift.model.profile import Colour
from nubshift.records import Record
from nubshift.texts import _


class ShelfRow(Record, frozen=True):
    """A profile as the list shows it. `trouble` says why it can't be read, if so; `note` stands beside the title."""

    path: Path
    title: str
    colour: Colour
    words: str
    in_use: bool = False
    trouble: str = ""
    note: str = ""


class ShelfList(Canvas):
    """A row for each. `chosen` carries the path of the one that is looked at, `opened` of one to be edited."""

    chosen = pyqtSignal(object)
    opened = pyqtSignal(object)

    def __init__(self, look: Look) -> None:
        super().__init__(look)
        self.rows: list[ShelfRow] = []
        self.present: Path | None = None
        self.nothing = ""
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(_("Profiles"))

    def show_rows(self, rows: list[ShelfRow], present: Path | None, nothing: str = "") -> None:
        """Show these, one of them as the one looked at; `nothing` stands there where there are none."""
        self.rows, self.present, self.nothing = rows, present, nothing
        row = next((row for row in rows if row.path == present), None)
        self.setAccessibleDescription(
            ", ".join(text for text in (row.title, row.words, row.note) if text) if row is not None else ""
        )
        self.setMinimumHeight(self.sizeHint().height())
        self.updateGeometry()
        self.update()

    @property
    def _row(self) -> float:
        return line_height() + line_height(SMALL) + 14

    def sizeHint(self) -> QSize:
        """Every row."""
        return QSize(200, round(self._row * max(1, len(self.rows)) + 4))

    def place(self, number: int) -> QRectF:
        """Where a row is."""
        return QRectF(1, 2 + number * self._row, self.width() - 2, self._row - 2)

    def draw(self, painter: QPainter) -> None:
        """A spot in the profile's colour, filled while it is in use; its title; a line about it."""
        theme = self.theme
        if not self.rows:
            painter.setPen(theme.quiet)
            painter.drawText(self.place(0), Qt.AlignmentFlag.AlignVCenter, self.nothing)
        for number, row in enumerate(self.rows):
            rect = self.place(number)
            if row.path == self.present:
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(theme.raised)
                painter.drawRoundedRect(rect, 8, 8)
            colour = theme.accents[row.colour]
            painter.setPen(QPen(colour, 1))
            painter.setBrush(colour if row.in_use else Qt.BrushStyle.NoBrush)
            painter.drawEllipse(QPointF(rect.left() + 16, rect.top() + 7 + line_height() / 2), 5, 5)
            left, width = rect.left() + 32, rect.width() - 38
            painter.setPen(theme.quiet if row.trouble else theme.ink)
            painter.setFont(font(BODY, bold=row.in_use))
            name = QRectF(left, rect.top() + 5, width, line_height())
            room = width - (text_width(row.note, SMALL) + 8 if row.note else 0)
            painter.drawText(name, Qt.AlignmentFlag.AlignVCenter, elided(row.title, room, BODY, True))
            painter.setFont(font(SMALL))
            painter.setPen(theme.output if row.trouble else theme.quiet)
            below = QRectF(left, name.bottom(), width, line_height(SMALL))
            right = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight
            painter.drawText(name.adjusted(0, 0, -2, 0), right, row.note)
            painter.drawText(below, Qt.AlignmentFlag.AlignVCenter, elided(row.words, width, SMALL))
            if row.path == self.present and self.hasFocus():
                draw_focus(painter, rect, theme)

    def _at(self, event: QMouseEvent | None) -> ShelfRow | None:
        number = int((event.position().y() - 2) // self._row) if event is not None else -1
        return self.rows[number] if 0 <= number < len(self.rows) else None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Look at a row."""
        if (row := self._at(event)) is not None:
            self.chosen.emit(row.path)

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """Edit it."""
        if (row := self._at(event)) is not None and not row.trouble:
            self.opened.emit(row.path)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up and down go along, Enter edits."""
        if event is None:
            return
        paths = [row.path for row in self.rows]
        at = paths.index(self.present) if self.present in paths else -1
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()), 0)
        if step and paths:
            self.chosen.emit(paths[max(0, min(len(paths) - 1, at + step))])
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and at >= 0 and not self.rows[at].trouble:
            self.opened.emit(paths[at])
        else:
            super().keyPressEvent(event)
