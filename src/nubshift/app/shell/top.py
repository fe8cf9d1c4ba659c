"""The top of the window: the profile, the controller in use, how keys are sent, and the one switch."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from nubshift.app.client.mirror import FIRST
from nubshift.app.document.studio import Studio
from nubshift.app.painting.canvas import Canvas, ClickableCanvas, draw_focus, elided, line_height, text_width
from nubshift.app.painting.nubs import draw_logo
from nubshift.app.painting.theme import BODY, SMALL, TITLE, Look, font
from nubshift.app.shell.tabs import WorkspaceTabs
from nubshift.app.shell.why_line import WhyLine
from nubshift.app.widgets.plain import Label, tip
from nubshift.model.controller_info import ControllerInfo
from nubshift.protocol.messages import Health, Status
from nubshift.protocol.play_in_words import tooltip
from nubshift.texts import _, listed

SINK_WORDS = {
    "uinput": _("Output: virtual keyboard and mouse"),
    "xtest": _("Output: X11 (XTEST)"),
    "wayland": _("Output: Wayland"),
    "record": _("Output: written to a file"),
    "nowhere": _("No output available"),
}


class TopBar(QWidget):
    """Profile at the left; controller and switch at the right. `called` is what the player calls a controller."""

    profile_menu_wanted = pyqtSignal(object)
    controller_menu_wanted = pyqtSignal(object)
    menu_wanted = pyqtSignal(object)
    find_wanted = pyqtSignal()
    live_wanted = pyqtSignal(bool)
    choice_wanted = pyqtSignal(object)

    def __init__(self, studio: Studio, look: Look, called: Callable[[ControllerInfo], str]) -> None:
        super().__init__()
        self._called = called
        self._present: list[ControllerInfo] = []
        self.title = ProfileTitle(studio, look)
        self.title.clicked.connect(lambda: self.profile_menu_wanted.emit(self._below(self.title)))
        self.controller = QPushButton(_("Searching for controllers…"))
        self.controller.setObjectName("plain")
        self.controller.clicked.connect(lambda: self.controller_menu_wanted.emit(self._below(self.controller)))
        self.sending = Label()
        self.sending.setObjectName("quiet")
        self.sending.setFont(font(SMALL))
        self.sending.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.search = QPushButton(_("Search…  Ctrl+K"))
        self.search.setObjectName("plain")
        self.search.clicked.connect(self.find_wanted)
        self.menu = QPushButton(_("Menu"))
        self.menu.setObjectName("plain")
        self.menu.clicked.connect(lambda: self.menu_wanted.emit(self._below(self.menu)))
        self.switch = LiveSwitch(look)
        self.switch.wanted.connect(self.live_wanted)
        device = QVBoxLayout()
        device.setSpacing(0)
        device.addWidget(self.controller, 0, Qt.AlignmentFlag.AlignRight)
        device.addWidget(self.sending)
        row = QHBoxLayout()
        row.setContentsMargins(14, 6, 14, 2)
        row.setSpacing(10)
        row.addWidget(self.title)
        row.addStretch(1)
        row.addLayout(device)
        row.addWidget(self.switch)
        self.tabs = WorkspaceTabs(look)
        self.why = WhyLine(look)
        self.why.clicked.connect(lambda: self.choice_wanted.emit(self._below(self.why)))
        below = QHBoxLayout()
        below.setContentsMargins(8, 0, 14, 0)
        below.setSpacing(6)
        below.addWidget(self.tabs)
        below.addWidget(self.why, 1)
        below.addWidget(self.search)
        below.addWidget(self.menu)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addLayout(row)
        column.addLayout(below)

    def show_health(self, health: Health | None) -> None:
        """How play goes, as the tooltip of the controllers."""
        names = {info.id: self._called(info) for info in self._present}
        self.controller.setToolTip(tip(tooltip(health, names)))

    @staticmethod
    def _below(widget: QWidget) -> object:
        return widget.mapToGlobal(widget.rect().bottomLeft())

    def show_status(self, status: Status | None, without: str = _("Starting…")) -> None:
        """What the runner says of itself; `without` stands there while there is none."""
        self.switch.show_state(status.live if status else None)
        self.why.show_status(status)
        if status is None:
            self.controller.setText(without)
            self.sending.setText("")
            return
        infos = {info.id: info for info in status.controllers}
        present = [infos[part.controller] for part in status.fills.get(FIRST, ()) if part.controller in infos]
        self._present = present
        parts = [listed([self._called(info) for info in present]) or _("No controller")]
        if len(present) == 1:
            parts += [_("simulated")] if present[0].simulated else []
            parts += [present[0].battery] if present[0].battery else []
        self.controller.setText(f"{', '.join(parts)} ▾")
        self.sending.setText(SINK_WORDS.get(status.sink, status.sink))
        self.sending.setToolTip(tip(_("Why: {reason}.").format(reason=status.reason)))


class ProfileTitle(ClickableCanvas):
    """The profile: its game, and that every edit is kept."""

    def __init__(self, studio: Studio, look: Look) -> None:
        super().__init__(look)
        self._studio = studio
        for signal in (studio.document.opened, studio.document.edited, studio.document.saved_changed):
            signal.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """The profile, or whether it is kept, changed."""
        self.setAccessibleName(
            _("Profile {title}, {state_text}").format(title=self._studio.profile.game.title, state_text=self.state_text)
        )
        self.updateGeometry()
        self.update()

    @property
    def state_text(self) -> str:
        """Whether every edit is on disk, and which was the last."""
        studio = self._studio
        state = _("Saved") if studio.document.saved else _("Not saved") if studio.document.trouble else _("Saving…")
        last = studio.document.history.undo_title
        return _("{state} · Last edit: {edit}").format(state=state, edit=last) if last else state

    def sizeHint(self) -> QSize:
        """The logo and two lines."""
        title = text_width(self._studio.profile.game.title, TITLE, True)
        return QSize(round(58 + min(420.0, max(title + 24, text_width(self.state_text, SMALL) + 12, 200))), 44)

    def draw(self, painter: QPainter) -> None:
        """Logo, title with the profile's colour, state."""
        theme = self.theme
        draw_logo(painter, QRectF(2, 9, 38, 26), theme)
        game = self._studio.profile.game
        x = 52.0
        height = line_height(TITLE * 0.85)
        painter.setFont(font(TITLE * 0.85, bold=True))
        painter.setPen(theme.ink)
        title = elided(game.title or _("Untitled"), self.width() - x - 20, TITLE * 0.85, True)
        painter.drawText(QRectF(x, 2, self.width() - x, height), Qt.AlignmentFlag.AlignVCenter, title)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.accents[game.colour])
        painter.drawEllipse(QPointF(x + text_width(title, TITLE * 0.85, True) + 12, 2 + height / 2), 4, 4)
        painter.setFont(font(SMALL))
        painter.setPen(theme.output if self._studio.document.trouble else theme.quiet)
        text = elided(self.state_text, self.width() - x, SMALL)
        painter.drawText(
            QRectF(x, 2 + height, self.width() - x, line_height(SMALL)), Qt.AlignmentFlag.AlignVCenter, text
        )
        if self.hasFocus():
            draw_focus(painter, QRectF(self.rect()), theme)


