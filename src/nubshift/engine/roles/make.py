"""Which followers a binding has: that of its role, that of its bands, and that of what is held while it is out."""

from __future__ import annotations

from typing import TYPE_CHECKING

from nubshift.engine.program import Position
from nubshift.engine.roles.bands import BandsFollower, OutFollower
from nubshift.engine.roles.keys import KeysFollower
from nubshift.engine.roles.pad import PadFollower
from nubshift.engine.roles.pointing import PointerFollower
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

if TYPE_CHECKING:
    from nubshift.engine.positions import PositionState
    from nubshift.engine.roles.port import Follower


def followers_for(state: PositionState, position: Position) -> tuple[Follower, ...]:
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


def _role_follower(state: PositionState, position: Position) -> Follower | None:
    core = state.core
    match position.role:
        case KeysRole():
            return KeysFollower(position.acts, state.entry.plane)
        case MouseRole(upright):
            return SpeedFollower(core.mover, upright)
        case ScrollRole(sideways):
            return ScrollFollower(core.scroller, not sideways)
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
            return None
