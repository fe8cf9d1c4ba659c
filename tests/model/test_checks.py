"""Checks (N12) and the fair-play report (N62): places, severities, sentences."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings

from nubshift.cli.main import main
from nubshift.errors import Severity
from nubshift.model.checks import Setting, findings
from nubshift.model.controls import PAD_CONTROLS
from nubshift.model.fair_play import fair_play
from nubshift.model.profile import Belt, BeltEntry, Command, Habits, Macro, MacroTap, Profile
from nubshift.model.roles import BoardRole, MouseRole
from nubshift.model.sends import (
    ChangeLayer,
    HoldProfile,
    Pulsed,
    SendBelt,
    SendMacro,
    SendPad,
    SendText,
    Toggled,
    Turbo,
)
from nubshift.model.writing import profile_text
from tests.support.anything import profiles
from tests.support.profiles import four, made, sends

JUMP = Command("jump", "Jump", ("SPACE",))


def texts(profile: Profile, **setting: Any) -> list[str]:
    found = findings(profile, Setting(**setting))
    assert all(problem.severity is Severity.WARNING for problem in found)
    return [str(problem) for problem in found]


@pytest.mark.parametrize(
    ("parts", "layers", "said"),
    [
        ({"commands": [JUMP]}, {}, "commands[0]: no control sends “Jump”"),
        (
            {"commands": [Command("jump", "Jump")]},
            {"south": "/jump"},
            "commands[0]: “Jump” has no key yet, so it can't be sent",
        ),
        (
            {"commands": [JUMP, Command("leap", "Leap", ("SPACE",))]},
            {"south": "/jump", "east": "/leap"},
            "commands: “Jump” and “Leap” have the same key, Space; the game can't tell them apart",
        ),
        (
            {},
            {"south": SendPad("east")},
            "layers[0].bindings[0].press[0]: Lower face button sends to a virtual pad, but the game has none. Choose one in the profile settings",
        ),
        (
            {},
            {"south": {"tap": SendText("é")}},
            'layers[0].bindings[0].tap[0].text: "é" can\'t be typed in this keyboard layout, so nothing of the text is sent',
        ),
        (
            {},
            {"south": Pulsed(sends("A"))},
            "layers[0].bindings[0].press[0]: Lower face button has no depth, so its pulses are a steady hold",
        ),
        (
            {},
            {"south": Turbo(sends("A"), rate_at_full=20)},
            "layers[0].bindings[0].press[0]: Lower face button has no depth, so its turbo always runs at the highest rate",
        ),
        (
            {},
            {"left_stick": BoardRole((("a",),), by="south"), "south": "A"},
            "layers[0].bindings[0].role.by: Lower face button types here and also what it is bound to; block it in this layer",
        ),
    ],
)
def test_a_finding_has_its_place_and_a_sentence(parts: dict[str, Any], layers: dict[str, Any], said: str) -> None:
    assert texts(made({"base": layers}, **parts)) == [said]


def test_a_command_is_reached_by_a_modifier_on_one_control_and_a_key_on_another() -> None:
    profile = made({"base": {"south": "LEFTCTRL", "east": "C"}}, commands=[Command("copy", "Copy", ("LEFTCTRL", "C"))])
    assert texts(profile) == []


def test_a_command_in_a_layer_nobody_can_enter() -> None:
    said = texts(made({"base": {"south": "A"}, "lost": {"east": "/jump"}}, commands=[JUMP]))
    assert said == [
        "commands[0]: “Jump” is only in a layer, belt or macro that nothing leads to",
        "layers[1]: nothing enters the layer “lost”",
    ]


def test_two_layers_that_only_enter_each_other_are_both_lost() -> None:
    said = texts(made({"base": {}, "one": {"south": ">two"}, "two": {"south": ">one"}}))
    assert [line.partition(":")[0] for line in said] == ["layers[1]", "layers[2]"]


def test_a_layer_that_nothing_leaves() -> None:
    base = {"south": ChangeLayer("aim", "enter")}
    assert texts(made({"base": base, "aim": {}})) == [
        "layers[1]: once the layer “aim” is entered, nothing leaves it again"
    ]
    assert texts(made({"base": {**base, "east": ChangeLayer("aim", "leave")}, "aim": {}})) == []


def test_commands_in_belts_and_macros_are_reached_by_way_of_them() -> None:
    belts = (Belt("b", "B", (BeltEntry(sends("/jump")),)),)
    macros = (Macro("m", "M", (MacroTap(sends("/jump")),)),)
    assert texts(made({"base": {"south": SendBelt("b")}}, commands=[JUMP], belts=belts)) == []
    assert texts(made({"base": {"south": SendMacro("m")}}, commands=[JUMP], macros=macros)) == []
    assert texts(made({"base": {}}, commands=[JUMP], belts=belts)) == [
        "commands[0]: “Jump” is only in a layer, belt or macro that nothing leads to"
    ]


def test_controls_that_do_nothing_and_those_the_controller_has_not() -> None:
    profile = made({"base": {"south": "A", "axis_1": four()}})
    said = texts(profile, controls=PAD_CONTROLS)
    assert "layers[0]: Right stick is unassigned" in said
    assert "layers[0].bindings[1]: Axis 1: not on this controller" in said
    assert not any("Lower face button is unassigned" in line for line in said)


def test_a_profile_to_hold_that_is_not_there() -> None:
    profile = made({"base": {"south": HoldProfile("menus")}})
    assert texts(profile, others={}) == [
        "layers[0].bindings[0].press[0].profile: there is no profile “menus” beside this one, so holding it does nothing"
    ]
    assert texts(profile, others={"menus": profile}) == []


def test_a_combination_within_another() -> None:
    profile = made({"base": {}}, together={"base": {"south east": "A", "south east west": "B"}})
    (said,) = texts(profile)
    assert said.startswith(
        "layers[0].together[1]: Lower face button and Right face button and Left face button are hard"
    )


# Fair play


@pytest.mark.parametrize(
    ("what", "said"),
    [
        (["A", "B"], "sends more than one thing"),
        (Turbo(sends("A")), "uses turbo"),
        ({"tap": "A"}, "depends on timing"),
        (">aim", "changes what other controls do"),
        (SendText("gg"), "types a text"),
        (Toggled(sends("A")), "stays on after"),
    ],
)
def test_the_report_names_what_is_more_than_one_press_for_one_press(what: Any, said: str) -> None:
    found = fair_play(made({"base": {"south": what}, "aim": {}}))
    assert len(found) == 1
    assert said in found[0].text
    assert found[0].place.startswith("layers[0].bindings[0]")
    assert found[0].severity is Severity.WARNING


def test_a_command_of_several_keys_is_more_than_one_thing() -> None:
    profile = made({"base": {"south": "/copy"}}, commands=[Command("copy", "Copy", ("LEFTCTRL", "C"))])
    assert ["sends more than one thing" in p.text for p in fair_play(profile)] == [True]


def test_analogue_and_digital_and_two_controls() -> None:
    profile = made(
        {"base": {"right_stick": {"role": MouseRole(), "out": "A"}, "south": "/jump", "east": "/jump"}}, commands=[JUMP]
    )
    assert [problem.text for problem in fair_play(profile)] == [
        "Right stick mixes analogue and digital output",
        "“Jump” has more than one control",
    ]


def test_plain_bindings_are_fair() -> None:
    profile = made({"base": {"south": "/jump", "left_stick": four(), "right_stick": MouseRole()}}, commands=[JUMP])
    assert fair_play(profile) == ()


def test_one_to_one_only_makes_them_errors_and_check_says_so(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    profile = made({"base": {"south": Turbo(sends("A"))}}, habits=Habits(one_to_one=True))
    path = tmp_path / "p.nubshift.json"
    path.write_bytes(profile_text(profile))
    assert main(["check", str(path), "--json"]) == 1
    (line,) = capsys.readouterr().out.splitlines()
    assert json.loads(line) == {
        "file": str(path),
        "place": "layers[0].bindings[0].press[0]",
        "severity": "error",
        "text": "Lower face button uses turbo",
    }


def test_warnings_do_not_fail_the_command(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / "p.nubshift.json"
    path.write_bytes(profile_text(made({"base": {}}, commands=[JUMP])))
    assert main(["check", str(path)]) == 0
    assert "warning: commands[0]: no control sends “Jump”" in capsys.readouterr().out


@settings(max_examples=60)
@given(profiles())
def test_every_finding_has_a_place_and_words_a_player_understands(profile: Profile) -> None:
    for problem in (*findings(profile, Setting({}, controls=PAD_CONTROLS)), *fair_play(profile)):
        assert problem.place
        assert problem.text
        assert "_" not in problem.text
