"""Reports of one control as arrays, and the same at even times."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

from nubshift.records import Record

Floats: TypeAlias = NDArray[np.float64]

EVEN = 0.004
"""Seconds between the values of an even trace."""


class Trace(Record, frozen=True):
    """Reports as they came: `t` in seconds, shape (n,); `values`, shape (n, axes), in normal form or in °/s."""

    t: Floats
    values: Floats

    def __len__(self) -> int:
        return len(self.t)

    @property
    def seconds(self) -> float:
        """From the first report to the last."""
        return float(self.t[-1] - self.t[0]) if len(self.t) > 1 else 0.0


def trace_of(reports: Sequence[Sequence[float]], axes: int = 2) -> Trace:
    """The trace of reports as the runner tells them: (µs, value, value, …). Those that go back in time are left out."""
    if not reports:
        return Trace(np.empty(0), np.empty((0, axes)))
    table = np.asarray([row[: axes + 1] for row in reports], dtype=np.float64)
    forward = np.concatenate(([True], np.diff(np.maximum.accumulate(table[:, 0])) > 0))
    table = table[forward]
    return Trace(table[:, 0] / 1e6, table[:, 1:])


def evenly(trace: Trace, until: float | None = None) -> Trace:
    """The values at even times, each held until the next report, since controllers are silent while nothing changes."""
    end = max(until if until is not None else trace.t[-1], trace.t[-1])
    t = np.arange(trace.t[0], end + EVEN / 2, EVEN)
    return Trace(t, trace.values[np.searchsorted(trace.t, t, side="right") - 1])
