"""Which profile is in use, and why: always there, in a line under the top."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QSizePolicy

from nubshift.app.painting.canvas import ClickableCanvas, draw_focus, elided, line_height, text_width
from nubshift.app.painting.theme import SMALL, Look, font
from nubshift.app.widgets.plain import tip
from nubshift.protocol.messages import Status
from nubshift.texts import _


class WhyLine(ClickableCanvas):
    """A sentence. A click, Enter or Space asks for another choice."""

    def __init__(self, look: Look) -> None:
        super().__init__(look)
        self.text = ""
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.show_status(None)

    def show_status(self, status: Status | None) -> None:
        """What the runner says."""
        self.text = status.why if status is not None else ""
        self.setAccessibleName(_("Profile in use: {why}").format(why=self.text) if self.text else _("Profile in use"))
        self.setToolTip(tip(_("{why}\nClick to stay on a profile, or to choose by the rules.").format(why=self.text)))
        self.update()

    def sizeHint(self) -> QSize:
        """Room for a short sentence; a longer one is cut, and whole in the tooltip."""
        return QSize(round(min(420.0, text_width(self.text, SMALL) + 30)), round(line_height(SMALL) + 10))

    def minimumSizeHint(self) -> QSize:
        """It gives way to everything beside it."""
        return QSize(60, self.sizeHint().height())

    def draw(self, painter: QPainter) -> None:
        """The sentence at the right, with the sign that more is behind it."""
        if not self.text:
            return
        painter.setFont(font(SMALL))
        painter.setPen(self.theme.quiet)
        room = self.width() - 26.0
        text = f"{elided(self.text, room, SMALL)} ▾"
        rect = QRectF(self.rect()).adjusted(6, 0, -6, 0)
        painter.drawText(rect, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, text)
        if self.hasFocus():
            draw_focus(painter, QRectF(self.rect()), self.theme)
