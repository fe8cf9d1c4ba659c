"""The one-euro filter: smooth when slow, prompt when fast (contract R11).

G. Casiez, N. Roussel, D. Vogel, "1 € Filter: A Simple Speed-based Low-pass Filter for Noisy Input in Interactive
Systems", CHI 2012, pages 2527-2530. A first-order low-pass whose cut-off is fc = fc_min + beta · |speed|, the speed
itself smoothed with a fixed cut-off of 1 Hz. The smoothing factor for a step of `te` is alpha = 1 / (1 + tau / te)
with tau = 1 / (2 pi fc).
"""

from __future__ import annotations

from math import pi
from typing import Final

SPEED_CUTOFF: Final = 1.0
"""Cut-off for the speed, in Hz (the paper's dcutoff)."""


def factor(cutoff: float, step: float) -> float:
    """The smoothing factor alpha for a cut-off in Hz and a step in seconds."""
    turns = 2.0 * pi * cutoff * step
    return turns / (turns + 1.0)


class OneEuro:
    """One value. `min_cutoff` is the least cut-off in Hz, `beta` the Hz it rises with each unit of speed a second."""

    __slots__ = ("_speed", "_value", "beta", "min_cutoff")

    def __init__(self, min_cutoff: float, beta: float) -> None:
        self.min_cutoff = min_cutoff
        self.beta = beta
        self._value: float | None = None
        self._speed = 0.0

    def step(self, value: float, step: float) -> float:
        """The filtered value, `step` seconds after the one before; the first one passes as it is."""
        before = self._value
        if before is None or step <= 0.0:
            self._value = value if before is None else before
            return self._value
        self._speed += factor(SPEED_CUTOFF, step) * ((value - before) / step - self._speed)
        alpha = factor(self.min_cutoff + self.beta * abs(self._speed), step)
        self._value = before + alpha * (value - before)
        return self._value

    def reset(self) -> None:
        """Forget what was."""
        self._value = None
        self._speed = 0.0


class OneEuroPair:
    """Two values that are filtered alike, each by itself."""

    __slots__ = ("_x", "_y")

    def __init__(self, min_cutoff: float, beta: float) -> None:
        self._x = OneEuro(min_cutoff, beta)
        self._y = OneEuro(min_cutoff, beta)

    def tune(self, min_cutoff: float, beta: float) -> None:
        """Go on with other parameters."""
        self._x.min_cutoff = self._y.min_cutoff = min_cutoff
        self._x.beta = self._y.beta = beta

    def step(self, x: float, y: float, step: float) -> tuple[float, float]:
        """Both filtered, `step` seconds after the ones before."""
        return self._x.step(x, step), self._y.step(y, step)

    def reset(self) -> None:
        """Forget what was."""
        self._x.reset()
        self._y.reset()
