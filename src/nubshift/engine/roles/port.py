"""What roles follow, and what every follower of a role can do."""

from __future__ import annotations

from nubshift.engine.context import Context, Step
from nubshift.engine.owner import ControlKey, Owner
from nubshift.engine.tuning import Tuning


class Followed:
    """What a role knows of the control that it follows.

    `x` and `y` are in normal form; `present` is False while a sensor has lost sight of what it senses; `plane` says
    that it has two dimensions; `owner` is for whose sake it acts now.
    """

    context: Context
    key: ControlKey
    x: float
    y: float
    present: bool
    plane: bool

    @property
    def owner(self) -> Owner:
        """The binding that it follows."""
        raise NotImplementedError


class Follower:
    """Follows the position of one control while one binding of it counts. A plain class: see `devices/node_reader`."""

    def tune(self, tuned: Tuning) -> None:
        """The feel for the layers as they are now; told before the first update and whenever it may have changed."""
        raise NotImplementedError

    def update(self, state: Followed, wanted: dict[Step, Owner]) -> None:
        """The value or the feel changed: add to `wanted` the steps to hold now, in order."""
        raise NotImplementedError

    def leave(self, state: Followed) -> None:
        """Another binding counts from now on: end what goes beyond steps."""
        raise NotImplementedError

    def rest(self, state: Followed) -> None:
        """A stop (R12): forget, and send nothing any more."""
        raise NotImplementedError
