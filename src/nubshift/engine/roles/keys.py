"""Keys by direction (contract R8)."""

from __future__ import annotations

from math import hypot

from nubshift.engine.act import Act
from nubshift.engine.context import Step
from nubshift.engine.owner import Owner
from nubshift.engine.roles.port import Followed
from nubshift.engine.tuning import Tuning
from nubshift.feel.directions import angle_of, held_sector
from nubshift.model.parameters import SECTOR_HYSTERESIS

LEFT, RIGHT = 6, 2


class KeysFollower:
    """Holds what the sector holds that the stick points to. `sectors` run clockwise from up."""

    def __init__(self, sectors: tuple[tuple[Act, ...], ...], plane: bool) -> None:
        self._sectors = sectors
        self._plane = plane
        self._sector: int | None = None
        self._tuned: Tuning

    def tune(self, tuned: Tuning) -> None:
        """The feel for the layers as they are now."""
        self._tuned = tuned

    def update(self, state: Followed, wanted: dict[Step, Owner]) -> None:
        """Hold the sector's keys, or none at rest."""
        tuned = self._tuned
        x, y = (state.x, state.y) if state.present else (0.0, 0.0)
        if hypot(x, y) < (tuned.press_radius if self._sector is None else tuned.release_radius):
            self._sector = None
            return
        if self._plane:
            self._sector = held_sector(angle_of(x, y), tuned.diagonal, self._sector, SECTOR_HYSTERESIS)
        else:
            self._sector = RIGHT if x > 0.0 else LEFT
        pad_form = state.context.layers.pad_form
        for act in self._sectors[self._sector]:
            wanted.update(dict.fromkeys(act.steps(pad_form), act.owner))

    def leave(self, state: Followed) -> None:
        """Nothing goes beyond steps."""

    def rest(self, state: Followed) -> None:
        """Nothing goes beyond steps."""
