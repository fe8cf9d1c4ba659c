"""Controls as round chips in lines: what is there, what moves now, and what can be pressed."""

from __future__ import annotations

from collections.abc import Mapping

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen, QResizeEvent
from PyQt6.QtWidgets import QSizePolicy

from nubshift.app.painting.canvas import Canvas, draw_focus, line_height, text_width
from nubshift.app.painting.nubs import RADIUS, draw_face, draw_mark
from nubshift.app.painting.theme import Look, faded, font
from nubshift.model.controls import CONTROLS, FACE
from nubshift.model.names import Names

GAP = 6.0


class Chips(Canvas):
    """One chip a control. `depths` are how far each is moved now. A press and its end are told."""

    pressed = pyqtSignal(str, bool)
    chosen = pyqtSignal(str)

    def __init__(self, look: Look, name: str) -> None:
        super().__init__(look)
        self.setAccessibleName(name)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.names = Names()
        self.controls: tuple[str, ...] = ()
        self.depths: Mapping[str, float] = {}
        self.asked = ""
        self.missing: frozenset[str] = frozenset()
        self._at = 0
        self._held = ""
        policy = QSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Minimum)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)

    def show_controls(self, controls: tuple[str, ...], names: Names) -> None:
        """These, by these names."""
        if (controls, names.words) != (self.controls, self.names.words):
            self.controls, self.names = controls, names
            self._at = min(self._at, max(0, len(controls) - 1))
            self._describe()
            self.setMinimumHeight(self.heightForWidth(self.width()))
            self.updateGeometry()
            self.update()

    def show_asked(self, asked: str, missing: frozenset[str]) -> None:
        """Which one is wanted now, and which are not found yet."""
        if (asked, missing) != (self.asked, self.missing):
            self.asked, self.missing = asked, missing
            self.update()

    def show_depths(self, depths: Mapping[str, float]) -> None:
        """How far they are moved."""
        if depths != self.depths:
            self.depths = dict(depths)
            self.update()

    def _describe(self) -> None:
        here = self.controls[self._at] if self.controls else ""
        self.setAccessibleDescription(self.names.title(here) if here else "")

    def place(self, control: str) -> QRectF:
        """Where a chip is."""
        return self._places(self.width())[control]

    def _places(self, width: float) -> dict[str, QRectF]:
        """Where each chip is in a widget so wide. Also asked for widths that are only being thought about."""
        x, y = 1.0, 1.0
        height = max(2 * RADIUS + 8, line_height() + 8)
        places = {}
        for control in self.controls:
            wide = text_width(self.names.title(control)) + 2 * RADIUS + 26
            if x > 1.0 and x + wide > width - 1:
                x, y = 1.0, y + height + GAP
            places[control] = QRectF(x, y, wide, height)
            x += wide + GAP
        return places

    def hasHeightForWidth(self) -> bool:
        """The narrower, the more lines."""
        return True

    def heightForWidth(self, width: int) -> int:
        """For this width."""
        return round(max((rect.bottom() + 2 for rect in self._places(width).values()), default=0.0))

    def sizeHint(self) -> QSize:
        """As it is wide."""
        return QSize(300, self.heightForWidth(max(300, self.width())))

    def minimumSizeHint(self) -> QSize:
        """Every line."""
        return QSize(160, self.heightForWidth(max(160, self.width())))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Other lines."""
        self.setMinimumHeight(self.heightForWidth(self.width()))

    def draw(self, painter: QPainter) -> None:
        """Round ends, the mark at the left, filled as far as it is moved."""
        theme = self.theme
        for number, (control, rect) in enumerate(self._places(self.width()).items()):
            depth = min(1.0, self.depths.get(control, 0.0))
            asked = control == self.asked
            faint = control in self.missing and not depth
            edge = QPen(theme.input, 1) if asked or depth > 0 else QPen(Qt.PenStyle.NoPen)
            painter.setPen(QPen(theme.line, 1, Qt.PenStyle.DashLine) if faint and not asked else edge)
            painter.setBrush(
                faded(theme.input, 0.25) if depth > 0 else Qt.BrushStyle.NoBrush if faint else theme.raised
            )
            painter.drawRoundedRect(rect, rect.height() / 2, rect.height() / 2)
            centre = QPointF(rect.left() + RADIUS + 5, rect.center().y())
            if control in FACE:
                draw_face(painter, centre, FACE.index(control), depth > 0, theme)
            else:
                mark = self.names.mark(control) if control in CONTROLS else control[:2]
                draw_mark(painter, centre, mark, depth, theme, faint=faint)
            painter.setFont(font(bold=asked))
            painter.setPen(theme.quiet if faint and not asked else theme.ink)
            text = rect.adjusted(2 * RADIUS + 14, 0, 0, 0)
            painter.drawText(text, Qt.AlignmentFlag.AlignVCenter, self.names.title(control))
            if self.hasFocus() and number == self._at:
                draw_focus(painter, rect.adjusted(-1, -1, 1, 1), theme, rect.height() / 2)

    def control_at(self, at: QPointF) -> str:
        """The control under a point."""
        return next((control for control, rect in self._places(self.width()).items() if rect.contains(at)), "")

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Press it."""
        control = self.control_at(event.position()) if event is not None else ""
        if control:
            self._at = self.controls.index(control)
            self._describe()
            self._hold(control)
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Let it go; if it was the same one, it is chosen."""
        held = self._held
        self._hold("")
        if event is not None and held and self.control_at(event.position()) == held:
            self.chosen.emit(held)

    def _hold(self, control: str) -> None:
        before, self._held = self._held, control
        if before:
            self.pressed.emit(before, False)
        if control:
            self.pressed.emit(control, True)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Left and right go along, Space presses, Enter chooses."""
        if event is None or not self.controls:
            return
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0)
        if step:
            self._at = (self._at + step) % len(self.controls)
            self._describe()
            self.update()
        elif event.key() == Qt.Key.Key_Space and not event.isAutoRepeat():
            self._hold(self.controls[self._at])
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.chosen.emit(self.controls[self._at])
        else:
            super().keyPressEvent(event)

    def keyReleaseEvent(self, event: QKeyEvent | None) -> None:
        """Space lets go."""
        if event is not None and event.key() == Qt.Key.Key_Space and not event.isAutoRepeat():
            self._hold("")
