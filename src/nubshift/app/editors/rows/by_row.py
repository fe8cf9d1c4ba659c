"""The control by which something is done: chosen by touching it, or by its name."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen

from nubshift.app.painting.canvas import Canvas, draw_focus, draw_name, text_width
from nubshift.app.painting.nubs import RADIUS, draw_empty, draw_nub
from nubshift.app.painting.theme import BODY, font
from nubshift.model.controls import CONTROLS
from nubshift.texts import _

if TYPE_CHECKING:
    from nubshift.app.editors.panel import Panel

TOUCH_BY = "by"
"""What a touch is awaited for: the control named by a role's ``by``."""


class ByRow(Canvas):
    """A sentence that ends in the mark of a control. A click lets the next touch of the controller be the answer."""

    def __init__(self, panel: Panel, words: str, shown: Callable[[Any], bool]) -> None:
        super().__init__(panel.stage.look)
        self._stage = panel.stage
        self._words = words
        self._shown = shown
        self._by = ""
        self.setFixedHeight(32)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self._stage.assigning.armed_changed.connect(self.update)
        self.setToolTip(_("Click, then press the control"))

    def show_role(self, role: Any) -> None:
        """Show the control that a role names."""
        self._by = str(getattr(role, "by", ""))
        self.setVisible(self._shown(role))
        self.setAccessibleName(
            _("{words}: {control}").format(
                words=self._words, control=self._stage.selection.names.title(self._by) if self._by else _("Unassigned")
            )
        )
        self.update()

    @property
    def _listening(self) -> bool:
        return self._stage.assigning.armed_touch == TOUCH_BY

    def draw(self, painter: QPainter) -> None:
        """Words, mark, name."""
        theme = self.theme
        painter.setFont(font(BODY))
        painter.setPen(theme.quiet)
        flags = Qt.AlignmentFlag.AlignVCenter
        painter.drawText(self.rect().adjusted(2, 0, 0, 0), flags, self._words)
        x = text_width(self._words) + 20
        middle = self.height() / 2
        if self._listening:
            painter.setPen(theme.input)
            painter.drawText(self.rect().adjusted(round(x - 8), 0, 0, 0), flags, _("Press a control…"))
        elif self._by in CONTROLS:
            draw_nub(painter, QPointF(x, middle), self._by, 0.0, theme)
            painter.setPen(theme.ink)
            place = self.rect().adjusted(round(x + RADIUS + 8), 0, -2, 0).toRectF()
            name = self._stage.selection.names.inside(self._by)
            draw_name(painter, place, name, BODY, bold=False, flags=flags)
        else:
            draw_empty(painter, QPointF(x, middle), theme)
        if self._listening or self.hasFocus():
            draw_focus(painter, self.rect().toRectF(), theme, 6)
        else:
            painter.setPen(QPen(theme.line, 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Let it listen."""
        self._stage.assigning.arm_touch(TOUCH_BY)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Enter lets it listen."""
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self._stage.assigning.arm_touch(TOUCH_BY)
        elif event is not None:
            super().keyPressEvent(event)
