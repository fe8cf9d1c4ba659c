"""A profile that was made on one controller, played on another: what does not fit, and what would (need N05)."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

from msgspec.structs import replace

from nubshift.model import edits
from nubshift.model.controls import BUTTON_LIKE, Kind, kind_of
from nubshift.model.profile import Binding, Profile
from nubshift.model.sentences import binding_name

ALIKE: dict[Kind, frozenset[Kind]] = {
    Kind.BUTTON: BUTTON_LIKE,
    Kind.TRIGGER: BUTTON_LIKE,
    Kind.STICK: frozenset({Kind.STICK}),
    Kind.AXIS: frozenset({Kind.AXIS, Kind.TRIGGER}),
    Kind.TOUCH: frozenset({Kind.TOUCH, Kind.STICK}),
    Kind.POINTER: frozenset({Kind.POINTER, Kind.STICK}),
}
"""Which kinds can do the work of a kind."""


@dataclass(frozen=True)
class Misfit:
    """A control that the profile uses and the controller lacks: what it does, and a free one in its place if any."""

    control: str
    does: str
    layers: tuple[str, ...]
    instead: str = ""


def misfits(profile: Profile, controls: Collection[str], seat: str = "1") -> list[Misfit]:
    """All that does not fit, in the order of the layers; each free control is proposed once."""
    made_of = {"dpad": {"dpad_up", "dpad_down", "dpad_left", "dpad_right"}}
    joins = {join.control for entry in profile.seats if entry.id == seat for join in entry.joins}
    there = set(controls) | {whole for whole, parts in made_of.items() if parts & set(controls)} | joins
    there |= {"touch_pad_left", "touch_pad_right"} if "touch_pad" in there else set()
    used: dict[str, list[tuple[str, Binding]]] = {}
    for layer in profile.layers:
        for binding in layer.bindings:
            if binding.seat == seat and binding.sets and not binding.blocked:
                used.setdefault(binding.control, []).append((layer.id, binding))
    free = [control for control in controls if control not in used]
    found = []
    for control, places in used.items():
        if control in there:
            continue
        kind = kind_of(control)
        instead = next((name for name in free if kind_of(name) in ALIKE.get(kind, frozenset({kind}))), "")
        if instead:
            free.remove(instead)
        does = ", ".join(dict.fromkeys(binding_name(profile, binding) for _, binding in places))
        found.append(Misfit(control, does, tuple(layer for layer, _ in places), instead))
    return found


def with_fitted(profile: Profile, misfit: Misfit, seat: str = "1") -> Profile:
    """`profile` with what a misfit does on the control that was proposed, in every layer."""
    for layer_id in misfit.layers:
        layer = profile.layer(layer_id)
        binding = layer.binding(misfit.control, seat) if layer is not None else None
        if binding is not None:
            profile = edits.without_binding(profile, layer_id, misfit.control, seat)
            profile = edits.with_binding(profile, layer_id, replace(binding, control=misfit.instead))
    return profile
