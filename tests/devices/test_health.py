"""Battery and lights in a made-up sysfs, and who holds a node in a made-up /proc."""

from __future__ import annotations

import os
from pathlib import Path

import pytest

import nubshift.runner.inventory
from nubshift.devices.codes import AxisRange
from nubshift.devices.health import Lights, battery_of, is_low, lights_of
from nubshift.devices.nodes import Node, joined
from nubshift.runner.doctor import holders, raw_nodes
from nubshift.runner.inventory import BATTERY_EVERY, Inventory
from nubshift.runner.stored import StoredControllers


def hardware(folder: Path, **files: str) -> Path:
    """A directory of sysfs with these files, ``__`` for a slash."""
    place = folder / "devices" / "0003:0001.0001"
    for name, text in files.items():
        path = place / name.replace("__", "/")
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(text)
    return place


def device(place: Path):  # type: ignore[no-untyped-def]
    return joined([Node("/dev/input/event3", "Fern pad", keys=(0x130,), place=f"{place}/input/input3")])[0]


@pytest.mark.parametrize(
    ("files", "said", "low"),
    [
        ({"power_supply__b__capacity": "80\n", "power_supply__b__status": "Discharging"}, "80 %", False),
        ({"power_supply__b__capacity": "12"}, "12 %", True),
        ({"power_supply__b__capacity": "12", "power_supply__b__status": "Charging"}, "12 %, charging", False),
        ({"power_supply__b__capacity_level": "Low"}, "low", True),
        ({}, "", False),
    ],
)
def test_the_battery_in_the_kernels_words(tmp_path: Path, files: dict[str, str], said: str, low: bool) -> None:
    battery = battery_of(device(hardware(tmp_path, **files)))
    assert (battery, is_low(battery)) == (said, low)


def test_lights_are_set_and_given_back(tmp_path: Path) -> None:
    place = hardware(
        tmp_path,
        leds__rgb__multi_intensity="1 2 3\n",
        leds__rgb__multi_index="green red blue",
        leds__rgb__brightness="9",
        leds__rgb__max_brightness="255",
        **{"leds__w_player-1__brightness": "1", "leds__w_player-2__brightness": "0"},
    )
    lights = Lights(lights_of(device(place)))
    assert lights.show("#ff8000")
    assert (place / "leds/rgb/multi_intensity").read_text() == "128 255 0"
    assert (place / "leds/rgb/brightness").read_text() == "255"
    assert lights.count(2)
    assert [(place / f"leds/w_player-{n}/brightness").read_text() for n in (1, 2)] == ["1", "1"]
    lights.give_back()
    assert (place / "leds/rgb/multi_intensity").read_text() == "1 2 3"
    assert (place / "leds/w_player-2/brightness").read_text() == "0"


def test_a_light_that_is_three_lights_takes_a_colour_too(tmp_path: Path) -> None:
    parts = {
        f"leds__0003:{part}__{what}": value
        for part in ("red", "green", "blue")
        for what, value in (("brightness", "7"), ("max_brightness", "255" if part != "blue" else "15"))
    }
    place = hardware(tmp_path, **parts)
    lights = Lights(lights_of(device(place)))
    assert lights.has_colour
    assert lights.show("#ff8040")
    assert [(place / f"leds/0003:{part}/brightness").read_text() for part in ("red", "green", "blue")] == [
        "255",
        "128",
        "4",
    ]
    lights.give_back()
    assert (place / "leds/0003:blue/brightness").read_text() == "7"


def test_a_light_that_may_not_be_set_is_none(tmp_path: Path) -> None:
    assert not Lights((str(tmp_path / "gone"),)).show("#ffffff")
    assert not Lights(()).count(1)


def test_who_holds_a_node_is_named_but_for_ourselves(tmp_path: Path) -> None:
    node = tmp_path / "event3"
    node.write_text("")
    for number, name, words in (
        ("41", "somegame", b"somegame"),
        ("42", "python", b"python -m nubshift run"),
        (str(os.getpid()), "us", b"us"),
    ):
        process = tmp_path / "proc" / number
        (process / "fd").mkdir(parents=True)
        (process / "comm").write_text(f"{name}\n")
        (process / "cmdline").write_bytes(words)
        (process / "fd" / "5").symlink_to(node)
        (process / "fd" / "6").symlink_to(node)
    assert holders([str(node)], tmp_path / "proc") == {str(node): ["somegame (41)"]}


def test_the_raw_nodes_of_a_device_are_found(tmp_path: Path) -> None:
    place = hardware(tmp_path)
    (place / "hidraw" / "hidraw4").mkdir(parents=True)
    assert raw_nodes(device(place)) == ["/dev/hidraw4"]


def test_a_low_battery_is_told_once_until_it_was_charged(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    said: list[str] = []
    there = Inventory(False, StoredControllers(), lambda _, text: said.append(text), 0)
    there.put(device(hardware(tmp_path)).nodes)
    there.map_device()
    for number, (battery, told) in enumerate((("80 %", 0), ("14 %", 1), ("12 %", 1), ("60 %", 1), ("9 %", 2)), 1):
        monkeypatch.setattr(nubshift.runner.inventory, "battery_of", lambda _, now=battery: now)
        there.look_at_batteries(number * BATTERY_EVERY)
        assert len(said) == told
        assert there.controllers[0].battery == battery
    assert said[0] == "The battery of Fern pad is low (14 %). Charge it soon."


def test_the_ring_of_a_pad_behind_a_receiver_is_its_own(tmp_path: Path) -> None:
    """Two pads behind one plug, whose rings lie beside each other on the plug."""
    for ring in ("xpad2", "xpad10"):
        (tmp_path / "leds" / ring).mkdir(parents=True)
        (tmp_path / "leds" / ring / "brightness").write_text("0")
    nodes = [
        Node(
            f"/dev/input/event{n}",
            "Pad",
            f"usb-1/input{n}",
            keys=(0x130,),
            axes={0: AxisRange(0, 255)},
            place=f"{tmp_path}/1-1:1.{n}/input/input{n}",
            driver="xpad",
        )
        for n in (0, 2)
    ]
    first, second = joined(nodes)
    assert [Path(light).name for light in (*lights_of(first), *lights_of(second))] == ["xpad2", "xpad10"]
    assert Lights(lights_of(second)).count(2)
    assert (tmp_path / "leds/xpad10/brightness").read_text() == "7"
    assert (tmp_path / "leds/xpad2/brightness").read_text() == "0"
