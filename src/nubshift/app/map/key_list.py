"""The game's keys: its commands in groups, each with the control that sends it or a mark that nothing does."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from msgspec.structs import replace
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QKeySequence
from PyQt6.QtWidgets import QApplication, QVBoxLayout, QWidget

from nubshift.app.document import subject
from nubshift.app.editors.panel import link
from nubshift.app.map.command_model import CommandModel
from nubshift.app.map.command_view import CommandView
from nubshift.app.stage import Stage
from nubshift.app.widgets.fields import LineField
from nubshift.app.widgets.plain import Label
from nubshift.model import edits
from nubshift.model.keylist import parse_key_list
from nubshift.model.starters import STARTER_NAMES, STARTERS
from nubshift.texts import _


class KeyList(QWidget):
    """The list, with a field below to add to it."""

    menu_wanted = pyqtSignal(str, object)

    def __init__(self, stage: Stage) -> None:
        super().__init__()
        self._stage = stage
        self.model = CommandModel(stage, self)
        self.view = CommandView(stage, self.model)
        self.view.menu_wanted.connect(self.menu_wanted)
        self.view.chosen.connect(self.choose)
        self.missing = Label()
        self.missing.setObjectName("quiet")
        self.missing.setWordWrap(True)
        self.add = AddField()
        self.add.setPlaceholderText(_("Add: Jump = Space"))
        self.add.setToolTip(
            _(
                "A name and its key. With nothing after the = the next key you press is its key.\nMany lines "
                "can be pasted at once."
            )
        )
        self.add.submitted.connect(self.take_text)
        self._welcome = EmptyKeyList(self.take_text)
        foot = QVBoxLayout()
        foot.setContentsMargins(12, 4, 12, 8)
        foot.setSpacing(5)
        foot.addWidget(self.missing)
        foot.addWidget(self.add)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 4, 0, 0)
        outer.setSpacing(0)
        outer.addWidget(self._welcome, 1)
        outer.addWidget(self.view, 1)
        outer.addLayout(foot)
        studio = stage.studio
        studio.assigning.armed_changed.connect(self._listening)
        studio.selection.changed.connect(self.view.follow)
        self.model.dataChanged.connect(lambda *_: self._count())
        self.model.modelReset.connect(self._count)
        stage.grasp.changed.connect(self._count)
        self._count()

    @property
    def selected(self) -> str:
        """The id of the command, or the belt or macro, that is marked."""
        row = self.view.present
        return row.id if row is not None else ""

    def _count(self) -> None:
        total, missing = len(self._stage.studio.profile.commands), self.model.missing
        self._welcome.setVisible(total == 0)
        self.view.setVisible(bool(self.model.rows))
        parts = []
        if not total:
            parts.append(_("No commands yet"))
        elif missing:
            parts.append(_("{missing} of {total} without a control").format(missing=missing, total=total))
        else:
            parts.append(_("All {total} have a control").format(total=total))
        doubled = sum(1 for warning in self.model.warnings.values() if "same key" in warning)
        elsewhere = self.model.not_here
        if elsewhere:
            parts.append(_("{count} not on this controller").format(count=elsewhere))
        if doubled:
            parts.append(_("{count} share a key").format(count=doubled))
        self.missing.setToolTip(_("Controllers suggests other controls.") if elsewhere else "")
        self.missing.setText(" · ".join(parts))

    def choose(self, row_id: str) -> None:
        """Select a command and the control that sends it; or show a belt or a macro."""
        studio = self._stage.studio
        self.view.mark(row_id)
        if ":" in row_id:
            studio.selection.look_at(subject.of_owner(row_id))
            return
        slots = [s for s in self.model.slots.get(row_id, []) if s.seat == studio.selection.seat]
        here = next((s for s in slots if s.layer == studio.selection.layer), slots[0] if slots else None)
        if here is not None:
            studio.selection.select(here.control, here.part if here.part != "press" else "")
        else:
            studio.selection.look_at(subject.command(row_id))

    def _listening(self) -> None:
        command = self._stage.assigning.armed_command or self._stage.assigning.armed_key
        if command is not None:
            self.view.mark(command)
        self.view.update_rows()

    def take_text(self, text: str) -> None:
        """Add the commands of a text, one a line."""
        found = parse_key_list(text)
        studio = self._stage.studio
        if found.commands:
            group = self._group_for_new()
            commands = [c if c.group else replace(c, group=group) for c in found.commands]
            one = commands[0].name if len(commands) == 1 else _("{count} commands").format(count=len(commands))
            before = {c.id for c in studio.profile.commands}
            studio.document.edit(_("Add {one}").format(one=one), lambda profile: edits.with_commands(profile, commands))
            new = [c for c in studio.profile.commands if c.id not in before]
            bare = [c for c in new if edits.bare_places(studio.profile, c)]
            if bare:
                studio.selection.look_at(subject.command(bare[0].id))
                studio.document.noticed.emit(
                    "info",
                    _("The key of {name} was already assigned. Link it in the panel of the command.").format(
                        name=bare[0].name
                    ),
                )
            if new:
                self.view.mark(new[-1].id if len(new) == 1 else new[0].id)
                if len(new) == 1 and not new[0].keys and text.rstrip().endswith("="):
                    studio.assigning.arm_key_of(new[0].id)
        for problem in found.problems:
            studio.document.noticed.emit("warning", f"{problem}.")

    def _group_for_new(self) -> str:
        command = self._stage.studio.profile.command(self.selected)
        return command.group if command else ""


class EmptyKeyList(QWidget):
    """What to do with an empty list."""

    def __init__(self, take: Callable[[str], None]) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(14, 10, 14, 10)
        text = Label(
            _(
                "The game's keys go here.\n\nLook them up in the game's settings and type them below, a name "
                "and its key:\n\n    Jump = Space\n    Look = right click\n\nEnter adds it. A whole list can "
                "be pasted at once, or read from a file in the menu.\n\nOr begin with what games of a kind "
                "often have, and change what differs:"
            )
        )
        text.setObjectName("quiet")
        text.setWordWrap(True)
        column.addWidget(text)
        for name, lines in STARTERS.items():
            column.addWidget(link(STARTER_NAMES[name], partial(take, lines)), 0, Qt.AlignmentFlag.AlignLeft)
        column.addStretch(1)


class AddField(LineField):
    """One line to type a command into; several pasted lines are taken at once."""

    submitted = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(_("Add a command"))

    def _submit(self) -> None:
        text = self.text().strip()
        if text:
            self.setText("")  # with nothing to undo in it
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
