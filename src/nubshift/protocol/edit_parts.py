"""An edit on its way to the runner: only the parts of a profile that are others now."""

from __future__ import annotations

import msgspec
from msgspec.structs import replace

from nubshift.errors import ProtocolError
from nubshift.model.profile import Profile
from nubshift.protocol.messages import Edit
from nubshift.texts import _

PARTS = ("game", "commands", "seats", "belts", "macros", "habits", "needed", "variants")
"""The parts of a profile that an `Edit` carries whole."""


def edit_between(old: Profile, new: Profile, base: int, number: int) -> Edit:
    """The `Edit` that makes `new` of `old`. What both share is found without a look inside."""
    parts = {part: getattr(new, part) for part in PARTS if getattr(new, part) is not getattr(old, part)}
    before = {id(layer) for layer in old.layers}
    order = tuple(layer.id for layer in new.layers)
    return Edit(
        number,
        base,
        layers=tuple(layer for layer in new.layers if id(layer) not in before),
        order=order if order != tuple(layer.id for layer in old.layers) else msgspec.UNSET,
        **parts,
    )


def edited(profile: Profile, edit: Edit) -> Profile:
    """What an `Edit` makes of a profile. Raises ProtocolError if it speaks of a layer that is not there."""
    parts = {part: value for part in PARTS if (value := getattr(edit, part)) is not msgspec.UNSET}
    layers = {layer.id: layer for layer in (*profile.layers, *edit.layers)}
    order = edit.order if edit.order is not msgspec.UNSET else tuple(layer.id for layer in profile.layers)
    missing = [name for name in order if name not in layers]
    if missing:
        raise ProtocolError(_('the edit speaks of a layer "{missing}" that is not there').format(missing=missing[0]))
    return replace(profile, layers=tuple(layers[name] for name in order), **parts)
