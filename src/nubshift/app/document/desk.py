"""What lies on the desk: the open profile with its file, what of it is looked at, and every edit of it.

Everything the window changes in a profile goes through here, and every view learns of it by these signals.
"""

from __future__ import annotations

import os
from collections.abc import Callable, Iterable
from pathlib import Path

from PyQt6.QtCore import QFileSystemWatcher, QObject, pyqtSignal

from nubshift.app.painting.timing import once
from nubshift.errors import ProfileError, StorageError
from nubshift.model.changes import Changes
from nubshift.model.document import Document
from nubshift.model.fair_play import fair_play
from nubshift.model.names import Names
from nubshift.model.neighbours import Neighbours
from nubshift.model.part import DIRECTIONS, Direction
from nubshift.model.profile import BASE, Profile
from nubshift.model.rescue import Rescued, rescue
from nubshift.model.roles import KeysRole
from nubshift.model.slots import Slot, side
from nubshift.model.store import ProfileFile
from nubshift.model.usage import LayerEntries, entries_by_layer, whole_of
from nubshift.protocol.paths import rescue_folder
from nubshift.texts import _

KEEP_MS = 250
"""An edit is on disk this long after the last one,"""
KEEP_AT_LATEST_MS = 1000
"""and this long after the first that is not, whatever follows it."""
OUTSIDE_MS = 120
"""How long after the last word of a change on disk the file is looked at: writers write in several steps."""


OUTSIDE = _("Changes made by another program")
"""The name of the undo step that another program's version is."""


def _in_fairness(before: Profile, after: Profile) -> Profile:
    """`after`, if a profile in which one press sends just one thing stays so. Raises LookupError that says why not."""
    if not (before.habits.one_to_one and after.habits.one_to_one) or after is before:
        return after
    known = {problem.text for problem in fair_play(before)}
    for problem in fair_play(after):
        if problem.text not in known:
            raise LookupError(_("{text}, and this profile allows only one output per press").format(text=problem.text))
    return after


def direction_of(button: str) -> Direction:
    """The direction of a button of the d-pad."""
    return next(way for way in DIRECTIONS if button == f"dpad_{way}")


