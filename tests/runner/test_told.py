"""What the app is told: why something was sent, every report of a watched control, bias, and variants stepped through."""

from __future__ import annotations

import socket
from typing import Any

import pytest
from msgspec.structs import replace

from nubshift.devices.simulated import SimulatedPad
from nubshift.model import edits, variants
from nubshift.model.profile import Band, Profile
from nubshift.model.roles import GyroRole, MenuEntry, MenuRole, MouseRole, TilesRole
from nubshift.model.sends import ChangeLayer, HoldLayer, NextVariant, SendWheel, Turbo
from nubshift.outputs.port import Sink
from nubshift.outputs.recorder import Recorder
from nubshift.protocol.messages import Frame, Sent
from nubshift.runner.compiling import compiled
from nubshift.runner.frames import MOST
from nubshift.runner.server import Client
from nubshift.runner.session import Session
from tests.support.playing import MS, Desk, changes, moved
from tests.support.profiles import four, made, sends

SECOND = 1000 * MS


class Told:
    """A session whose frames are kept."""

    def __init__(self, profile: Profile) -> None:
        self.session = Session(compiled(profile), Sink(Recorder()))
        self.session.frame(0)

    def at(self, t: int, **values: Any) -> Frame:
        self.session.reports([(t, changes(values.items()))], t)
        return self.session.frame(t)


def why(frame: Frame) -> list[tuple[str, int, str, str, str]]:
    return [(s.code, s.value, s.control, s.part, s.layer) for s in frame.sent]


@pytest.mark.parametrize(
    ("binding", "steps", "expected"),
    [
        ({"south": sends("A")[0]}, {"south": 1}, ("A", 1, "south", "press", "base")),
        ({"left_stick": four("W", "D", "S", "A")}, {"left_stick": (0.0, -0.9)}, ("W", 1, "left_stick", "up", "base")),
        (
            {"right_trigger": {"bands": (Band(0.3, sends("X")), Band(0.7, sends("Y")))}},
            {"right_trigger": 0.8},
            ("Y", 1, "right_trigger", "bands/1", "base"),
        ),
        (
            {"left_stick": TilesRole(tuple(sends(k) for k in "QWEASDZXC"))},
            {"left_stick": (0.9, 0.0)},
            ("D", 1, "left_stick", "cells/5", "base"),
        ),
        ({"south": Turbo(sends("A"))}, {"south": 1}, ("A", 1, "south", "press", "base")),
        ({"south": SendWheel("down")}, {"south": 1}, ("wheel:down", 1, "south", "press", "base")),
        ({"south": HoldLayer("aim")}, {"south": 1}, ("layer:aim", 1, "south", "", "aim")),
    ],
)
def test_each_thing_sent_comes_with_its_cause(binding: dict[str, Any], steps: dict[str, Any], expected: object) -> None:
    told = Told(made({"base": binding, "aim": {}}))
    assert expected in why(told.at(0, **steps))


def test_gestures_say_which_they_are_and_layers_where_they_stand() -> None:
    told = Told(
        made(
            {
                "base": {"south": {"tap": sends("A"), "hold": sends("B")}, "east": ChangeLayer("aim")},
                "aim": {"west": sends("C")},
            }
        )
    )
    told.at(0, south=1)
    tapped = told.at(50 * MS, south=0)
    assert why(tapped) == [("A", 1, "south", "tap", "base")]
    up = told.at(100 * MS, south=1)
    assert why(up) == [("A", 0, "south", "tap", "base")]
    assert why(told.at(400 * MS)) == [("B", 1, "south", "hold", "base")]
    told.at(500 * MS, east=1)
    assert why(told.at(510 * MS, west=1)) == [("C", 1, "west", "press", "aim")]
    left = told.at(520 * MS, east=0)
    assert why(left) == []
    assert ("layer:aim", 0, "east", "", "aim") in why(told.at(530 * MS, east=1))


def test_what_a_menu_and_a_combination_send_has_a_cause_and_a_stop_has_none() -> None:
    menu = MenuRole((MenuEntry(sends("A")), MenuEntry(sends("B"))), on="return")
    told = Told(made({"base": {"left_stick": menu, "south": sends("C")[0]}}))
    told.at(0, left_stick=(0.0, -1.0))
    assert why(told.at(10 * MS, left_stick=(0.0, 0.0))) == [("A", 1, "left_stick", "entries/0", "base")]
    told.at(20 * MS, south=1)
    told.session.stop(30 * MS)
    assert ("C", 0, "", "", "") in why(told.session.frame(30 * MS))


