"""Contract R16: macros; texts through a layout table (need N31)."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nubshift.engine.compile import compile_profile
from nubshift.model.layouts import ALWAYS, US
from nubshift.model.profile import Belt, BeltEntry, Macro, MacroPress, MacroRelease, MacroStep, MacroTap, MacroWait
from nubshift.model.sends import SendBelt, SendMacro, SendMotion, SendText
from tests.support.playing import MS, Desk
from tests.support.profiles import made, sends

COMBO = (MacroPress(sends("LEFTSHIFT")), MacroTap(sends("A"), 40), MacroWait(20), MacroTap(sends("B"), 40))


def desk(steps: tuple[MacroStep, ...] = COMBO, more: dict[str, Any] | None = None, **fields: Any) -> Desk:
    macros = (Macro("m", "Macro", steps, **fields),)
    return Desk(made({"base": {"south": SendMacro("m"), "east": SendMacro("m"), **(more or {})}}, macros=macros))


def test_once_it_runs_to_its_end_and_releases_what_it_holds() -> None:
    assert desk().play("0 south 10 -south 900") == [
        "0 +LEFTSHIFT",
        "0 +A",
        "40 -A",
        "60 +B",
        "100 -B",
        "100 -LEFTSHIFT",
    ]


def test_press_and_release_hold_in_between() -> None:
    steps = (
        MacroPress(sends("A")),
        MacroWait(10),
        MacroPress(sends("B")),
        MacroWait(10),
        MacroRelease(sends("A")),
        MacroWait(10),
    )
    assert desk(steps).play("0 south 900") == ["0 +A", "10 +B", "20 -A", "30 -B"]


def test_while_held_it_repeats_and_ends_at_once() -> None:
    steps = (MacroTap(sends("A"), 30), MacroWait(70))
    assert desk(steps, runs="while-held").play("0 south 210 -south 900") == [
        "0 +A",
        "30 -A",
        "100 +A",
        "130 -A",
        "200 +A",
        "210 -A",
    ]


def test_until_pressed_again_it_repeats_and_ends_at_once() -> None:
    steps = (MacroTap(sends("A"), 30), MacroWait(70))
    found = desk(steps, runs="until-pressed")
    assert found.play("0 south 10 -south 115 south 120 -south 900") == ["0 +A", "30 -A", "100 +A", "115 -A"]
    assert found.play("1000 east 1010 -east")[0] == "1000 +A"


def test_a_macro_that_takes_no_time_does_not_spin() -> None:
    found = desk((MacroPress(sends("A")),), runs="while-held")
    sent = found.play("0 south 45 -south 900")
    assert sent == ["0 +A", "0 -A", "10 +A", "10 -A", "20 +A", "20 -A", "30 +A", "30 -A", "40 +A", "40 -A"]


def test_ignore() -> None:
    assert desk(again="ignore").play("0 south 50 east 900")[-2:] == ["100 -B", "100 -LEFTSHIFT"]


def test_restart_ends_it_first() -> None:
    assert desk(again="restart").play("0 south 50 east 70") == [
        "0 +LEFTSHIFT",
        "0 +A",
        "40 -A",
        "50 -LEFTSHIFT",
        "50 +LEFTSHIFT",
        "50 +A",
    ]


def test_queue_runs_them_one_after_the_other() -> None:
    steps = (MacroTap(sends("A"), 40), MacroWait(20))
    assert desk(steps, again="queue").play("0 south 50 east 55 -east 56 east 900") == [
        "0 +A",
        "40 -A",
        "60 +A",
        "100 -A",
        "120 +A",
        "160 -A",
    ]


def test_overlap_runs_each_with_its_own_holders() -> None:
    assert desk((MacroTap(sends("A"), 100),), again="overlap").play("0 south 50 east 900") == ["0 +A", "150 -A"]


def test_taps_of_one_key_are_told_apart() -> None:
    assert desk((MacroTap(sends("A"), 40), MacroTap(sends("A"), 40))).play("0 south 900") == [
        "0 +A",
        "40 -A",
        "70 +A",
        "110 -A",
    ]


def test_it_moves_the_mouse_and_steps_a_belt() -> None:
    belts = (Belt("b", "b", (BeltEntry(sends("1")), BeltEntry(sends("2")))),)
    steps = (MacroTap((SendMotion(10, -5),), 10), MacroTap((SendBelt("b"),), 30), MacroTap((SendBelt("b"),), 30))
    profile = made({"base": {"south": SendMacro("m")}}, macros=(Macro("m", "m", steps),), belts=belts)
    assert Desk(profile).play("0 south 900") == ["0 ~10,-5", "10 +1", "40 -1", "40 +2", "70 -2"]


def test_a_stop_drops_it() -> None:
    found = desk()
    found.play("0 south")
    assert found.stop(20 * MS) == ["-A", "-LEFTSHIFT"]
    assert found.timed(900 * MS) == []
    found.resume(900 * MS)
    assert found.play("901 -south 910 south")[:1] == ["910 +LEFTSHIFT"]


# Text


def test_text_is_typed_key_by_key() -> None:
    found = Desk(made({"base": {"south": SendText("Hi!")}}))
    assert found.play("0 south 900") == [
        "0 +LEFTSHIFT",
        "0 +H",
        "15 -H",
        "15 -LEFTSHIFT",
        "30 +I",
        "45 -I",
        "60 +LEFTSHIFT",
        "60 +1",
        "75 -1",
        "75 -LEFTSHIFT",
    ]


def test_double_letters_go_up_in_between() -> None:
    assert Desk(made({"base": {"south": SendText("aa")}})).play("0 south 900") == ["0 +A", "15 -A", "30 +A", "45 -A"]


def test_texts_wait_for_each_other() -> None:
    found = Desk(made({"base": {"south": SendText("ab")}}))
    assert [word.split()[1] for word in found.play("0 south 5 -south 10 south 900")] == [
        "+A",
        "-A",
        "+B",
        "-B",
        "+A",
        "-A",
        "+B",
        "-B",
    ]


def test_in_a_macro_what_follows_waits_for_the_text() -> None:
    assert desk((MacroTap((SendText("ab"),)), MacroTap(sends("ENTER"), 30))).play("0 south 900")[-2:] == [
        "60 +ENTER",
        "90 -ENTER",
    ]


def test_another_layout_types_other_keys() -> None:
    layout = ALWAYS | {"z": (("Y",),), "ê": (("LEFTBRACE",), ("E",))}
    profile = made({"base": {"south": SendText("zê")}})
    program = compile_profile(profile, layout=layout)
    assert not program.refused
    from nubshift.engine.engine import Engine
    from nubshift.engine.owner import outputs_of
    from nubshift.events import Report
    from tests.support.playing import words

    engine = Engine(program)
    sent = engine.feed(Report(0, (("south", 1.0, 0.0),))) + engine.advance(900 * MS)
    assert words(outputs_of(sent)) == ["+Y", "-Y", "+LEFTBRACE", "-LEFTBRACE", "+E", "-E"]


def test_what_can_not_be_typed_is_refused_as_a_whole_with_a_reason() -> None:
    profile = made({"base": {"south": SendText("naïve")}})
    (said,) = compile_profile(profile).refused
    assert '"ï"' in said
    assert "base/1/south/press" in said
    assert Desk(profile).play("0 south 900") == []


@pytest.mark.parametrize("character", list("aZ0~|/?<>\"' \n"))
def test_the_us_table_has_every_printable_character(character: str) -> None:
    assert character in US


def test_ascii_is_complete() -> None:
    assert all(chr(code) in US for code in range(32, 127))


# Any macro against its own timetable

macro_steps = st.lists(
    st.one_of(
        st.tuples(st.just("tap"), st.sampled_from("ABC"), st.integers(10, 90)),
        st.tuples(st.just("wait"), st.just(""), st.integers(1, 90)),
        st.tuples(st.just("press"), st.sampled_from("DEF"), st.just(0)),
        st.tuples(st.just("release"), st.sampled_from("DEF"), st.just(0)),
    ),
    min_size=1,
    max_size=14,
)


@given(macro_steps)
def test_any_macro_against_its_own_timetable(steps: list[tuple[str, str, int]]) -> None:
    made_of: list[MacroStep] = []
    expected: list[tuple[int, str]] = []
    held: list[str] = []
    t, up_at = 0, {"": -1}
    for kind, key, ms in steps:
        match kind:
            case "tap":
                made_of.append(MacroTap(sends(key), ms))
                if up_at.get(key) == t:  # two taps of one key in a row: the second begins one pulse later
                    t += 30
                expected += [(t, f"+{key}"), (t + ms, f"-{key}")]
                t += ms
                up_at[key] = t
            case "wait":
                made_of.append(MacroWait(ms))
                t += ms
            case "press":
                made_of.append(MacroPress(sends(key)))
                if key not in held:
                    held.append(key)
                    expected.append((t, f"+{key}"))
            case _:
                made_of.append(MacroRelease(sends(key)))
                if key in held:
                    held.remove(key)
                    expected.append((t, f"-{key}"))
    expected += [(t, f"-{key}") for key in reversed(held)]
    sent = [(int(line.split()[0]), line.split()[1]) for line in desk(tuple(made_of)).play(f"0 south {t + 500}")]
    assert sent == expected
