"""How far a stick gets: a slow circle along its edge gives reach, roundness and centre."""

from __future__ import annotations

import numpy as np

from nubshift.analysis.compass import SLICES
from nubshift.analysis.trace import Floats, Trace
from nubshift.records import Record

OUT = 0.5
"""Only readings beyond this belong to the circle."""


class MeasuredReach(Record, frozen=True):
    """The edge of a stick.

    `radii` are by direction, clockwise from up, `SLICES` of them; NaN where it never was. `centre` is that of the
    circle fitted to the edge, `turns` how many times around the stick went.
    """

    radii: Floats
    centre: tuple[float, float]
    turns: float

    @property
    def seen(self) -> float:
        """Share of the directions that it has been in."""
        return float(np.isfinite(self.radii).mean())

    @property
    def complete(self) -> bool:
        """Whether it has been in every direction."""
        return bool(np.isfinite(self.radii).all())

    @property
    def shortest(self) -> float:
        """The reach where it is shortest."""
        return float(np.nanmin(self.radii))

    @property
    def longest(self) -> float:
        """The reach where it is longest."""
        return float(np.nanmax(self.radii))

    @property
    def out_of_round(self) -> float:
        """How much the longest reach exceeds the shortest, as a share of the mean."""
        return (self.longest - self.shortest) / float(np.nanmean(self.radii))

    @property
    def shortest_at(self) -> float:
        """The direction of the shortest reach, in degrees clockwise from up."""
        return float(np.nanargmin(self.radii)) * 360.0 / SLICES

    @property
    def square(self) -> bool:
        """Whether it gets markedly further along the diagonals than straight: a square gate."""
        straight = self.radii[:: SLICES // 4]
        diagonal = self.radii[[round(SLICES * share) % SLICES for share in (0.125, 0.375, 0.625, 0.875)]]
        return bool(np.nanmean(diagonal) > 1.12 * np.nanmean(straight))


def reach_of(trace: Trace) -> MeasuredReach:
    """The edge as far as a trace has been along it."""
    values = trace.values
    size = np.hypot(values[:, 0], values[:, 1])
    values, size = values[size > OUT], size[size > OUT]
    radii = np.full(SLICES, np.nan)
    if len(values) == 0:
        return MeasuredReach(radii, (0.0, 0.0), 0.0)
    angles = np.degrees(np.arctan2(values[:, 0], -values[:, 1])) % 360.0
    at = np.round(angles / (360.0 / SLICES)).astype(int) % SLICES
    for index in range(SLICES):
        here = size[at == index]
        if len(here):
            radii[index] = np.quantile(here, 0.9)
    turns = float(np.abs(np.diff(np.unwrap(np.radians(angles)))).sum() / (2.0 * np.pi))
    return MeasuredReach(radii, _centre(radii), turns)


def _centre(radii: Floats) -> tuple[float, float]:
    """The centre of the circle that fits the edge best (least squares after Kåsa, 1976)."""
    known = np.isfinite(radii)
    if known.sum() < SLICES // 2:
        return 0.0, 0.0
    angles = np.arange(SLICES)[known] * 2.0 * np.pi / SLICES
    x, y = radii[known] * np.sin(angles), -radii[known] * np.cos(angles)
    rows = np.column_stack((2.0 * x, 2.0 * y, np.ones(len(x))))
    (centre_x, centre_y, _), *_ = np.linalg.lstsq(rows, x**2 + y**2, rcond=None)
    return float(centre_x), float(centre_y)


def pulled_to(trace: Trace) -> float:
    """How deep a trigger was pulled at most, sparing single spikes."""
    values = np.hypot(*trace.values.T[:2]) if trace.values.shape[1] > 1 else trace.values[:, 0]
    return float(np.quantile(values, 0.999)) if len(values) else 0.0


def pulls_in(trace: Trace) -> int:
    """How often a trigger was pulled beyond its half and let go of again."""
    out = np.abs(trace.values[:, 0]) > OUT
    back = np.abs(trace.values[:, 0]) < 0.15
    state = np.where(out, 1, np.where(back, 0, -1))
    known = state[state >= 0]
    return int(((known[:-1] == 1) & (known[1:] == 0)).sum())
