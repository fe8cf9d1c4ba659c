"""Profile files on disk: read whole, written atomically, never over a change that somebody else made."""

from __future__ import annotations

import contextlib
import os
import re
import tempfile
from collections.abc import Collection
from pathlib import Path

from msgspec.structs import replace

from nubshift.errors import StorageError
from nubshift.model.files import private_folder, read_bytes
from nubshift.model.profile import SUFFIX, Profile
from nubshift.model.reading import parse_profile
from nubshift.model.writing import profile_text
from nubshift.texts import _

MOST_BYTES = 2_000_000
"""Of a profile's file: a hundred times what a person makes, and still read within a second whatever is in it."""


def profile_bytes(path: Path) -> bytes:
    """What is in a profile's file. Raises StorageError; see `read_bytes`."""
    return read_bytes(path, MOST_BYTES)


def read_profile(path: Path) -> Profile:
    """The profile in the file `path`. Raises StorageError (can't be read) or ProfileError (can't be used)."""
    return parse_profile(profile_bytes(path), str(path))


def write_atomically(path: Path, data: bytes) -> None:
    """Put `data` in `path` so that at any moment, also after a power cut, either the old or the new is there whole.

    Raises StorageError; the old file is then untouched. A link is followed, so it stays a link.
    """
    target = path.resolve()
    temporary = ""
    try:
        private_folder(target.parent)
        if target.exists() and not target.is_file():
            raise StorageError(
                _("{path}: could not be saved: this is a device, a pipe or a folder, not a file").format(path=path)
            )
        handle, temporary = tempfile.mkstemp(prefix=f".{target.name}.", dir=target.parent)
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        with contextlib.suppress(FileNotFoundError):
            os.chmod(temporary, target.stat().st_mode & 0o777)
        os.replace(temporary, target)
        folder = os.open(target.parent, os.O_RDONLY)
        try:
            os.fsync(folder)
        finally:
            os.close(folder)
    except OSError as error:
        if temporary:
            with contextlib.suppress(OSError):
                os.unlink(temporary)
        reason = error.strerror or str(error)
        raise StorageError(_("{path} could not be saved: {reason}").format(path=path, reason=reason)) from error


class ProfileFile:
    """One open profile file. It knows what it last read or wrote, and so whether somebody else changed it."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self._known: bytes | None = None

    @property
    def name(self) -> str:
        """Its name without the ending, by which other profiles enter it."""
        return self.path.name.removesuffix(SUFFIX)

    def read(self) -> Profile:
        """The profile on disk. Raises StorageError or ProfileError; the file stays as it is."""
        data = profile_bytes(self.path)
        profile = parse_profile(data, str(self.path))
        self._known = data
        return profile

    def changed_outside(self) -> bytes | None:
        """What another program wrote since this was read or written, or None. Raises StorageError."""
        if not os.path.lexists(self.path):
            return None
        there = profile_bytes(self.path)
        return None if there == self._known else there

    def take_over(self, data: bytes) -> Profile:
        """The profile in what `changed_outside` gave, from now on the one known. Raises ProfileError."""
        profile = parse_profile(data, str(self.path))
        self._known = data
        return profile

    def write(self, profile: Profile) -> Path | None:
        """Save `profile`. If the file was changed by another program since, that version is put aside first.

        Returns the path of the version put aside, or None. Raises StorageError.
        """
        data = profile_text(profile)
        if data == self._known and self.path.exists():
            return None
        if len(data) > MOST_BYTES:
            raise StorageError(
                _("{path} could not be saved: it would have {size:,} bytes, and a profile has at most {most:,}").format(
                    path=self.path, size=len(data), most=MOST_BYTES
                )
            )
        aside = self._put_aside()
        write_atomically(self.path, data)
        self._known = data
        return aside

    def _put_aside(self) -> Path | None:
        there = self.changed_outside()
        if there is None:
            return None
        aside = free_path(self.path.parent, self.path.name.removesuffix(SUFFIX) + "-found")
        write_atomically(aside, there)
        return aside


def profile_paths(folder: Path) -> list[Path]:
    """The profile files in a folder, by name."""
    return sorted(folder.glob(f"*{SUFFIX}"))


def profile_names(folder: Path) -> list[str]:
    """Their names without the ending."""
    return [path.name.removesuffix(SUFFIX) for path in profile_paths(folder)]


def name_of(path: Path, folder: Path) -> str:
    """By what a profile's file is known to all parts of the program: its name without the ending, or where it lies
    elsewhere than in the player's `folder`, its whole path."""
    stem = path.name.removesuffix(SUFFIX)
    return stem if path.resolve() == (folder / f"{stem}{SUFFIX}").resolve() else str(path.absolute())


def path_of(name: str, folder: Path) -> Path:
    """The file that `name_of` names."""
    return Path(name) if "/" in name else folder / f"{name}{SUFFIX}"


def named_profile(word: str, folder: Path, here: Path) -> str | None:
    """The name (see `name_of`) of the profile that a person means: one of theirs, or a file; None for neither."""
    if "/" not in word and (folder / f"{word}{SUFFIX}").exists():
        return word
    path = here / word
    return name_of(path, folder) if path.is_file() else None


DELETED = "deleted"
"""Folder beside the profiles where deleted ones lie until they are taken back."""


def delete(path: Path) -> Path:
    """Put a profile file into the folder of deleted ones; returns where it lies. Raises StorageError."""
    folder = path.parent / DELETED
    try:
        private_folder(folder)
        target = free_path(folder, path.name.removesuffix(SUFFIX))
        os.rename(path, target)
    except OSError as error:
        raise StorageError(
            _("{path}: could not be deleted: {strerror}").format(path=path, strerror=error.strerror or error)
        ) from error
    return target


def recover(path: Path) -> Path:
    """Take a deleted profile back; returns where it lies now. Raises StorageError."""
    target = free_path(path.parent.parent, path.name.removesuffix(SUFFIX))
    try:
        os.rename(path, target)
    except OSError as error:
        raise StorageError(
            _("{path}: could not be restored: {strerror}").format(path=path, strerror=error.strerror or error)
        ) from error
    return target


def free_title(title: str, taken: Collection[str]) -> str:
    """`title`, with a number behind it if another profile is called so."""
    number, free = 2, title
    while free in taken:
        free, number = f"{title[:190]} {number}", number + 1
    return free


def retitled(profile: Profile, title: str) -> Profile:
    """The same under another title."""
    return replace(profile, game=replace(profile.game, title=title))


def free_path(folder: Path, stem: str) -> Path:
    """A path in `folder` for a profile called `stem` (any text) where no file is yet."""
    plain = re.sub(r"[^a-z0-9]+", "-", stem.lower()).strip("-") or "profile"
    number = 1
    while True:
        path = folder / (f"{plain}{SUFFIX}" if number == 1 else f"{plain}-{number}{SUFFIX}")
        if not path.exists():
            return path
        number += 1
