"""How much the rates of a gyro spread while it lies still."""

from __future__ import annotations

import numpy as np

from nubshift.analysis.trace import Trace


def rates_within(trace: Trace) -> tuple[float, float]:
    """The rate (°/s) that 99.9 % of the reports stay below once their mean is taken out, and the standard deviation."""
    spare = trace.values - np.median(trace.values, axis=0)
    return float(np.quantile(np.linalg.norm(spare[:, :2], axis=1), 0.999)), float(spare[:, :2].std(axis=0).max())
