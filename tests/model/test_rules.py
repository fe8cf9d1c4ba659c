"""Everything that makes a profile unusable is told with its place (`model.rules`); older versions are brought up."""

from __future__ import annotations

import json
from typing import Any

import pytest
from hypothesis import given, settings

from nubshift.errors import ProfileError
from nubshift.model.migration import STEPS, migrated
from nubshift.model.profile import VERSION, Profile
from nubshift.model.reading import parse_profile
from nubshift.model.sends import HoldProfile, SendPoint, SendText, Turbo
from nubshift.model.walk import each_send, map_sends, mentions, places, sends_in
from nubshift.model.writing import profile_text
from tests.support.anything import profiles

KEY = {"send": "key", "key": "A"}


def profile(bindings: list[dict[str, Any]] | None = None, **parts: Any) -> bytes:
    layers = [
        {"id": "base", "name": "Base", "bindings": bindings or [], **parts.pop("base", {})},
        {"id": "aim", "name": "Aim"},
    ]
    return json.dumps(
        {"format": "nubshift-profile", "version": 8, "game": {"title": "T"}, "layers": layers, **parts}
    ).encode()


def bound(control: str, **fields: Any) -> bytes:
    return profile([{"control": control, **fields}])


def press(send: dict[str, Any]) -> bytes:
    return bound("south", press=[send])


PROBLEMS: list[tuple[bytes, str, str]] = [
    (press({"send": "change-layer", "layer": "base"}), "press[0].layer", "always active"),
    (press({"send": "next-layer", "layers": []}), "press[0].layers", "at least one"),
    (press({"send": "next-layer", "layers": ["aim", "aimm"]}), "press[0].layers[1]", 'Did you mean "aim"?'),
    (press({"send": "belt", "belt": "bar"}), "press[0].belt", 'no belt "bar"'),
    (press({"send": "macro", "macro": "dash"}), "press[0].macro", 'no macro "dash"'),
    (press({"send": "pad", "button": "sooth"}), "press[0].button", 'Did you mean "south"?'),
    (press({"send": "pad-axis", "axis": "left"}), "press[0].axis", 'no pad axis "left"'),
    (press({"send": "turbo", "what": []}), "press[0].what", "something to send"),
    (press({"send": "turbo", "what": [{"send": "key", "key": "QQ"}]}), "press[0].what[0].key", 'no key "QQ"'),
    (press({"send": "turbo", "what": [KEY], "rate": 90}), "press[0].rate", "50"),
    (
        press(
            {
                "send": "toggle",
                "what": [{"send": "toggle", "what": [{"send": "toggle", "what": [{"send": "toggle", "what": [KEY]}]}]}],
            }
        ),
        "press[0].what[0].what[0].what[0]",
        "3 deep",
    ),
    (bound("south", bands=[{"start": 0.5, "what": [KEY]}]), "bands", "no depth"),
    (bound("left_trigger", press=[KEY], bands=[{"start": 0.5, "what": [KEY]}]), "bands", "remove one of the two"),
    (bound("left_trigger", press=[KEY], role={"use": "mouse"}), "role", "remove one of the two"),
    (
        bound("left_trigger", bands=[{"start": 0.5, "what": []}, {"start": 0.4, "what": []}]),
        "bands[1].start",
        "further out",
    ),
    (bound("left_stick", role={"use": "gyro"}), "role", "can't be used as gyro"),
    (bound("motion", bands=[{"start": 0.5, "what": [KEY]}]), "bands", "no depth"),
    (bound("left_stick", role={"use": "tiles", "cells": [[KEY]]}), "role.cells", "expected 9 cells, found 1"),
    (
        bound("left_stick", role={"use": "menu", "entries": [{"what": []}, {"what": []}], "on": "press"}),
        "role.by",
        "name the control",
    ),
    (bound("left_stick", role={"use": "menu", "entries": [{"what": []}]}), "role.entries", "length"),
    (bound("left_stick", role={"use": "board", "rows": [["a", "NOKEY"]]}), "role.rows[0][1]", 'no key "NOKEY"'),
    (bound("axis_1", role={"use": "pad-axis", "axis": "x"}), "role.axis", 'no pad axis "x"'),
    (bound("pointer", role={"use": "pointer", "area": [0.5, 0, 0.5, 1]}), "role.area", "room between"),
    (bound("motion", role={"use": "gyro", "active": "while"}), "role.by", "makes the gyro act"),
    (bound("motion", role={"use": "gyro", "active": "while", "by": "left_stick"}), "role.by", 'no button "left_stick"'),
    (
        profile(base={"together": [{"controls": ["south", "left_stick"], "press": [KEY]}]}),
        "layers[0].together[0].controls[1]",
        "no button",
    ),
    (
        profile(base={"together": [{"controls": ["south", "south"], "press": [KEY]}]}),
        "layers[0].together[0].controls",
        "twice",
    ),
    (
        profile(base={"together": [{"controls": ["south", "east"], "press": [KEY], "blocked": True}]}),
        "layers[0].together[0].blocked",
        "remove one",
    ),
    (
        profile(base={"together": [{"controls": ["south", "east"]}, {"controls": ["east", "south"]}]}),
        "layers[0].together[1]",
        "second time",
    ),
    (
        profile(base={"together": [{"controls": ["south", "east"], "seat": "2"}]}),
        "layers[0].together[0].seat",
        'no seat "2"',
    ),
    (
        profile(seats=[{"id": "1", "joins": [{"control": "joined_stick_1", "x": "south", "y": "axis_1"}]}]),
        "seats[0].joins[0].x",
        "not a single axis",
    ),
    (
        profile(macros=[{"id": "m", "name": "M", "steps": [{"do": "tap", "what": [{"send": "macro", "macro": "m"}]}]}]),
        "macros[0].steps[0].what[0]",
        "inside a macro",
    ),
    (
        profile(belts=[{"id": "b", "name": "B", "entries": [{"what": [{"send": "belt", "belt": "b"}]}]}]),
        "belts[0].entries[0].what[0]",
        "inside a belt",
    ),
    (
        profile(commands=[{"id": "jump", "name": "Jump", "pad": ["soth"]}]),
        "commands[0].pad[0]",
        'Did you mean "south"?',
    ),
    (profile(habits={"hold_at": 5}), "habits.hold_at", "60"),
]


