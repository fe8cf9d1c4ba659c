"""Feels kept by name: edits of them, their rules, and profiles from before there were any."""

from __future__ import annotations

import json

import pytest

from nubshift.errors import ProfileError
from nubshift.model import edits, variants
from nubshift.model.changes import changes_between
from nubshift.model.profile import BASE, Feel, Profile
from nubshift.model.reading import parse_profile
from nubshift.model.roles import MouseRole
from nubshift.model.sends import NextVariant
from nubshift.model.sentences import sends_name
from nubshift.model.writing import profile_text
from tests.support.profiles import made

STICK = made({"base": {"right_stick": MouseRole()}, "aim": {}})


def two() -> Profile:
    profile = variants.saved_as(STICK, "plain", BASE, "right_stick")
    profile = edits.with_feel(profile, BASE, "right_stick", speed=300.0)
    return variants.saved_as(profile, "fast", BASE, "right_stick")


def test_the_one_in_use_is_the_one_that_is_equal() -> None:
    profile = two()
    assert profile.variant_in_use(BASE, "1", "right_stick").name == "fast"  # type: ignore[union-attr]
    profile = edits.with_feel(profile, BASE, "right_stick", speed=301.0)
    assert profile.variant_in_use(BASE, "1", "right_stick") is None
    profile = variants.with_used(profile, "plain")
    assert profile.feel_in(BASE, "1", "right_stick") == Feel("right_stick")
    assert profile.layers[0].feel == ()  # nothing set is nothing written
    assert variants.with_used(profile, "fast").feel_in(BASE, "1", "right_stick").speed == 300.0


def test_a_name_kept_again_takes_the_place_of_the_old_one() -> None:
    profile = edits.with_feel(two(), BASE, "right_stick", speed=400.0)
    profile = variants.saved_as(profile, "plain", BASE, "right_stick")
    assert [(v.name, v.feel.speed) for v in profile.variants] == [("plain", 400.0), ("fast", 300.0)]
    profile = variants.with_named(profile, "fast", "quick")
    assert [v.name for v in profile.variants_of(BASE, "1", "right_stick")] == ["plain", "quick"]
    assert [v.name for v in variants.without_variant(profile, "plain").variants] == ["quick"]


def test_variants_go_with_their_layer_and_are_part_of_the_file() -> None:
    profile = edits.with_feel(two(), "aim", "right_stick", speed=60.0)
    profile = variants.saved_as(profile, "slow", "aim", "right_stick")
    assert parse_profile(profile_text(profile), "file") == profile
    assert changes_between(STICK, two()).rest
    assert [v.name for v in edits.without_layer(profile, "aim").variants] == ["plain", "fast"]


def test_the_feel_from_before_is_put_back_in_every_layer() -> None:
    now = edits.with_feel(edits.with_feel(STICK, "aim", "right_stick", speed=60.0), BASE, "right_stick", inner=0.2)
    back = edits.with_feel_from(now, STICK, "right_stick")
    assert back.layers == STICK.layers
    assert edits.with_feel_from(back, STICK, "right_stick") is back


@pytest.mark.parametrize(
    ("change", "place"),
    [
        ({"layer": "nowhere"}, "variants[0].layer"),
        ({"feel": {"control": "nob"}}, "variants[0].feel.control"),
        ({"feel": {"control": "right_stick", "inner": 0.9, "outer": 0.5}}, "variants[0].feel.inner"),
    ],
)
def test_what_makes_a_variant_unusable_is_told_with_its_place(change: dict[str, object], place: str) -> None:
    variant = {"id": "a", "name": "A", "feel": {"control": "right_stick"}, **change}
    document = {"format": "nubshift-profile", "version": 8, "game": {"title": "T"}, "variants": [variant]}
    with pytest.raises(ProfileError) as error:
        parse_profile(json.dumps(document).encode(), "file")
    assert place in [problem.place for problem in error.value.problems]


def test_two_variants_of_one_id_and_stepping_an_unknown_control_are_told() -> None:
    variant = {"id": "a", "name": "A", "feel": {"control": "right_stick"}}
    step = {"control": "south", "press": [{"send": "next-variant", "control": "nob"}]}
    document = {
        "format": "nubshift-profile",
        "version": 8,
        "game": {"title": "T"},
        "variants": [variant, variant],
        "layers": [{"id": "base", "name": "Base", "bindings": [step]}],
    }
    with pytest.raises(ProfileError) as error:
        parse_profile(json.dumps(document).encode(), "file")
    assert {"variants[1]", "layers[0].bindings[0].press[0].control"} <= {p.place for p in error.value.problems}


def test_a_profile_of_version_3_has_none() -> None:
    old = {"format": "nubshift-profile", "version": 3, "game": {"title": "Old"}}
    assert parse_profile(json.dumps(old).encode(), "file").variants == ()


def test_it_is_called_what_it_does() -> None:
    assert sends_name(STICK, (NextVariant("right_stick"),)) == "right stick: next variant"
    assert sends_name(STICK, (NextVariant("right_stick", back=True),)) == "right stick: previous variant"
