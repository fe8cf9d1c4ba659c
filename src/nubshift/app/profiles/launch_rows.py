"""Starting a profile's game from the shelf, by a command of the player's own (need N61)."""

from __future__ import annotations

import os
import shlex
import shutil
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QPoint, QProcess, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from nubshift.app.document.automatic_store import AutomaticStore
from nubshift.app.editors.panel import FlowLayout, link
from nubshift.app.shell.desktop_entries import game_entry, program, remove_game_entry, write_game_entry
from nubshift.app.widgets.fields import LineField
from nubshift.app.widgets.plain import Label, tip
from nubshift.app.widgets.tick_box import TickBox
from nubshift.errors import StorageError
from nubshift.model.automatic import MOST_COMMAND
from nubshift.model.programs import SeenProgram
from nubshift.protocol.messages import LaunchState
from nubshift.protocol.paths import with_tilde
from nubshift.texts import _


class BadCommand(Exception):
    """A command that can't be run; the text says why, in a part of a sentence."""


class LaunchRows(QWidget):
    """The command of one game, and what it starts. `pick` shows a menu of programs at a place."""

    noticed = pyqtSignal(str, str)

    def __init__(self, rules: AutomaticStore, pick: Callable[[QPoint, Callable[[SeenProgram], None]], None]) -> None:
        super().__init__()
        self._rules, self._pick = rules, pick
        self._name, self._title = "", ""
        self._launched = LaunchState()
        self.command = LineField("")
        self.command.setAccessibleName(_("Command that starts the game"))
        self.command.setPlaceholderText(_("As in a terminal, for example ferrowdeep --windowed"))
        self.command.setMaxLength(MOST_COMMAND)
        self.command.textEdited.connect(lambda _: self._let_start())
        self.command.editingFinished.connect(self._typed)
        self.start = QPushButton(_("Start game"))
        self.start.clicked.connect(self._start)
        self.from_program = link(_("Take the command of a running program…"), self._choose)
        self.in_menu = TickBox(_("Show in the application menu"))
        self.in_menu.clicked.connect(self._in_menu_changed)
        self.told = Label()
        self.told.setObjectName("quiet")
        self.told.setWordWrap(True)
        row = QHBoxLayout()
        row.setSpacing(8)
        row.addWidget(self.command, 1)
        row.addWidget(self.start)
        below = QWidget()
        flow = FlowLayout(16, 4)
        below.setLayout(flow)
        flow.addWidget(self.in_menu)
        flow.addWidget(self.from_program)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        column.addLayout(row)
        column.addWidget(self.told)
        column.addWidget(below)

    def show_game(self, name: str, title: str) -> None:
        """The game of the profile with this name."""
        if name != self._name:
            self.command.setModified(False)
        self._name, self._title = name, title
        self.refresh()

    def show_launched(self, launched: LaunchState) -> None:
        """A game runs that was started with its profile, or none."""
        self._launched = launched
        self.refresh()

    @property
    def _text(self) -> str:
        return self._rules.now.commands.get(self._name, "")

    def refresh(self) -> None:
        """As things are."""
        if not self.command.isModified():
            self.command.setText(self._text)
        self._let_start()
        entry = game_entry(self._name)
        self.in_menu.setChecked(entry.exists())
        self.in_menu.setEnabled(bool(self._text) or entry.exists())
        self.told.setText(_("Written: {paths}").format(paths=with_tilde(entry)) if entry.exists() else "")
        self.told.setVisible(entry.exists())

    def _let_start(self) -> None:
        """Whether there is something to start, by what is typed so far."""
        runs = self._launched.pid != 0
        self.start.setText(_("Running") if runs and self._launched.profile == self._name else _("Start game"))
        self.start.setEnabled(bool(self.command.text().strip()) and not runs)
        self.start.setToolTip(
            tip(_("A game that was started with its profile is still running.") if runs else self._text)
        )

    def _typed(self) -> None:
        if self.command.isModified():
            self.command.setModified(False)
            self._set(self.command.text().strip())

    def _set(self, text: str) -> None:
        """This command from now on; the entry in the menu follows it."""
        self._rules.change(self._rules.now.with_command(self._name, text))
        if game_entry(self._name).exists():
            self._write(bool(text))
        self.refresh()

    def _choose(self) -> None:
        below = self.from_program.mapToGlobal(self.from_program.rect().bottomLeft())
        self._pick(below, lambda seen: self._set(shlex.join(seen.command)[:MOST_COMMAND]))

    def _in_menu_changed(self) -> None:
        self._write(self.in_menu.isChecked())
        self.refresh()

    def _write(self, on: bool) -> None:
        try:
            if on:
                write_game_entry(self._name, self._title, words_of(self._text))
            else:
                remove_game_entry(self._name)
        except (StorageError, BadCommand) as error:
            self.noticed.emit("error", f"{error}.")

    def _start(self) -> None:
        """Start it as a program of its own, which outlives this window."""
        try:
            words = words_of(self._text)
        except BadCommand as error:
            self.noticed.emit("error", f"{error}.")
            return
        line = [*program(), "play", self._name, "--", *words]
        process = QProcess()
        process.setProgram(line[0])
        process.setArguments(line[1:])
        process.setWorkingDirectory(str(Path.home()))
        if not process.startDetached()[0]:
            self.noticed.emit("error", _("{program} could not be started.").format(program=line[0]))


def words_of(text: str) -> list[str]:
    """The words of a command, as a shell reads them, without running one. Raises BadCommand."""
    try:
        words = shlex.split(text)
    except ValueError as error:
        raise BadCommand(_("The command can't be read: a quote is not closed")) from error
    if not words:
        raise BadCommand(_("The game has no command yet"))
    words[0] = os.path.expanduser(words[0])
    if shutil.which(words[0]) is None:
        raise BadCommand(_("There is no program {program}. Check the command of the game").format(program=words[0]))
    return words
