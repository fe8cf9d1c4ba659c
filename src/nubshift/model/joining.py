"""Two lone axes joined as a stick: throttle and rudder, two axes of a puck (need N02)."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeAlias

from msgspec.structs import replace

from nubshift.model import edits
from nubshift.model.profile import Join, Profile, Seat

Joins: TypeAlias = tuple[Join, ...]
STICKS = ("joined_stick_1", "joined_stick_2", "joined_stick_3")


def seat_of(profile: Profile, seat: str) -> Seat | None:
    """The seat with this id."""
    return next((entry for entry in profile.seats if entry.id == seat), None)


def join_of(profile: Profile, control: str, seat: str = "1") -> Join | None:
    """The join that makes a stick, or that a lone axis is part of."""
    entry = seat_of(profile, seat)
    joins = entry.joins if entry is not None else ()
    return next((join for join in joins if control in (join.control, join.x, join.y)), None)


def free_stick(profile: Profile, seat: str = "1") -> str:
    """The name of the next joined stick; empty when there are three already."""
    entry = seat_of(profile, seat)
    taken = {join.control for join in entry.joins} if entry is not None else set(STICKS)
    return next((name for name in STICKS if name not in taken), "")


def with_join(profile: Profile, x: str, y: str, seat: str = "1") -> Profile:
    """`profile` with two axes of a seat as a stick: sideways and up-and-down. What each did alone, it does no more."""
    name = free_stick(profile, seat)
    if not name:
        return profile
    for axis in (x, y):
        profile = _cleared(profile, axis, seat)
    return _with_joins(profile, seat, lambda joins: (*joins, Join(name, x, y)))  # type: ignore[arg-type]


def without_join(profile: Profile, control: str, seat: str = "1") -> Profile:
    """`profile` with a joined stick taken apart, and what it did gone with it."""
    profile = _cleared(profile, control, seat)
    return _with_joins(profile, seat, lambda joins: tuple(join for join in joins if join.control != control))


def turned(profile: Profile, control: str, seat: str = "1") -> Profile:
    """`profile` with the two axes of a joined stick in each other's place."""
    return _with_joins(
        profile, seat, lambda joins: tuple(replace(j, x=j.y, y=j.x) if j.control == control else j for j in joins)
    )


def _with_joins(profile: Profile, seat: str, change: Callable[[Joins], Joins]) -> Profile:
    seats = tuple(replace(e, joins=change(e.joins)) if e.id == seat else e for e in profile.seats)
    return replace(profile, seats=seats)


def _cleared(profile: Profile, control: str, seat: str) -> Profile:
    for layer in profile.layers:
        if layer.binding(control, seat) is not None or layer.feel_of(control, seat) is not None:
            profile = edits.without_binding(profile, layer.id, control, seat)
    return profile
