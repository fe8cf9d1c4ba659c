"""What a player keeps of their controllers: names, colours, labels, calibration, seats (docs/formats.md).

Of the piece of hardware: name, colour, light, calibration. Of the model: what is printed on it.
"""

from __future__ import annotations

from math import hypot
from pathlib import Path
from typing import Final, Literal, TypeAlias

import msgspec
from msgspec import field
from msgspec.structs import replace

from nubshift.model.files import read_companion
from nubshift.model.part import Part, Text
from nubshift.model.profile import Colour
from nubshift.model.store import write_atomically
from nubshift.texts import _

FORMAT: Final = "nubshift-controllers"
VERSION: Final = 2
LEAST_WAY = 0.2
"""A reach that is nearer to the rest than this was measured wrongly; the whole way counts then."""

Print: TypeAlias = Literal["places", "letters", "letters-turned", "shapes", "numbers", "colours"]
"""What is printed on the face buttons."""


class Calibration(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """Where one control of one piece of hardware rests and how far it reaches: right, down, left, up; for a trigger
    or a lone axis only x and right and left count. In normal form, before any feel."""

    rest: tuple[float, float] = (0.0, 0.0)
    reach: tuple[float, float, float, float] = (1.0, 1.0, 1.0, 1.0)

    def applied(self, x: float, y: float) -> tuple[float, float]:
        """What (x, y) is when the rest is the middle and the reach the end."""
        right, down, left, up = self.reach
        return _scaled(x, self.rest[0], right, left), _scaled(y, self.rest[1], down, up)

    def undone(self, x: float, y: float) -> tuple[float, float]:
        """What the hardware said where this calibration made (x, y) of it."""
        right, down, left, up = self.reach
        return _unscaled(x, self.rest[0], right, left), _unscaled(y, self.rest[1], down, up)

    def measured_again(self, fresh: Calibration) -> Calibration:
        """What was measured while this calibration was in use, as a calibration of the hardware itself."""
        right, down, left, up = fresh.reach
        (rest_x, rest_y), (far_x, far_y) = self.undone(*fresh.rest), self.undone(right, down)
        near_x, near_y = self.undone(-left, -up)
        return Calibration(
            (round(rest_x, 4), round(rest_y, 4)),
            (round(far_x, 3), round(far_y, 3), round(-near_x, 3), round(-near_y, 3)),
        )

    @property
    def is_worn(self) -> bool:
        """Whether it rests so far off that a dead zone alone would cost much."""
        return hypot(*self.rest) > 0.12


def _scaled(value: float, rest: float, more: float, less: float) -> float:
    way = more - rest if value >= rest else less + rest
    return max(-1.0, min(1.0, (value - rest) / (way if way > LEAST_WAY else 1.0)))


def _unscaled(value: float, rest: float, more: float, less: float) -> float:
    way = more - rest if value >= 0 else less + rest
    return rest + value * (way if way > LEAST_WAY else 1.0)


class Own(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """One piece of hardware: its player's name for it, its colour in the window, its light (``#rrggbb``), and whether
    it is held sideways, where it is a half of a pair."""

    name: Text = ""
    colour: Colour | None = None
    light: str = ""
    sideways: bool = False
    calibration: dict[str, Calibration] = field(default_factory=dict)


class Labels(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """What stands on a model: the kind of print on its face buttons, and own words for any control."""

    print: Print = "places"
    names: dict[str, Text] = field(default_factory=dict)


class PartOf(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """A controller in a seat, or a part of one: by the key of the hardware, or a source as on the command line.

    `controls` are those that count beside motion, None for all; `names` says what some of them are called in the seat;
    `motion` says whether its motion is the seat's.
    """

    controller: str
    controls: tuple[str, ...] | None = None
    names: dict[str, str] = field(default_factory=dict)
    motion: bool = True

    def seen_of(self, controls: tuple[str, ...]) -> tuple[str, ...]:
        """What the seat has of a controller with these controls, by their names there."""
        return tuple(
            self.names.get(name, name)
            for name in controls
            if (self.motion if name == "motion" else self.controls is None or name in self.controls)
        )


class ControllersFile(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=False):
    """Everything kept. `brought_in` are pieces of hardware that count as controllers though they look like none.

    Version 1 had no `sideways`; all of it means the same in version 2.
    """

    format: Literal["nubshift-controllers"] = FORMAT
    version: Literal[1, 2] = VERSION
    devices: dict[str, Own] = field(default_factory=dict)
    models: dict[str, Labels] = field(default_factory=dict)
    brought_in: tuple[str, ...] = ()
    seats: dict[str, tuple[PartOf, ...]] = field(default_factory=dict)

    def of(self, key: str) -> Own:
        """What is kept of a piece of hardware."""
        return self.devices.get(key, Own())

    def labels_of(self, model: str) -> Labels:
        """What stands on a model."""
        return self.models.get(model, Labels())

    def with_own(self, key: str, own: Own) -> ControllersFile:
        """The same with this kept of a piece of hardware."""
        return replace(self, devices={**self.devices, key: own})

    def with_labels(self, model: str, labels: Labels) -> ControllersFile:
        """The same with these labels of a model."""
        return replace(self, models={**self.models, model: labels})

    def with_seat(self, seat: str, parts: tuple[PartOf, ...]) -> ControllersFile:
        """The same with a seat filled by these; by none, it is as if nobody had ever chosen."""
        others = {name: there for name, there in self.seats.items() if name != seat}
        return replace(self, seats={**others, seat: parts} if parts else others)

    def with_brought_in(self, key: str, on: bool) -> ControllersFile:
        """The same with a piece of hardware brought in, or left out again."""
        others = tuple(name for name in self.brought_in if name != key)
        return replace(self, brought_in=(*others, key) if on else others)


def read_controllers(path: Path) -> ControllersFile:
    """The file at `path`; an empty one where there is none. Raises StorageError; see `read_companion`."""
    return read_companion(path, ControllersFile, _("What was saved of your controllers")) or ControllersFile()


def write_controllers(path: Path, controllers: ControllersFile) -> None:
    """Keep it. Raises StorageError."""
    newest = replace(controllers, version=VERSION)
    write_atomically(path, msgspec.json.format(msgspec.json.encode(newest), indent=2) + b"\n")
