"""The typing range: text and a drawn keyboard that show what truly arrived at this window as events (N50).

Nothing is shown from inside the app: a key lights up when the X server (or the compositor) delivered it. While the
arena has the keyboard, output is let through to it.
"""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent, QMouseEvent, QPainter, QWheelEvent

from nubshift.app.painting.canvas import Canvas, draw_focus, draw_name, line_height
from nubshift.app.painting.caps import EDGE, draw_mouse
from nubshift.app.painting.key_labels import MOUSE_BUTTONS, pressed_key
from nubshift.app.painting.theme import BODY, SMALL, Look, faded, font
from nubshift.app.painting.timing import every
from nubshift.app.shell.key_picker import PAD, places
from nubshift.model.keys import is_button
from nubshift.texts import _

LINES = 5
GLOW = 14
"""Frames for which a key that came and went stays tinted, so that a short tap is seen."""
WAYS = {(0, 1): "up", (0, -1): "down", (1, 0): "left", (-1, 0): "right"}


class Arena(Canvas):
    """Takes every key, mouse button and wheel notch while it has the keyboard; Ctrl+Tab or a click beside it leaves.

    `arrived` counts the keys and buttons that came down here since it got the keyboard.
    """

    came = pyqtSignal(str)
    entered = pyqtSignal(bool)

    def __init__(self, look: Look, label_of: Callable[[str], str]) -> None:
        super().__init__(look)
        self._label_of = label_of
        self._places = places()
        self.text = ""
        self.down: dict[str, None] = {}
        self.arrived = 0
        self._glow: dict[str, int] = {}
        self._wheel = ""
        self._entering = False
        self.setMinimumSize(360, 240)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAttribute(Qt.WidgetAttribute.WA_InputMethodEnabled, False)
        self.setAccessibleName(_("Typing range: shows what arrives"))
        self._timer = every(self, 33, self._fade)

    def sizeHint(self) -> QSize:
        """Wide."""
        return QSize(740, 560)

    def clear(self) -> None:
        """Empty it."""
        self.text, self.arrived = "", 0
        self._glow.clear()
        self.update()

    # What arrives

    def event(self, event: QEvent | None) -> bool:
        """Every key is meant for the arena, also those that are shortcuts elsewhere, and Tab."""
        if isinstance(event, QKeyEvent):
            leaves = event.key() in (Qt.Key.Key_Tab, Qt.Key.Key_Backtab) and bool(
                event.modifiers() & Qt.KeyboardModifier.ControlModifier
            )
            if leaves:
                if event.type() == QEvent.Type.KeyPress:
                    self.focusNextPrevChild(True)
                return True
            match event.type():
                case QEvent.Type.ShortcutOverride:
                    event.accept()
                    return True
                case QEvent.Type.KeyPress:
                    self._pressed(event)
                    return True
                case QEvent.Type.KeyRelease:
                    self._released(event)
                    return True
        return super().event(event)

    def _pressed(self, event: QKeyEvent) -> None:
        key = pressed_key(event)
        if key is not None and not event.isAutoRepeat():
            self._come(key)
        if event.key() == Qt.Key.Key_Backspace:
            self.text = self.text[:-1]
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.text += "\n"
        elif event.text().isprintable():
            self.text += event.text()
        self.update()

    def _released(self, event: QKeyEvent) -> None:
        key = pressed_key(event)
        if key is not None and not event.isAutoRepeat():
            self._go(key)

    def _come(self, key: str) -> None:
        self.down[key] = None
        self.arrived += 1
        self._glow[key] = GLOW
        self._timer.start()
        self.came.emit(key)
        self.update()

    def _go(self, key: str) -> None:
        self.down.pop(key, None)
        self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """A mouse button; the click that gives it the keyboard is none of the range."""
        if event is None:
            return
        if self._entering:
            self._entering = False
        elif event.button() in MOUSE_BUTTONS:
            self._come(MOUSE_BUTTONS[event.button()])

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """The second of two quick clicks."""
        self.mousePressEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """A mouse button is up."""
        if event is not None and event.button() in MOUSE_BUTTONS:
            self._go(MOUSE_BUTTONS[event.button()])

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """A notch of the wheel."""
        if event is None:
            return
        turn = event.angleDelta()
        way = WAYS.get((_sign(turn.x()), _sign(turn.y())), "")
        if way:
            self._wheel = _("Wheel {way}").format(way=way)
            self._glow["wheel"] = GLOW
            self._timer.start()
            self.update()

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        """Output is let through from now on."""
        self.arrived = 0
        self._entering = event is not None and event.reason() == Qt.FocusReason.MouseFocusReason
        self.entered.emit(True)
        super().focusInEvent(event)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        """No more; what was down here is not known any longer."""
        self.down.clear()
        self.entered.emit(False)
        super().focusOutEvent(event)

    def _fade(self) -> None:
        self._glow = {key: left - 1 for key, left in self._glow.items() if left > 1}
        if not self._glow:
            self._timer.stop()
        self.update()

    # Painting

    @property
    def _board(self) -> tuple[float, float]:
        """The scale of the drawn keyboard and its top."""
        right = max(rect.right() for rect in self._places.values()) + PAD
        bottom = max(rect.bottom() for rect in self._places.values()) + PAD
        room = self.height() - (LINES + 1) * line_height() - 30
        scale = min(self.width() / right, room / bottom)
        return scale, self.height() - bottom * scale

    def draw(self, painter: QPainter) -> None:
        """The text, then the keyboard with what is down."""
        theme = self.theme
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.surface)
        painter.drawRoundedRect(QRectF(self.rect()), 12, 12)
        scale, top = self._board
        field = QRectF(14, 12, self.width() - 28, top - 18)
        painter.setBrush(theme.ground)
        painter.drawRoundedRect(field, 8, 8)
        self._draw_text(painter, field.adjusted(12, 8, -12, -8))
        painter.save()
        painter.translate((self.width() - (max(r.right() for r in self._places.values()) + PAD) * scale) / 2, top)
        painter.scale(scale, scale)
        for name, rect in self._places.items():
            self._draw_key(painter, name, rect)
        painter.restore()
        if self.hasFocus():
            draw_focus(painter, QRectF(self.rect()), theme, 12)

    def _draw_text(self, painter: QPainter, rect: QRectF) -> None:
        theme = self.theme
        painter.setFont(font(BODY * 1.15))
        if not self.text and not self.hasFocus():
            painter.setPen(theme.quiet)
            words = _("Click here to send everything for real and see what arrives.")
            painter.drawText(rect, Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap, words)
            return
        painter.setPen(theme.ink)
        lines = self.text.split("\n")[-LINES:]
        painter.save()
        painter.setClipRect(rect)
        flags = Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignLeft | Qt.TextFlag.TextWrapAnywhere
        shown = "\n".join(lines)[-600:]
        box = painter.boundingRect(rect, int(flags), shown)
        caret = "▏" if self.hasFocus() else ""
        painter.drawText(rect.translated(0, min(0.0, rect.height() - box.height())), int(flags), shown + caret)
        painter.restore()
        if "wheel" in self._glow:
            painter.setPen(theme.output)
            painter.drawText(rect, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignBottom, self._wheel)

    def _draw_key(self, painter: QPainter, name: str, rect: QRectF) -> None:
        theme = self.theme
        held, glow = name in self.down, self._glow.get(name, 0)
        face = rect.adjusted(0, 0, 0, -EDGE)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.output.darker(130) if held else theme.raised)
        painter.drawRoundedRect(rect, 4, 4)
        painter.setBrush(theme.output if held else theme.ground)
        painter.drawRoundedRect(face, 4, 4)
        if glow and not held:
            painter.setBrush(faded(theme.output, 0.65 * glow / GLOW))
            painter.drawRoundedRect(face, 4, 4)
        ink = theme.on_output if held else theme.quiet
        if is_button(name):
            draw_mouse(painter, face, name, ink)
        else:
            painter.setPen(ink)
            draw_name(
                painter,
                face,
                self._label_of(name).removeprefix("Num "),
                SMALL,
                bold=held,
                flags=Qt.AlignmentFlag.AlignCenter,
            )


def _sign(value: int) -> int:
    return (value > 0) - (value < 0)
