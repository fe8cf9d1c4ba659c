"""Which followers a binding has: that of its role, that of its bands, and that of what is held while it is out."""

from __future__ import annotations

from typing import assert_never

from nubshift.engine.program import Position
from nubshift.engine.roles.bands import BandsFollower, OutFollower
from nubshift.engine.roles.keys import KeysFollower
from nubshift.engine.roles.pad import PadFollower
from nubshift.engine.roles.pointing import PointerFollower
from nubshift.engine.roles.port import Followed, Follower
from nubshift.engine.roles.speed import ScrollFollower, SpeedFollower
from nubshift.engine.roles.surfaces import BoardFollower, MenuFollower, TilesFollower
from nubshift.model.roles import (
    BoardRole,
    GyroRole,
    KeysRole,
    MenuRole,
    MouseRole,
    PadAxisRole,
    PadStickRole,
    PointerRole,
    ScrollRole,
    TilesRole,
)


def followers_for(state: Followed, position: Position) -> tuple[Follower, ...]:
    """New followers of a binding, in the order in which they act: what is held while out comes before any motion."""
    found: list[Follower] = []
    if position.out is not None:
        found.append(OutFollower(position.out))
    role = _role_follower(state, position)
    if role is not None:
        found.append(role)
    if position.bands:
        found.append(BandsFollower(position.bands))
    return tuple(found)


def _role_follower(state: Followed, position: Position) -> Follower | None:
    context = state.context
    match position.role:
        case KeysRole():
            return KeysFollower(position.acts, state.plane)
        case MouseRole(upright):
            return SpeedFollower(context.mover, upright)
        case ScrollRole(sideways):
            return ScrollFollower(context.scroller, not sideways)
        case PointerRole() as role:
            return PointerFollower(position, role)
        case TilesRole() as role:
            return TilesFollower(position, role)
        case MenuRole() as role:
            return MenuFollower(state, position, role)
        case BoardRole() as role:
            return BoardFollower(state, position, role)
        case PadStickRole() | PadAxisRole() as role:
            return PadFollower(role)
        case GyroRole() | None:
            return None  # motion has a follower of its own
        case never:
            assert_never(never)
