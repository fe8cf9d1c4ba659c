"""What may fill each seat: as it was asked for, stored, or chosen in the window since."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from nubshift.model.stored_controllers import PartOf
from nubshift.runner.inventory import Inventory

NODE = "evdev:"
"""Before the path of a node, where a single piece of hardware is asked for by it."""
AUTO = "auto"
"""Any real controller that is in no other seat, the one that has been there longest first."""


class Wanted:
    """For each seat the alternatives, the first that can be had counts. Each alternative is the parts that fill it."""

    def __init__(self, wanted: Mapping[str, Sequence[str]], stored: Mapping[str, tuple[PartOf, ...]]) -> None:
        self._asked = {seat: tuple(specs) for seat, specs in wanted.items()}
        self.seats: dict[str, list[tuple[PartOf, ...]]] = {
            seat: [(PartOf(spec),) for spec in specs] for seat, specs in wanted.items()
        }
        for seat, parts in stored.items():
            if any(specs == (PartOf(AUTO),) for specs in self.seats.get(seat, ())):
                self.seats[seat].insert(0, parts)
        self._meant: dict[tuple[str, str], str] = {}

    @property
    def specs(self) -> list[str]:
        """All that is named anywhere."""
        return [part.controller for seat in self.seats.values() for parts in seat for part in parts]

    def unfilled(self, ever: set[str]) -> tuple[str, ...]:
        """The sources asked for by name in seats other than those that were `ever` filled."""
        return tuple(spec for seat, specs in self._asked.items() if seat not in ever for spec in specs if spec != AUTO)

    def fill(self, seat: str, parts: tuple[PartOf, ...]) -> None:
        """Let these fill a seat from now on, as long as they are there; none empties it (never the first one)."""
        self._meant = {named: key for named, key in self._meant.items() if named[0] != seat}
        if parts:
            others = [there for there in self.seats.get(seat, []) if there != parts]
            self.seats[seat] = [parts, *others]
        elif len(self.seats) > 1 and seat != next(iter(self.seats)):
            self.seats.pop(seat, None)

    def explicit(self) -> set[str]:
        """What seats ask for by name in the first place; others do not take it by themselves."""
        return {
            self._meaning(seat, part.controller)
            for seat, wanted in self.seats.items()
            for part in (wanted[0] if wanted else ())
        } - {AUTO}

    def mean(self, seat: str, spec: str, key: str) -> None:
        """A node that a seat asked for is this piece of hardware, also when it is plugged in elsewhere later."""
        if spec.startswith(NODE):
            self._meant.setdefault((seat, spec), key)

    def _meaning(self, seat: str, spec: str) -> str:
        """What a seat asks for with the name of a node: the piece of hardware that was there at first."""
        return self._meant.get((seat, spec), spec)

    def candidates(self, seat: str, part: PartOf, taken: set[str], there: Inventory) -> list[str]:
        """The ids of what a part of a seat could be, the best first, but what is `taken`."""
        spec = part.controller
        if spec == AUTO:
            return [i.id for i in there.controllers if not i.simulated and not i.trouble and i.id not in taken]
        if spec.startswith(("sim:", "take:")):
            return [spec]
        found = [id_ for id_, info in there.infos.items() if info.key == self._meaning(seat, spec)]
        if found or not spec.startswith(NODE):
            return found
        id_ = there.having(spec.removeprefix(NODE))
        others = {key for named, key in self._meant.items() if named != (seat, spec)}
        return [id_] if id_ and there.infos[id_].key not in others else []