class Desk(QObject):
    """The open profile, and what of it is being looked at.

    `subject` is what the inspector shows: ``control`` (the selected one), ``layer``, or a command, belt or macro as
    ``command:ID``, ``belt:ID``, ``macro:ID``. `control` may be several joined with ``+``, pressed together. `part` is
    the part of it that is edited, empty for the one that comes first. `chosen` are all tiles selected, the control
    among them.
    """

    opened = pyqtSignal()
    edited = pyqtSignal(Changes)
    selected_changed = pyqtSignal()
    layer_changed = pyqtSignal()
    seat_changed = pyqtSignal()
    kept_changed = pyqtSignal()
    noticed = pyqtSignal(str, str)
    changed_outside = pyqtSignal(str)
    named = pyqtSignal()

    def __init__(self, file: ProfileFile, profile: Profile, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.file = file
        self.document = Document(profile)
        self.layer = BASE
        self.seat = profile.seats[0].id
        self.control = "south"
        self.part = ""
        self.chosen: tuple[str, ...] = ("south",)
        self.subject = "control"
        self.names = Names()
        self._entries: tuple[Profile, dict[str, LayerEntries]] | None = None
        self._neighbours = Neighbours()
        self.kept = os.path.exists(file.path)
        self.trouble = ""
        self.copy: Rescued | None = None
        self._keep = once(self, KEEP_MS, self.keep)
        self._keep_at_latest = once(self, KEEP_AT_LATEST_MS, self.keep)
        self._watch = QFileSystemWatcher(self)
        self._look_outside = once(self, OUTSIDE_MS, self._changed_on_disk)
        self._watch.fileChanged.connect(lambda _: self._look_outside.start())
        self._watch.directoryChanged.connect(lambda _: self._look_outside.start())
        self._watch_file()

    @property
    def profile(self) -> Profile:
        """The profile as it is now."""
        return self.document.profile

    def neighbours(self) -> dict[str, Profile]:
        """The profiles beside this one that it enters while a control is held, by name; read once each."""
        return self._neighbours.of(self.profile, self.file.path.parent)

    # Opening and keeping

    def open(self, path: Path) -> bool:
        """Open another profile file; the one open now is kept first. On trouble say so and change nothing."""
        file = ProfileFile(path)
        try:
            profile = file.read()
        except (ProfileError, StorageError) as error:
            self.noticed.emit("error", f"{error}")
            return False
        self.begin(file, profile)
        return True

    def begin(self, file: ProfileFile, profile: Profile, new: bool = False) -> None:
        """Edit this profile from now on; a `new` one is written at once."""
        self.keep()
        self.disarm()
        self.copy = None
        self.file, self.document = file, Document(profile)
        self.layer, self.part, self.subject = BASE, "", "control"
        self.seat = profile.seats[0].id
        self.control = self.control.partition("+")[0]
        self.chosen = (self.control,)
        self.kept, self.trouble = not new, ""
        if new:
            self.keep()
        self._watch_file()
        self.opened.emit()
        self.kept_changed.emit()

    def call_controls(self, names: Names) -> None:
        """The controls are called so from now on: by the print of the controller in use."""
        if names.words != self.names.words:
            self.names = names
            self.named.emit()

    def disarm(self) -> None:
        """Nothing listens any more."""

    def keep(self) -> bool:
        """Write what is not written yet; False (and a notice) if that fails, the edits stay and are tried again."""
        self._keep.stop()
        self._keep_at_latest.stop()
        if self.kept:
            return True
        try:
            aside = self.file.write(self.profile)
        except StorageError as error:
            self._rescue()
            if str(error) != self.trouble:
                self.trouble = str(error)
                words = _("{error}. Your edits are safe in this window.")
                if self.copy:
                    words = _("{error}. Your edits are safe in this window, and a copy is in {path}.")
                path = self.copy.path if self.copy else ""
                self.noticed.emit("error", words.format(error=error, path=path))
                self.kept_changed.emit()
            self._keep.start(KEEP_MS * 20)
            return False
        self._saved(aside)
        return True

    def _rescue(self) -> None:
        """Keep a copy of what can't be saved, so that nothing is lost whatever ends the program."""
        try:
            self.copy = rescue(rescue_folder(), self.file.path, self.profile)
        except StorageError:
            self.copy = None

    def save_to(self, path: Path) -> bool:
        """Save the profile in another file, which is the one open from now on; whether that worked."""
        file = ProfileFile(path)
        try:
            aside = file.write(self.profile)
        except StorageError as error:
            self.trouble = str(error)
            return False
        self.file = file
        self._saved(aside)
        return True

    def _saved(self, aside: Path | None) -> None:
        """Every edit is on disk."""
        if self.copy is not None:
            self.copy.remove()
            self.copy = None
        self._watch_file()
        if aside is not None:
            self.noticed.emit(
                "warning",
                _("Another program had changed the file. Its version was saved as {name}.").format(name=aside.name),
            )
        self.kept, self.trouble = True, ""
        self.kept_changed.emit()

    # What others do to the file

    def _watch_file(self) -> None:
        """Hear of changes of the file, also when it is replaced by another one."""
        wanted = {str(self.file.path), str(self.file.path.parent)}
        watched = {*self._watch.files(), *self._watch.directories()}
        if watched - wanted:
            self._watch.removePaths(list(watched - wanted))
        there = [path for path in wanted - watched if os.path.exists(path)]
        if there:
            self._watch.addPaths(there)

    def _changed_on_disk(self) -> None:
        """Something happened at the file. Another program's version is shown at once, as an edit that can be undone.

        What was not saved yet by then is part of the step before it.
        """
        self._watch_file()
        try:
            data = self.file.changed_outside()
            if data is None:
                return
            profile = self.file.take_over(data)
        except (ProfileError, StorageError) as error:
            if str(error) != self.trouble:
                self.trouble = str(error)
                self.noticed.emit(
                    "error",
                    _(
                        "Another program changed the file, and it can't be read now: {error}. Your version is open "
                        "here. Your next edit saves it and moves the other version aside."
                    ).format(error=error),
                )
            return
        self.disarm()
        self._changed(self.document.edit(OUTSIDE, lambda _: profile))
        self._keep.stop()
        self._keep_at_latest.stop()
        self.kept, self.trouble = True, ""
        self.kept_changed.emit()
        self.changed_outside.emit(
            _("Another program changed {name}. Its version is shown now.").format(name=self.file.path.name)
        )

    # Editing

    def edit(self, title: str, change: Callable[[Profile], Profile], merge: str = "") -> bool:
        """Do a named edit; see `Document.edit`. False, and a notice, if that would not make a valid profile."""
        try:
            changes = self.document.edit(title, lambda profile: _in_fairness(profile, change(profile)), merge)
        except ProfileError as error:
            self.noticed.emit("error", _("That can't be done: {text}.").format(text=error.problems[0].text))
            return False
        except LookupError as error:
            self.noticed.emit("error", _("That can't be done: {arg}.").format(arg=error.args[0]))
            return False
        self._changed(changes)
        return True

    def note(self, title: str, back: Callable[[], None], forth: Callable[[], None]) -> None:
        """Do something that is no part of the profile as a named step of undo: `forth` does it, `back` undoes it."""
        self.document.note(title, back, forth)
        forth()
        self.kept_changed.emit()

    def undo(self, steps: int = 1) -> None:
        """Take the last edits back."""
        self.disarm()
        for _unused in range(steps):
            self._changed(self.document.undo())
        self.kept_changed.emit()

    def redo(self) -> None:
        """Do the edit again that was taken back last."""
        self.disarm()
        self._changed(self.document.redo())
        self.kept_changed.emit()

    def _changed(self, changes: Changes) -> None:
        if not changes:
            return
        if self.profile.layer(self.layer) is None:
            self.show_layer(BASE)
        if not self._subject_is_there():
            self.subject = "control"
            self.selected_changed.emit()
        if all(seat.id != self.seat for seat in self.profile.seats):
            self.show_seat(self.profile.seats[0].id)
        self.kept = False
        self._keep.start(KEEP_MS)
        if not self._keep_at_latest.isActive():
            self._keep_at_latest.start()
        self.edited.emit(changes)
        self.kept_changed.emit()

    def _subject_is_there(self) -> bool:
        kind, _unused, name = self.subject.partition(":")
        match kind:
            case "command":
                return self.profile.command(name) is not None
            case "belt":
                return self.profile.belt(name) is not None
            case "macro":
                return self.profile.macro(name) is not None
        return True

    # Looking

    def select(self, control: str, part: str = "") -> None:
        """Select a control, or one part of it. Whatever listened stops listening."""
        wanted = (control, part, tuple(control.split("+")), "control")
        if wanted != (self.control, self.part, self.chosen, self.subject):
            self.disarm()
            self.control, self.part, self.chosen, self.subject = wanted
            self.selected_changed.emit()

    def choose_also(self, controls: Iterable[str]) -> None:
        """Select several controls; the last one is the one that has the keyboard."""
        chosen = tuple(dict.fromkeys(controls))
        if chosen and chosen != self.chosen:
            self.disarm()
            self.chosen, self.control, self.part, self.subject = chosen, chosen[-1], "", "control"
            self.selected_changed.emit()

    def look_at(self, subject: str) -> None:
        """Show a layer, command, belt or macro in place of the control."""
        if subject != self.subject:
            self.disarm()
            self.subject = subject
            self.part = ""
            self.selected_changed.emit()

    def show_layer(self, layer: str) -> None:
        """Edit this layer from now on."""
        if layer != self.layer:
            self.disarm()
            self.layer = layer
            self.layer_changed.emit()

    def show_seat(self, seat: str) -> None:
        """Edit what the controller in this seat does from now on."""
        if seat != self.seat:
            self.disarm()
            self.seat = seat
            self.seat_changed.emit()

    def entries(self, layer: str) -> LayerEntries:
        """What enters a layer; looked up once for all layers per state of the profile."""
        if self._entries is None or self._entries[0] is not self.profile:
            self._entries = (self.profile, entries_by_layer(self.profile))
        return self._entries[1].get(layer, LayerEntries(()))

    def slot(self, control: str | None = None, part: str = "") -> Slot:
        """A slot of a control (the selected one by default) in the layer and seat shown.

        That of a button of a d-pad used as keys is the whole's, in its direction.
        """
        name = control or self.control
        whole = whole_of(self.profile, self.layer, name, self.seat) if part in ("", "press") else None
        if whole is not None and isinstance(whole.binding.role, KeysRole):
            return Slot(self.layer, "dpad", side(direction_of(name)), self.seat)
        return Slot(self.layer, control or self.control, part or "press", self.seat)
