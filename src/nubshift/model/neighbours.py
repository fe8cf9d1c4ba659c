"""Profiles that a profile enters while a control is held: they lie in the same folder (need N29)."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path

from nubshift.errors import ProfileError, StorageError
from nubshift.model.profile import SUFFIX, Profile
from nubshift.model.sends import HoldProfile
from nubshift.model.store import read_profile
from nubshift.model.walk import each_send, mentions, places


def profiles_held(profile: Profile, others: Mapping[str, Profile]) -> list[str]:
    """The names of all profiles that `profile` can enter while a control is held, also by way of each other."""
    found: dict[str, None] = {}
    waiting = [profile]
    while waiting:
        for name in _named(waiting.pop()):
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


def _named(profile: Profile) -> list[str]:
    if not mentions(profile, HoldProfile):
        return []
    sent = (send for place in places(profile) for _, send in each_send(place.sends))
    return [send.profile for send in sent if isinstance(send, HoldProfile)]
