"""Contract R4: captured at press; what follows a layer change at once; triggers as buttons."""

from __future__ import annotations

from typing import Any, Literal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nubshift.model.profile import Band, Macro, MacroTap, MacroWait
from nubshift.model.roles import MouseRole
from nubshift.model.sends import ChangeLayer, HoldLayer, InOrder, SendKey, SendMacro, Turbo
from tests.support.playing import MS, Desk, moved
from tests.support.profiles import four, made, sends

AIM = made(
    {"base": {"south": "A", "east": ">aim", "left_stick": four()}, "aim": {"south": "B", "left_stick": four(up="UP")}}
)


def test_release_ends_what_the_press_started_whatever_layer_is_active() -> None:
    desk = Desk(AIM)
    assert desk.at(1, south=1) == ["+A"]
    assert desk.at(2, east=1) == [">aim"]
    assert desk.at(3, south=0) == ["-A"]
    assert desk.at(4, south=1) == ["+B"]
    assert desk.at(5, east=0) == ["<aim"]
    assert desk.at(6, south=0) == ["-B"]


def test_sticks_follow_at_once() -> None:
    desk = Desk(AIM)
    assert desk.at(1, left_stick=(0.7, -0.7)) == ["+W", "+D"]
    assert desk.at(2, east=1) == [">aim", "-W", "+UP"]
    assert desk.at(3, east=0) == ["<aim", "-UP", "+W"]


def test_same_binding_goes_on_with_its_sector() -> None:
    profile = made({"base": {"left_stick": four(), "east": ">aim"}, "aim": {}})
    desk = Desk(profile)
    desk.at(1, left_stick=(0, -1))
    held = (0.43, -0.9)  # 25.5°: beyond the plain edge of 22.5°, kept by the 3° of the sector held
    assert desk.at(2, left_stick=held) == ["+D"]
    desk = Desk(profile)
    desk.at(1, left_stick=(0, -1))
    near = (0.41, -0.9)  # 24.5°
    assert desk.at(2, left_stick=near) == []
    assert desk.at(3, east=1) == [">aim"]


def test_another_binding_starts_from_rest_with_the_present_value() -> None:
    profile = made({"base": {"left_stick": four(), "east": ">aim"}, "aim": {"left_stick": four(right="RIGHT")}})
    desk = Desk(profile)
    desk.at(1, left_stick=(0, -1))
    assert desk.at(2, left_stick=(0.41, -0.9)) == []
    assert desk.at(3, east=1) == [">aim", "+RIGHT"]  # the plain sectors decide now, W stays untouched


def test_key_radius_hysteresis_does_not_survive_another_binding() -> None:
    profile = made({"base": {"left_stick": four(), "east": ">aim"}, "aim": {"left_stick": four(up="UP")}})
    desk = Desk(profile)
    desk.at(1, left_stick=(0, -0.6))
    assert desk.at(2, left_stick=(0, -0.49)) == []
    assert desk.at(3, east=1) == [">aim", "-W"]


def test_a_layer_held_by_a_stick_direction_captures_the_stick() -> None:
    profile = made(
        {"base": {"left_stick": four(up=["W", ">run"]), "south": "A"}, "run": {"left_stick": four(), "south": "B"}}
    )
    desk = Desk(profile)
    assert desk.at(1, left_stick=(0, -1)) == ["+W", ">run"]
    assert desk.at(2, south=1) == ["+B"]
    assert desk.at(3, left_stick=(0.7, -0.7)) == ["+D"]
    assert desk.at(4, left_stick=(1, 0)) == ["<run", "-W"]
    assert desk.at(5, left_stick=(0, 0)) == ["-D"]
    assert desk.engine.held == ("B",)


def test_the_button_that_entered_a_layer_keeps_its_binding() -> None:
    desk = Desk(made({"base": {"east": ["E", ">aim"]}, "aim": {"east": "X"}}))
    assert desk.at(1, east=1) == ["+E", ">aim"]
    assert desk.at(2, east=0) == ["<aim", "-E"]


def test_trigger_presses_at_its_depth_and_releases_below() -> None:
    desk = Desk(made({"base": {"left_trigger": "A"}}))
    assert desk.at(1, left_trigger=0.299) == []
    assert desk.at(2, left_trigger=0.30) == ["+A"]
    assert desk.at(3, left_trigger=0.25) == []
    assert desk.at(4, left_trigger=0.249) == ["-A"]
    assert desk.at(5, left_trigger=0.28) == []


def test_trigger_must_cross_from_below() -> None:
    desk = Desk(made({"base": {"left_trigger": "A"}}))
    assert desk.plug(1, left_trigger=0.8) == []
    assert desk.at(2, left_trigger=0.9) == []
    assert desk.at(3, left_trigger=0.1) == []
    assert desk.at(4, left_trigger=0.4) == ["+A"]


def test_mouse_follows_a_layer_in_its_own_microsecond() -> None:
    slow = {"aim": {"right_stick": {"speed": 90.0}}, "base": {"right_stick": {"speed": 180.0, "inner": 0.0}}}
    desk = Desk(made({"base": {"right_stick": MouseRole(), "east": ">aim"}, "aim": {}}, slow))
    desk.at(0, right_stick=(1, 0))
    desk.at(50_000, east=1)
    desk.at(100_000, right_stick=(0, 0))
    desk.to(200_000)
    per_degree = 9000 / 360
    assert moved(desk.log)[0] == round((180 * 0.05 + 90 * 0.05) * per_degree)


