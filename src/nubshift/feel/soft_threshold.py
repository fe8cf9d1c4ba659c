"""The soft threshold of a gyro: slow turning is scaled down and never cut off (contract R10)."""

from __future__ import annotations

from math import hypot


def softened(x: float, y: float, threshold: float) -> tuple[float, float]:
    """The rate (x, y) scaled by |rate| / threshold where it is slower than `threshold` (same unit), else unchanged."""
    rate = hypot(x, y)
    if rate >= threshold:
        return x, y
    share = rate / threshold
    return x * share, y * share
