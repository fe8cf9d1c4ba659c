"""What a control holds by its reports, worked out with the engine's own stages, so that it can be drawn over time.

Keys are down or up: a value of 1 means held, with the sign or the share that tells which.
"""

from __future__ import annotations

from collections.abc import Sequence
from math import hypot

from nubshift.app.tune.thresholds import Threshold
from nubshift.feel.directions import angle_of, held_sector
from nubshift.feel.response import number
from nubshift.model import parameters as p
from nubshift.model.profile import Feel

_RIGHT, _DOWN = (0, 1, 1, 1, 0, -1, -1, -1), (-1, -1, 0, 1, 1, 1, 0, -1)
"""Of the eight sectors clockwise from up: whether each goes right (left: -1), and down (up: -1)."""


class KeysCourse:
    """Keys by direction (contract R8): which of left and right, up and down are held."""

    def __init__(self, feel: Feel) -> None:
        self._press = number(feel.key_radius)
        self._diagonal = number(feel.diagonal)
        self._sector: int | None = None

    def step(self, x: float, y: float) -> tuple[float, float]:
        """-1, 0 or 1 sideways and up-and-down. A lone axis has `y` 0."""
        if hypot(x, y) < (self._press if self._sector is None else self._press - p.KEY_HYSTERESIS):
            self._sector = None
            return 0.0, 0.0
        self._sector = held_sector(angle_of(x, y), self._diagonal, self._sector, p.SECTOR_HYSTERESIS)
        return float(_RIGHT[self._sector]), float(_DOWN[self._sector])


class DepthCourse:
    """Depths (contract R15, and R4 for a trigger that is a button): how many of them have begun, as a share of all."""

    def __init__(self, thresholds: Sequence[Threshold]) -> None:
        self._edges = [(threshold.depth, threshold.until) for threshold in thresholds]
        self._begun = 0

    def step(self, x: float, y: float) -> tuple[float, float]:
        """The share in the first place, below 0 on the lower side; what a stick does sideways counts with the rest."""
        depth, edges = min(1.0, hypot(x, y)), self._edges
        while self._begun and depth < edges[self._begun - 1][1]:
            self._begun -= 1
        while self._begun < len(edges) and depth >= edges[self._begun][0]:
            self._begun += 1
        return (self._begun if x >= 0 else -self._begun) / len(edges), 0.0
