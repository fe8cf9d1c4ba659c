"""The rows of the key list: groups, commands, belts and macros, with what is said about each."""

from __future__ import annotations

from enum import IntEnum
from typing import Any

from PyQt6.QtCore import QAbstractListModel, QMimeData, QModelIndex, QObject, Qt, pyqtSignal

from nubshift.app.painting.timing import once
from nubshift.app.stage import COMMAND_MIME, Stage
from nubshift.app.widgets.plain import tip
from nubshift.model import edits
from nubshift.model.changes import Changes
from nubshift.model.checks import command_warnings
from nubshift.model.profile import Command
from nubshift.model.sentences import slot_name
from nubshift.model.slots import BELT, MACRO, TOGETHER, Slot
from nubshift.model.usage import slots_by_command
from nubshift.records import Record
from nubshift.texts import _, listed


class RowKind(IntEnum):
    """What a row is."""

    GROUP = 0
    COMMAND = 1
    PART = 2


class CommandRow(Record, frozen=True):
    """One row: a group by its name, a command by its id, a belt or macro as its subject (``belt:ID``)."""

    kind: RowKind
    id: str
    text: str
    group: str = ""


LOOK_MS = 40
"""The rows follow an edit of a control this long after the last one, so that a drag is not slowed by them."""

ROW_ROLE = Qt.ItemDataRole.UserRole


