"""Acceleration that builds up while a stick stays fully out: a gain rising in a straight line from 1 (R9)."""

from __future__ import annotations

from nubshift.units import Micros


def edge_gain(since: Micros, boost: float, rise: Micros) -> float:
    """The factor on speed `since` µs after the edge was reached: 1 at once, 1 + `boost` from `rise` µs on."""
    return 1.0 + boost * (since / rise if since < rise else 1.0)


def edge_integral(start: Micros, end: Micros, boost: float, rise: Micros) -> float:
    """The integral of `edge_gain` from `start` to `end` µs after the edge was reached, exact, in µs."""
    return (end - start) + boost * (_ramp(end, rise) - _ramp(start, rise))


def _ramp(t: Micros, rise: Micros) -> float:
    """∫ min(u / rise, 1) du from 0 to t."""
    return t * t / (2.0 * rise) if t < rise else t - rise / 2.0
