"""``nubshift replay`` and ``run`` cover every kind of output, and every seat."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from nubshift.model.profile import Seat
from nubshift.model.roles import GyroRole, MouseRole, PadStickRole, PointerRole, ScrollRole
from nubshift.model.sends import HoldProfile, SendLight, SendPad, SendRumble, SendText, SendWheel
from nubshift.model.writing import profile_text
from tests.cli.test_commands import nubshift
from tests.support.profiles import made

BASE: dict[str, Any] = {
    "south": ["A", "BTN_LEFT"],
    "east": SendWheel("up"),
    "west": SendPad("start"),
    "north": SendRumble(0.5, 50),
    "dpad_up": SendLight("#112233"),
    "dpad_down": SendText("Hi"),
    "left_bumper": ">aim",
    "right_bumper": HoldProfile("menus"),
    "left_stick": PadStickRole("left"),
    "right_stick": MouseRole(),
    "axis_1": ScrollRole(),
    "pointer": PointerRole(),
    "motion": GyroRole(),
}
LINES = [
    "0 south=1 east=1 west=1 north=1 dpad_up=1",
    "5000 left_stick=0.5,0.25 right_stick=1,0 axis_1=1 pointer=0.5,0.5",
    "10000 motion=90,0 left_bumper=1",
    "15000 motion=90,0 motion_lean=1 gravity=0,1 dpad_down=1",
    "200000 left_bumper=0 right_bumper=1",
    "210000 dpad_left=1",
    "300000 right_bumper=0",
]


def files(folder: Path) -> tuple[Path, Path]:
    profile, take = folder / "all.nubshift.json", folder / "all.take"
    profile.write_bytes(profile_text(made({"base": BASE, "aim": {}}, game={"pad": "full"})))
    (folder / "menus.nubshift.json").write_bytes(profile_text(made({"base": {"dpad_left": "M"}})))
    take.write_text("\n".join(["nubshift-take 1", *LINES]) + "\n")
    return take, profile


def test_replay_prints_every_kind_as_json_and_in_words(tmp_path: Path) -> None:
    take, profile = files(tmp_path)
    rows = [json.loads(line) for line in nubshift("replay", take, profile, "--json").stdout.splitlines()]
    assert {row["kind"] for row in rows} == {
        "key",
        "button",
        "motion",
        "wheel",
        "pad",
        "layer",
        "point",
        "rumble",
        "light",
    }
    assert any(row.get("code") == "M" for row in rows)  # of the profile held, found beside this one
    words = nubshift("replay", take, profile).stdout
    assert len(words.splitlines()) == len(rows)
    for said in (
        "A down",
        "wheel +0.00 +1.00",
        "pad start 1",
        "cursor 75.0% 75.0% of the screen",
        "rumble 50% (seat 1)",
        "light #112233 (seat 1)",
        "layer menus/base entered",
        "mouse +",
    ):
        assert said in words


def test_a_text_that_can_not_be_typed_is_told(tmp_path: Path) -> None:
    take, profile = files(tmp_path)
    profile.write_bytes(profile_text(made({"base": {"south": SendText("ß")}})))
    assert '"ß" can\'t be typed' in nubshift("replay", take, profile).stderr


def test_a_runner_plays_several_seats(tmp_path: Path) -> None:
    profile, out = tmp_path / "two.nubshift.json", tmp_path / "out"
    profile.write_bytes(profile_text(made({"base": {"south": "A", "2:south": "B"}}, seats=(Seat("1"), Seat("2")))))
    for name in ("one", "two"):
        (tmp_path / f"{name}.take").write_text("nubshift-take 1\n0 south=1\n50000 south=0\n")
    sources = ["--source", f"take:{tmp_path / 'one.take'}", "--source", f"2=take:{tmp_path / 'two.take'}"]
    done = nubshift("run", profile, *sources, "--sink", f"record:{out}", "--for", "0.5")
    assert "in seat 2 is two.take" in done.stderr
    sent = [(row["code"], row["value"]) for row in map(json.loads, out.read_text().splitlines())]
    assert sorted(sent) == [("A", 0), ("A", 1), ("B", 0), ("B", 1)]


def test_a_seat_that_the_profile_does_not_have_is_refused(tmp_path: Path) -> None:
    done = nubshift("run", "-", "--source", "3=sim:moss", "--sink", "record:/dev/null", "--for", "0.1")
    assert done.returncode == 1
    assert 'the profile has no seat "3"; it has 1' in done.stderr
