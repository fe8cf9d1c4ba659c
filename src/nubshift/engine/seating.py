"""Who sits where (need N05): reports of devices become reports of seats.

A seat is filled by a controller, by joined halves, or by a part of one. One device may fill parts of several seats.
Pure: which devices there are, and how they are assigned, is decided elsewhere.
"""

from __future__ import annotations

from collections.abc import Iterable

from nubshift.events import Change, Report
from nubshift.model.controls import CHANNELS
from nubshift.records import Record
from nubshift.units import Micros

MOTION = frozenset({"motion", *CHANNELS})


class Filling(Record, frozen=True):
    """What of one device fills a seat.

    `controls` are those that count beside motion, None for all; `names` gives some of them another name in the seat (a
    half held sideways calls its only stick the left one); `motion` says whether this device's motion is the seat's.
    """

    seat: str
    device: str
    controls: frozenset[str] | None = None
    names: dict[str, str] = {}
    motion: bool = True

    def has(self, control: str) -> bool:
        """Whether what the seat calls so, and its device too, counts for it."""
        return self.motion if control in MOTION else self.controls is None or control in self.controls

    @property
    def is_whole(self) -> bool:
        """Whether all of the device counts, as it calls it."""
        return self.controls is None and self.motion and not self.names

    def take(self, changes: tuple[Change, ...]) -> tuple[Change, ...]:
        """The changes that count for this seat, under their names there; the same ones where all of them do."""
        if self.is_whole:
            return changes
        return tuple(
            (self.names.get(name, name), x, y)
            for name, x, y in changes
            if (self.motion if name in MOTION else self.controls is None or name in self.controls)
        )


class Seating:
    """All fillings, by device."""

    def __init__(self, fillings: Iterable[Filling]) -> None:
        self._by_device: dict[str, list[tuple[Filling, bool]]] = {}
        """Each with whether it is whole."""
        for filling in fillings:
            self._by_device.setdefault(filling.device, []).append((filling, filling.is_whole))

    def reports(self, device: str, told: Iterable[tuple[Micros, tuple[Change, ...]]]) -> list[Report]:
        """The reports of seats that those of a device make: each in its turn, in the order of the fillings."""
        found = []
        fillings = self._by_device.get(device, ())
        for t, changes in told:
            for filling, whole in fillings:
                taken = changes if whole else filling.take(changes)
                if taken:
                    found.append(Report(t, taken, filling.seat))
        return found