class LiveSwitch(Canvas):
    """Live or Paused: the one switch."""

    wanted = pyqtSignal(bool)

    def __init__(self, look: Look) -> None:
        super().__init__(look)
        self.on: bool | None = None
        self.setFixedSize(
            round(max(132, 2 * text_width(_("Paused"), BODY, True) + 40)), round(max(32, line_height() + 12))
        )
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setToolTip(_("Live sends to the game. Paused releases all keys and the controller."))
        self.show_state(None)

    def show_state(self, on: bool | None) -> None:
        """Live, paused, or not known while there is no runner."""
        self.on = on
        self.setAccessibleName(_("Live") if on else _("Paused") if on is not None else _("Not running"))
        self.update()

    def draw(self, painter: QPainter) -> None:
        """Two halves, the present one filled."""
        theme = self.theme
        rect = QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5)
        painter.setPen(QPen(theme.line, 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(rect, 9, 9)
        half = rect.width() / 2
        for index, (name, state) in enumerate(((_("Live"), True), (_("Paused"), False))):
            part = QRectF(rect.left() + index * half, rect.top(), half, rect.height())
            present = self.on is state
            if present:
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(theme.input if state else theme.raised)
                painter.drawRoundedRect(part, 9, 9)
            painter.setFont(font(BODY, bold=present))
            painter.setPen((theme.on_input if state else theme.ink) if present else theme.quiet)
            painter.drawText(part, Qt.AlignmentFlag.AlignCenter, name)
        if self.hasFocus():
            draw_focus(painter, QRectF(self.rect()), theme)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Choose the half that was hit."""
        if event is not None and self.on is not None:
            self.wanted.emit(event.position().x() < self.width() / 2)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Space and Enter turn it over."""
        if event is not None and self.on is not None and event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Return):
            self.wanted.emit(not self.on)
        else:
            super().keyPressEvent(event)
