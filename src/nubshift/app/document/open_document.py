"""The open profile with its file: every edit of it, and its saving.

Everything the window changes in a profile goes through here, and every view learns of it by these signals.
"""

from __future__ import annotations

import os
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QFileSystemWatcher, QObject, pyqtSignal

from nubshift.app.painting.timing import once
from nubshift.errors import ProfileError, StorageError
from nubshift.model.changes import Changes
from nubshift.model.document import Document
from nubshift.model.fair_play import fair_play
from nubshift.model.neighbours import Neighbours
from nubshift.model.profile import Profile
from nubshift.model.rescue import Rescued, rescue
from nubshift.model.store import ProfileFile
from nubshift.model.usage import LayerEntries, entries_by_layer
from nubshift.protocol.paths import rescue_folder
from nubshift.texts import _

SAVE_MS = 250
"""An edit is on disk this long after the last one,"""
SAVE_AT_LATEST_MS = 1000
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
            raise LookupError(
                _(
                    "{text}, and in this profile one press may send only one output. You can turn that off under Fair "
                    "play in Profiles"
                ).format(text=problem.text)
            )
    return after


class OpenDocument(QObject):
    """A profile, its file, and the steps of its history.

    `leaving` says that what is there now is about to be replaced: by another profile, by undo, or by another program.
    """

    opened = pyqtSignal()
    edited = pyqtSignal(Changes)
    leaving = pyqtSignal()
    saved_changed = pyqtSignal()
    noticed = pyqtSignal(str, str)
    changed_outside = pyqtSignal(str)

    def __init__(self, file: ProfileFile, profile: Profile, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.file = file
        self.history = Document(profile)
        self._entries: tuple[Profile, dict[str, LayerEntries]] | None = None
        self._neighbours = Neighbours()
        self.saved = os.path.exists(file.path)
        self.trouble = ""
        self.copy: Rescued | None = None
        self._save = once(self, SAVE_MS, self.save)
        self._save_at_latest = once(self, SAVE_AT_LATEST_MS, self.save)
        self._watch = QFileSystemWatcher(self)
        self._look_outside = once(self, OUTSIDE_MS, self._changed_on_disk)
        self._watch.fileChanged.connect(lambda _: self._look_outside.start())
        self._watch.directoryChanged.connect(lambda _: self._look_outside.start())
        self._watch_file()

    @property
    def profile(self) -> Profile:
        """The profile as it is now."""
        return self.history.profile

    def neighbours(self) -> dict[str, Profile]:
        """The profiles beside this one that it enters while a control is held, by name; read once each."""
        return self._neighbours.of(self.profile, self.file.path.parent)

    def entries(self, layer: str) -> LayerEntries:
        """What enters a layer; looked up once for all layers per state of the profile."""
        if self._entries is None or self._entries[0] is not self.profile:
            self._entries = (self.profile, entries_by_layer(self.profile))
        return self._entries[1].get(layer, LayerEntries(()))

    # Opening and saving

    def open(self, path: Path) -> bool:
        """Open another profile file; the one open now is saved first. On trouble say so and change nothing."""
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
        self.save()
        self.leaving.emit()
        self.copy = None
        self.file, self.history = file, Document(profile)
        self.saved, self.trouble = not new, ""
        if new:
            self.save()
        self._watch_file()
        self.opened.emit()
        self.saved_changed.emit()

    def save(self) -> bool:
        """Write what is not written yet; False (and a notice) if that fails, the edits stay and are tried again."""
        self._save.stop()
        self._save_at_latest.stop()
        if self.saved:
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
                self.saved_changed.emit()
            self._save.start(SAVE_MS * 20)
            return False
        self._saved(aside)
        return True

    def close(self) -> None:
        """The program ends: what others do to the file is followed no more, nor is anything saved."""
        for timer in (self._save, self._save_at_latest, self._look_outside):
            timer.stop()
        self._watch.blockSignals(True)

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
        self.saved, self.trouble = True, ""
        self.saved_changed.emit()

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
        self.leaving.emit()
        self._changed(self.history.edit(OUTSIDE, lambda _: profile))
        self._save.stop()
        self._save_at_latest.stop()
        self.saved, self.trouble = True, ""
        self.saved_changed.emit()
        self.changed_outside.emit(
            _("Another program changed {name}. Its version is shown now.").format(name=self.file.path.name)
        )

    # Editing

    def edit(self, title: str, change: Callable[[Profile], Profile], merge: str = "") -> bool:
        """Do a named edit; see `Document.edit`. False, and a notice, if that would not make a valid profile."""
        try:
            changes = self.history.edit(title, lambda profile: _in_fairness(profile, change(profile)), merge)
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
        self.history.note(title, back, forth)
        forth()
        self.saved_changed.emit()

    def undo(self, steps: int = 1) -> None:
        """Take the last edits back."""
        self.leaving.emit()
        for _unused in range(steps):
            self._changed(self.history.undo())
        self.saved_changed.emit()

    def redo(self) -> None:
        """Do the edit again that was taken back last."""
        self.leaving.emit()
        self._changed(self.history.redo())
        self.saved_changed.emit()

    def _changed(self, changes: Changes) -> None:
        if not changes:
            return
        self.saved = False
        self._save.start(SAVE_MS)
        if not self._save_at_latest.isActive():
            self._save_at_latest.start()
        self.edited.emit(changes)
        self.saved_changed.emit()
