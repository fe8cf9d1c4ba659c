"""The evdev source and discovery against made-up nodes (umockdev): the same ioctls, reads and plugging in as the kernel's."""

from __future__ import annotations

import ctypes.util
import json
import os
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import msgspec
import pytest

from nubshift.model.stored_controllers import ControllersFile, write_controllers
from standins.gamepad import NAME, TestBed
from standins.waiting import wait_until
from tests.support.profiles import four
from tests.support.runner_process import RunnerProcess

pytestmark = pytest.mark.skipif(
    ctypes.util.find_library("umockdev") is None, reason="umockdev is not installed: apt-get install umockdev"
)


@pytest.fixture
def bed() -> Iterator[TestBed]:
    found = TestBed()
    yield found
    found.close()


@pytest.fixture
def profile(tmp_path: Path) -> Path:
    from nubshift.model.writing import profile_text
    from tests.support.profiles import four, made

    path = tmp_path / "p.nubshift.json"
    path.write_bytes(
        profile_text(
            made({"base": {"south": "A", "east": "B", "left_stick": four(), "dpad_up": "UP", "left_trigger": "T"}})
        )
    )
    return path


class Play:
    """A runner with the test bed's controllers, and what it would send."""

    def __init__(self, bed: TestBed, profile: Path, source: str = "auto") -> None:
        self.bed = bed
        self.out = profile.with_suffix(".out")
        self.runner = RunnerProcess(str(profile), "--source", source, "--sink", f"record:{self.out}", **bed.environment)
        self.runner.wait_said("sending through")
        if source == "auto" and os.path.exists(f"{bed.root}/dev/input/event7"):
            self.runner.wait_said(NAME)

    def sent(self) -> list[str]:
        if not self.out.exists():
            return []
        rows = [json.loads(line) for line in self.out.read_text().splitlines()]
        return [f"{'+' if row['value'] else '-'}{row['code']}" for row in rows]

    def wait_sent(self, *words: str) -> None:
        try:
            wait_until(lambda: self.sent() == list(words), f"{words} are sent")
        except AssertionError as error:
            raise AssertionError(f"{error}; sent was {self.sent()}, said {self.runner.said}") from None


@pytest.fixture
def play(bed: TestBed, profile: Path) -> Iterator[Play]:
    found = Play(bed, profile)
    yield found
    found.runner.close()


def test_a_pad_is_found_named_and_understood(bed: TestBed) -> None:
    bed.do("plug")
    lines = subprocess.run(
        [sys.executable, "-m", "nubshift", "devices", "--json"],
        env=os.environ | bed.environment,
        capture_output=True,
        check=True,
    ).stdout.splitlines()
    pad = msgspec.json.decode(lines[0])
    assert (pad["name"], pad["id"]) == (NAME, "evdev:/dev/input/event7")
    assert {"left_stick", "right_stick", "left_trigger", "dpad_up", "south", "left_stick_click"} <= set(pad["controls"])


def test_plugged_in_played_and_pulled_out_mid_press(play: Play) -> None:
    play.bed.do("plug")
    play.runner.wait_said(NAME)
    play.bed.event((3, 0, 30000), (3, 1, -30000), (1, 0x131, 1))
    play.wait_sent("+B", "+W", "+D")
    play.bed.do("unplug")
    play.wait_sent("+B", "+W", "+D", "-D", "-W", "-B")
    play.runner.wait_said("unplugged")


def test_the_report_is_the_unit(bed: TestBed, profile: Path) -> None:
    bed.do("plug")
    play = Play(bed, profile)
    bed.event((3, 17, -1), (3, 2, 255), (1, 0x130, 1))
    play.wait_sent("+UP", "+T", "+A")
    bed.event((3, 17, 0), (3, 2, 0), (1, 0x130, 0))
    play.wait_sent("+UP", "+T", "+A", "-UP", "-T", "-A")
    play.runner.close()


def test_dropped_events_are_answered_by_reading_the_state_anew(bed: TestBed, profile: Path) -> None:
    """The node says that nothing is pressed: so what was held is released, although its release was lost."""
    bed.do("plug")
    play = Play(bed, profile)
    bed.event((1, 0x130, 1), (3, 1, -32768))
    play.wait_sent("+A", "+W")
    bed.event((0, 3, 0), (1, 0x131, 1))
    play.wait_sent("+A", "+W", "-A", "-W")
    bed.event((1, 0x131, 1))
    play.wait_sent("+A", "+W", "-A", "-W", "+B")
    play.runner.close()


def test_a_button_held_while_plugging_in_does_nothing_until_pressed_anew(bed: TestBed, profile: Path) -> None:
    bed.do("hold 304")
    bed.do("plug")
    play = Play(bed, profile)
    bed.event((1, 0x130, 0))
    bed.event((1, 0x131, 1))
    play.wait_sent("+B")
    bed.event((1, 0x130, 1))
    play.wait_sent("+B", "+A")
    play.runner.close()


