"""A session: engine, sink and reporter together, with a clock in the test's hand."""

from __future__ import annotations

from typing import Any

import pytest

from nubshift.errors import SinkError
from nubshift.model.layouts import ALWAYS
from nubshift.model.profile import Band, Command
from nubshift.model.roles import MenuEntry, MenuRole, PadStickRole, ScrollRole
from nubshift.model.sends import HoldProfile, SendPad, SendText, Toggled
from nubshift.outputs.port import Sink
from nubshift.outputs.recorder import Recorder
from nubshift.runner.compiling import compiled
from nubshift.runner.session import Session
from tests.support.playing import MS, changes, words
from tests.support.profiles import four, made, sends


class Plain(Recorder):
    """A way of sending that has no virtual pad."""

    def prepare(self, pad: str, points: bool) -> str:  # type: ignore[override]
        return "" if pad == "none" else "No pad here."


class Stage:
    def __init__(self, base: dict[str, Any], recorder: Recorder | None = None, **parts: Any) -> None:
        self.out = recorder or Recorder()
        layout, others = parts.pop("layout", None), parts.pop("others", None)
        self.profile = made({"base": base}, **parts)
        more = {"layout": layout} if layout is not None else {}
        self.session = Session(compiled(self.profile, others, **more), Sink(self.out))

    def at(self, t: int, **values: Any) -> list[str]:
        before = len(self.out.events)
        self.session.reports([(t, changes(values.items()))], t)
        return words(self.out.events[before:])


def test_a_toggle_that_comes_back_does_when_the_game_has_the_focus_again() -> None:
    stage = Stage({"south": Toggled(sends("A"), comes_back=True), "east": Toggled(sends("B"))})
    stage.at(0, south=1, east=1)
    stage.session.set_withheld(True, 10 * MS)
    assert words(stage.out.events) == ["+A", "+B", "-B", "-A"]
    stage.at(20 * MS, south=0)
    stage.at(30 * MS, south=1)  # while withheld it is only shown
    assert stage.session.held == ("A",)
    stage.session.set_withheld(False, 40 * MS)
    assert words(stage.out.events)[4:] == ["+A"]
    stage.session.stop(50 * MS)
    assert words(stage.out.events)[5:] == ["-A"]


def test_what_can_not_be_typed_is_told_once() -> None:
    stage = Stage({"south": SendText("ß")})
    (said,) = stage.session.take_news()
    assert '"ß" can\'t be typed' in said
    stage.session.edit(compiled(stage.profile), 1)
    assert stage.session.take_news() == []


def test_the_layout_of_the_session_types_the_text() -> None:
    stage = Stage({"south": SendText("z")}, layout=ALWAYS | {"z": (("Y",),)})
    assert stage.at(0, south=1) == ["+Y"]
    assert stage.session.take_news() == []


def test_pulses_that_a_stop_dropped_are_told_in_the_games_words() -> None:
    sprint = Command("sprint", "Sprint", ("LEFTSHIFT",), toggles=True)
    stage = Stage({"left_trigger": {"bands": (Band(0.5, sends("/sprint")),)}}, commands=[sprint])
    stage.at(0, left_trigger=1.0)
    stage.session.stop(100 * MS)
    assert stage.session.take_news() == ["What the game toggles itself may still be on: Sprint."]
    assert stage.session.take_news() == []


def test_a_pad_that_this_way_of_sending_lacks_is_told() -> None:
    stage = Stage({"south": SendPad("east")}, Plain(), game={"pad": "full"})
    assert stage.session.take_news() == ["No pad here."]


def test_profiles_held_are_played() -> None:
    guest = made({"base": {"south": "G"}})
    stage = Stage({"left_bumper": HoldProfile("menus"), "south": "A"}, others={"menus": guest})
    stage.at(0, left_bumper=1)
    assert stage.at(1, south=1) == ["+G"]
    stage.at(2, south=0, left_bumper=0)
    edited = made({"base": {"left_bumper": HoldProfile("menus")}})
    stage.session.edit(compiled(edited, {"menus": made({"base": {"south": "H"}})}), 3)
    stage.at(4, left_bumper=1)
    assert stage.at(5, south=1) == ["+H"]


def test_a_frame_tells_the_pad_the_wheel_and_what_an_overlay_draws() -> None:
    menu = MenuRole((MenuEntry(sends("1")), MenuEntry(sends("2"))))
    base = {"south": SendPad("start"), "left_stick": PadStickRole("left"), "right_stick": ScrollRole(), "dpad": menu}
    stage = Stage(base, game={"pad": "full"})
    stage.at(0, south=1, left_stick=(0.5, 0), right_stick=(0, -1), dpad_down=1)
    stage.session.advance(100 * MS)
    frame = stage.session.frame(100 * MS)
    assert frame.held == ("pad:start",)
    assert frame.axes == {"left_x": 0.5}
    assert frame.wheel[1] > 100
    assert ("dpad", "menu", 1) in [(s.control, s.use, s.cell) for s in frame.surfaces]
    assert ("pad:start", 1) in [(s.code, s.value) for s in frame.sent]
    assert stage.session.frame(101 * MS).wheel == (0, 0)


def test_a_switch_of_profile_releases_everything_and_begins_from_the_present() -> None:
    stage = Stage({"south": Toggled(sends("A")), "left_stick": PadStickRole("left")}, game={"pad": "full"})
    stage.at(0, south=1, left_stick=(1.0, 0))
    before = len(stage.out.events)
    other = made({"base": {"south": "B", "left_stick": four()}})
    standing = changes({"south": 1.0, "left_stick": (1.0, 0.0)}.items())
    stage.session.switch(compiled(other), {"1": standing}, 10 * MS)
    assert words(stage.out.events[before:]) == ["-A", "pad left_x 0", "+D"]
    assert stage.at(20 * MS, south=0) == []


class Broken(Recorder):
    def prepare(self, pad: str, points: bool) -> str:  # type: ignore[override]
        raise SinkError("no more devices can be made")


def test_a_sink_that_can_not_be_prepared_says_so() -> None:
    with pytest.raises(SinkError, match="no more devices"):
        Stage({}, Broken())
