"""Positions at the end of a step: those that moved follow, all if the layers changed, as one change (contract R3)."""

from __future__ import annotations

from typing import Final

from nubshift.engine.core import Core
from nubshift.engine.positions import PositionState
from nubshift.engine.states import States

MAX_ROUNDS: Final = 16
"""How often positions may follow layers that positions changed in one step."""
MOST_WAITING: Final = 400
"""Timers under way beyond which layer changes are not followed; twenty fingers with turbo and macros need fewer."""


class Settling:
    """Lets the positions of a core follow. `followed` is the version of layers and feel that they followed last."""

    def __init__(self, core: Core, states: States) -> None:
        self._core = core
        self._states = states
        self.followed = core.revision.count

    def follow(self, moved: list[PositionState]) -> None:
        """At the end of a step: positions that moved, or were asked to, follow; all if the layers changed."""
        core = self._core
        if core.touched:
            moved = [*moved, *(state for state in core.take_touched() if state not in moved)]
        if moved or core.revision.count != self.followed:
            self.settle(moved)

    def settle(self, moved: list[PositionState]) -> None:
        """What these positions hold changes as one (R3): those that moved, all if the layers changed, once more if they
        change them.

        Two bindings of a stick that enter and leave a layer in turn would go on for ever. They are cut off and keep
        what they have until the layers change otherwise: else every timer that they set would set them going anew.
        Where macros or pulses that sticks began change layers in their turn, there could be ever more of them; as long
        as very many are under way, sticks keep what they have whatever the layers.
        """
        core = self._core
        if core.changers:
            core.changers.clear()
        core.holders.gathers = True
        revision = core.revision
        if core.timers.waiting >= MOST_WAITING:
            self._stay()
            for state in moved:
                state.follow()
            self._stay()
        else:
            for _ in range(MAX_ROUNDS):
                version = revision.count
                if version != self.followed:
                    moved = self._states.acting
                    self.followed = version
                for state in moved:
                    if state.version != version:
                        state.look()
                for state in moved:
                    state.follow()
                if revision.count == version:
                    break
            else:
                self._stay()
        if core.holders.gathered:
            core.end_change()
        else:
            core.holders.gathers = False

    def settle_all(self) -> None:
        """The same for every position that some layer binds."""
        self.settle(self._states.acting)

    def _stay(self) -> None:
        """Positions keep the bindings they have until the layers change anew."""
        self.followed = self._core.revision.count
        for state in self._states.acting:
            state.stay()
