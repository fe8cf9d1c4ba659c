"""Edits of the feels that are kept by name. Each takes a profile and returns another one."""

from __future__ import annotations

from msgspec.structs import replace

from nubshift.model import edits
from nubshift.model.profile import Profile, Variant


def saved_as(profile: Profile, name: str, layer_id: str, control: str, seat: str = "1") -> Profile:
    """`profile` with the present feel of a control in a layer kept by this name, in place of one with the name."""
    feel = profile.feel_in(layer_id, seat, control)
    same = next((v for v in profile.variants_of(layer_id, seat, control) if v.name == name), None)
    variant = Variant(
        same.id if same else edits.free_id(name, [v.id for v in profile.variants]), name[:200], feel, layer_id
    )
    kept = [variant if v is same else v for v in profile.variants]
    return replace(profile, variants=(*kept, *(() if same else (variant,))))


def with_used(profile: Profile, variant_id: str) -> Profile:
    """`profile` with the feel of a variant put in its layer."""
    variant = next(v for v in profile.variants if v.id == variant_id)
    return edits.with_feel_put(profile, variant.layer, variant.feel)


def with_named(profile: Profile, variant_id: str, name: str) -> Profile:
    """`profile` with another name for a variant."""
    named = tuple(replace(v, name=name[:200]) if v.id == variant_id else v for v in profile.variants)
    return replace(profile, variants=named)


def without_variant(profile: Profile, variant_id: str) -> Profile:
    """`profile` without a variant; the present feel stays."""
    return replace(profile, variants=tuple(v for v in profile.variants if v.id != variant_id))
