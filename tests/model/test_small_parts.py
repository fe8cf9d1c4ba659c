"""Keys, parameters, key lists, words."""

from __future__ import annotations

import pytest
from evdev import ecodes

from nubshift.model import parameters
from nubshift.model.controls import CONTROLS, PAD_CONTROLS
from nubshift.model.keylist import parse_key_list
from nubshift.model.keys import KEYS, find_key, is_button
from nubshift.model.names import Names
from nubshift.model.parameters import Parameter
from nubshift.model.profile import BASE, DEFAULT_FEEL, FEEL_FIELDS, Feel, Profile
from nubshift.model.sentences import slot_name
from nubshift.model.slots import Slot, side
from nubshift.model.usage import look_up


def test_key_codes_are_the_kernels() -> None:
    for info in KEYS.values():
        name = info.name if is_button(info.name) else f"KEY_{info.name}"
        assert getattr(ecodes, name) == info.code


@pytest.mark.parametrize(
    ("word", "key"),
    [
        ("space", "SPACE"),
        ("Shift", "LEFTSHIFT"),
        ("left  click", "BTN_LEFT"),
        (";", "SEMICOLON"),
        ("num 7", "KP7"),
        ("ESC", "ESC"),
        ("w", "W"),
        ("no such thing", None),
    ],
)
def test_keys_are_found_by_what_people_call_them(word: str, key: str | None) -> None:
    assert find_key(word) == key


def test_every_parameter_with_a_feel_field_has_its_default() -> None:
    for name, parameter in parameters.BY_NAME.items():
        if name in FEEL_FIELDS:
            assert getattr(DEFAULT_FEEL, name) == parameter.default
        assert parameter.low <= parameter.default <= parameter.high
        assert parameter.help.endswith(".")
    assert set(FEEL_FIELDS) <= set(parameters.BY_NAME) | {"zone", "curve", "invert_x", "invert_y"}
    assert all(getattr(Feel("x"), name) is None for name in FEEL_FIELDS)


def test_values_read_as_a_person_pictures_them() -> None:
    assert parameters.INNER.text(0.08) == "8\u202f%"
    assert parameters.COUNTS_PER_TURN.text(9840) == "9\u202f840\u202fcounts"
    assert parameters.SPEED.clamp(99999) == 3000


def test_marks_and_titles_tell_controls_apart() -> None:
    assert len({info.mark for info in CONTROLS.values()}) == len(CONTROLS)
    assert len({info.title for info in CONTROLS.values()}) == len(CONTROLS)
    assert all(len(info.mark) <= 3 for info in CONTROLS.values())


def test_key_lists_in_the_forms_people_paste() -> None:
    found = parse_key_list("""
[Move]
Jump = Space
Sneak: Ctrl
Look around
Fight:
Strike\tleft click
Parry, Shift + Q
Tools,Rope,R
""")
    assert [(c.group, c.name, c.keys) for c in found.commands] == [
        ("Move", "Jump", ("SPACE",)),
        ("Move", "Sneak", ("LEFTCTRL",)),
        ("Move", "Look around", ()),
        ("Fight", "Strike", ("BTN_LEFT",)),
        ("Fight", "Parry", ("LEFTSHIFT", "Q")),
        ("Tools", "Rope", ("R",)),
    ]
    assert not found.problems


def test_a_word_that_is_no_key_is_told_and_the_command_kept() -> None:
    found = parse_key_list("Jump = Spaec")
    assert [c.keys for c in found.commands] == [()]
    assert "Spaec" in found.problems[0].text
    assert found.problems[0].place == "line 1"


def test_the_demo_uses_every_control_that_can_be_given_something(demo: Profile) -> None:
    for name in PAD_CONTROLS:
        if name != "motion":
            assert look_up(demo, "base", name) is not None, name


def test_every_share_is_shown_in_hundredths_and_no_zero_has_a_minus() -> None:
    import gc

    shares = [p for p in gc.get_objects() if isinstance(p, Parameter) and p.unit == "%"]
    assert len(shares) > 8
    assert all(p.shown == 100 for p in shares), [p.name for p in shares if p.shown != 100]
    assert shares[0].text(-0.0) == shares[0].text(0.0)


def test_the_sides_of_a_lone_axis_are_named_for_what_is_done_with_it(demo: Profile) -> None:
    slots = Slot(BASE, "axis_1", side("left")), Slot(BASE, "axis_1", side("right"))
    assert [slot_name(demo, slot, Names({"axis_1": "Left hole"})) for slot in slots] == [
        "left hole, sip",
        "left hole, puff",
    ]
    assert slot_name(demo, slots[1]) == "axis 1, the other way"