def test_a_half_held_sideways_has_its_buttons_where_the_thumb_finds_them(bed: TestBed, tmp_path: Path) -> None:
    from nubshift.model.stored_controllers import Own
    from nubshift.model.writing import profile_text
    from tests.support.profiles import made

    path = tmp_path / "p.nubshift.json"
    path.write_bytes(profile_text(made({"base": {"east": "E", "left_stick": four()}})))
    bed.do("plug-kind left-half 7")
    kept = ControllersFile(devices={"1209:000b Sedge left half#0a:07": Own(sideways=True)})
    bed.environment |= {"XDG_DATA_HOME": str(tmp_path)}
    (tmp_path / "nubshift").mkdir()
    write_controllers(tmp_path / "nubshift" / "controllers.json", kept)
    play = Play(bed, path, "evdev:/dev/input/event7")
    bed.event((1, 0x221, 1), node="event7")  # printed: down
    play.wait_sent("+E")
    bed.event((3, 0, 32767), node="event7")  # printed: to the right
    play.wait_sent("+E", "+W")
    play.runner.close()


def test_a_named_node_that_is_not_there_is_told(bed: TestBed, profile: Path) -> None:
    play = Play(bed, profile, "evdev:/dev/input/event7")
    bed.do("plug")
    play.runner.wait_said(NAME)
    bed.event((1, 0x130, 1))
    play.wait_sent("+A")
    assert play.runner.close() == 0


def test_pad_and_motion_are_one_controller_and_go_together(bed: TestBed, tmp_path: Path) -> None:
    from nubshift.model.roles import GyroRole
    from nubshift.model.writing import profile_text
    from tests.support.profiles import made

    path = tmp_path / "p.nubshift.json"
    path.write_bytes(profile_text(made({"base": {"south": "A", "motion": GyroRole()}})))
    bed.do("plug motion pad")
    lines = subprocess.run(
        [sys.executable, "-m", "nubshift", "devices", "--json"],
        env=os.environ | bed.environment,
        capture_output=True,
        check=True,
    ).stdout.splitlines()
    pad = msgspec.json.decode(lines[0])
    assert pad["nodes"] == ["/dev/input/event7", "/dev/input/event8"]
    assert "motion" in pad["controls"]
    play = Play(bed, path)

    def moved() -> int:
        rows = [json.loads(line) for line in play.out.read_text().splitlines()] if play.out.exists() else []
        return sum(row["dx"] for row in rows if row["kind"] == "motion")

    def turned() -> bool:
        bed.event((3, 4, -1600), node="motion")  # 100 degrees a second to the right
        bed.event((3, 4, -1601), node="motion")
        return moved() > 0

    wait_until(turned, "turning moves the mouse to the right")
    bed.event((1, 0x130, 1))
    wait_until(lambda: "+A" in sent_keys(play), "its button is pressed")
    bed.do("unplug")
    wait_until(lambda: "-A" in sent_keys(play), "and let go of")
    play.runner.close()


def sent_keys(play: Play) -> list[str]:
    rows = [json.loads(line) for line in play.out.read_text().splitlines()] if play.out.exists() else []
    return [f"{'+' if row['value'] else '-'}{row['code']}" for row in rows if row["kind"] == "key"]


def test_a_node_of_the_controller_that_comes_later_is_taken_in(bed: TestBed, profile: Path) -> None:
    bed.do("plug")
    play = Play(bed, profile)
    bed.do("plug motion")
    wait_until(lambda: sum(NAME in line for line in play.runner.said) >= 2, "it is opened anew, with its motion")
    bed.event((1, 0x130, 1))
    play.wait_sent("+A")
    play.runner.close()


def test_what_is_no_controller_is_left_out_and_can_be_brought_in(bed: TestBed, tmp_path: Path) -> None:
    environment = os.environ | bed.environment | {"XDG_DATA_HOME": str(tmp_path)}
    bed.do("plug keyboard pad")

    def named() -> dict[str, Any]:
        lines = subprocess.run(
            [sys.executable, "-m", "nubshift", "devices", "--json"], env=environment, capture_output=True, check=True
        ).stdout.splitlines()
        rows = [msgspec.json.decode(line) for line in lines]
        return {row["name"]: row for row in rows if not row.get("simulated")}

    assert set(named()) == {NAME}
    (tmp_path / "nubshift").mkdir()
    kept = ControllersFile(brought_in=("1209:abcd Small Keyboard#cc:dd",))
    write_controllers(tmp_path / "nubshift" / "controllers.json", kept)
    assert named()["Small Keyboard"]["controls"] == ["button_1", "button_2", "button_3", "button_4"]


def test_a_known_driver_is_corrected_and_said_so(bed: TestBed, tmp_path: Path) -> None:
    from nubshift.model.writing import profile_text
    from tests.support.profiles import made

    path = tmp_path / "p.nubshift.json"
    path.write_bytes(profile_text(made({"base": {"west": "L", "north": "U"}})))
    bed.do("plug pad")
    hardware = Path(bed.root) / "sys/devices/pci0000:00/usb1/1-1/1-1:1.0"
    (hardware / "driver").symlink_to("../../../../../bus/usb/drivers/xpad")
    words = [sys.executable, "-m", "nubshift", "devices"]
    said = subprocess.run(words, env=os.environ | bed.environment, capture_output=True, text=True, check=True).stdout
    assert "with a correction" in said
    assert "corrected: its driver swaps the left and the upper face button" in said
    play = Play(bed, path)
    bed.event((1, 0x133, 1))  # what this driver sends for the left button
    play.wait_sent("+L")
    bed.event((1, 0x134, 1))
    play.wait_sent("+L", "+U")
    play.runner.close()
