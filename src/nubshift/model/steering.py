"""What the mouse moves in a layer, and the units of its speeds: degrees for a view, pixels for a cursor (N45).

Everything is stored in degrees. A cursor moves a pixel for each count, since the desktop is asked to take the virtual
mouse as it is; so its speeds are the same numbers times the counts of a degree.
"""

from __future__ import annotations

from msgspec.structs import replace

from nubshift.model import parameters as p
from nubshift.model.parameters import Parameter
from nubshift.model.profile import Moves, Profile
from nubshift.texts import _


def counts_per_degree(profile: Profile, layer: str) -> float:
    """Mouse counts for a degree of the view in a layer: by its own turn gauge, else the game's."""
    found = profile.layer(layer)
    own = found.counts_per_turn if found is not None else None
    return (own or profile.game.counts_per_turn) / 360.0


def moves(profile: Profile, layer: str) -> Moves:
    """What the mouse moves in a layer, which may differ from the game (its menus, its map)."""
    found = profile.layer(layer)
    return (found.moves if found is not None else None) or profile.game.moves


def as_read(parameter: Parameter, profile: Profile, layer: str) -> Parameter:
    """`parameter` with the label, the unit and the help of what the mouse moves in a layer; stored values stay."""
    if moves(profile, layer) == "view":
        return parameter
    pixels = counts_per_degree(profile, layer)
    match parameter.name:
        case p.SPEED.name:
            return replace(
                parameter, unit="px/s", shown=pixels, help=_("How fast the cursor moves with the stick fully out.")
            )
        case p.GYRO_RATIO.name:
            return replace(
                parameter,
                label=_("Gyro ratio"),
                unit="px",
                shown=pixels,
                digits=0,
                help=_("Pixels the cursor moves for each degree the controller turns."),
            )
        case p.POINTER_SPEED.name:
            return replace(
                parameter, unit="px", help=_("Pixels for a movement from one end of the control to the other.")
            )
    return parameter
