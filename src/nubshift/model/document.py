"""A profile being edited: every edit has a name, can be undone, and tells what it changed.

An edit is a function from profile to profile (`edits`). The document checks the result like a file, so nothing
that can't be read again ever gets in.
"""

from __future__ import annotations

from collections.abc import Callable

import msgspec
from msgspec import Struct

from nubshift.errors import Problem, ProfileError
from nubshift.model.changes import Changes, changes_between
from nubshift.model.edits import converted
from nubshift.model.profile import Profile
from nubshift.model.rules import problems_of

MAX_STEPS = 500
"""Undo steps kept; the oldest goes first."""


class HistoryStep(Struct, frozen=True):
    """One named edit: the profile before and after it. Steps with the same `merge` key in a row become one.

    `back` and `forth` undo and do what is no part of the profile.
    """

    title: str
    before: Profile
    after: Profile
    merge: str = ""
    back: Callable[[], None] | None = None
    forth: Callable[[], None] | None = None


class Document:
    """The profile as it is now, with the steps that led here and those taken back."""

    def __init__(self, profile: Profile) -> None:
        self.profile = profile
        self._done: list[HistoryStep] = []
        self._undone: list[HistoryStep] = []
        self._open = ""

    @property
    def undo_title(self) -> str:
        """The name of the edit that `undo` takes back, empty if there is none."""
        return self._done[-1].title if self._done else ""

    @property
    def redo_title(self) -> str:
        """The name of the edit that `redo` does again, empty if there is none."""
        return self._undone[-1].title if self._undone else ""

    @property
    def titles(self) -> list[str]:
        """The names of all edits that can be taken back, the last one first."""
        return [step.title for step in reversed(self._done)]

    def note(self, title: str, back: Callable[[], None], forth: Callable[[], None]) -> None:
        """Put something that is no part of the profile among the steps; it is done already, or will be at once."""
        self._done.append(HistoryStep(title, self.profile, self.profile, "", back, forth))
        del self._done[:-MAX_STEPS]
        self._open = ""
        self._undone.clear()

    def edit(self, title: str, change: Callable[[Profile], Profile], merge: str = "") -> Changes:
        """Do a named edit and return what it changed (nothing changed: no step).

        With a `merge` key, edits of the same key in a row become one step until `settle`: a drag is one edit.
        Raises ProfileError, changing nothing, if the result would not be a valid profile.
        """
        before = self.profile
        after = change(before)
        if after == before:
            return Changes()
        self._check(after, title, before)
        last = self._done[-1] if self._done else None
        if merge and last and self._open == merge == last.merge:
            self._done[-1] = HistoryStep(title, last.before, after, merge)
        else:
            self._done.append(HistoryStep(title, before, after, merge))
            del self._done[:-MAX_STEPS]
        self._open = merge
        self._undone.clear()
        self.profile = after
        return changes_between(before, after)

    def settle(self) -> None:
        """End the merging of edits: the next one is a step of its own."""
        self._open = ""

    def undo(self) -> Changes:
        """Take the last edit back and return what that changed."""
        if not self._done:
            return Changes()
        step = self._done.pop()
        self._undone.append(step)
        if step.back is not None:
            step.back()
        return self._show(step.before)

    def redo(self) -> Changes:
        """Do the edit again that was taken back last, and return what that changed."""
        if not self._undone:
            return Changes()
        step = self._undone.pop()
        self._done.append(step)
        if step.forth is not None:
            step.forth()
        return self._show(step.after)

    def _show(self, profile: Profile) -> Changes:
        self.settle()
        before, self.profile = self.profile, profile
        return changes_between(before, profile)

    @staticmethod
    def _check(profile: Profile, title: str, good: Profile) -> None:
        try:
            converted(profile)
            problems = list(problems_of(profile, good))
        except msgspec.ValidationError as error:
            problems = [Problem("", str(error))]
        if problems:
            raise ProfileError(title, problems)
