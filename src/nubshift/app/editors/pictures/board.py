"""The cells of an on-screen keyboard as they stand on the screen; a click on one changes what it types."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter

from nubshift.app.editors.role_editing import RoleEditing
from nubshift.app.painting.canvas import Canvas, draw_focus, elided
from nubshift.app.painting.caps import EDGE
from nubshift.app.painting.theme import SMALL, font
from nubshift.model.keys import find_key
from nubshift.model.roles import BoardRole
from nubshift.texts import _

CELL = 28.0
Rows = tuple[tuple[str, ...], ...]


class BoardPicture(Canvas):
    """Rows of cells. A character typed here goes into the cell marked; Insert and Delete add and remove cells."""

    def __init__(self, panel: RoleEditing) -> None:
        super().__init__(panel.stage.look)
        self._panel = panel
        self._rows: Rows = ()
        self._at = (0, 0)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def show_role(self, role: Any) -> None:
        """Show the board's rows."""
        self._rows = role.rows if isinstance(role, BoardRole) else ()
        row = min(self._at[0], len(self._rows) - 1)
        self._at = (row, min(self._at[1], max(0, len(self._rows[row]) - 1)))
        self.setFixedHeight(round(len(self._rows) * CELL + 8))
        self.setAccessibleName(
            _("On-screen keyboard, cell {cell}. Type a character, or Enter for a key by name").format(cell=self._cell)
        )
        self.update()

    @property
    def _cell(self) -> str:
        row, column = self._at
        return self._rows[row][column] if self._rows and column < len(self._rows[row]) else ""

    def sizeHint(self) -> QSize:
        """As wide as the inspector."""
        return QSize(260, round(len(self._rows) * CELL + 8))

    def place(self, row: int, column: int) -> QRectF:
        """Where a cell is drawn."""
        count = max(1, len(self._rows[row]))
        width = (self.width() - 4) / count
        return QRectF(2 + column * width, 4 + row * CELL, width - 3, CELL - 3)

    def draw(self, painter: QPainter) -> None:
        """Every cell a cap."""
        theme = self.theme
        painter.setFont(font(SMALL))
        for row, cells in enumerate(self._rows):
            for column, cell in enumerate(cells):
                rect = self.place(row, column)
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(theme.cap_edge)
                painter.drawRoundedRect(rect, 4, 4)
                face = rect.adjusted(0, 0, 0, -EDGE)
                painter.setBrush(theme.cap)
                painter.drawRoundedRect(face, 4, 4)
                painter.setPen(theme.on_cap)
                text = cell if len(cell) == 1 else self._panel.stage.label_of(cell)
                painter.drawText(face, Qt.AlignmentFlag.AlignCenter, elided(text, face.width() - 2, SMALL))
                if (row, column) == self._at and self.hasFocus():
                    draw_focus(painter, rect.adjusted(-2, -2, 2, 2), theme, 5)

    def _find(self, at: QPointF) -> tuple[int, int] | None:
        for row, cells in enumerate(self._rows):
            for column in range(len(cells)):
                if self.place(row, column).contains(at):
                    return row, column
        return None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Mark a cell."""
        found = self._find(event.position()) if event is not None else None
        if found is not None:
            self._at = found
            self.update()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """Ask for a key by name."""
        self._ask()

    def _ask(self) -> None:
        self._panel.stage.wishes.name(_("A character, or the name of a key"), self._cell, self._named)

    def _named(self, text: str) -> None:
        cell = text if len(text) == 1 else find_key(text) or text.upper().replace(" ", "")
        self._put(cell)

    def _put(self, cell: str) -> None:
        row, column = self._at
        cells = self._rows[row]
        self._change(_("Cell {cell}").format(cell=cell), (*cells[:column], cell, *cells[column + 1 :]))

    def _change(self, title: str, cells: tuple[str, ...]) -> None:
        row = self._at[0]
        rows = (*self._rows[:row], cells, *self._rows[row + 1 :])
        self._panel.change_role(title, rows=tuple(r for r in rows if r) or (("a",),))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows move the mark, a character is put in, Insert adds a cell, Delete takes one out, Enter asks."""
        if event is None or not self._rows:
            return
        row, column = self._at
        steps = {Qt.Key.Key_Left: (0, -1), Qt.Key.Key_Right: (0, 1), Qt.Key.Key_Up: (-1, 0), Qt.Key.Key_Down: (1, 0)}
        key = event.key()
        if key in steps:
            row = max(0, min(len(self._rows) - 1, row + steps[Qt.Key(key)][0]))
            self._at = (row, max(0, min(len(self._rows[row]) - 1, column + steps[Qt.Key(key)][1])))
            self.update()
        elif key == Qt.Key.Key_Insert:
            self._change(_("Add cell"), (*self._rows[row][: column + 1], "a", *self._rows[row][column + 1 :]))
        elif key == Qt.Key.Key_Delete:
            self._change(_("Remove cell"), (*self._rows[row][:column], *self._rows[row][column + 1 :]))
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._ask()
        elif len(event.text()) == 1 and event.text().isprintable() and not event.text().isspace():
            self._put(event.text())
        else:
            super().keyPressEvent(event)
