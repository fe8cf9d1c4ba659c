"""What falls through to a slot where its layer does not set the control, and how to bring it along (R5)."""

from __future__ import annotations

from msgspec.structs import replace

from nubshift.model import edits
from nubshift.model.profile import GESTURES, Binding, Profile
from nubshift.model.sends import Sends
from nubshift.model.slots import BELT, MACRO, TOGETHER, Slot
from nubshift.model.usage import combinations_of, look_up


def shown_sends(profile: Profile, slot: Slot) -> Sends:
    """What stands in a slot; if the layer does not set the control yet, what falls through to it.

    A press that falls through is not shown: one key given to it takes the place of the whole.
    """
    source = _source(profile, slot)
    if source is None:
        return edits.sends_of(profile, slot)
    binding = edits.bound(profile, source)
    if slot.part in GESTURES and (binding is None or len(binding.gestures) < 2):
        return ()
    return edits.sends_of(profile, source)


def main_part(profile: Profile, slot: Slot) -> str:
    """The gesture that a key given to a button is meant for: its press, unless it has only others."""
    source = _source(profile, slot) or slot
    bound = edits.bound(profile, source)
    return next(iter(bound.gestures), "press") if bound is not None else "press"


def brought(profile: Profile, slot: Slot) -> Profile:
    """`profile` with what falls through to a slot's control set in its own layer.

    A layer sets the whole control (R5), so to change one direction, cell or gesture of it brings the others along.
    """
    source = _source(profile, slot)
    inherited = edits.bound(profile, source) if source is not None else None
    if inherited is None or (slot.part == "press" and len(inherited.gestures) < 2):
        return profile
    if isinstance(inherited, Binding) and slot.part in GESTURES and inherited.by_depth:
        return profile
    return edits.with_bound(profile, slot.layer, replace(inherited, note=""))


def _source(profile: Profile, slot: Slot) -> Slot | None:
    """The slot of a lower layer that shows through here, or None if this layer sets the control itself."""
    if not slot.layer or slot.control.startswith((BELT, MACRO)):
        return None
    if TOGETHER in slot.control:
        return _combination_source(profile, slot)
    found = look_up(profile, slot.layer, slot.control, slot.seat)
    if found is None or found.layer.id == slot.layer:
        return None
    return _in_layer(slot, found.layer.id)


def _combination_source(profile: Profile, slot: Slot) -> Slot | None:
    """The same for controls pressed together."""
    wanted = set(slot.control.split(TOGETHER))
    for layer, together in combinations_of(profile, slot.layer, min(wanted), slot.seat):
        if set(together.controls) == wanted and layer.id != slot.layer:
            return _in_layer(slot, layer.id)
    return None


def _in_layer(slot: Slot, layer: str) -> Slot:
    """The same slot in another layer."""
    return Slot(layer, slot.control, slot.part, slot.seat)
