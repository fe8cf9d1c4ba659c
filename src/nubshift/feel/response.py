"""A stick's position into a share of full speed: dead zone, curve, least step (contract R9, in that order)."""

from __future__ import annotations

from collections.abc import Callable
from math import hypot
from typing import TypeAlias

from nubshift.feel.curve import LINEAR, curve
from nubshift.feel.zone import axis_zone, zone
from nubshift.model.profile import Feel

Response: TypeAlias = Callable[[float, float], tuple[float, float, bool]]


def response(feel: Feel) -> Response:
    """The function from a calibrated position to (x, y) in the unit circle and whether the stick is at its edge.

    The curve works on the length and keeps the direction. Where the dead zone gives zero the result is zero; elsewhere
    its length is m + (1 - m)·f(length) with m the least step. Every field of `feel` must be set.
    """
    inner, outer, least = number(feel.inner), number(feel.outer), number(feel.least_step)
    shape = curve(feel.curve or LINEAR)
    sign_x = -1.0 if feel.invert_x else 1.0
    sign_y = -1.0 if feel.invert_y else 1.0
    per_axis = feel.zone == "axes"
    even = tuple(feel.curve or LINEAR) == LINEAR  # no step more on the way that every report takes

    def respond(x: float, y: float) -> tuple[float, float, bool]:
        if per_axis:
            x, y = axis_zone(x, inner, outer), axis_zone(y, inner, outer)
            size = hypot(x, y)
            length = size if size < 1.0 else 1.0
        else:
            size = hypot(x, y)
            length = zone(size, inner, outer)
        if length == 0.0:
            return 0.0, 0.0, False
        factor = (least + (1.0 - least) * (length if even else shape(length))) / size
        return sign_x * x * factor, sign_y * y * factor, length == 1.0

    return respond


def number(value: float | None) -> float:
    """A field of a merged feel, which is always set."""
    assert value is not None, "the feel must be merged before it is used"
    return value
