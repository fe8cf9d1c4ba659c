"""Following the figure of eight: how far the aim was from the mark, how late, and how smoothly it went."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from nubshift.analysis.trace import Floats
from nubshift.analysis.walk import mark_at
from nubshift.records import Record

EVEN = 0.01
"""Seconds between the moments that are compared."""


class Pursuit(Record, frozen=True):
    """`mean` and `worst` distance from the mark in degrees; `late` how far behind it the aim was on average, in s.

    `rough` is how much the aim's speed shook about its own course: the root mean square of what is left of it after a
    low-pass of a quarter of a second, as a share of the mean speed of the mark.
    """

    mean: float
    worst: float
    late: float
    rough: float


def pursuit_of(aims: Sequence[Sequence[float]]) -> Pursuit | None:
    """The score of one round from aims as (seconds since the start, x, y) in degrees; None if it was too short."""
    if len(aims) < 20 or aims[-1][0] - aims[0][0] < 2.0:
        return None
    table = np.asarray(aims, dtype=np.float64)
    t = np.arange(table[0, 0], table[-1, 0], EVEN)
    aim = np.column_stack([np.interp(t, table[:, 0], table[:, axis]) for axis in (1, 2)])
    mark = np.asarray([mark_at(float(at)) for at in t])
    off = np.hypot(*(aim - mark).T)
    return Pursuit(float(off.mean()), float(off.max()), _late(aim, mark), _rough(aim, mark))


def _late(aim: Floats, mark: Floats) -> float:
    """The shift in time at which the aim fits the mark best, 0 to 0.6 s."""
    lags = range(0, round(0.6 / EVEN))
    fits = [float(((aim[lag:] - mark[: len(mark) - lag]) ** 2).mean()) for lag in lags]
    return float(np.argmin(fits)) * EVEN


def _rough(aim: Floats, mark: Floats) -> float:
    speed = np.diff(aim, axis=0) / EVEN
    window = np.hanning(round(0.25 / EVEN) | 1)
    window /= window.sum()
    calm = np.column_stack([np.convolve(speed[:, axis], window, mode="same") for axis in (0, 1)])
    usual = float(np.hypot(*(np.diff(mark, axis=0) / EVEN).T).mean())
    return float(np.sqrt(((speed - calm) ** 2).sum(axis=1).mean()) / usual)
