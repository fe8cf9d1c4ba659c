"""A drawn keyboard and mouse to pick a key from, for keys that the keyboard at hand lacks (N20)."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen
from PyQt6.QtWidgets import QWidget

from nubshift.app.painting.canvas import Canvas, draw_focus, draw_name
from nubshift.app.painting.caps import EDGE, draw_mouse
from nubshift.app.painting.theme import SMALL, Look
from nubshift.app.widgets.plain import tip
from nubshift.model.keys import is_button
from nubshift.texts import _

UNIT = 40.0
GAP = 4.0
PAD = 14.0

Row = tuple[float, float, str]
"""Where a row begins (units from the left), its height from the top, and its keys; ``NAME*2`` is two units wide."""

ROWS: tuple[Row, ...] = (
    (0, 0, "ESC"),
    (2, 0, "F1 F2 F3 F4"),
    (6.5, 0, "F5 F6 F7 F8"),
    (11, 0, "F9 F10 F11 F12"),
    (15.25, 0, "SYSRQ SCROLLLOCK PAUSE"),
    (0, 1.25, "GRAVE 1 2 3 4 5 6 7 8 9 0 MINUS EQUAL BACKSPACE*2"),
    (15.25, 1.25, "INSERT HOME PAGEUP"),
    (18.5, 1.25, "NUMLOCK KPSLASH KPASTERISK KPMINUS"),
    (0, 2.25, "TAB*1.5 Q W E R T Y U I O P LEFTBRACE RIGHTBRACE ENTER*1.5"),
    (15.25, 2.25, "DELETE END PAGEDOWN"),
    (18.5, 2.25, "KP7 KP8 KP9 KPPLUS"),
    (0, 3.25, "CAPSLOCK*1.75 A S D F G H J K L SEMICOLON APOSTROPHE BACKSLASH*2.25"),
    (18.5, 3.25, "KP4 KP5 KP6 KPEQUAL"),
    (0, 4.25, "LEFTSHIFT*1.25 102ND Z X C V B N M COMMA DOT SLASH RIGHTSHIFT*2.75"),
    (16.25, 4.25, "UP"),
    (18.5, 4.25, "KP1 KP2 KP3 KPENTER"),
    (0, 5.25, "LEFTCTRL*1.25 LEFTMETA*1.25 LEFTALT*1.25 SPACE*6.25"),
    (10, 5.25, "RIGHTALT*1.25 RIGHTMETA*1.25 COMPOSE*1.25 RIGHTCTRL*1.25"),
    (15.25, 5.25, "LEFT DOWN RIGHT"),
    (18.5, 5.25, "KP0*2 KPDOT"),
    (0, 6.6, "F13 F14 F15 F16 F17 F18 F19 F20 F21 F22 F23 F24"),
    (18.5, 6.6, "BTN_LEFT BTN_MIDDLE BTN_RIGHT BTN_SIDE"),
    (22.5, 6.6, "BTN_EXTRA"),
)


def places() -> dict[str, QRectF]:
    """Where each key is drawn."""
    found = {}
    for left, top, keys in ROWS:
        x = PAD + left * UNIT
        for word in keys.split():
            name, _unused, width = word.partition("*")
            found[name] = QRectF(x, PAD + top * UNIT, float(width or 1) * UNIT - GAP, UNIT - GAP)
            x += float(width or 1) * UNIT
    return found


class KeyboardPicker(Canvas):
    """A popup; the key clicked, or chosen with arrows and Enter, goes to `chosen`."""

    def __init__(self, look: Look, label_of: Callable[[str], str], parent: QWidget) -> None:
        super().__init__(look, parent)
        self.setWindowFlags(Qt.WindowType.Popup)
        self.setAccessibleName(_("Keyboard: pick a key"))
        self._label_of = label_of
        self._places = places()
        self._at = "W"
        self._chosen: Callable[[str], None] = print
        right = max(rect.right() for rect in self._places.values())
        bottom = max(rect.bottom() for rect in self._places.values())
        self.setFixedSize(round(right + PAD), round(bottom + PAD))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)

    def ask(self, chosen: Callable[[str], None], below: QPoint) -> None:
        """Show it with its right edge at `below`, and give the choice to `chosen`."""
        self._chosen = chosen
        screen = self.screen()
        area = screen.availableGeometry() if screen is not None else self.rect()
        x = max(area.left(), min(below.x() - self.width(), area.right() - self.width()))
        y = max(area.top(), min(below.y(), area.bottom() - self.height()))
        self.move(x, y)
        self.show()
        self.setFocus()

    def place_of(self, key: str) -> QRectF:
        """Where a key is drawn."""
        return self._places[key]

    def draw(self, painter: QPainter) -> None:
        """The ground and every key."""
        theme = self.theme
        painter.setPen(QPen(theme.line, 1))
        painter.setBrush(theme.raised)
        painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5))
        for name, rect in self._places.items():
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.cap_edge)
            painter.drawRoundedRect(rect, 4, 4)
            face = rect.adjusted(0, 0, 0, -EDGE)
            painter.setBrush(theme.cap)
            painter.drawRoundedRect(face, 4, 4)
            if is_button(name):
                draw_mouse(painter, face, name, theme.on_cap)
            else:
                painter.setPen(theme.on_cap)
                text = self._label_of(name).removeprefix("Num ")
                draw_name(painter, face, text, SMALL, bold=False, flags=Qt.AlignmentFlag.AlignCenter)
            if name == self._at:
                draw_focus(painter, rect.adjusted(-3, -3, 3, 3), theme, 6)

    def _key_at(self, position: QPointF) -> str | None:
        return next((name for name, rect in self._places.items() if rect.contains(position)), None)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """The key under the mouse is marked."""
        key = self._key_at(event.position()) if event is not None else None
        if key is not None and key != self._at:
            self._at = key
            self.setToolTip(tip(self._label_of(key)))
            self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Choose a key; beside the picture, none."""
        if event is None:
            return
        key = self._key_at(event.position())
        if key is not None:
            self._choose(key)
        elif not self.rect().contains(event.position().toPoint()):
            self.hide()

    def _choose(self, key: str) -> None:
        self.hide()
        self._chosen(key)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows go from key to key, Enter chooses, Escape ends."""
        steps = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
        if event is None:
            return
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self._choose(self._at)
        elif event.key() == Qt.Key.Key_Escape:
            self.hide()
        elif event.key() in steps:
            self._step(*steps[Qt.Key(event.key())])

    def _step(self, dx: int, dy: int) -> None:
        here = self._places[self._at].center()

        def cost(name: str) -> float:
            way = self._places[name].center() - here
            along, across = (way.x() * dx, abs(way.y())) if dx else (way.y() * dy, abs(way.x()))
            return along + 3 * across if along > 1 else 1e9

        nearest = min(self._places, key=cost)
        if cost(nearest) < 1e9:
            self._at = nearest
            self.update()