NAMES = ("base", "one", "two", "three")
HOLDS = {"left_bumper": "one", "right_bumper": "two", "select": "three"}
SET_BY = {"south": NAMES, "east": ("base", "two"), "west": ("one", "three"), "north": ("base",)}
BUTTONS = (*HOLDS, *SET_BY)


@given(st.lists(st.sampled_from(BUTTONS), max_size=50))
def test_releases_end_what_presses_began_against_a_plain_model(presses: list[str]) -> None:
    """Keys are named by layer and button, so what each press found can be read off what is held."""
    keys = {
        (layer, button): f"F{1 + 6 * i + j}" for i, layer in enumerate(NAMES[:3]) for j, button in enumerate(SET_BY)
    }
    keys |= {("three", button): f"KP{j}" for j, button in enumerate(SET_BY)}
    layers = {name: {button: keys[name, button] for button, where in SET_BY.items() if name in where} for name in NAMES}
    layers["base"] |= {button: f">{layer}" for button, layer in HOLDS.items()}
    desk = Desk(made(layers))
    stack: list[str] = []
    held: dict[str, str | None] = {}
    for t, button in enumerate(presses):
        if button in held:
            held.pop(button)
            if button in HOLDS:
                stack.remove(HOLDS[button])
        else:
            found = next((name for name in (*reversed(stack), "base") if button in layers[name]), None)
            held[button] = keys[found, button] if found is not None and button in SET_BY else None
            if button in HOLDS:
                stack.append(HOLDS[button])
        desk.at(t, **{button: float(button in held)})
        assert set(desk.engine.held) == {key for key in held.values() if key}
        assert list(desk.engine.active_layers) == stack


def test_a_layer_held_by_pulses_of_a_stick_captures_it_too() -> None:
    """Else the stick would follow the layer, let go of it, and begin again, more often each time."""
    base = {"left_stick": four(up=Turbo((HoldLayer("run"),), rate=50))}
    desk = Desk(made({"base": base, "run": {"left_stick": four(up=Turbo((HoldLayer("run"),), rate=7))}}))
    desk.at(0, left_stick=(0, -1))
    desk.to(1_000_000)
    assert len(desk.log) == 101  # fifty pulses, and the one that begins now
    desk.at(1_000_001, left_stick=(0, 0))
    desk.to(2_000_000)
    assert desk.engine.active_layers == ()


def test_bindings_of_a_stick_that_turn_each_other_round_come_to_rest() -> None:
    """Entering in the base and leaving in the layer would go on for ever, and with turbo each round leaves a pulse."""

    def pushed(key: str, act: Literal["enter", "leave"]) -> dict[str, Any]:
        return {"left_stick": {"bands": (Band(0.3, (Turbo(sends(key), rate=20.0), ChangeLayer("aim", act))),)}}

    desk = Desk(made({"base": pushed("A", "enter"), "aim": pushed("B", "leave")}))
    desk.at(0, left_stick=(0.5, 0.0))
    desk.to(1000 * MS)
    assert len(desk.log) < 100
    before = len(desk.log)
    for k in range(1000):  # the noise of a stick that is held
        desk.at((1001 + k) * MS, left_stick=(0.5 + 0.001 * (k % 3), 0.0))
    assert len(desk.log) - before < 100
    desk.at(2100 * MS, left_stick=(0.0, 0.0))
    desk.to(2200 * MS)
    assert desk.engine.held == ()


@pytest.mark.parametrize("kind", ["macro", "in order"])
def test_what_sticks_start_never_grows_without_end(kind: str) -> None:
    """Macros and sequences that flip a layer, started anew by two sticks with every flip, would double each time."""
    flip = ChangeLayer("aim", "toggle")
    steps = (MacroWait(30), MacroTap((flip,), 20), MacroTap(sends("X"), 20))
    macros = tuple(Macro(f"m{n}", f"M{n}", steps, again="overlap") for n in range(4))

    def starts(number: int) -> dict[str, Any]:
        what = SendMacro(f"m{number}") if kind == "macro" else InOrder((SendKey("ABCD"[number]), flip, SendKey("Z")))
        return {"bands": (Band(0.3, (what,)),)}

    base = {"left_stick": starts(0), "right_stick": starts(1)}
    desk = Desk(made({"base": base, "aim": {"left_stick": starts(2), "right_stick": starts(3)}}, macros=macros))
    desk.at(0, left_stick=(0.6, 0.0))
    desk.at(1, right_stick=(0.6, 0.0))
    for k in range(1, 60):
        assert len(desk.to(k * 20 * MS)) < 2000
    desk.at(1300 * MS, left_stick=(0.0, 0.0))
    desk.at(1301 * MS, right_stick=(0.0, 0.0))
    desk.to(2000 * MS)
    assert desk.engine.held == ()
    assert desk.engine.next_deadline is None
    desk.at(2001 * MS, left_stick=(0.6, 0.0))
    assert desk.to(2040 * MS)  # and it goes on
