"""A folder that is kept in step by other programs and machines: what changes there is taken in, and nothing is lost."""

from __future__ import annotations

import time
from collections.abc import Callable
from pathlib import Path
from typing import NamedTuple

from msgspec.structs import replace
from PyQt6.QtCore import QFileSystemWatcher, QObject, pyqtSignal

from nubshift.app.document.open_document import OpenDocument
from nubshift.app.painting.timing import every, once
from nubshift.errors import ProfileError, StorageError
from nubshift.model.exchange import Synced, digest, move, read_synced, write_synced
from nubshift.model.powers import powers
from nubshift.model.profile import SUFFIX, Profile
from nubshift.model.reading import parse_profile
from nubshift.model.store import profile_bytes, profile_paths, read_profile, write_atomically
from nubshift.model.versions import Sessions, utc_now
from nubshift.model.writing import profile_text
from nubshift.protocol.paths import with_tilde
from nubshift.texts import _

LOOK_MS = 800
"""After something changed: a program that syncs writes in several steps."""
AGAIN_MS = 30_000
"""Some file systems tell nothing of changes."""
STILL_SECONDS = 5.0
"""Nobody edits a profile that was not edited for so long."""


class _Known(NamedTuple):
    """What was read from a file, and what tells it apart: of two spellings of one profile the same."""

    data: bytes
    digest: str
    meaning: Profile | ProfileError


def _known(data: bytes, path: Path) -> _Known:
    try:
        profile = parse_profile(data, str(path))
    except ProfileError as error:
        return _Known(data, digest(data), error)
    return _Known(data, digest(profile_text(profile)), profile)


