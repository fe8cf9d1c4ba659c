"""Profiles that share what they have: one follows another, but for what is its own (need N60). Pure, but for the file.

Sharing is a matter of the player's, kept outside profiles: each of them is whole by itself, can be exported alone, and
plays where the other is not.
"""

from __future__ import annotations

from pathlib import Path
from typing import Final, Literal

import msgspec
from msgspec.structs import replace

from nubshift.errors import ProfileError
from nubshift.model.differences import Difference, Place, differences
from nubshift.model.files import read_companion
from nubshift.model.names import Names
from nubshift.model.part import Part, Text
from nubshift.model.profile import Profile
from nubshift.model.rules import problems_of
from nubshift.model.store import write_atomically
from nubshift.texts import _

FORMAT: Final = "nubshift-sharing"
ALWAYS_OWN: frozenset[Place] = frozenset(("game", field) for field in ("title", "colour", "note"))
"""What one profile is told from another by."""


class Sharing(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=False):
    """`follows`: by the name of a profile's file, that of the one that it follows."""

    format: Literal["nubshift-sharing"] = FORMAT
    version: Literal[1] = 1
    follows: dict[Text, Text] = msgspec.field(default_factory=dict)

    def followers(self, profile: str) -> tuple[str, ...]:
        """Those that follow a profile."""
        return tuple(name for name, followed in self.follows.items() if followed == profile)

    def may_follow(self, profile: str, followed: str) -> bool:
        """Whether one may follow another: in the end nothing follows itself."""
        seen = {profile}
        while followed not in seen:
            seen.add(followed)
            if followed not in self.follows:
                return True
            followed = self.follows[followed]
        return False

    def with_follower(self, profile: str, followed: str) -> Sharing:
        """The same with one following another; an empty one for none."""
        rest = {name: there for name, there in self.follows.items() if name != profile}
        return replace(self, follows={**rest, profile: followed} if followed else rest)


def own_differences(followed: Profile, follower: Profile, names: Names | None = None) -> list[Difference]:
    """What is the follower's own: other there than in the one that it follows."""
    return [one for one in differences(followed, follower, names) if not one.places <= ALWAYS_OWN]


def following(before: Profile, after: Profile, follower: Profile) -> Profile:
    """What becomes of a follower when the one that it follows changes from `before` to `after`.

    What was the follower's own before stays as it is. Raises ProfileError if what would come of it is no valid profile.
    """
    own = {place for one in differences(before, follower, each_alone=True) for place in one.places} | ALWAYS_OWN
    for change in differences(before, after, each_alone=True):
        if change.places & own:
            continue
        changed = change.take(follower)
        touched = {place for one in differences(follower, changed, each_alone=True) for place in one.places}
        if not touched & own:
            follower = changed
    problems = tuple(problems_of(follower))
    if problems:
        raise ProfileError(follower.game.title, problems)
    return follower


def read_sharing(path: Path) -> Sharing:
    """The file at `path`; an empty one where there is none. Raises StorageError; see `read_companion`."""
    return read_companion(path, Sharing, _("Which profiles share their settings")) or Sharing()


def write_sharing(path: Path, sharing: Sharing) -> None:
    """Save it. Raises StorageError."""
    write_atomically(path, msgspec.json.format(msgspec.json.encode(sharing), indent=2) + b"\n")
