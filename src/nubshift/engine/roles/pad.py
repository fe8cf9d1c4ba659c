"""Sticks, triggers and axes passed on to the virtual pad (need N34)."""

from __future__ import annotations

from nubshift.engine.context import Step
from nubshift.engine.owner import Owner
from nubshift.engine.roles.port import Followed, Follower
from nubshift.engine.tuning import Tuning
from nubshift.model.roles import PadAxisRole, PadStickRole


class PadFollower(Follower):
    """Pushes axes of the virtual pad: a whole stick, as it comes or tuned, or one axis."""

    def __init__(self, role: PadStickRole | PadAxisRole) -> None:
        if isinstance(role, PadStickRole):
            self._axes: tuple[str, ...] = (f"{role.stick}_x", f"{role.stick}_y")
            self._use_feel = role.tuned
        else:
            self._axes, self._use_feel = (role.axis,), False
        self._tuned: Tuning

    def tune(self, tuned: Tuning) -> None:
        """The feel for the layers as they are now."""
        self._tuned = tuned

    def update(self, state: Followed, wanted: dict[Step, Owner]) -> None:
        """Push as far as the control is moved."""
        x, y = (state.x, state.y) if state.present else (0.0, 0.0)
        if self._use_feel:
            x, y, _ = self._tuned.respond(x, y)
        context = state.context
        for axis, value in zip(self._axes, (x, y), strict=False):
            context.pad.push(axis, self, value)

    def leave(self, state: Followed) -> None:
        """Let go."""
        context = state.context
        for axis in self._axes:
            context.pad.push(axis, self, 0.0)

    def rest(self, state: Followed) -> None:
        """Let go; after a stop nothing is pushed any more."""
        self.leave(state)