def test_mouse_motion_says_who_made_it_even_at_its_end() -> None:
    told = Told(made({"base": {"right_stick": MouseRole(), "motion": GyroRole()}}))
    told.at(0, right_stick=(1.0, 0.0))
    assert told.at(100 * MS, right_stick=(0.0, 0.0)).moved_by == ("right_stick",)
    told.at(200 * MS, motion=(0.0, 0.0))
    turning = told.at(220 * MS, motion=(200.0, 0.0))
    assert "motion" in told.at(240 * MS, motion=(200.0, 0.0)).moved_by or "motion" in turning.moved_by


def test_every_report_of_a_watched_control_is_told_with_its_time() -> None:
    told = Told(made({"base": {"right_stick": MouseRole()}}))
    assert told.at(0, right_stick=(0.5, 0.0)).trace == ()
    told.session.watch("right_stick", "1")
    reports = [(t * MS, (("right_stick", 0.1 * t, 0.0), ("south", 1.0, 0.0))) for t in range(1, 6)]
    told.session.reports(reports, 5 * MS)
    frame = told.session.frame(5 * MS)
    assert frame.watched == "right_stick"
    assert frame.trace == tuple((t * MS, 0.1 * t, 0.0) for t in range(1, 6))
    assert frame.moves
    assert all(t % (4 * MS) == 0 for t, _, _ in frame.moves)
    told.session.watch("", "1")
    quiet = told.at(6 * MS, right_stick=(0.9, 0.0))
    assert (quiet.trace, quiet.moves, quiet.watched) == ((), (), "")


def test_motion_is_told_whole_with_its_bias() -> None:
    told = Told(made({"base": {"motion": GyroRole()}}))
    told.session.watch("motion", "1")
    for step in range(600):
        frame = told.at(step * 4 * MS, motion=(0.5, -0.25), motion_lean=0.1, gravity=(0.0, 1.0), gravity_z=0.0)
    assert frame.trace[-1][1:] == (0.5, -0.25, 0.1, 0.0, 1.0, 0.0)
    assert frame.bias is not None
    assert frame.bias.known
    assert (frame.bias.turn, frame.bias.nod) == (pytest.approx(0.5), pytest.approx(-0.25))


def with_two_speeds() -> Profile:
    profile = made(
        {
            "base": {
                "right_stick": MouseRole(),
                "south": NextVariant("right_stick"),
                "east": NextVariant("right_stick", back=True),
            }
        }
    )
    for speed in (90, 180, 360):
        profile = edits.with_feel(profile, "base", "right_stick", speed=float(speed))
        profile = variants.saved_as(profile, str(speed), "base", "right_stick")
    return variants.with_used(profile, "90")


def speed_of(desk: Desk, t: int) -> float:
    """Counts a second at full tilt, over a second from `t` on."""
    desk.at(t, right_stick=(1.0, 0.0))
    desk.to(t + 2 * MS)
    before = len(desk.log)
    desk.to(t + SECOND)
    desk.at(t + SECOND, right_stick=(0.0, 0.0))
    desk.to(t + SECOND + 100 * MS)
    return moved(desk.log[before:])[0]


def test_a_variant_is_stepped_to_from_the_controller_and_counts_at_once() -> None:
    profile = with_two_speeds()
    desk = Desk(profile)
    full = 9000 / 360
    assert speed_of(desk, 0) == pytest.approx(90 * full, rel=0.01)
    desk.at(2 * SECOND, south=1)
    assert desk.engine.variants == {("1", "right_stick"): "180"}
    assert speed_of(desk, 3 * SECOND) == pytest.approx(180 * full, rel=0.01)
    desk.at(5 * SECOND, east=1)
    assert speed_of(desk, 6 * SECOND) == pytest.approx(90 * full, rel=0.01)
    desk.at(8 * SECOND, east=0)
    desk.at(9 * SECOND, east=1)  # back from the first is the last
    assert speed_of(desk, 10 * SECOND) == pytest.approx(360 * full, rel=0.01)
    desk.edit(12 * SECOND, variants.with_used(profile, "180"))  # an edit decides anew
    assert desk.engine.variants == {}
    assert speed_of(desk, 13 * SECOND) == pytest.approx(180 * full, rel=0.01)


def test_stepping_a_control_without_variants_does_nothing() -> None:
    desk = Desk(made({"base": {"right_stick": MouseRole(), "south": NextVariant("left_stick")}}))
    assert desk.at(0, south=1) == []
    assert desk.engine.variants == {}


