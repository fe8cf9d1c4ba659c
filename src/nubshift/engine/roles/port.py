"""What every follower of a role can do."""

from __future__ import annotations

from typing import TYPE_CHECKING, Protocol

from nubshift.engine.program import Step

if TYPE_CHECKING:
    from nubshift.engine.owner import Owner
    from nubshift.engine.positions import PositionState
    from nubshift.engine.tuning import Tuning


class Follower(Protocol):
    """Follows the position of one control while one binding of it counts."""

    def tune(self, tuned: Tuning) -> None:
        """The feel for the layers as they are now; told before the first update and whenever it may have changed."""
        ...

    def update(self, state: PositionState, wanted: dict[Step, Owner]) -> None:
        """The value or the feel changed: add to `wanted` the steps to hold now, in order."""
        ...

    def leave(self, state: PositionState) -> None:
        """Another binding counts from now on: end what goes beyond steps."""
        ...

    def rest(self, state: PositionState) -> None:
        """A stop (R12): forget, and send nothing any more."""
        ...
