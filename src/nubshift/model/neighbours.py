"""Profiles that a profile enters while a control is held: they lie in the same folder (need N29)."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path

from nubshift.errors import ProfileError, StorageError
from nubshift.model.files import stamp
from nubshift.model.profile import SUFFIX, Profile
from nubshift.model.sends import HoldProfile
from nubshift.model.store import read_profile
from nubshift.model.walk import every_send, mentions, sends_in


def profiles_held(profile: Profile, others: Mapping[str, Profile], held: HeldProfiles | None = None) -> list[str]:
    """The names of all profiles that `profile` can enter while a control is held, also by way of each other.

    `held` remembers what `profile` names between edits of it.
    """
    found: dict[str, None] = {}
    waiting = [profile]
    while waiting:
        present = waiting.pop()
        for name in held.of(present) if held is not None and present is profile else _named(present):
            if name not in found:
                found[name] = None
                if name in others:
                    waiting.append(others[name])
    return list(found)


def read_neighbours(profile: Profile, folder: Path) -> dict[str, Profile]:
    """Those of them that are in `folder` and can be used, by name. What can't is left out."""
    found: dict[str, Profile] = {}
    waiting = _named(profile)
    while waiting:
        name = waiting.pop()
        path = folder / f"{name}{SUFFIX}"
        if name in found or not path.exists():
            continue
        try:
            found[name] = read_profile(path)
        except (ProfileError, StorageError):
            continue
        waiting += _named(found[name])
    return found


class Neighbours:
    """The neighbours of a profile that is edited: read again only when it names others, or their files changed."""

    def __init__(self) -> None:
        self._held = HeldProfiles()
        self._found: tuple[object, dict[str, Profile]] | None = None

    def of(self, profile: Profile, folder: Path) -> dict[str, Profile]:
        """Those of `profile` in `folder`, as `read_neighbours` finds them; the same object while they are the same."""
        named = frozenset(self._held.of(profile))
        if not named:
            return _NONE
        if self._found is None or self._found[0] != self._state(folder, named, self._found[1]):
            found = read_neighbours(profile, folder)
            self._found = self._state(folder, named, found), found
        return self._found[1]

    @staticmethod
    def _state(folder: Path, named: frozenset[str], found: dict[str, Profile]) -> object:
        """What is another one when the neighbours have to be read again."""
        return folder, named, {name: stamp(folder / f"{name}{SUFFIX}") for name in (*named, *found)}


_NONE: dict[str, Profile] = {}


class HeldProfiles:
    """The profiles that a profile names, found again while it is edited: what edits share is not walked twice."""

    def __init__(self) -> None:
        self._known: dict[int, tuple[object, tuple[str, ...]]] = {}

    def of(self, profile: Profile) -> list[str]:
        """The names, each as often as it stands there."""
        fresh: dict[int, tuple[object, tuple[str, ...]]] = {}
        for part in (*profile.layers, profile.belts, profile.macros):
            known = self._known.get(id(part))
            fresh[id(part)] = known if known is not None and known[0] is part else (part, _named_in(part))
        self._known = fresh
        return [name for _, names in fresh.values() for name in names]


def _named(profile: Profile) -> list[str]:
    return HeldProfiles().of(profile)


def _named_in(part: object) -> tuple[str, ...]:
    if not mentions(part, HoldProfile):
        return ()
    sent = (send for _, sends in sends_in(part) for send in every_send(sends))
    return tuple(send.profile for send in sent if isinstance(send, HoldProfile))
