"""The chain of a stick that moves something: response at once, smoothing on ticks (contract R9, R11)."""

from __future__ import annotations

from nubshift.feel.euro import OneEuroPair
from nubshift.feel.response import Response


class StickChain:
    """From a calibrated position to shares of full speed. `out` is the result as it is now; `smooths` says whether it
    changes with each tick.

    Without smoothing it follows each position at once. With smoothing it follows on ticks, from rest on; where the dead
    zone gives zero it is zero at once.
    """

    def __init__(self) -> None:
        self._respond: Response | None = None
        self._min_cutoff = 0.0
        self._beta = 0.0
        self._filter: OneEuroPair | None = None
        self._target = (0.0, 0.0)
        self.out = (0.0, 0.0)
        self.smooths = False

    def tune(self, respond: Response | None, min_cutoff: float, beta: float) -> None:
        """The feel from now on; no response leaves positions as they are."""
        self._respond, self._min_cutoff, self._beta = respond, min_cutoff, beta
        if self._filter is not None and min_cutoff:
            self._filter.tune(min_cutoff, beta)

    def take(self, x: float, y: float) -> bool:
        """A new position; returns whether the stick is at its edge."""
        if self._respond is None:
            at_edge, target = False, (x, y)
        else:
            to_x, to_y, at_edge = self._respond(x, y)
            target = to_x, to_y
        if not self._min_cutoff or target == (0.0, 0.0):
            self._filter, self.smooths = None, False
            self.out = target
        elif self._filter is None:
            self._filter, self.smooths = OneEuroPair(self._min_cutoff, self._beta), True
            self.out = 0.0, 0.0
        self._target = target
        return at_edge

    def tick(self, seconds: float) -> tuple[float, float]:
        """A tick, `seconds` after the one before; returns `out`."""
        if self._filter is not None:
            self.out = self._filter.step(*self._target, seconds)
        return self.out

    def reset(self) -> None:
        """Forget what was: the next position begins from rest."""
        self._filter, self.smooths = None, False
        self.out = 0.0, 0.0
