"""How often a controller reports: the time between reports, its jitter, and reports that are missing."""

from __future__ import annotations

import numpy as np

from nubshift.analysis.trace import Trace
from nubshift.records import Record

ENOUGH = 200
"""Intervals while the control moves, from which a rate is told."""
MOVED = 0.02
"""A gap in which the control moved less than this was silence, since nothing changed; no report is missing."""
LONGEST = 0.5
"""Seconds; a longer gap is a pause of the hand or of the link, and not counted as single lost reports."""


class Rate(Record, frozen=True):
    """`every` is the usual time between reports and `jitter` how far 95 % of them are off it at most, in seconds.

    `lost` of `expected` reports are missing while the control was moving.
    """

    every: float
    jitter: float
    lost: int
    expected: int

    @property
    def lost_share(self) -> float:
        """Share of the reports that are missing."""
        return self.lost / self.expected if self.expected else 0.0

    @property
    def good(self) -> bool:
        """Whether a player has nothing to gain here: at most 8 ms apart, steady, hardly any missing."""
        return self.every <= 0.0085 and self.jitter <= 0.5 * self.every + 0.0005 and self.lost_share < 0.005


def rate_of(trace: Trace) -> Rate | None:
    """The rate of a trace, or None while the control has hardly moved."""
    if len(trace) < 2:
        return None
    gaps = np.diff(trace.t)
    moved = np.abs(np.diff(trace.values, axis=0)).max(axis=1)
    lively = moved > 0.0
    if lively.sum() < ENOUGH:
        return None
    every = float(np.median(gaps[lively]))
    usual = gaps[lively & (gaps < 1.5 * every)]
    jitter = float(np.quantile(np.abs(usual - every), 0.95)) if len(usual) else 0.0
    missing = (moved > MOVED) & (gaps > 1.5 * every) & (gaps < LONGEST)
    lost = int(np.round(gaps[missing] / every - 1.0).sum())
    return Rate(every, jitter, lost, int(lively.sum()) + lost)