def test_the_frame_tells_which_variant_was_stepped_to() -> None:
    told = Told(with_two_speeds())
    assert told.at(0, south=1).variants == {"1/right_stick": "180"}


def test_a_variant_of_a_layer_counts_in_that_layer_only() -> None:
    profile = made(
        {"base": {"right_stick": MouseRole(), "south": NextVariant("right_stick"), "east": HoldLayer("aim")}, "aim": {}}
    )
    profile = edits.with_feel(profile, "aim", "right_stick", speed=60.0)
    profile = variants.saved_as(profile, "slow", "aim", "right_stick")
    profile = edits.with_feel(profile, "aim", "right_stick", speed=120.0)
    desk = Desk(profile)
    desk.at(0, south=1)
    plain = speed_of(desk, SECOND)
    desk.at(3 * SECOND, east=1)
    assert speed_of(desk, 4 * SECOND) == pytest.approx(plain / 3, rel=0.01)  # 180 is the default in the base


def test_a_watched_pad_reports_its_noise_at_rest_and_is_silent_else() -> None:
    pad = SimulatedPad("moss")
    assert pad.read(SECOND) == []
    pad.watch("right_stick", SECOND)
    reports = [t for t, told in pad.read(2 * SECOND) if any(name == "right_stick" for name, *_ in told)]
    assert 240 <= len(reports) <= 252
    pad.watch("", 2 * SECOND)
    pad.read(3 * SECOND)
    assert pad.read(4 * SECOND) == []


def test_a_worn_pad_rests_off_its_centre_on_the_side_it_came_from() -> None:
    pad = SimulatedPad("burr")
    places = []
    for x in (1.0, -1.0):
        pad.steer("right_stick", x, 0.0, 0)
        pad.steer("right_stick", 0.0, 0.0, 0)
        pad.read(0)
        readings = []
        for _ in range(200):
            pad.steer("right_stick", 0.0, 0.0, 0)
            readings += [told[0][1] for _, told in pad.read(0)]
        places.append(sum(readings) / len(readings))
    assert places[0] - places[1] == pytest.approx(0.07, abs=0.01)
    assert sum(places) / 2 == pytest.approx(-0.068, abs=0.01)


def test_a_fast_pad_reports_a_thousand_times_a_second() -> None:
    pad = SimulatedPad("swift")
    pad.watch("right_stick", 0)
    times = [t for t, _ in pad.read(SECOND)]
    assert len(times) > 900


def test_a_sent_is_a_short_line_in_the_message() -> None:
    from nubshift.protocol.lines import decode_reply, encode

    frame = Frame(t=5, real=True, sent=(Sent(4, "A", 1, "south", "tap", "base"),))
    assert b'[4,"A",1,"south","tap","base","1"]' in encode(frame)
    assert decode_reply(encode(frame)) == frame
    assert replace(frame, sent=()) != frame


def test_a_window_that_lags_loses_nothing_of_what_was_counted() -> None:
    """Frames wait while much is unsent; what they tell is gathered, so that the turn gauge stays exact to the count."""
    near, far = socket.socketpair(socket.AF_UNIX, socket.SOCK_STREAM)
    near.setblocking(False)
    client = Client(near)
    told = Told(made({"base": {"right_stick": MouseRole(), "south": sends("A")[0]}}))
    sent = 0
    while not client.lags:
        client.send(told.at(sent, south=1))
        sent += 1
    for t in range(1, 400):
        told.session.reports([(SECOND + t * 4 * MS, changes({"right_stick": (1.0, 0.0)}.items()))], SECOND + t * 4 * MS)
    gathered = told.session.frame(4 * SECOND)
    desk = Desk(told.session.profile)
    desk.at(SECOND + 4 * MS, right_stick=(1.0, 0.0))
    desk.to(SECOND + 399 * 4 * MS)
    assert gathered.dx == moved(desk.log)[0] > 5000
    far.recv(1 << 22)
    while client.waiting:
        client.flush()
        far.recv(1 << 22)
    assert not client.lags
    near.close()
    far.close()


def test_what_waits_for_a_window_that_hangs_is_bounded() -> None:
    told = Told(made({"base": {"south": sends("A")[0]}}))
    told.session.watch("right_stick", "1")
    for t in range(MOST + 500):
        told.session.reports([(t, changes({"right_stick": (0.5, 0.0), "south": t % 2}.items()))], t)
    frame = told.session.frame(MOST + 500)
    assert len(frame.trace) == len(frame.sent) == MOST
    assert frame.trace[-1][0] == MOST + 499