@pytest.mark.parametrize(("data", "place", "said"), PROBLEMS)
def test_each_problem_has_its_place_and_a_sentence(data: bytes, place: str, said: str) -> None:
    with pytest.raises(ProfileError, match="file") as caught:
        parse_profile(data, "file")
    assert len(caught.value.problems) == 1, caught.value.problems
    problem = caught.value.problems[0]
    assert problem.place.endswith(place)
    assert said in problem.text


@settings(max_examples=60)
@given(profiles())
def test_any_profile_comes_back_from_its_file_as_it_was(profile: Profile) -> None:
    text = profile_text(profile)
    assert parse_profile(text, "file") == profile
    assert profile_text(parse_profile(text, "file")) == text


@settings(max_examples=60)
@given(profiles())
def test_every_send_has_one_place_and_changing_none_changes_nothing(profile: Profile) -> None:
    assert map_sends(profile, lambda sends: sends) is profile
    found = [place.path for place in places(profile)]
    assert len(found) == len(set(found))
    emptied = map_sends(profile, lambda sends: ())
    assert not list(places(emptied))
    assert [sends for _, sends in sends_in(emptied)] == []


@settings(max_examples=60)
@given(profiles())
def test_what_is_mentioned_is_found_by_walking(profile: Profile) -> None:
    for kind in (HoldProfile, SendPoint, SendText, Turbo):
        walked = any(isinstance(send, kind) for place in places(profile) for _, send in each_send(place.sends))
        assert mentions(profile, kind) == walked


def test_version_1_is_brought_up_and_means_the_same() -> None:
    old = {
        "format": "nubshift-profile",
        "version": 1,
        "game": {"title": "Old"},
        "layers": [{"id": "base", "name": "Base", "bindings": [{"control": "south", "press": [KEY]}]}],
    }
    read = parse_profile(json.dumps(old).encode(), "file")
    assert read.version == VERSION
    assert read == parse_profile(json.dumps({**old, "version": 8}).encode(), "file")


def test_smoothing_before_version_8_means_the_same() -> None:
    def written(version: int, feel: dict[str, float]) -> bytes:
        entry = {"control": "right_stick", **feel}
        document = {
            "format": "nubshift-profile",
            "version": version,
            "game": {"title": "T"},
            "layers": [{"id": "base", "name": "Base", "feel": [entry]}],
            "variants": [{"id": "a", "name": "A", "feel": entry}],
        }
        return json.dumps(document).encode()

    old = parse_profile(written(7, {"steady": 3.0, "quick": 0.25}), "file")
    assert old == parse_profile(written(8, {"min_cutoff": 3.0, "beta": 0.25}), "file")
    assert (old.variants[0].feel.min_cutoff, old.layers[0].feel[0].beta) == (3.0, 0.25)
    for odd in ({"layers": 3}, {"layers": [3]}, {"variants": [{"feel": 3}]}, {"layers": [{"feel": [3]}]}):
        assert migrated({"version": 7, **odd})["version"] == VERSION


def test_there_is_a_step_from_every_version_ever_released() -> None:
    assert sorted(STEPS) == list(range(1, VERSION))
    assert migrated({"version": 1})["version"] == VERSION
    for odd in (None, True, "1", 99, [1]):
        assert migrated({"version": odd}) == {"version": odd}


def test_modifiers_can_be_three_deep_everywhere_and_not_four() -> None:
    three: dict[str, Any] = {
        "send": "toggle",
        "what": [{"send": "turbo", "what": [{"send": "in-order", "what": [KEY]}]}],
    }
    four: dict[str, Any] = {"send": "pulsed", "what": [three]}
    for place in (
        lambda send: bound("south", press=[send]),
        lambda send: bound("left_trigger", bands=[{"start": 0.2, "what": [send]}]),
        lambda send: bound("left_stick", role={"use": "keys", "up": [send]}),
        lambda send: profile(macros=[{"id": "m", "name": "M", "steps": [{"do": "tap", "what": [send]}]}]),
    ):
        parse_profile(place(three), "x")
        with pytest.raises(ProfileError, match="3 deep, not deeper"):
            parse_profile(place(four), "x")
