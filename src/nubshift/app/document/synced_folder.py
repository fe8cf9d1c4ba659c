"""A folder that is kept in step by other programs and machines: what changes there is taken in, and nothing is lost."""

from __future__ import annotations

import time
from collections.abc import Callable, Mapping
from functools import partial
from pathlib import Path
from typing import NamedTuple, TypeAlias

from msgspec.structs import replace
from PyQt6.QtCore import QFileSystemWatcher, QObject, pyqtSignal

from nubshift.app.document.file_thread import FileThread
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
PATIENCE_SECONDS = 20.0
"""A folder that has not answered for so long is told of."""

Files: TypeAlias = Mapping[str, bytes | StorageError]
"""What is in the profiles of a folder, by their names."""


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


class _Gift(NamedTuple):
    """One of ours that is to be written there, in place of what was `theirs` when it was looked at."""

    there: Path
    theirs: bytes | None
    ours: _Known


def _look_into(folder: Path) -> Files | None:
    """What is there; None for a folder that is not. Takes as long as the folder takes."""
    found: dict[str, bytes | StorageError] = {}
    try:
        if not folder.is_dir():
            return None
        for path in profile_paths(folder):
            try:
                found[path.name] = profile_bytes(path)
            except StorageError as error:
                if not isinstance(error.__cause__, FileNotFoundError):  # it went meanwhile
                    found[path.name] = error
    except OSError:
        return None
    return found


def _give(gifts: list[_Gift]) -> tuple[list[_Gift], list[StorageError]]:
    """Write them, but none over what somebody else has written meanwhile. Those that were, and what hindered others."""
    given, errors = [], []
    for gift in gifts:
        try:
            if (profile_bytes(gift.there) if gift.there.exists() else None) == gift.theirs:
                write_atomically(gift.there, gift.ours.data)
                given.append(gift)
        except StorageError as error:
            errors.append(error)
    return given, errors


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
        self._files = FileThread(self)
        self._asked_at = 0.0
        self._once_more = False
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
        self._files.close()
        watched = [*self._watch.files(), *self._watch.directories()]
        if watched:
            self._watch.removePaths(watched)
        if wanted is None:
            self._again.stop()
            self._look.stop()
        else:
            self._again.start()
            self.exchange()

    @property
    def busy(self) -> bool:
        """Whether the folder is being looked at, or written to."""
        return self._files.busy

    def exchange(self) -> None:
        """Bring here and there into step, as far as nothing stands against it, once the folder has answered."""
        folder = self._folder
        if folder is None:
            return
        if self._files.busy:
            self._once_more = True
            if self._clock() - self._asked_at >= PATIENCE_SECONDS:
                text = _("The synced folder {path} is not responding. Syncing continues when it does.")
                self._tell_once("warning", text.format(path=with_tilde(folder)))
            return
        self._once_more = False
        self._asked_at = self._clock()
        self._files.run(partial(_look_into, folder), partial(self._looked, folder))

    def _looked(self, folder: Path, theirs: Files | None) -> None:
        if theirs is None:
            self._tell_once("warning", _("The synced folder {path} is not there.").format(path=with_tilde(folder)))
            return
        self._follow_files(folder, theirs)
        synced = self._read_state()
        common = dict(synced.common) if synced.folder == str(folder) else {}
        names = {*theirs, *(path.name for path in profile_paths(self._own))}
        self.offered, self.conflicts = [], []
        gifts: list[_Gift] = []
        for name in sorted(names | common.keys()):
            try:
                self._exchange_one(name, folder / name, theirs.get(name), common, gifts)
            except (StorageError, ProfileError) as error:
                self._tell_once("error", f"{error}")
        asked = [(path, self._known.get(path)) for path in (*self.offered, *self.conflicts)]
        if asked != self._asked:
            self._asked = asked
            self.waits.emit()
        fresh = Synced(folder=str(folder), common=common)
        if fresh != replace(synced, version=fresh.version):
            self._write_state(fresh)
        if gifts:
            self._files.run(partial(_give, gifts), partial(self._gave, folder))
        elif self._once_more:
            self._look.start()

    def _gave(self, folder: Path, done: tuple[list[_Gift], list[StorageError]]) -> None:
        given, errors = done
        for error in errors:
            self._tell_once("error", f"{error}")
        synced = self._read_state()
        if synced.folder == str(folder):
            fresh = {gift.there.name: gift.ours.digest for gift in given}
            self._write_state(replace(synced, common={**synced.common, **fresh}))
        if self._once_more:
            self._look.start()

    def _read_state(self) -> Synced:
        try:
            return read_synced(self._state)
        except StorageError as error:
            self._tell_once("warning", f"{error}.")
            return Synced()

    def _write_state(self, synced: Synced) -> None:
        try:
            write_synced(self._state, synced)
        except StorageError as error:
            self._tell_once("error", f"{error}.")

    def _follow_files(self, folder: Path, theirs: Files) -> None:
        """Hear of changes within files, which a folder does not tell of."""
        wanted = {str(folder), *(str(folder / name) for name in theirs)}
        missing = wanted - {*self._watch.files(), *self._watch.directories()}
        if missing:
            self._watch.addPaths(sorted(missing))

    def _exchange_one(
        self, name: str, there: Path, found: bytes | StorageError | None, common: dict[str, str], gifts: list[_Gift]
    ) -> None:
        here = self._own / name
        if isinstance(found, StorageError):
            raise found
        ours = self._known_as(here, profile_bytes(here)) if here.exists() else None
        theirs = None if found is None else self._known_as(there, found)
        mine, other = ours and ours.digest, theirs and theirs.digest
        match move(mine, other, common.get(name), self._gives):
            case "same" if mine is not None:
                common[name] = mine
            case "give" if ours is not None and self._is_still(here):
                gifts.append(_Gift(there, found, ours))
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
        synced, known = self._read_state(), self._known.get(there)
        if known is not None and synced.folder == str(there.parent):
            self._write_state(replace(synced, common={**synced.common, there.name: known.digest}))
            self._look.start()

    def _known_as(self, path: Path, data: bytes) -> _Known:
        """What is in a file with these bytes."""
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
