"""The chain of a gyro: bias and gravity, the choice of axes, the soft threshold and smoothing (contract R10, R11)."""

from __future__ import annotations

from typing import Final, Literal, TypeAlias

from nubshift.feel.bias import Bias
from nubshift.feel.euro import OneEuroPair
from nubshift.feel.gravity import Gravity, Vector, about_gravity
from nubshift.feel.soft_threshold import softened
from nubshift.units import MILLISECOND, SECOND, Micros

Axes: TypeAlias = Literal["turn", "lean", "gravity"]

LONGEST_STEP: Final = 25 * MILLISECOND
"""A report moves by its rate for at most this long (R10)."""
LOST_AFTER: Final = 200 * MILLISECOND
"""After a gap this long, what was gathered about rest and gravity says nothing any more."""


class MotionChain:
    """What the sensors of one controller say: `turn`, `nod` and `lean` in degrees a second, without the bias.

    Bias is followed with every report, gravity where it is asked for.
    """

    def __init__(self) -> None:
        self.bias = Bias()
        self.gravity = Gravity()
        self.turn = self.nod = self.lean = 0.0
        self._seen: Micros | None = None

    def take(
        self, t: Micros, rates: Vector, pull: Vector, *, with_gravity: bool = True, bias: Vector | None = None
    ) -> None:
        """A report at `t`: rates in degrees a second, pull in g. `bias` takes the place of the one that is followed."""
        seen, self._seen = self._seen, t
        since = max(0, t - seen) if seen is not None else 0
        if since > LOST_AFTER:
            self.bias.interrupt()
            self.gravity.forget()
        turn, nod, lean = rates
        x, y, z = pull
        self.bias.step(turn, nod, lean, x, y, z, since / SECOND)
        off_turn, off_nod, off_lean = self.bias.value if bias is None else bias
        self.turn, self.nod, self.lean = turn - off_turn, nod - off_nod, lean - off_lean
        if with_gravity:
            self.gravity.step(self.turn, self.nod, self.lean, pull, min(since, LONGEST_STEP) / SECOND)

    def about(self, axes: Axes) -> tuple[float, float]:
        """Sideways and up-and-down rates about the chosen axes."""
        match axes:
            case "turn":
                return self.turn, self.nod
            case "lean":
                return self.lean, self.nod
            case "gravity":
                return about_gravity(self.turn, self.nod, self.lean, self.gravity.down)


class GyroChain:
    """From rates about the chosen axes to those that move: soft threshold, then smoothing."""

    def __init__(self) -> None:
        self._threshold = 0.0
        self._filter: OneEuroPair | None = None

    def tune(self, threshold: float, min_cutoff: float, beta: float) -> None:
        """The feel from now on."""
        self._threshold = threshold
        if not min_cutoff:
            self._filter = None
        elif self._filter is None:
            self._filter = OneEuroPair(min_cutoff, beta)
        else:
            self._filter.tune(min_cutoff, beta)

    def step(self, sideways: float, upright: float, step: Micros) -> tuple[float, float]:
        """The rates to move by, for a report that counts for `step` µs."""
        if self._threshold:
            sideways, upright = softened(sideways, upright, self._threshold)
        if self._filter is not None:
            return self._filter.step(sideways, upright, step / SECOND)
        return sideways, upright

    def reset(self) -> None:
        """It does not move for now: smoothing begins anew."""
        if self._filter is not None:
            self._filter.reset()
