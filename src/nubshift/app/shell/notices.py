"""Sentences for the player: one line under the top, with a mark for how much it matters."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter, QPen, QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QSizePolicy, QWidget

from nubshift.app.painting.canvas import Canvas
from nubshift.app.painting.theme import Look, font
from nubshift.app.widgets.plain import Label
from nubshift.texts import _

WORDS = {"error": _("Error"), "warning": _("Warning"), "info": _("Info")}


class NoticeBar(QWidget):
    """Shows the newest notices, several under each other, until they are put away."""

    MOST = 4

    def __init__(self, look: Look) -> None:
        super().__init__()
        self._look = look
        self._texts: list[tuple[str, str]] = []
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 6, 10, 6)
        row.setSpacing(10)
        self._mark = SeverityMark(look)
        self._label = Label()
        self._label.setWordWrap(True)
        self._label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self._label.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        self._act = QPushButton()
        self._act.setAccessibleName(_("Notice actions"))
        self._act.hide()
        self._act.clicked.connect(self._do)
        self._action: Callable[[], None] | None = None
        self._away = QPushButton(_("Dismiss"))
        self._away.setObjectName("plain")
        self._away.clicked.connect(self.clear)
        row.addWidget(self._mark, 0, Qt.AlignmentFlag.AlignTop)
        row.addWidget(self._label, 1)
        row.addWidget(self._act, 0, Qt.AlignmentFlag.AlignTop)
        row.addWidget(self._away, 0, Qt.AlignmentFlag.AlignTop)
        self.hide()

    @property
    def text(self) -> str:
        """What is shown now."""
        return self._label.text()

    def offer(self, severity: str, text: str, label: str, action: Callable[[], None]) -> None:
        """Show a notice with a button that does something about it, in place of what was shown before."""
        self.clear()
        self.tell(severity, text)
        self._act.setText(label)
        self._act.setAccessibleName(label)
        self._action = action
        self._act.show()

    def _do(self) -> None:
        action = self._action
        self.clear()
        if action is not None:
            action()

    def tell(self, severity: str, text: str) -> None:
        """Show a notice; the same one twice is shown once."""
        entry = (severity, text)
        if entry in self._texts:
            self._texts.remove(entry)
        self._texts = [*self._texts[-self.MOST + 1 :], entry]
        self._mark.severity = max((known for known, _unused in self._texts), key=[*reversed(WORDS)].index)
        self._label.setText("\n".join(text for _unused, text in self._texts))
        self._mark.update()
        self._fit()
        self.setAccessibleName(f"{WORDS[severity]}: {text}")
        self.show()

    def _fit(self) -> None:
        """As high as the wrapped sentences need."""
        self._label.setMinimumHeight(max(0, self._label.heightForWidth(max(200, self._label.width()))))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Another width wraps the sentences elsewhere."""
        super().resizeEvent(event)
        self._fit()

    def clear(self) -> None:
        """Put all notices away."""
        self._texts.clear()
        self._action = None
        self._act.hide()
        self._label.clear()
        self.hide()


class SeverityMark(Canvas):
    """How much a notice matters, in words and shape: errors are filled, the rest is outlined."""

    def __init__(self, look: Look) -> None:
        super().__init__(look)
        self.severity = "info"
        self.setFixedSize(104, 22)

    def draw(self, painter: QPainter) -> None:
        """A tag with the word."""
        theme = self.theme
        colour = theme.quiet if self.severity == "info" else theme.output
        rect = QRectF(0.5, 1.5, self.width() - 1, self.height() - 3)
        painter.setPen(QPen(colour, 1))
        painter.setBrush(colour if self.severity == "error" else Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(rect, 5, 5)
        painter.setFont(font(0.92))
        painter.setPen(theme.on_output if self.severity == "error" else colour)
        painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, WORDS[self.severity])
