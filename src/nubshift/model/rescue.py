"""Copies of edits that could not be saved where they belong: kept aside until they are, or until the next start."""

from __future__ import annotations

import contextlib
import hashlib
from pathlib import Path

from msgspec import Struct

from nubshift.errors import StorageError
from nubshift.model.files import read_text
from nubshift.model.profile import SUFFIX, Profile
from nubshift.model.store import profile_paths, read_profile, write_atomically
from nubshift.model.writing import profile_text

ORIGIN = ".origin"
"""Ending of the file beside a copy that holds the path where it belongs."""


class Rescued(Struct, frozen=True):
    """A copy, and where it belongs."""

    path: Path
    original: Path

    def read(self) -> Profile:
        """The profile as it was edited. Raises StorageError or ProfileError."""
        return read_profile(self.path)

    def remove(self) -> None:
        """It is not needed any more."""
        for path in (self.path, self.path.with_suffix(ORIGIN)):
            with contextlib.suppress(OSError):
                path.unlink(missing_ok=True)


def copy_of(folder: Path, original: Path) -> Rescued:
    """Where the copy of a profile file lies, if there is one."""
    place = original.absolute()
    mark = hashlib.sha256(str(place).encode(errors="surrogateescape")).hexdigest()[:8]
    return Rescued(folder / f"{original.name.removesuffix(SUFFIX)}-{mark}{SUFFIX}", place)


def rescue(folder: Path, original: Path, profile: Profile) -> Rescued:
    """Keep a copy. Raises StorageError if that can't be done either."""
    copy = copy_of(folder, original)
    write_atomically(copy.path, profile_text(profile))
    write_atomically(copy.path.with_suffix(ORIGIN), str(copy.original).encode(errors="surrogateescape"))
    return copy


def rescued(folder: Path) -> list[Rescued]:
    """The copies that are there."""
    found = []
    for path in profile_paths(folder):
        try:
            found.append(Rescued(path, Path(read_text(path.with_suffix(ORIGIN)))))
        except StorageError:
            found.append(Rescued(path, path))
    return found
