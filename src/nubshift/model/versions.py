"""Earlier states of a profile, saved by themselves: one for each session of editing, thinned over time (need N60).

They lie in the folder ``versions`` beside the profiles, in one folder for each, named by the UTC time at which their
session began; each is a whole profile file. What is in one is the state at the end of that session.
"""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import NamedTuple

from nubshift.errors import StorageError
from nubshift.model.files import private_folder, read_bytes
from nubshift.model.profile import SUFFIX, Profile
from nubshift.model.store import read_profile, write_atomically
from nubshift.texts import _

FOLDER = "versions"
STAMP = "%Y-%m-%dT%H-%M-%SZ"
SESSION = timedelta(minutes=30)
"""A pause of editing this long ends a session."""
MOST = 60
"""Versions of one profile."""
MOST_BYTES = 20_000_000
"""All versions of one profile together."""
DAYS, WEEKS = timedelta(days=7), timedelta(days=60)
"""Older than the first, one version a day is enough; older than the second, one a week."""


class Version(NamedTuple):
    """An earlier state: when its session began (UTC), and its file."""

    began: datetime
    path: Path

    def read(self) -> Profile:
        """The profile as it was. Raises StorageError or ProfileError."""
        return read_profile(self.path)


def folder_of(profile: Path) -> Path:
    """Where the versions of the profile in a file lie."""
    return profile.parent / FOLDER / profile.name.removesuffix(SUFFIX)


def versions_of(profile: Path) -> list[Version]:
    """The versions of the profile in a file, the newest first."""
    found = []
    for path in folder_of(profile).glob(f"*{SUFFIX}"):
        try:
            found.append(Version(datetime.strptime(path.name.removesuffix(SUFFIX), STAMP), path))
        except ValueError:
            continue  # somebody else's file
    return sorted(found, reverse=True)


def utc_now() -> datetime:
    """Now, as versions are named."""
    return datetime.now(UTC).replace(tzinfo=None)


class Sessions:
    """Saves versions of one profile while it is edited. `opened` is when that began (UTC, as all times here)."""

    def __init__(self, profile: Path, opened: datetime) -> None:
        self._profile = profile
        self._began = opened
        self._last = opened
        self._first = True

    def opened(self, data: bytes) -> None:
        """The profile was opened like this: that is a version too, unless it is the newest one. Raises StorageError."""
        if self._is_newest(data):
            return
        self._write(self._began - timedelta(seconds=1), data)

    def saved(self, data: bytes, now: datetime) -> None:
        """The profile was saved like this; in the version of this session, or of a new one. Raises StorageError."""
        if now - self._last > SESSION:
            self._began = now
        self._last = now
        if self._first and self._is_newest(data):
            return
        self._first = False
        self._write(self._began, data)
        for version in thinned(versions_of(self._profile), now):
            version.path.unlink(missing_ok=True)

    def _is_newest(self, data: bytes) -> bool:
        there = versions_of(self._profile)
        try:
            return bool(there) and read_bytes(there[0].path) == data
        except StorageError:
            return False

    def _write(self, began: datetime, data: bytes) -> None:
        folder = folder_of(self._profile)
        try:
            private_folder(folder)
        except OSError as error:
            raise StorageError(
                _("{path}: versions can't be saved: {strerror}").format(path=folder, strerror=error.strerror)
            ) from error
        write_atomically(folder / f"{began.strftime(STAMP)}{SUFFIX}", data)


def thinned(versions: list[Version], now: datetime) -> list[Version]:
    """Those that may go, of some versions, the newest first: what is old is kept once a day, what is very old once a
    week, and no more than `MOST` and `MOST_BYTES` of all."""
    kept: list[Version] = []
    gone: list[Version] = []
    periods: set[object] = set()
    size = 0
    for version in versions:
        age = now - version.began
        period: object = version.began
        if age > WEEKS:
            period = version.began.isocalendar()[:2]
        elif age > DAYS:
            period = version.began.date()
        size += version.path.stat().st_size if version.path.exists() else 0
        full = bool(kept) and (len(kept) >= MOST or size > MOST_BYTES)
        if period in periods or full:
            gone.append(version)
        else:
            periods.add(period)
            kept.append(version)
    return gone
