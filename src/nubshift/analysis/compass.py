"""The directions in which a stick's reach is told apart. Knows no NumPy, so that it can be had before it is needed."""

from __future__ import annotations

SLICES = 36
"""Directions, ten degrees each, clockwise from up."""
COMPASS = ("up", "up and right", "right", "down and right", "down", "down and left", "left", "up and left")


def compass(angle: float) -> str:
    """The word for a direction in degrees clockwise from up."""
    return COMPASS[round(angle / 45.0) % 8]
