"""The list of controllers: what is here now, who plays with what, and how full the batteries are."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen

from nubshift.app.controllers.store import ControllerStore
from nubshift.app.painting.canvas import Canvas, draw_focus, elided, line_height
from nubshift.app.painting.theme import BODY, SMALL, Look, font
from nubshift.model.controller_info import ControllerInfo
from nubshift.protocol.messages import Status
from nubshift.texts import _, listed

HOW: dict[str, str] = {
    "taught": _("your setup"),
    "conventions": _("known kind of pad"),
    "corrected": _("known kind of pad"),
    "line": _("mapping line"),
    "table": _("known model"),
    "guess": _("guessed"),
    "built-in": _("simulated"),
}
"""How a controller is understood, in a few words."""


class ControllerList(Canvas):
    """A row for each controller. `chosen` carries the id of the one that a person wants to see."""

    chosen = pyqtSignal(str)

    def __init__(self, store: ControllerStore, look: Look) -> None:
        super().__init__(look)
        self._store = store
        self._status: Status | None = None
        self.present = ""
        self.with_simulated = False
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(_("Controllers"))
        store.changed.connect(self.update)

    @property
    def _all(self) -> tuple[ControllerInfo, ...]:
        return self._status.controllers if self._status is not None else ()

    @property
    def infos(self) -> tuple[ControllerInfo, ...]:
        """What is listed: where there is real hardware, simulated ones only while they play or are asked for."""
        if self.with_simulated or all(info.simulated for info in self._all):
            return self._all
        return tuple(i for i in self._all if not i.simulated or i.id in self._playing or i.id == self.present)

    @property
    def folded(self) -> int:
        """How many are not listed."""
        return len(self._all) - len(self.infos)

    @property
    def _playing(self) -> set[str]:
        fills = self._status.fills if self._status is not None else {}
        return {part.controller for parts in fills.values() for part in parts}

    def show_status(self, status: Status | None, present: str) -> None:
        """Another state of things."""
        self._status, self.present = status, present
        info = next((info for info in self.infos if info.id == present), None)
        self.setAccessibleDescription(f"{self._store.name(info)}, {self.words(info)}" if info is not None else "")
        self.setMinimumHeight(self.sizeHint().height())
        self.update()

    def words(self, info: ControllerInfo) -> str:
        """The second line of a row."""
        if info.trouble:
            return _("no permission")
        seats = [
            seat
            for seat, parts in (self._status.fills if self._status else {}).items()
            if any(part.controller == info.id for part in parts)
        ]
        parts = [_("seat {seats}").format(seats=listed(seats))] if seats else []
        parts.append(HOW[info.how] if not (info.simulated and info.how == "guess") else _("simulated, not set up"))
        if info.battery:
            parts.append(info.battery)
        return " · ".join(parts)

    @property
    def _row(self) -> float:
        return line_height() + line_height(SMALL) + 14

    def sizeHint(self) -> QSize:
        """Every row."""
        return QSize(200, round(self._row * max(1, len(self.infos)) + 4))

    def place(self, number: int) -> QRectF:
        """Where a row is."""
        return QRectF(1, 2 + number * self._row, self.width() - 2, self._row - 2)

    def draw(self, painter: QPainter) -> None:
        """A round mark in the controller's colour, filled while it plays; its name; how it is."""
        theme = self.theme
        playing = self._playing
        if not self.infos:
            painter.setPen(theme.quiet)
            painter.drawText(self.place(0), Qt.AlignmentFlag.AlignVCenter, _("No controller connected"))
        for number, info in enumerate(self.infos):
            rect = self.place(number)
            if info.id == self.present:
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(theme.raised)
                painter.drawRoundedRect(rect, 8, 8)
            own = self._store.own(info)
            colour = theme.accents[own.colour] if own.colour is not None else theme.input
            painter.setPen(QPen(colour, 1))
            painter.setBrush(colour if info.id in playing else Qt.BrushStyle.NoBrush)
            painter.drawEllipse(QPointF(rect.left() + 16, rect.top() + 7 + line_height() / 2), 6, 6)
            left, width = rect.left() + 32, rect.width() - 38
            painter.setPen(theme.ink)
            painter.setFont(font(BODY, bold=info.id in playing))
            name = QRectF(left, rect.top() + 5, width, line_height())
            painter.drawText(name, Qt.AlignmentFlag.AlignVCenter, elided(self._store.name(info), width, BODY, True))
            painter.setFont(font(SMALL))
            painter.setPen(theme.output if info.trouble else theme.quiet)
            below = QRectF(left, name.bottom(), width, line_height(SMALL))
            painter.drawText(below, Qt.AlignmentFlag.AlignVCenter, elided(self.words(info), width, SMALL))
            if info.id == self.present and self.hasFocus():
                draw_focus(painter, rect, theme)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Choose a row."""
        number = int((event.position().y() - 2) // self._row) if event is not None else -1
        if 0 <= number < len(self.infos):
            self.chosen.emit(self.infos[number].id)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up and down go along."""
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()), 0) if event is not None else 0
        ids = [info.id for info in self.infos]
        if step and ids:
            at = ids.index(self.present) if self.present in ids else 0
            self.chosen.emit(ids[max(0, min(len(ids) - 1, at + step))])
        elif event is not None:
            super().keyPressEvent(event)