class SyncedFolder(QObject):
    """Exchanges the profiles in `own` with the folder of the settings. `waits` tells that `offered` or `conflicts`, the
    paths there of what is new and of what changed on both sides, have others than before."""

    noticed = pyqtSignal(str, str)
    waits = pyqtSignal()
    taken = pyqtSignal()

    def __init__(
        self, document: OpenDocument, own: Path, state: Path, clock: Callable[[], float] = time.monotonic
    ) -> None:
        super().__init__(document)
        self._document, self._own, self._state, self._clock = document, own, state, clock
        self._folder: Path | None = None
        self._gives = False
        self.offered: list[Path] = []
        self.conflicts: list[Path] = []
        self._asked: object = []
        self._told: set[str] = set()
        self._known: dict[Path, _Known] = {}
        self._edited_at = -STILL_SECONDS
        self._watch = QFileSystemWatcher(self)
        self._look = once(self, LOOK_MS, self.exchange)
        self._again = every(self, AGAIN_MS, self.exchange)
        self._watch.directoryChanged.connect(lambda _: self._look.start())
        self._watch.fileChanged.connect(lambda _: self._look.start())
        document.saved_changed.connect(self._saved)
        document.edited.connect(self._note_edit)

    def _note_edit(self) -> None:
        self._edited_at = self._clock()

    def _saved(self) -> None:
        if self._folder is not None and self._document.saved:
            self._look.start()

    def follow(self, folder: str, gives: bool) -> None:
        """Exchange with this folder from now on; none for an empty one."""
        wanted = Path(folder) if folder else None
        if (wanted, gives) == (self._folder, self._gives):
            return
        self._folder, self._gives = wanted, gives
        watched = [*self._watch.files(), *self._watch.directories()]
        if watched:
            self._watch.removePaths(watched)
        if wanted is None:
            self._again.stop()
            self._look.stop()
        else:
            self._again.start()
            self.exchange()

    def exchange(self) -> None:
        """Bring here and there into step, as far as nothing stands against it."""
        folder = self._folder
        if folder is None:
            return
        if not folder.is_dir():
            self._tell_once("warning", _("The synced folder {path} is not there.").format(path=with_tilde(folder)))
            return
        self._follow_files(folder)
        try:
            synced = read_synced(self._state)
        except StorageError as error:
            self._tell_once("warning", f"{error}.")
            synced = Synced()
        common = dict(synced.common) if synced.folder == str(folder) else {}
        names = {path.name for place in (self._own, folder) for path in profile_paths(place)}
        self.offered, self.conflicts = [], []
        for name in sorted(names | common.keys()):
            try:
                self._exchange_one(name, folder, common)
            except (StorageError, ProfileError) as error:
                self._tell_once("error", f"{error}")
        asked = [(path, self._known.get(path)) for path in (*self.offered, *self.conflicts)]
        if asked != self._asked:
            self._asked = asked
            self.waits.emit()
        fresh = Synced(folder=str(folder), common=common)
        if fresh != replace(synced, version=fresh.version):
            try:
                write_synced(self._state, fresh)
            except StorageError as error:
                self._tell_once("error", f"{error}.")

    def _follow_files(self, folder: Path) -> None:
        """Hear of changes within files, which a folder does not tell of."""
        wanted = {str(folder), *(str(path) for path in profile_paths(folder))}
        missing = wanted - {*self._watch.files(), *self._watch.directories()}
        if missing:
            self._watch.addPaths(sorted(missing))

    def _exchange_one(self, name: str, folder: Path, common: dict[str, str]) -> None:
        here, there = self._own / name, folder / name
        ours, theirs = self._read(here), self._read(there)
        mine, other = ours and ours.digest, theirs and theirs.digest
        match move(mine, other, common.get(name), self._gives):
            case "same" if mine is not None:
                common[name] = mine
            case "give" if ours is not None and mine is not None and self._is_still(here):
                write_atomically(there, ours.data)
                common[name] = mine
            case "take" if theirs is not None and other is not None and self._is_still(here):
                if self._take(here, there, theirs):
                    common[name] = other
            case "offer":
                self.offered.append(there)
            case "conflict":
                self.conflicts.append(there)
            case _:
                pass

    def _is_still(self, here: Path) -> bool:
        """Whether nobody edits this profile now; else it is looked at later."""
        document = self._document
        if here != document.file.path:
            return True
        if document.saved and self._clock() - self._edited_at >= STILL_SECONDS:
            return True
        self._look.start(round(STILL_SECONDS * 1000))
        return False

    def _take(self, here: Path, there: Path, theirs: _Known) -> bool:
        """Their version becomes ours, ours stays in the history; returns whether it did.

        What can do more than ours, as type text, has to be looked at first.
        """
        if isinstance(theirs.meaning, ProfileError):
            raise theirs.meaning
        fresh, before = theirs.meaning, read_profile(here)
        if set(powers(fresh)) - set(powers(before)):
            self.conflicts.append(there)
            return False
        if here != self._document.file.path:
            Sessions(here, utc_now()).opened(profile_bytes(here))
        write_atomically(here, theirs.data)
        self.noticed.emit(
            "info",
            _("{title} was updated from {path}. The version before is in its history.").format(
                title=_title(fresh, here), path=with_tilde(there.parent)
            ),
        )
        self.taken.emit()
        return True

    def seen(self, there: Path) -> None:
        """The player has looked at what is there and decided: it is not asked about again until it changes."""
        found = self._read(there)
        try:
            synced = read_synced(self._state)
            if found is not None and synced.folder == str(there.parent):
                write_synced(self._state, replace(synced, common={**synced.common, there.name: found.digest}))
                self._look.start()
        except StorageError as error:
            self._tell_once("error", f"{error}.")

    def _read(self, path: Path) -> _Known | None:
        """What is in a file; None where there is none. Raises StorageError."""
        if not path.exists():
            return None
        data = profile_bytes(path)
        known = self._known.get(path)
        if known is None or known.data != data:
            known = self._known[path] = _known(data, path)
        return known

    def _tell_once(self, severity: str, text: str) -> None:
        if text not in self._told:
            self._told.add(text)
            self.noticed.emit(severity, text)


def _title(profile: Profile, path: Path) -> str:
    return profile.game.title or path.name.removesuffix(SUFFIX)