class CommandModel(QAbstractListModel):
    """What the list shows. Commands are dragged to controls, and within the list to another place."""

    moved = pyqtSignal(str)

    def __init__(self, stage: Stage, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._stage = stage
        self.rows: list[CommandRow] = []
        self._commands: dict[str, Command] = {}
        self.slots: dict[str, list[Slot]] = {}
        self.warnings: dict[str, str] = {}
        self._later = once(self, LOOK_MS, self._look)
        studio = stage.studio
        studio.document.opened.connect(self.rebuild)
        studio.document.edited.connect(self._edited)
        self.rebuild()

    def _edited(self, changes: Changes) -> None:
        if changes.commands or changes.order or changes.rest:
            self.rebuild()
        elif changes.bindings or changes.layers:
            self._later.start()

    def rebuild(self) -> None:
        """The rows anew."""
        profile = self._stage.studio.profile
        rows: list[CommandRow] = []
        group: str | None = None
        for command in sorted_commands(profile.commands):
            if command.group != group:
                group = command.group
                rows.append(CommandRow(RowKind.GROUP, group, group or _("No group"), group))
            rows.append(CommandRow(RowKind.COMMAND, command.id, command.name, command.group))
        for name, prefix, parts in ((_("Belts"), BELT, profile.belts), (_("Macros"), MACRO, profile.macros)):
            if parts:
                rows.append(CommandRow(RowKind.GROUP, "", name))
                rows += [CommandRow(RowKind.PART, f"{prefix}{part.id}", part.name) for part in parts]
        commands = {c.id: c for c in profile.commands}
        if rows != self.rows:
            self.beginResetModel()
            self.rows, self._commands = rows, commands
            self.endResetModel()
        self._commands = commands
        self._look()

    def _look(self) -> None:
        """Who sends what, and what is wrong."""
        self._later.stop()
        profile = self._stage.studio.profile
        self.slots = slots_by_command(profile)
        self.warnings = command_warnings(profile)
        if self.rows:
            self.dataChanged.emit(self.index(0), self.index(len(self.rows) - 1))

    def command(self, command_id: str) -> Command | None:
        """A command of the list."""
        return self._commands.get(command_id)

    @property
    def missing(self) -> int:
        """How many commands have no control."""
        return sum(1 for slots in self.slots.values() if not slots)

    @property
    def not_here(self) -> int:
        """How many commands have controls, but none that is on the controller in use."""
        seat, there = self._stage.selection.seat, {*self._stage.grasp.controls, "dpad"}
        there |= {"touch_pad_left", "touch_pad_right"} if "touch_pad" in there else set()

        def is_reached(slot: Slot) -> bool:
            in_part = slot.control.startswith((BELT, MACRO))
            return in_part or slot.seat != seat or set(slot.control.split(TOGETHER)) <= there

        return sum(1 for slots in self.slots.values() if slots and not any(is_reached(slot) for slot in slots))

    def row_of(self, row_id: str) -> int:
        """The number of the row of a command, belt or macro; -1 if there is none."""
        return next((i for i, row in enumerate(self.rows) if row.id == row_id and row.kind is not RowKind.GROUP), -1)

    # For the view

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        """How many rows."""
        return len(self.rows)

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        """The text of a row, what a screen reader says of it, what is wrong, or the row itself."""
        if not 0 <= index.row() < len(self.rows):
            return None
        row = self.rows[index.row()]
        match role:
            case Qt.ItemDataRole.DisplayRole:
                return row.text
            case Qt.ItemDataRole.AccessibleTextRole:
                return self.spoken(row)
            case Qt.ItemDataRole.ToolTipRole:
                return tip(self.warnings.get(row.id, "")) if row.kind is RowKind.COMMAND else ""
            case _:
                return row if role == ROW_ROLE else None

    def spoken(self, row: CommandRow) -> str:
        """A row in one sentence."""
        command = self._commands.get(row.id) if row.kind is RowKind.COMMAND else None
        if command is None:
            if row.kind is RowKind.GROUP:
                return _("Group {name}").format(name=row.text)
            return (_("Belt {name}") if row.id.startswith(BELT) else _("Macro {name}")).format(name=row.text)
        profile = self._stage.studio.profile
        keys = listed([self._stage.label_of(key) for key in command.keys]) or _("No key")
        slots = self.slots.get(row.id, [])
        controls = ", ".join(
            dict.fromkeys(slot_name(profile, slot, self._stage.selection.names) for slot in slots)
        ) or _("No control")
        warning = self.warnings.get(row.id, "")
        return f"{command.name}, {keys}, {controls}{f'. {warning}' if warning else ''}"

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        """Groups can't be selected; commands can be dragged, and dropped anywhere between the rows."""
        flags = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsDropEnabled
        if 0 <= index.row() < len(self.rows):
            if self.rows[index.row()].kind is not RowKind.GROUP:
                flags |= Qt.ItemFlag.ItemIsSelectable
            if self.rows[index.row()].kind is RowKind.COMMAND:
                flags |= Qt.ItemFlag.ItemIsDragEnabled
        return flags

    def mimeTypes(self) -> list[str]:
        """What is dragged."""
        return [COMMAND_MIME]

    def mimeData(self, indexes: Any) -> QMimeData:
        """The command dragged."""
        data = QMimeData()
        for index in indexes:
            data.setData(COMMAND_MIME, self.rows[index.row()].id.encode())
        return data

    def supportedDropActions(self) -> Qt.DropAction:
        """Within the list it moves, on a control it is copied."""
        return Qt.DropAction.MoveAction | Qt.DropAction.CopyAction

    def dropMimeData(
        self, data: QMimeData | None, action: Qt.DropAction, row: int, column: int, parent: QModelIndex
    ) -> bool:
        """Put a command in another place of the list."""
        if data is None or not data.hasFormat(COMMAND_MIME):
            return False
        self.move(bytes(data.data(COMMAND_MIME).data()).decode(), parent.row() if row < 0 else row)
        return False  # the rows follow the profile; the view must not take any out

    def move(self, command_id: str, to: int) -> None:
        """Put a command before the row `to`, in the group that it then stands in."""
        command = self._commands.get(command_id)
        if command is None:
            return
        before = self.rows[to] if 0 <= to < len(self.rows) and self.rows[to].kind is RowKind.COMMAND else None
        above = [row for row in self.rows[: max(0, to)] if row.kind is not RowKind.PART]
        group = before.group if before else above[-1].group if above else self.rows[0].group
        if to < len(self.rows) and to >= 0 and self.rows[to].kind is RowKind.GROUP and not above:
            group = self.rows[to].group
        target = before.id if before else None
        self._stage.document.edit(
            _("Move {name}").format(name=command.name),
            lambda profile: edits.with_command_moved(profile, command_id, target, group),
        )
        self.moved.emit(command_id)

    def step(self, command_id: str, by: int) -> None:
        """Move a command one place up or down."""
        at = self.row_of(command_id)
        self.move(command_id, at - 1 if by < 0 else at + 2)


def sorted_commands(commands: tuple[Command, ...]) -> list[Command]:
    """The commands with those of a group together, groups in the order in which they first come."""
    groups = {group: at for at, group in enumerate(dict.fromkeys(c.group for c in commands))}
    return sorted(commands, key=lambda c: groups[c.group])
