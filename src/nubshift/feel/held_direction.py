"""Which direction a stick holds (contract R8): from a radius on, in sectors that have some room about their edges."""

from __future__ import annotations

from math import hypot

from nubshift.feel.directions import angle_of, held_sector
from nubshift.model.parameters import SECTOR_HYSTERESIS


class HeldDirection:
    """The sector pointed to, 0 to 7 clockwise from up; None at rest.

    It begins at `press` and ends below `release` (shares of the reach); diagonals are `diagonal` degrees wide. A lone
    axis (`plane` False) has only right and left.
    """

    def __init__(self, *, plane: bool = True) -> None:
        self._plane = plane
        self._press = self._release = 0.5
        self._diagonal = 0.0
        self.sector: int | None = None

    def tune(self, press: float, release: float, diagonal: float) -> None:
        """The feel from now on."""
        self._press, self._release, self._diagonal = press, release, diagonal

    def step(self, x: float, y: float) -> int | None:
        """A new position; returns the sector."""
        if hypot(x, y) < (self._press if self.sector is None else self._release):
            self.sector = None
        elif not self._plane:
            self.sector = 2 if x > 0.0 else 6
        else:
            self.sector = held_sector(angle_of(x, y), self._diagonal, self.sector, SECTOR_HYSTERESIS)
        return self.sector
