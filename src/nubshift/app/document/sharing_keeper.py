"""Keeps profiles that share in step: what is changed in one is changed in those that follow it."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from nubshift.app.document.open_document import OpenDocument
from nubshift.errors import ProfileError, StorageError
from nubshift.model.following import Sharing, following, read_sharing, write_sharing
from nubshift.model.profile import SUFFIX, Profile
from nubshift.model.store import ProfileFile, name_of, path_of, read_profile, write_atomically
from nubshift.model.versions import Sessions, utc_now
from nubshift.model.writing import profile_text
from nubshift.texts import _

SEEN = "shared"
"""The folder, in that of the profiles, with what each follower has seen of the one that it follows."""


class SharingKeeper(QObject):
    """`folder` is that of the profiles, `path` the file of who follows whom. `trouble` is a sentence if it could not be
    read. `changed`: who follows whom, or a follower, is another now."""

    changed = pyqtSignal()
    noticed = pyqtSignal(str, str)

    def __init__(self, document: OpenDocument, folder: Path, path: Path) -> None:
        super().__init__(document)
        self._document, self._folder, self._path = document, folder, path
        self._told: set[str] = set()
        self.trouble = ""
        self.now = Sharing()
        try:
            self.now = read_sharing(path)
        except StorageError as error:
            self.trouble = f"{error}."
        document.saved_changed.connect(self._saved)

    def begin(self) -> None:
        """Whoever is told of notices is there: take in what changed while nobody looked."""
        for followed in dict.fromkeys(self.now.follows.values()):
            self._pass_on(followed)

    def follow(self, profile: str, followed: str) -> None:
        """Let one follow another from now on; an empty one for none. What is different by then is its own."""
        if followed and not self.now.may_follow(profile, followed):
            return
        try:
            if followed:
                there = path_of(followed, self._folder)
                write_atomically(self._seen(profile), profile_text(read_profile(there)))
            else:
                self._seen(profile).unlink(missing_ok=True)
            fresh = self.now.with_follower(profile, followed)
            write_sharing(self._path, fresh)
        except (StorageError, ProfileError, OSError) as error:
            self.noticed.emit("error", f"{error}.")
            return
        self.now = fresh
        self.changed.emit()

    def _seen(self, follower: str) -> Path:
        return self._folder / SEEN / f"{follower}{SUFFIX}"

    def _saved(self) -> None:
        if self._document.saved and self.now.follows:
            self._pass_on(name_of(self._document.file.path, self._folder))

    def _pass_on(self, followed: str) -> None:
        """What changed in one since its followers saw it is changed in them, and in those that follow them."""
        for follower in self.now.followers(followed):
            try:
                after = self._present(followed)
                title = self._update(follower, after)
            except ProfileError as error:
                text = _("{name} could not follow the last change: {why}.")
                self._tell_once("warning", text.format(name=follower, why=error.problems[0].text))
            except StorageError as error:
                self._tell_once("error", f"{error}.")
            else:
                if title:
                    text = _("{title} shares these settings and changes with them.").format(title=title)
                    self._tell_once("info", text)
                    self.changed.emit()
                    self._pass_on(follower)

    def _present(self, name: str) -> Profile:
        path = path_of(name, self._folder)
        return self._document.profile if path == self._document.file.path else read_profile(path)

    def _update(self, follower: str, after: Profile) -> str:
        """The title of the follower if it changed. What it saw is noted last, so that a failure loses nothing."""
        seen, path = self._seen(follower), path_of(follower, self._folder)
        if not path.exists():
            return ""
        before = read_profile(seen) if seen.exists() else after
        if before == after and seen.exists():
            return ""
        try:
            title = self._change(path, before, after)
        except ProfileError:
            write_atomically(seen, profile_text(after))
            raise
        write_atomically(seen, profile_text(after))
        return title

    def _change(self, path: Path, before: Profile, after: Profile) -> str:
        """The follower in a file, changed as the other was; its title if it is another now."""
        if path == self._document.file.path:
            own = self._document.profile
            self._document.edit(_("Shared change"), lambda profile: following(before, after, profile))
            return own.game.title if self._document.profile is not own else ""
        file = ProfileFile(path)
        own = file.read()
        fresh = following(before, after, own)
        if fresh == own:
            return ""
        Sessions(path, utc_now()).opened(profile_text(own))
        file.write(fresh)
        return fresh.game.title or path.name.removesuffix(SUFFIX)

    def _tell_once(self, severity: str, text: str) -> None:
        """A sentence, the same one once."""
        if text not in self._told:
            self._told.add(text)
            self.noticed.emit(severity, text)
