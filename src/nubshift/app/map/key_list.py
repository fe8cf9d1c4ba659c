"""The game's keys: its commands in groups, each with the control that sends it or a mark that nothing does."""

from __future__ import annotations

from msgspec.structs import replace
from PyQt6.QtCore import QEvent, QMimeData, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QContextMenuEvent,
    QDrag,
    QEnterEvent,
    QKeyEvent,
    QKeySequence,
    QMouseEvent,
    QPainter,
    QPen,
)  # fmt: skip
from PyQt6.QtWidgets import QApplication, QLabel, QLineEdit, QScrollArea, QVBoxLayout, QWidget

from nubshift.app.map.tiles import COMMAND_MIME, Stage
from nubshift.app.painting.canvas import Canvas, draw_focus, elided
from nubshift.app.painting.caps import CapState, cap_height, cap_width, draw_caps
from nubshift.app.painting.nubs import draw_empty, draw_nub
from nubshift.app.theme import BODY, font
from nubshift.model import edits
from nubshift.model.changes import Changes
from nubshift.model.edits import Slot
from nubshift.model.keylist import parse_key_list
from nubshift.model.profile import BASE, Command
from nubshift.model.usage import slots_by_command

ROW_NUB = 9.0
MOST_NUBS = 3


class KeyList(QWidget):
    """The list, with a field below to add to it."""

    menu_wanted = pyqtSignal(str, object)

    def __init__(self, stage: Stage) -> None:
        super().__init__()
        self._stage = stage
        self.selected = ""
        self.rows: dict[str, CommandRow] = {}
        self._inside = QWidget()
        self._column = QVBoxLayout(self._inside)
        self._column.setContentsMargins(0, 4, 0, 4)
        self._column.setSpacing(0)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(self._inside)
        self._scroll = scroll
        self._missing = QLabel()
        self._missing.setObjectName("quiet")
        self.add = AddField()
        self.add.setPlaceholderText("add: Jump = Space")
        self.add.setToolTip("A name and its key; a name alone asks for the key.\nMany lines can be pasted at once.")
        self.add.submitted.connect(self._added)
        foot = QVBoxLayout()
        foot.setContentsMargins(12, 4, 12, 8)
        foot.setSpacing(5)
        foot.addWidget(self._missing)
        foot.addWidget(self.add)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        outer.addWidget(scroll, 1)
        outer.addLayout(foot)
        studio = stage.studio
        studio.opened.connect(self._rebuild)
        studio.edited.connect(self._edited)
        studio.armed_changed.connect(self._listening)
        studio.selected_changed.connect(self.update_rows)
        stage.live.output_changed.connect(self.update_rows)
        self._rebuild()

    def _edited(self, changes: Changes) -> None:
        if changes.commands or changes.order:
            self._rebuild()
        elif changes.bindings or changes.layers:
            self._refresh()

    def _rebuild(self) -> None:
        while (item := self._column.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        self.rows = {}
        group = None
        for command in sorted_commands(self._stage.studio.profile.commands):
            if command.group != group:
                group = command.group
                self._column.addWidget(self._heading(group))
            row = CommandRow(self._stage, command.id, self)
            row.chosen.connect(self.choose)
            row.menu_wanted.connect(self.menu_wanted)
            row.stepped.connect(self._step)
            self.rows[command.id] = row
            self._column.addWidget(row)
        if not self.rows:
            self._column.addWidget(self._welcome())
        self._column.addStretch(1)
        self._inside.adjustSize()
        self._refresh()

    @staticmethod
    def _welcome() -> QLabel:
        label = QLabel(
            "The game's keys go here.\n\n"
            "Look them up in the game's settings and type them below, a name and its key:\n\n"
            "    Jump = Space\n    Look = right click\n\n"
            "A whole list can be pasted at once. Then pick one, press Enter, and touch the control that shall send it."
        )
        label.setObjectName("quiet")
        label.setWordWrap(True)
        label.setContentsMargins(14, 10, 14, 10)
        return label

    @staticmethod
    def _heading(group: str) -> QLabel:
        label = QLabel(group or "In no group")
        label.setObjectName("heading")
        label.setContentsMargins(14, 7, 0, 2)
        return label

    def _refresh(self) -> None:
        used = slots_by_command(self._stage.studio.profile)
        for command, row in self.rows.items():
            row.refresh(used[command])
        missing = sum(1 for slots in used.values() if not slots)
        total = len(used)
        verb = "has" if missing == 1 else "have"
        if not total:
            text = "no commands yet"
        elif missing:
            text = f"{missing} of {total} {verb} no control"
        else:
            text = f"all {total} have a control"
        self._missing.setText(text)

    def update_rows(self) -> None:
        """Paint the rows again: what is held or selected changed."""
        for row in self.rows.values():
            row.update()

    def choose(self, command: str) -> None:
        """Select a command and the control that sends it."""
        self.selected = command
        slots = slots_by_command(self._stage.studio.profile).get(command, [])
        here = next((s for s in slots if s.layer == self._stage.studio.layer), slots[0] if slots else None)
        if here is not None:
            self._stage.studio.select(here.control, here.direction)
        self.update_rows()

    def _listening(self) -> None:
        command = self._stage.studio.armed_command
        if command is not None and command in self.rows:
            self.selected = command
            self._scroll.ensureWidgetVisible(self.rows[command], 0, 40)
        self.update_rows()

    def _step(self, command: str, step: int) -> None:
        ids = list(self.rows)
        at = ids.index(command) + step
        if 0 <= at < len(ids):
            self.choose(ids[at])
            self.rows[ids[at]].setFocus(Qt.FocusReason.TabFocusReason)

    def _added(self, text: str) -> None:
        found = parse_key_list(text)
        studio = self._stage.studio
        if found.commands:
            group = self._group_for_new()
            commands = [c if c.group else replace(c, group=group) for c in found.commands]
            one = commands[0].name if len(commands) == 1 else f"{len(commands)} commands"
            before = {c.id for c in studio.profile.commands}
            studio.edit(f"Add {one}", lambda profile: edits.with_commands(profile, commands))
            new = [c for c in studio.profile.commands if c.id not in before]
            if new:
                self.choose(new[-1].id)
                if len(new) == 1 and not new[0].keys:
                    studio.arm_key_of(new[0].id)
        for problem in found.problems:
            studio.noticed.emit("warning", f"{problem}.")

    def _group_for_new(self) -> str:
        command = self._stage.studio.profile.command(self.selected)
        return command.group if command else ""


def sorted_commands(commands: tuple[Command, ...]) -> list[Command]:
    """The commands with those of a group together, groups in the order in which they first come."""
    groups = list(dict.fromkeys(c.group for c in commands))
    return sorted(commands, key=lambda c: groups.index(c.group))


class AddField(QLineEdit):
    """One line to type a command into; several pasted lines are taken at once."""

    submitted = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Add a command")

    def _submit(self) -> None:
        text = self.text().strip()
        if text:
            self.clear()
            self.submitted.emit(text)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Enter adds, and goes no further: it is no answer to what may listen then. Paste keeps the lines apart."""
        clipboard = QApplication.clipboard()
        if (
            event is not None
            and event.matches(QKeySequence.StandardKey.Paste)
            and clipboard is not None
            and "\n" in clipboard.text()
        ):
            self.submitted.emit(clipboard.text())
            return
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._submit()
            return
        super().keyPressEvent(event)


class CommandRow(Canvas):
    """One command: its caps, its name, and the marks of the controls that send it."""

    chosen = pyqtSignal(str)
    menu_wanted = pyqtSignal(str, object)
    stepped = pyqtSignal(str, int)

    def __init__(self, stage: Stage, command: str, owner: KeyList) -> None:
        super().__init__(stage.look)
        self._stage = stage
        self._owner = owner
        self.command = command
        self._slots: list[Slot] = []
        self._pressed_at: QPointF | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setFixedHeight(round(cap_height() + 5))

    def refresh(self, slots: list[Slot]) -> None:
        """The controls that send it changed."""
        self._slots = slots
        entry = self._stage.studio.profile.command(self.command)
        if entry is not None:
            keys = " and ".join(self._stage.label_of(key) for key in entry.keys) or "no key"
            controls = ", ".join(slot.control.replace("_", " ") for slot in slots) or "nothing sends it"
            self.setAccessibleName(f"{entry.name}, {keys}, {controls}")
        self.update()

    def sizeHint(self) -> QSize:
        """As wide as the list."""
        return QSize(220, self.height())

    @property
    def _listening(self) -> str:
        studio = self._stage.studio
        if studio.armed_command == self.command:
            return "touch a control"
        return "press its key" if studio.armed_key == self.command else ""

    def draw(self, painter: QPainter) -> None:
        """The row."""
        entry = self._stage.studio.profile.command(self.command)
        if entry is None:
            return
        theme, live = self.theme, self._stage.live
        rect = QRectF(self.rect()).adjusted(5, 0, -5, 0)
        if self._owner.selected == self.command or self.underMouse():
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.raised if self._owner.selected == self.command else theme.surface)
            painter.drawRoundedRect(rect, 6, 6)
        held = CapState.HELD if live.real else CapState.WOULD
        y = (self.height() - cap_height()) / 2
        caps = [(key, self._stage.label_of(key), held if key in live.held else CapState.REST) for key in entry.keys]
        x = 14.0
        if caps:
            x = draw_caps(painter, x, y, caps, theme, 110)
        else:
            painter.setPen(QPen(theme.quiet, 1, Qt.PenStyle.DashLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(x, y, cap_width("", ""), cap_height()), 4, 4)
            x += cap_width("", "") + 5
        right = self._draw_controls(painter)
        listening = self._listening
        painter.setFont(font(BODY))
        painter.setPen(theme.input if listening else theme.ink if self._slots else theme.quiet)
        room = right - x - 8
        text = elided(listening or entry.name, room)
        painter.drawText(QRectF(x + 3, 0, room, self.height()), Qt.AlignmentFlag.AlignVCenter, text)
        if listening or self.hasFocus():
            draw_focus(painter, rect, theme, 6)

    def _draw_controls(self, painter: QPainter) -> float:
        """Marks at the right edge, those of other layers fainter; returns where they begin."""
        middle = self.height() / 2
        x = self.width() - 14 - ROW_NUB
        controls: dict[str, bool] = {}
        for slot in self._slots:
            controls[slot.control] = controls.get(slot.control, False) or slot.layer in (self._stage.studio.layer, BASE)
        if not controls:
            draw_empty(painter, QPointF(x, middle), self.theme, ROW_NUB)
            return x - ROW_NUB
        for control, here in list(controls.items())[:MOST_NUBS]:
            depth = self._stage.live.depth(control)
            draw_nub(painter, QPointF(x, middle), control, depth, self.theme, radius=ROW_NUB, faint=not here)
            x -= 2 * ROW_NUB + 4
        return x + ROW_NUB

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Select; a drag may follow."""
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self._pressed_at = event.position()
            self.setFocus(Qt.FocusReason.MouseFocusReason)
            self.chosen.emit(self.command)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Drag the command to a control."""
        if event is None or self._pressed_at is None:
            return
        if (event.position() - self._pressed_at).manhattanLength() < QApplication.startDragDistance():
            return
        self._pressed_at = None
        data = QMimeData()
        data.setData(COMMAND_MIME, self.command.encode())
        drag = QDrag(self)
        drag.setMimeData(data)
        drag.setPixmap(self.grab())
        drag.exec(Qt.DropAction.CopyAction)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """No drag follows any more."""
        self._pressed_at = None

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """Listen for a touch of the control that shall send this."""
        self._stage.studio.arm_command(self.command)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Enter listens for a touch, arrows go to the next command, F2 and Delete are in the menu too."""
        if event is None:
            return
        match event.key():
            case Qt.Key.Key_Return | Qt.Key.Key_Enter:
                self._stage.studio.arm_command(self.command)
            case Qt.Key.Key_Up:
                self.stepped.emit(self.command, -1)
            case Qt.Key.Key_Down:
                self.stepped.emit(self.command, 1)
            case Qt.Key.Key_Menu:
                self.menu_wanted.emit(self.command, self.mapToGlobal(self.rect().bottomLeft()))
            case _:
                super().keyPressEvent(event)

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        """What else can be done with this command."""
        if event is not None:
            self.chosen.emit(self.command)
            self.menu_wanted.emit(self.command, event.globalPos())

    def enterEvent(self, event: QEnterEvent | None) -> None:
        """The mouse is here."""
        self.update()

    def leaveEvent(self, event: QEvent | None) -> None:
        """The mouse left."""
        self.update()
