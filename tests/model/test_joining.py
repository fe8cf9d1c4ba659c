"""Two lone axes as one stick (N02): in the profile, in the engine, and as the window is told."""

from __future__ import annotations

from nubshift.engine.owner import outputs_of
from nubshift.events import Key
from nubshift.model import edits
from nubshift.model.joining import STICKS, free_stick, join_of, turned, with_join, without_join
from nubshift.model.profile import Seat
from nubshift.model.rules import problems_of
from nubshift.runner.frames import Reporter
from tests.support.playing import Desk
from tests.support.profiles import bound, four, made


def test_two_axes_are_a_stick_and_what_each_did_alone_is_gone() -> None:
    profile = made({"base": {"axis_1": four(), "south": "A"}, "aim": {"axis_2": four()}})
    joined = with_join(profile, "axis_1", "axis_2")
    assert list(problems_of(joined)) == []
    assert joined.layer("base").binding("axis_1") is None  # type: ignore[union-attr]
    assert joined.layer("aim").binding("axis_2") is None  # type: ignore[union-attr]
    assert joined.layer("base").binding("south") is not None  # type: ignore[union-attr]
    join = join_of(joined, "axis_2")
    assert join is not None
    assert (join.control, join.x, join.y) == ("joined_stick_1", "axis_1", "axis_2")
    played = edits.with_binding(joined, "base", bound("joined_stick_1", four()))
    desk = Desk(played)
    assert desk.at(1, axis_1=0.8) == ["+D"]
    assert desk.at(2, axis_2=-0.8) == ["+W"]
    assert desk.at(3, axis_1=0.0) == ["-D"]
    other_way = Desk(turned(played, "joined_stick_1"))
    assert other_way.at(1, axis_1=0.8) == ["+S"]
    apart = without_join(played, "joined_stick_1")
    assert apart.seats == (Seat("1"),)
    assert not any(isinstance(output, Key) for output in outputs_of(Desk(apart).engine.advance(10)))
    assert apart.layer("base").binding("joined_stick_1") is None  # type: ignore[union-attr]


def test_there_are_three_of_them() -> None:
    profile = made({"base": {}})
    for number, name in enumerate(STICKS):
        assert free_stick(profile) == name
        profile = with_join(profile, f"axis_{2 * number + 1}", f"axis_{2 * number + 2}")
    assert free_stick(profile) == ""
    assert with_join(profile, "axis_7", "axis_8") == profile
    assert free_stick(profile, "no such seat") == ""


def test_the_window_is_told_of_a_joined_stick_and_every_report_of_it() -> None:
    reporter = Reporter()
    reporter.join(with_join(made({"base": {}}), "axis_1", "axis_2").seats)
    reporter.watch(("1", "joined_stick_1"))
    reporter.saw((("axis_1", 0.5, 0.0),), "1", 1000)
    reporter.saw((("axis_2", -0.25, 0.0), ("axis_1", 0.5, 0.0)), "1", 2000)
    reporter.saw((("axis_2", 1.0, 0.0),), "2", 3000)
    reporter.saw((("south", 1.0, 0.0),), "1", 4000)
    frame = reporter.frame(5000, True, (), (), {}, (), {}, None, {})
    assert frame.controls["joined_stick_1"] == (0.5, -0.25)
    assert frame.trace == ((1000, 0.5, 0.0), (2000, 0.5, -0.25))
    assert "joined_stick_1" not in frame.seats.get("2", {})
