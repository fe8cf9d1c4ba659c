"""Profiles that share: one follows another but for what is its own, whatever changes (N60)."""

from __future__ import annotations

import contextlib
from pathlib import Path

import pytest
from hypothesis import given, settings

from nubshift.errors import ProfileError
from nubshift.model import edits
from nubshift.model.differences import differences
from nubshift.model.following import ALWAYS_OWN, Sharing, following, own_differences, read_sharing, write_sharing
from nubshift.model.profile import Command, Profile
from nubshift.model.rules import problems_of
from nubshift.model.sends import HoldLayer, SendCommand
from nubshift.model.slots import Slot
from tests.model.test_differences import DEMOS
from tests.support.anything import profiles
from tests.support.profiles import made, sends

FIRST = made(
    {"base": {"south": SendCommand("jump"), "west": "X", "left_trigger": ">aim"}, "aim": {"south": "Y"}},
    commands=[Command("jump", "Jump", ("SPACE",)), Command("duck", "Duck", ("C",))],
)


def key(profile: Profile, control: str, name: str, layer: str = "base") -> Profile:
    return edits.with_sends(profile, Slot(layer, control), sends(name))


OTHER = edits.with_game(key(FIRST, "west", "Z"), title="Left hand")
"""The same but for one button."""


def at(profile: Profile, control: str, layer: str = "base") -> object:
    return edits.sends_of(profile, Slot(layer, control))


def test_what_is_changed_in_one_place_changes_in_both_and_what_is_own_stays() -> None:
    changed = edits.with_command(key(key(FIRST, "west", "W"), "east", "E"), Command("jump", "Leap", ("J",)))
    result = following(FIRST, changed, OTHER)
    assert at(result, "east") == sends("E")
    assert result.command("jump") == Command("jump", "Leap", ("J",))
    assert at(result, "west") == sends("Z")
    assert result.game.title == "Left hand"
    assert [one.text for one in own_differences(changed, result)] == ["Left face button, press: Z instead of W"]


def test_a_move_whose_one_end_is_own_is_followed_at_the_other_end() -> None:
    moved = edits.with_sends(edits.with_sends(FIRST, Slot("base", "west"), ()), Slot("base", "north"), sends("X"))
    result = following(FIRST, moved, OTHER)
    assert at(result, "north") == sends("X")
    assert at(result, "west") == sends("Z")


def test_a_layer_that_has_something_of_its_own_is_not_removed() -> None:
    with_own = key(OTHER, "east", "Q", "aim")
    without = edits.without_layer(FIRST, "aim")
    assert following(FIRST, without, OTHER).layer("aim") is None
    assert at(following(FIRST, without, with_own), "east", "aim") == sends("Q")


def test_a_layer_that_was_removed_does_not_come_back() -> None:
    without = edits.without_layer(OTHER, "aim")
    result = following(FIRST, key(FIRST, "east", "E", "aim"), without)
    assert result.layer("aim") is None


def test_a_command_that_something_own_sends_is_not_removed() -> None:
    own = edits.with_sends(OTHER, Slot("base", "east"), (SendCommand("duck"),))
    result = following(FIRST, edits.without_command(FIRST, "duck"), own)
    assert at(result, "east") == (SendCommand("duck"),)
    assert result.command("duck") is not None


def test_what_is_new_brings_what_it_needs() -> None:
    richer = made({"base": {"south": "A"}, "climb": {"south": "B"}})
    richer = edits.with_sends(richer, Slot("base", "north"), (HoldLayer("climb"),))
    result = following(FIRST, richer, OTHER)
    assert at(result, "north") == (HoldLayer("climb"),)
    assert not list(problems_of(result))


@pytest.mark.parametrize("old", DEMOS)
@pytest.mark.parametrize("new", DEMOS)
def test_without_anything_own_it_becomes_the_same(old: Profile, new: Profile) -> None:
    result = following(old, new, old)
    left = {place for one in differences(new, result) for place in one.places}
    assert left <= ALWAYS_OWN


@settings(max_examples=40, deadline=None)
@given(profiles(), profiles(), profiles())
def test_nothing_own_is_ever_touched(before: Profile, after: Profile, follower: Profile) -> None:
    own = {place for one in differences(before, follower, each_alone=True) for place in one.places}
    with contextlib.suppress(ProfileError):  # then nothing is changed at all
        result = following(before, after, follower)
        touched = {place for one in differences(follower, result, each_alone=True) for place in one.places}
        assert not touched & own
        assert not list(problems_of(result))


def test_nothing_follows_itself_in_the_end() -> None:
    sharing = Sharing().with_follower("b", "a").with_follower("c", "b")
    assert sharing.followers("a") == ("b",)
    assert not sharing.may_follow("a", "c")
    assert not sharing.may_follow("a", "a")
    assert sharing.may_follow("d", "c")
    assert sharing.with_follower("b", "").follows == {"c": "b"}


def test_who_follows_whom_is_stored(tmp_path: Path) -> None:
    path = tmp_path / "sharing.json"
    assert read_sharing(path) == Sharing()
    write_sharing(path, Sharing(follows={"b": "a"}))
    assert read_sharing(path).followers("a") == ("b",)
