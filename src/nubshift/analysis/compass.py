"""Words for directions and lengths of a stick. Knows no NumPy, so that it can be had before it is needed."""

from __future__ import annotations

from nubshift.texts import _

SLICES = 36
"""Directions, ten degrees each, clockwise from up."""
COMPASS = ("up", _("up and right"), "right", _("down and right"), "down", _("down and left"), "left", _("up and left"))


def compass(angle: float) -> str:
    """The word for a direction in degrees clockwise from up."""
    return COMPASS[round(angle / 45.0) % 8]


def share(value: float, digits: int = 1) -> str:
    """A share of the reach in words: ``4.3 %``."""
    return f"{value * 100:.{digits}f}\u202f%"
