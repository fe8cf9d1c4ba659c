"""Keys by direction (contract R8)."""

from __future__ import annotations

from nubshift.engine.act import Act
from nubshift.engine.context import Step
from nubshift.engine.owner import Owner
from nubshift.engine.roles.port import Followed, Follower
from nubshift.engine.tuning import Tuning
from nubshift.feel.held_direction import HeldDirection


class KeysFollower(Follower):
    """Holds what the sector holds that the stick points to. `sectors` run clockwise from up."""

    def __init__(self, sectors: tuple[tuple[Act, ...], ...], plane: bool) -> None:
        self._sectors = sectors
        self._direction = HeldDirection(plane=plane)

    def tune(self, tuned: Tuning) -> None:
        """The feel for the layers as they are now."""
        self._direction.tune(tuned.press_radius, tuned.release_radius, tuned.diagonal)

    def update(self, state: Followed, wanted: dict[Step, Owner]) -> None:
        """Hold the sector's keys, or none at rest."""
        sector = self._direction.step(state.x, state.y) if state.present else self._direction.step(0.0, 0.0)
        if sector is None:
            return
        pad_form = state.context.layers.pad_form
        for act in self._sectors[sector]:
            for step in act.steps(pad_form):
                wanted[step] = act.owner

    def leave(self, state: Followed) -> None:
        """Nothing goes beyond steps."""

    def rest(self, state: Followed) -> None:
        """Nothing goes beyond steps."""
