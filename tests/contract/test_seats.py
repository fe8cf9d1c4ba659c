"""Need N05: several controllers into one profile, one split over two seats, two halves as one."""

from __future__ import annotations

from nubshift.engine.compile import compile_profile
from nubshift.engine.engine import Engine
from nubshift.engine.owner import outputs_of
from nubshift.engine.seating import Filling, Seating
from nubshift.events import Output
from nubshift.model.profile import Seat
from nubshift.model.roles import GyroRole
from tests.support.playing import words
from tests.support.profiles import four, made

TWO = (Seat("1"), Seat("2"))


class Table:
    def __init__(self, seating: Seating, engine: Engine) -> None:
        self.seating = seating
        self.engine = engine

    def at(self, t: int, device: str, **values: float | tuple[float, float]) -> list[str]:
        changes = tuple((n, *v) if isinstance(v, tuple) else (n, v, 0.0) for n, v in values.items())
        out: list[Output] = []
        for report in self.seating.reports(device, [(t, changes)]):
            out += outputs_of(self.engine.feed(report))
        return words(out)


def test_several_controllers_play_one_profile() -> None:
    profile = made({"base": {"south": "A", "2:south": "B"}}, seats=TWO)
    table = Table(Seating([Filling("1", "pad"), Filling("2", "stick")]), Engine(compile_profile(profile)))
    assert table.at(0, "pad", south=1) == ["+A"]
    assert table.at(1, "stick", south=1) == ["+B"]
    assert table.at(2, "unknown", south=1) == []


def test_two_controllers_in_one_seat_are_as_one() -> None:
    table = Table(
        Seating([Filling("1", "pad"), Filling("1", "stick")]),
        Engine(compile_profile(made({"base": {"south": "A", "east": "B"}}))),
    )
    assert table.at(0, "pad", south=1) == ["+A"]
    assert table.at(1, "stick", east=1) == ["+B"]


def test_one_controller_is_split_over_two_seats() -> None:
    left = frozenset({"left_stick", "left_bumper", "dpad_up"})
    right = frozenset({"right_stick", "right_bumper", "north"})
    profile = made(
        {"base": {"left_stick": four(), "left_bumper": "A", "2:left_stick": four("UP"), "2:left_bumper": "B"}},
        seats=TWO,
    )
    names = {"right_stick": "left_stick", "right_bumper": "left_bumper"}
    seating = Seating([Filling("1", "pad", left), Filling("2", "pad", right, names)])
    table = Table(seating, Engine(compile_profile(profile)))
    assert table.at(0, "pad", left_stick=(0, -1), right_stick=(0, -1)) == ["+W", "+UP"]
    assert table.at(1, "pad", right_bumper=1, left_bumper=1) == ["+A", "+B"]


def test_two_halves_are_one_controller_with_the_motion_of_one_of_them() -> None:
    profile = made(
        {"base": {"left_stick": four(), "south": "A", "motion": GyroRole()}},
        {"base": {"motion": {"gyro_threshold": 0.0}}},
    )
    seating = Seating([Filling("1", "left half", motion=False), Filling("1", "right half")])
    table = Table(seating, Engine(compile_profile(profile)))
    assert table.at(0, "left half", left_stick=(0, -1), motion=(90.0, 0.0)) == ["+W"]
    table.at(0, "right half", motion=(0.0, 0.0))
    assert table.at(5000, "left half", motion=(90.0, 0.0)) == []
    assert table.at(8000, "right half", motion=(90.0, 0.0), south=1)[0] == "+A"
    assert table.at(9000, "left half", left_stick=(0.0, 0.0)) == ["-W"]


def test_when_a_half_goes_what_it_held_ends_and_the_other_plays_on() -> None:
    profile = made({"base": {"left_stick": four(), "south": "A"}})
    seating = Seating([Filling("1", "left half"), Filling("1", "right half")])
    table = Table(seating, Engine(compile_profile(profile)))
    table.at(0, "left half", left_stick=(0, -1))
    table.at(1, "right half", south=1)
    out: list[Output] = []
    for report in seating.reports("left half", [(2, (("left_stick", 0.0, 0.0),))]):
        out += outputs_of(table.engine.feed(report))
    assert words(out) == ["-W"]
    assert table.engine.held == ("A",)


def test_a_report_of_a_whole_controller_is_not_made_anew_on_its_way() -> None:
    changes = (("south", 1.0, 0.0), ("motion", 1.0, 2.0))
    (report,) = Seating([Filling("1", "pad")]).reports("pad", [(0, changes)])
    assert report.changes is changes
    (report,) = Seating([Filling("1", "pad", motion=False)]).reports("pad", [(0, changes)])
    assert report.changes == changes[:1]
