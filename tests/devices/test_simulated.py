"""The simulated pad, its players, and takes."""

from __future__ import annotations

from math import cos, radians, sin
from pathlib import Path

import pytest

from nubshift.devices.player import read_script
from nubshift.devices.simulated import SimulatedPad, open_simulated
from nubshift.devices.take import TakeSource, parse_take, take_text
from nubshift.errors import SourceError, TakeError
from nubshift.events import Report
from nubshift.model.controls import CHANNELS, CONTROLS, PAD_CONTROLS
from nubshift.protocol.paths import demo_folder


def test_steering_reports_at_once() -> None:
    pad = SimulatedPad("moss", noise=False)
    pad.steer("south", 1, 0, 500)
    assert pad.read(500) == [(500, (("south", 1, 0),))]
    assert pad.next_deadline is None
    pad.steer("left_stick", 0.5, -1, 600)
    assert pad.read(600) == [(600, (("left_stick", 0.5, -1),))]


def test_a_stick_rests_off_centre_and_trembles_like_a_real_one() -> None:
    pad = SimulatedPad("moss", seed=3)
    rest = {name: (x, y) for name, x, y in pad.state()}["left_stick"]
    assert rest != (0.0, 0.0)
    assert max(map(abs, rest)) < 0.05
    pad.steer("left_stick", 0, -1, 0)
    seen = {changes[0][1:] for t in range(0, 200_000, 4000) for _, changes in pad.read(t)}
    assert len(seen) > 20
    assert all(-1.0 <= y < -0.9 for _, y in seen)


def test_the_same_seed_gives_the_same_reports() -> None:
    script = read_script(demo_folder() / "ferrow-deep.player.json")
    first, second = SimulatedPad("moss", script, seed=7), SimulatedPad("moss", script, seed=7)
    assert first.read(2_000_000) == second.read(2_000_000)


def test_the_demo_player_moves_every_control_and_ends_at_rest() -> None:
    pad = open_simulated("moss:ferrow-deep", 0, demo_folder())
    seen: dict[str, float] = {}
    t = 0
    while (due := pad.next_deadline) is not None:
        t = max(t, due)
        for _, changes in pad.read(t):
            for name, x, y in changes:
                seen[name] = max(seen.get(name, 0.0), abs(x), abs(y))
    assert 29_900_000 < t < 30_100_000
    assert set(seen) - set(CHANNELS) == set(PAD_CONTROLS)
    assert {"gravity", "gravity_z"} <= set(seen)
    assert min(seen[name] for name in PAD_CONTROLS) >= 0.5
    assert all(x == 0 for name, x, _ in pad.state() if CONTROLS[name].kind == "button")


def test_an_unknown_pad_or_player_is_told() -> None:
    with pytest.raises(SourceError, match=r'no simulated pad "mos".*Did you mean "moss"'):
        SimulatedPad("mos")
    with pytest.raises(TakeError, match="can't be read"):
        open_simulated("moss:nobody", 0, demo_folder())


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ('{"format": "nubshift-player"', "it ends too early"),
        (
            '{"format": "nubshift-player", "version": 1, "title": "", "seconds": 1, "tracks": [{"control": "nose", "points": [[0, 0, 0]]}]}',
            r'tracks\[0\].*"nose"',
        ),
        (
            '{"format": "nubshift-player", "version": 1, "title": "", "seconds": 1, "tracks": [{"control": "south", "points": [[9, 0, 0], [1, 0, 0]]}]}',
            "must not fall",
        ),
    ],
)
def test_a_bad_script_is_told_with_its_place(text: str, said: str, tmp_path: Path) -> None:
    path = tmp_path / "x.player.json"
    path.write_text(text)
    with pytest.raises(TakeError, match=said):
        read_script(path)


def test_takes_round_trip() -> None:
    reports = [
        Report(0, (("left_stick", 0.25, -0.5), ("south", 1.0, 0.0))),
        Report(4000, (("south", 0.0, 0.0),)),
        Report(4000, (("east", 1.0, 0.0),), "2"),
    ]
    assert list(parse_take(take_text(reports), "x")) == reports


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "line 1"),
        ("music 1\n", 'line 1: expected "nubshift-take 1"'),
        ("nubshift-take 1\nabc\n", "line 2.*whole microseconds"),
        ("nubshift-take 1\n5 south=1\n4 south=0\n", "line 3.*before 5"),
        ("nubshift-take 1\n5 souht=1\n", 'line 2.*"souht".*"south"'),
        ("nubshift-take 1\n5 south\n", "control=value"),
        ("nubshift-take 1\n5 south=nan\n", "expected a number"),
        ("nubshift-take 1\n5 south=one\n", "expected a number"),
    ],
)
def test_a_bad_take_is_told_with_its_line(text: str, said: str) -> None:
    with pytest.raises(TakeError, match=said):
        list(parse_take(text, "x"))


def test_a_take_plays_in_its_own_time(tmp_path: Path) -> None:
    path = tmp_path / "a.take"
    path.write_text("nubshift-take 1\n0 south=1\n5000 south=0\n")
    source = TakeSource(path, 1_000_000)
    assert source.next_deadline == 1_000_000
    assert source.read(1_000_100) == [(1_000_000, (("south", 1.0, 0.0),))]
    assert source.read(1_004_999) == []
    assert source.read(1_005_000) == [(1_005_000, (("south", 0.0, 0.0),))]
    assert source.next_deadline is None


def test_motion_goes_on_while_it_is_steered_and_gravity_turns_with_it() -> None:
    """Half a second of nodding at 100 degrees a second: the pull wanders 50 degrees in the pad's axes."""
    pad = open_simulated("moss", 0, demo_folder())
    pad.steer("motion", 0.0, 0.5, 0)
    reports = pad.read(0) + pad.read(500_000)
    pulls = [{n: (x, y) for n, x, y in changes} for _, changes in reports]
    last = next(p for p in reversed(pulls) if "gravity" in p)
    down = last["gravity"][1], last["gravity_z"][0]
    assert len(reports) > 100
    assert down == pytest.approx((cos(radians(50)), sin(radians(50))), abs=0.05)
