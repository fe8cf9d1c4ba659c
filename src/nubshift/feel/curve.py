"""The response curve: monotone piecewise cubic Hermite through given points.

F. N. Fritsch and R. E. Carlson, "Monotone piecewise cubic interpolation", SIAM J. Numer. Anal. 17 (1980) 238-246;
slopes by the weighted harmonic mean of F. N. Fritsch and J. Butland, SIAM J. Sci. Stat. Comput. 5 (1984) 300-304,
with the one-sided three-point formula at the ends. The curve never leaves the range of its points.
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Callable, Sequence
from typing import TypeAlias

Point: TypeAlias = tuple[float, float]

LINEAR: tuple[Point, ...] = ((0.0, 0.0), (1.0, 1.0))

SHAPES: dict[str, tuple[Point, ...]] = {
    "even": LINEAR,
    "calm near rest": ((0.0, 0.0), (0.5, 0.28), (1.0, 1.0)),
    "quick near rest": ((0.0, 0.0), (0.5, 0.68), (1.0, 1.0)),
    "calm, then sudden": ((0.0, 0.0), (0.7, 0.32), (1.0, 1.0)),
    "calm at both ends": ((0.0, 0.0), (0.25, 0.1), (0.75, 0.9), (1.0, 1.0)),
}
"""Named curves to start from, in the order in which they are offered."""


def slopes(points: Sequence[Point]) -> list[float]:
    """The slope of the curve at each point. Needs at least two points with rising x."""
    count = len(points)
    steps = [points[i + 1][0] - points[i][0] for i in range(count - 1)]
    rises = [(points[i + 1][1] - points[i][1]) / steps[i] for i in range(count - 1)]
    if count == 2:
        return [rises[0], rises[0]]
    inner = [_mean(steps[i - 1], steps[i], rises[i - 1], rises[i]) for i in range(1, count - 1)]
    first = _end(steps[0], steps[1], rises[0], rises[1])
    last = _end(steps[-1], steps[-2], rises[-1], rises[-2])
    return [first, *inner, last]


def _mean(h0: float, h1: float, d0: float, d1: float) -> float:
    """Weighted harmonic mean of two neighbouring rises; 0 where they differ in sign or one is flat."""
    if d0 * d1 <= 0.0:
        return 0.0
    w0, w1 = 2.0 * h1 + h0, h1 + 2.0 * h0
    return (w0 + w1) / (w0 / d0 + w1 / d1)


def _end(h0: float, h1: float, d0: float, d1: float) -> float:
    """One-sided three-point slope at an end, bent back where it would leave the range."""
    slope = ((2.0 * h0 + h1) * d0 - h0 * d1) / (h0 + h1)
    if slope * d0 <= 0.0:
        return 0.0
    if d0 * d1 <= 0.0 and abs(slope) > 3.0 * abs(d0):
        return 3.0 * d0
    return slope


def curve(points: Sequence[Point]) -> Callable[[float], float]:
    """The curve through `points` as a function of [0, 1]; outside, the value at the nearer end.

    `points` has at least two entries, x rising from 0 to 1 and y never falling (the reader checks that).
    """
    if tuple(points) == LINEAR:
        return _identity
    xs = [x for x, _ in points]
    pieces = _pieces(points)
    first, last = points[0][1], points[-1][1]

    def value(x: float) -> float:
        if x <= 0.0:
            return first
        if x >= 1.0:
            return last
        left, a, b, c, d = pieces[bisect_right(xs, x) - 1]
        u = x - left
        return a + u * (b + u * (c + u * d))

    return value


def _identity(x: float) -> float:
    return 0.0 if x <= 0.0 else 1.0 if x >= 1.0 else x


def _pieces(points: Sequence[Point]) -> list[tuple[float, float, float, float, float]]:
    """For each interval its left x and the coefficients of the cubic in (x - left)."""
    m = slopes(points)
    pieces = []
    for i in range(len(points) - 1):
        (x0, y0), (x1, y1) = points[i], points[i + 1]
        h = x1 - x0
        rise = (y1 - y0) / h
        pieces.append(
            (x0, y0, m[i], (3.0 * rise - 2.0 * m[i] - m[i + 1]) / h, (m[i] + m[i + 1] - 2.0 * rise) / (h * h))
        )
    return pieces
