"""What a control holds by its reports, worked out with the engine's own stages, so that it can be drawn over time.

Keys are down or up: a value of 1 means held, with the sign or the share that tells which.
"""

from __future__ import annotations

from collections.abc import Sequence
from math import hypot

from nubshift.app.tune.thresholds import Threshold
from nubshift.feel.begun_depths import BegunDepths
from nubshift.feel.held_direction import HeldDirection
from nubshift.feel.response import number
from nubshift.model import parameters as p
from nubshift.model.profile import Feel

_RIGHT, _DOWN = (0, 1, 1, 1, 0, -1, -1, -1), (-1, -1, 0, 1, 1, 1, 0, -1)
"""Of the eight sectors clockwise from up: whether each goes right (left: -1), and down (up: -1)."""


class KeysCourse:
    """Keys by direction (contract R8): which of left and right, up and down are held."""

    def __init__(self, feel: Feel) -> None:
        press = number(feel.key_radius)
        self._direction = HeldDirection()
        self._direction.tune(press, press - p.KEY_HYSTERESIS, number(feel.diagonal))

    def step(self, x: float, y: float) -> tuple[float, float]:
        """-1, 0 or 1 sideways and up-and-down. A lone axis has `y` 0."""
        sector = self._direction.step(x, y)
        return (0.0, 0.0) if sector is None else (float(_RIGHT[sector]), float(_DOWN[sector]))


class DepthCourse:
    """Depths (contract R15, and R4 for a trigger that is a button): how many of them have begun, as a share of all."""

    def __init__(self, thresholds: Sequence[Threshold]) -> None:
        self._depths = BegunDepths([(threshold.depth, threshold.until) for threshold in thresholds])

    def step(self, x: float, y: float) -> tuple[float, float]:
        """The share in the first place, below 0 on the lower side; what a stick does sideways counts with the rest."""
        begun = self._depths.step(min(1.0, hypot(x, y)))
        return (begun if x >= 0 else -begun) / len(self._depths.edges), 0.0
