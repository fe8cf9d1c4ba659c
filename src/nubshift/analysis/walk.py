"""The figure of eight that is followed in the range. Knows no NumPy, so that it can be drawn at once.

It is the lemniscate of Gerono, in degrees of view, walked at a speed that changes slowly.
"""

from __future__ import annotations

from math import pi, sin

WIDE, HIGH = 26.0, 13.0
"""Half the width and half the height of the figure, in degrees."""
LAP = 8.0
"""Seconds for one time around."""


def mark_at(seconds: float) -> tuple[float, float]:
    """Where the mark is, in degrees right and down of the middle. It begins in the middle and sets out slowly."""
    around = 2.0 * pi * _eased(seconds) / LAP
    return WIDE * sin(around), HIGH * sin(2.0 * around)


def _eased(seconds: float) -> float:
    """The first second is a start from rest."""
    return seconds - 0.5 if seconds > 1.0 else 0.5 * seconds * seconds
