"""Battery and lights of a controller, as the kernel's drivers show them in sysfs (need N08)."""

from __future__ import annotations

import contextlib
import re
from collections.abc import Iterator
from pathlib import Path

from nubshift.devices.nodes import Device
from nubshift.texts import _

LEVELS = {"Full": "full", "High": "high", "Normal": "half", "Low": "low", "Critical": _("nearly empty")}
"""The kernel's words for a charge that is only known roughly."""

PLAYER_LIGHT = re.compile(r"player-?\d$|:p\d$|::sony\d$")
"""As the drivers name them: playstation and nintendo, wiimote, sony."""
RING, RING_FIRST = "xpad", 6
"""A ring is one light whose brightness is a command: from this on, a quarter lit for players one to four (xpad.c)."""


def _hardware(device: Device) -> Iterator[Path]:
    """The directories of the hardware in sysfs: the driver's own, which all its nodes lie below."""
    for place in dict.fromkeys(node.place.partition("/input/")[0] for node in device.nodes if node.place):
        if place and not place.endswith("/virtual"):
            yield Path(place)


def battery_of(device: Device) -> str:
    """How full it is: ``80 %`` or a word, with ``, charging`` where it is; empty where it says nothing."""
    for place in _hardware(device):
        for supply in sorted(place.glob("power_supply/*")):
            level = _text(supply / "capacity")
            found = f"{level} %" if level else LEVELS.get(_text(supply / "capacity_level"), "")
            if found:
                return _("{found}, charging").format(found=found) if _text(supply / "status") == "Charging" else found
    return ""


def is_low(battery: str) -> bool:
    """Whether a battery as `battery_of` tells it should be charged soon."""
    if battery.endswith("charging"):
        return False
    number = battery.partition(" %")[0]
    return battery in ("low", "nearly empty") or (number.isdigit() and int(number) <= 15)


def lights_of(device: Device) -> tuple[str, ...]:
    """The lights that can be set: the names of their directories in sysfs, coloured ones first."""
    found = [light for place in _hardware(device) for light in sorted(place.glob("leds/*"))]
    found += [light for place in _hardware(device) for light in sorted(place.glob("input/input*/input*::*"))]
    if device.main.driver == "xpad":
        found += _ring_of(device)
    coloured = [light for light in found if (light / "multi_intensity").exists()]
    return tuple(str(light) for light in (*coloured, *(light for light in found if light not in coloured)))


def _ring_of(device: Device) -> list[Path]:
    """The ring of a pad of the driver xpad. It belongs to the whole plug, in the order of the pads behind that.

    (drivers/input/joystick/xpad.c, xpad_led_probe: ``xpad0``, ``xpad1``, … on the USB device.)
    """
    rings = [ring for place in _hardware(device) for ring in place.parent.glob(f"leds/{RING}*")]
    rings.sort(key=lambda ring: int(ring.name.removeprefix(RING) or 0))
    return rings[device.number - 1 : device.number]


class Lights:
    """The lights of one controller while we have them; `give_back` leaves them as they were found."""

    def __init__(self, places: tuple[str, ...]) -> None:
        self._places = [Path(place) for place in places]
        self._before: dict[Path, str] = {}

    def show(self, colour: str) -> bool:
        """Let the coloured light take a colour (``#rrggbb``); whether there is one that we may set."""
        red, green, blue = (int(colour[at : at + 2], 16) for at in (1, 3, 5))
        shown = self._show_apart({"red": red, "green": green, "blue": blue})
        for light in self._places:
            if not (light / "multi_intensity").exists():
                continue
            parts = {"red": red, "green": green, "blue": blue}
            order = _text(light / "multi_index").split() or list(parts)
            full = int(_text(light / "max_brightness") or "255")
            shown |= self._put(light / "multi_intensity", " ".join(str(parts.get(part, 0)) for part in order))
            shown &= self._put(light / "brightness", str(full))
        return shown

    def _show_apart(self, parts: dict[str, int]) -> bool:
        """The same for a light that is three lights, one a colour, as some drivers have it (``…:red``)."""
        found = {light.name.rpartition(":")[2].lower(): light for light in self._places}
        if not parts.keys() <= found.keys():
            return False
        shown = True
        for part, value in parts.items():
            full = int(_text(found[part] / "max_brightness") or "255")
            shown &= self._put(found[part] / "brightness", str(round(value * full / 255)))
        return shown

    @property
    def has_colour(self) -> bool:
        """Whether it has a light that can take a colour, whoever may set it."""
        names = {light.name.rpartition(":")[2].lower() for light in self._places}
        return {"red", "green", "blue"} <= names or any((light / "multi_intensity").exists() for light in self._places)

    def count(self, number: int) -> bool:
        """Light as many of the player lights as the player's number; whether there are any that we may set."""
        rings = [light for light in self._places if light.name.startswith(RING)]
        done = [self._put(ring / "brightness", str(RING_FIRST + min(number, 4) - 1)) for ring in rings]
        plain = [light for light in self._places if PLAYER_LIGHT.search(light.name)]
        done += [self._put(light / "brightness", str(int(place < number))) for place, light in enumerate(plain)]
        return bool(done) and all(done)

    def _put(self, file: Path, text: str) -> bool:
        try:
            self._before.setdefault(file, file.read_text().strip())
            file.write_text(text)
        except OSError:
            return False
        return True

    def give_back(self) -> None:
        """As they were before."""
        for file, text in self._before.items():
            with contextlib.suppress(OSError):
                file.write_text(text)
        self._before.clear()


def _text(file: Path) -> str:
    try:
        return file.read_text().strip()
    except OSError:
        return ""
