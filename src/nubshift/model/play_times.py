"""How long each profile was played, when last, and with which controllers (docs/formats.md)."""

from __future__ import annotations

from datetime import datetime
from pathlib import Path
from typing import Annotated, Final, Literal

import msgspec
from msgspec import field
from msgspec.structs import replace

from nubshift.model.files import read_companion
from nubshift.model.part import Part, Text
from nubshift.model.store import write_atomically
from nubshift.texts import _, ngettext

FORMAT: Final = "nubshift-played"
VERSION: Final = 1
MOST_CONTROLLERS = 4


class Played(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """Of one profile. `last` is the time (UTC, ISO 8601) at which it was used last."""

    seconds: Annotated[float, msgspec.Meta(ge=0)] = 0.0
    last: Text = ""
    controllers: tuple[str, ...] = ()

    @property
    def last_time(self) -> datetime | None:
        """When it was used last (UTC)."""
        try:
            return datetime.fromisoformat(self.last) if self.last else None
        except ValueError:
            return None


class PlayTimes(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=False):
    """Of all profiles, by the names of their files."""

    format: Literal["nubshift-played"] = FORMAT
    version: Literal[1] = VERSION
    profiles: dict[str, Played] = field(default_factory=dict)

    def of(self, name: str) -> Played:
        """What is known of a profile."""
        return self.profiles.get(name, Played())

    def with_time(self, name: str, seconds: float, now: datetime, controller: str) -> PlayTimes:
        """The same after so much more play, until `now` (UTC), with a controller (empty: none is known)."""
        before = self.of(name)
        others = tuple(one for one in before.controllers if one != controller)
        controllers = ((controller, *others) if controller else others)[:MOST_CONTROLLERS]
        fresh = Played(before.seconds + seconds, now.isoformat(timespec="seconds"), controllers)
        return replace(self, profiles={**self.profiles, name: fresh})


def read_play_times(path: Path) -> PlayTimes:
    """The file at `path`; an empty one where there is none. Raises StorageError; see `read_companion`."""
    return read_companion(path, PlayTimes, _("How long your profiles were played")) or PlayTimes()


def write_play_times(path: Path, times: PlayTimes) -> None:
    """Save it. Raises StorageError."""
    write_atomically(path, msgspec.json.format(msgspec.json.encode(times), indent=2) + b"\n")


def length(seconds: float) -> str:
    """A time of play in words: ``2 h 10 min``, ``under a minute``."""
    minutes = round(seconds / 60)
    if minutes < 1:
        return _("under a minute")
    if minutes < 60:
        return _("{minutes} min").format(minutes=minutes)
    return _("{hours} h {minutes} min").format(hours=minutes // 60, minutes=minutes % 60)


def ago(then: datetime, now: datetime) -> str:
    """How long ago something was, both in UTC: ``just now``, ``5 min ago``, ``yesterday``, ``3 days ago``, a date."""
    minutes = round((now - then).total_seconds() / 60)
    if minutes < 1:
        return _("just now")
    if minutes < 60:
        return _("{minutes} min ago").format(minutes=minutes)
    if minutes < 24 * 60:
        return ngettext("{hours} hour ago", "{hours} hours ago", minutes // 60).format(hours=minutes // 60)
    days = minutes // (24 * 60)
    if days == 1:
        return _("yesterday")
    if days < 30:
        return ngettext("{days} day ago", "{days} days ago", days).format(days=days)
    return then.strftime("%Y-%m-%d")
