"""The errors a person may see. Each says what happened, where, and what to do.

NubShiftError
 ├── ProfileError        a profile file that can't be used as it is; carries its problems
 ├── StorageError        a file that could not be read or written
 ├── SourceError         a controller that could not be opened or read
 │    └── SourceGone     it was unplugged
 ├── SinkError           a way of sending keys that does not work here
 ├── TakeError           a take or script of a player that can't be read
 └── ProtocolError       runner and app do not understand each other
"""

from __future__ import annotations

from collections.abc import Sequence
from enum import StrEnum

import msgspec

from nubshift.texts import _


class NubShiftError(Exception):
    """Base of all errors meant for a person."""


class Severity(StrEnum):
    """How much a problem matters: an *error* stops the profile from running."""

    ERROR = "error"
    WARNING = "warning"


class Problem(msgspec.Struct, frozen=True):
    """One thing that is wrong with a document.

    `place` is the path of the field (``layers[0].bindings[3].press``), empty for the whole file;
    `text` is a sentence: what was found, what was expected, and the way out where there is one.
    """

    place: str
    text: str
    severity: Severity = Severity.ERROR

    def __str__(self) -> str:
        return f"{self.place}: {self.text}" if self.place else self.text


class ProfileError(NubShiftError):
    """A profile that can't be used. `file` names it; `problems` has at least one entry."""

    def __init__(self, file: str, problems: Sequence[Problem]) -> None:
        self.file = file
        self.problems = tuple(problems)
        super().__init__("\n".join(f"{file}: {problem}" for problem in self.problems))


class StorageError(NubShiftError):
    """A file could not be read or written."""


class SourceError(NubShiftError):
    """A controller could not be opened or read."""


class SourceGone(SourceError):
    """A controller was unplugged."""


class SinkError(NubShiftError):
    """A way of sending output does not work here."""


class TakeError(NubShiftError):
    """A take or a simulated player's script that can't be read."""


class ProtocolError(NubShiftError):
    """A message between runner and app was not understood."""


def did_you_mean(word: str, known: Sequence[str]) -> str:
    """`` Did you mean "…"?`` for the nearest of `known`, or nothing."""
    import difflib

    near = difflib.get_close_matches(word, known, n=1, cutoff=0.6)
    return _(' Did you mean "{near}"?').format(near=near[0]) if near else ""
