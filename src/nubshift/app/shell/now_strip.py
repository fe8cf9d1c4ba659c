"""The Now strip: what is held, what went out in the last three seconds, and how the mouse moves (N51)."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from nubshift.app.client.mirror import PAST_US, Bar, Mirror, now_us
from nubshift.app.painting.canvas import Canvas, elided, line_height, text_width
from nubshift.app.painting.caps import CapState, cap_height, draw_caps
from nubshift.app.painting.plane import draw_plane, draw_vector
from nubshift.app.painting.theme import SMALL, Look, Theme, font
from nubshift.app.painting.timing import every
from nubshift.texts import _

LANES = 4
FULL_SPEED = 6000.0
"""Counts a second at which the arrow is as long as its circle."""


class NowStrip(QWidget):
    """The strip at the bottom of every workspace.

    `name_of` gives what a key does in the words of the game, `label_of` what stands on it. While output is withheld
    everything is drawn hollow; holding the button lets it through.
    """

    let_through = pyqtSignal(bool)

    def __init__(self, live: Mirror, look: Look, name_of: Callable[[str], str], label_of: Callable[[str], str]) -> None:
        super().__init__()
        self._live = live
        self.held = HeldView(live, look, label_of)
        self.past = PastView(live, look, name_of)
        self.mouse = MouseView(live, look)
        self.through = QPushButton(_("Hold to send for real"))
        self.through.setObjectName("plain")
        self.through.setToolTip(
            _("While a Nub Shift window has the focus, nothing is sent.\nHold this to send anyway.")
        )
        self.through.pressed.connect(lambda: self.let_through.emit(True))
        self.through.released.connect(lambda: self.let_through.emit(False))
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 8, 14, 8)
        row.setSpacing(12)
        row.addWidget(self.held)
        row.addWidget(self.past, 1)
        row.addWidget(self.through)
        row.addWidget(self.mouse)
        self.setFixedHeight(round(max(70.0, LANES * (line_height(SMALL) + 1) + 18)))
        self._timer = every(self, 16, self._tick)
        self._driven = False
        live.held_changed.connect(self.held.update)
        live.output_changed.connect(self._wake)
        live.framed.connect(self._framed)

    def show_mode(self, live: bool, withheld: bool, trying: bool = False) -> None:
        """Say whether what is shown goes to the game."""
        self.held.mode = (
            _("Paused")
            if not live
            else _("Preview")
            if withheld
            else _("Sending to the range")
            if trying
            else _("Sending")
        )
        policy = self.through.sizePolicy()
        policy.setRetainSizeWhenHidden(True)
        self.through.setSizePolicy(policy)
        self.through.setVisible(live and (withheld or self.through.isDown()))
        self.held.update()

    def _wake(self) -> None:
        if not self._timer.isActive():
            self._timer.start()

    def _framed(self) -> None:
        """While frames come, the strip moves with them, so that it is painted together with what else they move."""
        if self._timer.isActive():
            self._driven = True
            self._move()

    def _tick(self) -> None:
        """Time passes; between frames the strip moves by itself."""
        if self._driven:
            self._driven = False
        else:
            self._move()

    def _move(self) -> None:
        """Bars run by as long as there are any; then the strip rests."""
        self.past.update()
        self.mouse.update_soon()
        if not self._live.recent(now_us()) and self._live.speed == (0.0, 0.0):
            self._timer.stop()


class HeldView(Canvas):
    """The keys held at this moment, as key caps."""

    def __init__(self, live: Mirror, look: Look, label_of: Callable[[str], str]) -> None:
        super().__init__(look)
        self._live = live
        self._label_of = label_of
        self.mode = _("Sending")
        self.setMinimumWidth(250)
        self.setAccessibleName(_("Held now"))

    def sizeHint(self) -> QSize:
        """Room for a few caps."""
        return QSize(270, 50)

    def draw(self, painter: QPainter) -> None:
        """The mode in words, then the caps."""
        theme, live = self.theme, self._live
        painter.setFont(font(SMALL))
        painter.setPen(theme.quiet)
        width = text_width(_("Sending to the range"), SMALL) + 8
        painter.drawText(QRectF(0, 0, width, self.height()), Qt.AlignmentFlag.AlignVCenter, self.mode)
        state = CapState.HELD if live.real else CapState.WOULD
        caps = [(code, self._label_of(code), state) for code in live.held]
        draw_caps(painter, width + 4, (self.height() - cap_height()) / 2, caps, theme, self.width())
        names = ", ".join(self._label_of(code) for code in live.held)
        self.setAccessibleDescription(_("{mode}: {keys}").format(mode=self.mode, keys=names or _("Nothing")))


class PastView(Canvas):
    """The last three seconds of output running by, one lane a key."""

    def __init__(self, live: Mirror, look: Look, name_of: Callable[[str], str]) -> None:
        super().__init__(look)
        self._live = live
        self._name_of = name_of
        self.setMinimumWidth(200)
        self.setAccessibleName(_("Last three seconds"))

    def draw(self, painter: QPainter) -> None:
        """The lanes with the newest use at the top; time runs to the right edge."""
        now = now_us()
        bars = self._live.recent(now)
        lanes = list(dict.fromkeys(bar.code for bar in reversed(bars)))[:LANES]
        pitch = line_height(SMALL) + 1
        left = 104.0
        top = (self.height() - pitch * LANES) / 2
        for index in range(LANES):
            y = top + pitch * index + pitch / 2
            painter.setPen(QPen(self.theme.line, 1))
            painter.drawLine(QPointF(left, round(y) + 0.5), QPointF(self.width(), round(y) + 0.5))
        for index, code in enumerate(sorted(lanes)):
            y = top + pitch * index
            painter.setFont(font(SMALL))
            painter.setPen(self.theme.quiet)
            name = elided(self._name_of(code), left - 12, SMALL)
            painter.drawText(
                QRectF(0, y, left - 8, pitch), Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, name
            )
            for bar in bars:
                if bar.code == code:
                    self._bar(painter, bar, now, left, y + pitch / 2, self.theme)

    def _bar(self, painter: QPainter, bar: Bar, now: int, left: float, y: float, theme: Theme) -> None:
        scale = (self.width() - left) / PAST_US
        begin = max(left, self.width() - (now - bar.start) * scale)
        end = self.width() - (now - bar.end) * scale if bar.end is not None else float(self.width())
        rect = QRectF(begin, round(y) - 3.5, max(2.0, end - begin), 8)
        if bar.real:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.output)
            painter.drawRoundedRect(rect, 2, 2)
        else:
            painter.setPen(QPen(theme.output, 1))
            painter.setBrush(theme.surface)
            painter.drawRoundedRect(rect.adjusted(0.5, 0.5, -0.5, -0.5), 2, 2)


class MouseView(Canvas):
    """The mouse vector."""

    def __init__(self, live: Mirror, look: Look) -> None:
        super().__init__(look)
        self._live = live
        self.setFixedWidth(150)
        self.setAccessibleName(_("Mouse motion"))

    def draw(self, painter: QPainter) -> None:
        """Counts a second in figures and as an arrow."""
        dx, dy = self._live.speed
        radius = min(19.0, self.height() / 2 - 2)
        centre = QPointF(self.width() - radius - 1, self.height() / 2)
        draw_plane(painter, centre, radius, self.theme)
        size = (dx * dx + dy * dy) ** 0.5
        if size:
            scale = min(1.0, size / FULL_SPEED) ** 0.5 / size
            draw_vector(painter, centre, radius, dx * scale, dy * scale, self.theme, not self._live.real)
        painter.setFont(font(SMALL))
        painter.setPen(self.theme.quiet)
        width = self.width() - 2 * radius - 10
        middle = self.height() / 2
        right = Qt.AlignmentFlag.AlignRight
        painter.drawText(QRectF(0, middle - line_height(SMALL), width, line_height(SMALL)), right, _("Mouse"))
        text = _("{speed:,.0f} counts/s").format(speed=size).replace(",", " ")
        painter.setPen(self.theme.ink if size else self.theme.quiet)
        painter.drawText(QRectF(0, middle, width, line_height(SMALL)), right, text)
