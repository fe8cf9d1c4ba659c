"""What differs between two profiles: said in words, and taken over whole or one by one (N60)."""

from __future__ import annotations

from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nubshift.model import edits
from nubshift.model.differences import differences, taken
from nubshift.model.profile import Command, Profile
from nubshift.model.roles import MouseRole
from nubshift.model.rules import problems_of
from nubshift.model.sends import SendCommand
from nubshift.model.slots import Slot
from nubshift.model.store import read_profile
from nubshift.protocol.paths import demo_folder
from tests.support.anything import profiles
from tests.support.profiles import made, sends

DEMOS = [read_profile(path) for path in sorted(Path(demo_folder()).glob("*.nubshift.json"))]
BASE = made(
    {"base": {"south": SendCommand("jump"), "west": "X", "left_stick": MouseRole()}, "aim": {"south": "Y"}},
    commands=[Command("jump", "Jump", ("SPACE",)), Command("duck", "Duck", ("C",))],
)


def said(new: Profile, old: Profile = BASE) -> list[str]:
    return [found.text for found in differences(old, new)]


def test_a_command_that_moved_is_said_so() -> None:
    moved = edits.with_sends(BASE, Slot("base", "south"), ())
    moved = edits.with_sends(moved, Slot("base", "right_bumper"), edits.sends_of(BASE, Slot("base", "south")))
    assert said(moved) == ["Jump moved from Lower face button to right bumper"]


@pytest.mark.parametrize(
    ("new", "text"),
    [
        (edits.with_command(BASE, Command("jump", "Jump", ("J",))), "Jump is J instead of SPACE"),
        (edits.with_command(BASE, Command("jump", "Leap", ("SPACE",))), "Command Jump is called Leap"),
        (edits.with_command(BASE, Command("run", "Run", ("R",))), "Command Run added"),
        (edits.without_command(BASE, "duck"), "Command Duck removed"),
        (edits.with_sends(BASE, Slot("base", "west"), sends("Z")), "Left face button, press: Z instead of X"),
        (edits.with_sends(BASE, Slot("base", "east"), sends("Z")), "Right face button does Z"),
        (edits.with_sends(BASE, Slot("base", "west"), ()), "Left face button no longer does X"),
        (
            edits.with_sends(BASE, Slot("base", "west", "tap"), sends("T")),
            "Left face button, tap: T instead of Unassigned",
        ),
        (edits.with_feel(BASE, "base", "left_stick", inner=0.2), "Left stick: dead zone 20\u202f%"),
        (edits.without_layer(BASE, "aim"), "Layer aim removed"),
        (edits.with_game(BASE, title="Other"), "The title is Other"),
    ],
)
def test_each_difference_has_its_words(new: Profile, text: str) -> None:
    found = differences(BASE, new)
    assert text.lower() in [one.text.lower() for one in found]
    assert not differences(taken(BASE, found), new)


def test_one_of_several_can_be_taken_alone() -> None:
    new = edits.with_sends(edits.with_sends(BASE, Slot("base", "west"), sends("Z")), Slot("aim", "south"), sends("Q"))
    first, second = differences(BASE, new)
    assert (first.layer, second.layer) == ("", "aim")
    only = second.take(BASE)
    assert edits.sends_of(only, Slot("aim", "south")) == sends("Q")
    assert edits.sends_of(only, Slot("base", "west")) == sends("X")


def test_what_is_taken_brings_what_it_needs_along() -> None:
    for old in DEMOS:
        for new in DEMOS:
            for found in differences(old, new):
                after = found.take(old)
                assert not list(problems_of(after)), (found.text, next(problems_of(after)))


@pytest.mark.parametrize("old", DEMOS, ids=lambda p: p.game.title)
@pytest.mark.parametrize("new", DEMOS, ids=lambda p: p.game.title)
def test_all_taken_is_the_other_profile(old: Profile, new: Profile) -> None:
    assert not [found.text for found in differences(taken(old, differences(old, new)), new)]


@settings(max_examples=40)
@given(st.data())
def test_all_taken_is_the_other_profile_for_any_two(data: st.DataObject) -> None:
    old, new = data.draw(profiles()), data.draw(profiles())
    after = taken(old, differences(old, new))
    assert not [found.text for found in differences(after, new)]
