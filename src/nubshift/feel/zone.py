"""The dead zone of a stick and its outer edge (contract R9). Lengths are shares of the calibrated reach."""

from __future__ import annotations


def zone(size: float, inner: float, outer: float) -> float:
    """The length `size` scaled to 0 up to `inner` and 1 from `outer` on: (r - inner) / (outer - inner), clipped.

    Needs size ≥ 0 and 0 ≤ inner < outer.
    """
    if size <= inner:
        return 0.0
    scaled = (size - inner) / (outer - inner)
    return scaled if scaled < 1.0 else 1.0


def axis_zone(value: float, inner: float, outer: float) -> float:
    """One axis by itself: its size goes through `zone`, its sign stays."""
    return zone(value, inner, outer) if value >= 0.0 else -zone(-value, inner, outer)
