"""Contract R12: a stop drops whatever is under way, of every kind; unplugging only what is that controller's."""

from __future__ import annotations

from typing import Any

import pytest

from nubshift.events import Rumble
from nubshift.model.profile import Macro, MacroTap, MacroWait, Seat
from nubshift.model.roles import GyroRole, PadStickRole, ScrollRole
from nubshift.model.sends import (
    InOrder,
    Precision,
    Pulsed,
    SendMacro,
    SendPad,
    SendPadAxis,
    SendRumble,
    SendScroll,
    SendText,
    Toggled,
    Turbo,
)
from tests.support.playing import MS, Desk
from tests.support.profiles import four, made, sends

MACROS = (Macro("m", "m", (MacroTap(sends("M"), 50), MacroWait(50)), runs="until-pressed"),)
UNDER_WAY: dict[str, Any] = {
    "a hold": {"hold": "A"},
    "a tap that waits": {"tap": "A", "double": "D"},
    "a toggle": Toggled(sends("A")),
    "turbo": Turbo(sends("A"), rate=5),
    "pulses by depth": Pulsed(sends("A")),
    "keys in order": InOrder(sends(["A", "B", "C"]), gap=200),
    "a macro": SendMacro("m"),
    "a text": SendText("long text"),
    "a scroll": SendScroll("up"),
    "a button of the pad": SendPad("south"),
    "an axis of the pad": SendPadAxis("left_trigger"),
    "rumble": SendRumble(1.0, 900),
    "precision": Precision(0.5),
    "a layer": ">aim",
    "a layer that stays": "!aim",
}


@pytest.mark.parametrize("kind", UNDER_WAY)
@pytest.mark.parametrize("ending", ["stop", "unplug", "replace"])
def test_it_ends_and_nothing_comes_after_it(kind: str, ending: str) -> None:
    profile = made({"base": {"south": UNDER_WAY[kind]}, "aim": {}}, macros=MACROS)
    desk = Desk(profile)
    desk.at(0, south=1)
    if kind == "a tap that waits":
        desk.at(20 * MS, south=0)
    desk.to(25 * MS)
    t = 30 * MS
    if ending == "stop":
        desk.stop(t)
    elif ending == "unplug":
        desk.unplug(t)
        desk.to(32 * MS)  # what was gathered before goes with the next tick
    else:
        desk.stop(t)
        desk.resume(t)
    engine = desk.engine
    assert engine.held == ()
    assert engine.pad == {}
    assert engine.active_layers == ()
    assert engine.next_deadline is None
    assert desk.to(10_000 * MS) == []
    rumbles = [output.value for output in desk.log if isinstance(output, Rumble)]
    assert rumbles[-1:] == ([0.0] if kind == "rumble" else [])


def test_positions_of_every_kind_end_and_come_back_with_their_present_value() -> None:
    base = {
        "left_stick": four(),
        "right_stick": PadStickRole("left"),
        "axis_1": ScrollRole(),
        "left_trigger": {"out": "T"},
    }
    desk = Desk(made({"base": base}))
    desk.at(0, left_stick=(0, -1), right_stick=(0.5, 0), axis_1=1.0, left_trigger=1.0)
    assert desk.stop(1) == ["-W", "-T", "pad left_x 0"]
    assert desk.to(100 * MS) == []
    assert desk.resume(101 * MS) == ["+T", "+W", "pad left_x 0.5"]
    assert desk.to(110 * MS)


def test_unplugging_one_controller_leaves_what_the_other_holds() -> None:
    macros = (Macro("m", "m", (MacroTap(sends("M"), 500),)),)
    base: dict[str, Any] = {
        "south": Toggled(sends("A")),
        "east": SendMacro("m"),
        "left_stick": four(),
        "2:south": Toggled(sends("B")),
        "2:east": Turbo(sends("C"), rate=2),
        "2:motion": GyroRole(),
    }
    desk = Desk(made({"base": base}, macros=macros, seats=(Seat("1"), Seat("2"))))
    desk.at(0, south=1, east=1, left_stick=(0, -1))
    desk.at(1, seat="2", south=1, east=1)
    assert desk.unplug(10 * MS) == ["-W", "-M", "-A"]
    assert desk.engine.held == ("B", "C")
    assert desk.timed(300 * MS) == ["250.001 -C"]
    assert desk.unplug(301 * MS, "2") == ["-B"]


def test_losing_the_focus_is_a_stop() -> None:
    desk = Desk(made({"base": {"south": "A", "left_stick": four()}}))
    desk.at(0, south=1, left_stick=(0, -1))
    assert desk.focus(1, False) == ["-W", "-A"]
    assert desk.at(2, east=1) == []
    assert desk.focus(3, True) == ["+W"]


def test_a_tap_that_waits_is_forgotten_with_its_layer() -> None:
    desk = Desk(made({"base": {"north": ">aim"}, "aim": {"south": {"tap": "T", "double": "D"}}}))
    assert desk.play("0 north 10 south 50 -south 60 -north") == ["0 >aim", "60 <aim"]
    assert desk.edit(100 * MS, made({"base": {"south": "A"}})) == []
    assert desk.at(150 * MS, south=1) == ["+A"]
    assert desk.timed(900 * MS) == []


def test_a_finger_on_the_touch_pad_is_gone_with_the_controller() -> None:
    desk = Desk(made({"base": {"touch_pad": four()}}))
    assert desk.at(0, touch_pad_touched=1, touch_pad=(0, -1)) == ["+W"]
    assert desk.unplug(1) == ["-W"]
    assert desk.plug(2, touch_pad=(0, -1), touch_pad_touched=0) == []
    assert desk.at(3, touch_pad_touched=1) == ["+W"]
