"""What was scored in the range, kept for each profile with the feel that it was scored with (docs/formats.md)."""

from __future__ import annotations

from pathlib import Path
from typing import Any, Final, Literal

import msgspec
from msgspec.structs import replace

from nubshift.model.files import read_companion
from nubshift.model.migration import with_filter_terms
from nubshift.model.profile import BASE, Feel, Profile
from nubshift.model.store import write_atomically
from nubshift.texts import _

FORMAT: Final = "nubshift-results"
MOST = 400
"""Rounds kept for one profile; the oldest go first."""

Exercise = Literal["eight", "targets"]


class Score(msgspec.Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """One round: when (seconds since 1970), of which exercise, what it measured, and the feel that it was made with.

    Lower is better for every value of `values`.
    """

    when: int
    exercise: Exercise
    values: dict[str, float]
    feel: Feel
    layer: str = BASE


class ResultsFile(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """The rounds of each profile, by the name of its file."""

    format: Literal["nubshift-results"] = FORMAT
    version: Literal[2] = 2
    profiles: dict[str, tuple[Score, ...]] = {}

    def of(self, profile: str, exercise: str) -> tuple[Score, ...]:
        """The rounds of an exercise with a profile, the oldest first."""
        return tuple(score for score in self.profiles.get(profile, ()) if score.exercise == exercise)

    def with_score(self, profile: str, score: Score) -> ResultsFile:
        """The same with a round more."""
        scores = (*self.profiles.get(profile, ()), score)[-MOST:]
        return replace(self, profiles={**self.profiles, profile: scores})

    def without(self, profile: str, exercise: str) -> ResultsFile:
        """The same without the rounds of an exercise."""
        kept = tuple(score for score in self.profiles.get(profile, ()) if score.exercise != exercise)
        return replace(self, profiles={**self.profiles, profile: kept})


def read_results(path: Path) -> ResultsFile:
    """The file at `path`; an empty one where there is none. Raises StorageError; see `read_companion`."""
    return read_companion(path, ResultsFile, _("What was saved of your rounds"), _migrated) or ResultsFile()


def _migrated(document: dict[str, Any]) -> dict[str, Any]:
    """Version 2 calls the parts of the smoothing by the terms of its filter, as profiles do from version 8 on."""
    profiles = document.get("profiles")
    if document.get("version") != 1 or not isinstance(profiles, dict):
        return document

    def score(entry: Any) -> Any:
        return {**entry, "feel": with_filter_terms(entry.get("feel"))} if isinstance(entry, dict) else entry

    new = {name: list(map(score, scores)) if isinstance(scores, list) else scores for name, scores in profiles.items()}
    return {**document, "version": 2, "profiles": new}


def write_results(path: Path, results: ResultsFile) -> None:
    """Keep them. Raises StorageError."""
    write_atomically(path, msgspec.json.format(msgspec.json.encode(results), indent=2) + b"\n")


def settings_of(profile: Profile, score: Score) -> str:
    """Which settings a round was made with: a variant's name, ``as it is now``, or empty for ones that are gone."""
    seat, control = score.feel.seat, score.feel.control
    variants = profile.variants_of(score.layer, seat, control)
    found = next((variant for variant in variants if variant.feel == score.feel), None)
    if found is not None:
        return found.name
    return NOW if profile.feel_in(score.layer, seat, control) == score.feel else ""


NOW = _("Current settings")
"""The present feel, if it is no variant."""
EARLIER = _("Earlier settings")
"""A feel that is neither the present one nor a variant any more."""
