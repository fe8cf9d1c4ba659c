"""What the engine makes of a control's reports, worked out with the engine's own stages, so that it can be drawn.

Pure arithmetic on reports, in order of time; times in µs.
"""

from __future__ import annotations

from math import hypot

from nubshift.feel.bias import Bias
from nubshift.feel.calm import calmed
from nubshift.feel.euro import OneEuroPair
from nubshift.feel.gravity import Gravity, Vector, about_gravity, turned
from nubshift.feel.response import number, response
from nubshift.feel.zone import axis_zone, zone
from nubshift.model.profile import Feel
from nubshift.units import SECOND, Micros

LONGEST_STEP: Micros = 25_000
"""A report of motion counts for at most this long (contract R10)."""
HOME_TIME = 3.0
"""Seconds in which the drawn pad turns back to facing away."""


def travel(feel: Feel, x: float, y: float) -> float:
    """How far along its way a stick is, 0 where the dead zone ends to 1 at the edge: what the curve is asked for."""
    inner, outer = number(feel.inner), number(feel.outer)
    if feel.zone == "axes":
        return min(1.0, hypot(axis_zone(x, inner, outer), axis_zone(y, inner, outer)))
    return zone(hypot(x, y), inner, outer)


class StickCourse:
    """A stick (or an axis, with y 0): the response at once, smoothing on ticks as the engine does it (R9, R11)."""

    def __init__(self, tick: Micros) -> None:
        self._tick = tick
        self._next: Micros = 0
        self._filter: OneEuroPair | None = None
        self._out = (0.0, 0.0)
        self.tune(None)

    def tune(self, feel: Feel | None) -> None:
        """The feel from now on; None leaves values as they are."""
        self._respond = response(feel) if feel is not None else None
        self._steady = number(feel.steady) if feel is not None else 0.0
        self._quick = number(feel.quick) if feel is not None else 0.0
        if self._filter is not None and self._steady:
            self._filter.tune(self._steady, self._quick)

    def step(self, t: Micros, x: float, y: float) -> tuple[float, float]:
        """What the game gets at `t`, as shares of full speed."""
        if self._respond is None:
            return x, y
        out_x, out_y, _ = self._respond(x, y)
        if not self._steady or not (out_x or out_y):
            self._filter = None
            self._out = out_x, out_y
            return self._out
        if self._filter is None:
            self._filter = OneEuroPair(self._steady, self._quick)
            self._next, self._out = t + self._tick, (0.0, 0.0)
        while self._next <= t:
            self._out = self._filter.step(out_x, out_y, self._tick / SECOND)
            self._next += self._tick
            if t - self._next > SECOND:  # nothing was said for long: the filter has settled
                self._next = t
        return self._out


class GyroCourse:
    """Motion: bias, gravity, soft threshold and smoothing as in the engine (R10), and how the pad lies."""

    def __init__(self) -> None:
        self.bias = Bias()
        self.gravity = Gravity()
        self.north: Vector = (0.0, 0.0, 1.0)
        self._filter: OneEuroPair | None = None
        self._last: Micros | None = None
        self.tune(None, "turn")

    def tune(self, feel: Feel | None, axes: str) -> None:
        """The feel and the choice of axes from now on."""
        self._axes = axes
        self._threshold = number(feel.gyro_threshold) if feel is not None else 0.0
        self._steady = number(feel.steady) if feel is not None else 0.0
        self._quick = number(feel.quick) if feel is not None else 0.0
        if not self._steady:
            self._filter = None
        elif self._filter is None:
            self._filter = OneEuroPair(self._steady, self._quick)
        else:
            self._filter.tune(self._steady, self._quick)

    def step(
        self, t: Micros, turn: float, nod: float, lean: float, pull: Vector, bias: Vector | None
    ) -> tuple[float, float]:
        """Sideways and up-and-down rates as they go into the ratio; `bias` is the runner's, if it told one."""
        since = min(t - self._last, LONGEST_STEP) / SECOND if self._last is not None else 0.0
        self._last = t
        self.bias.step(turn, nod, lean, *pull, since)
        off = bias if bias is not None else self.bias.value
        turn, nod, lean = turn - off[0], nod - off[1], lean - off[2]
        down = self.gravity.step(turn, nod, lean, pull, since)
        self._follow(turn, nod, lean, down, since)
        match self._axes:
            case "lean":
                pair = lean, nod
            case "gravity":
                pair = about_gravity(turn, nod, lean, down)
            case _:
                pair = turn, nod
        out = calmed(*pair, self._threshold) if self._threshold else pair
        return self._filter.step(*out, since) if self._filter is not None else out

    def _follow(self, turn: float, nod: float, lean: float, down: Vector, since: float) -> None:
        """Which way is away, in the pad's axes: turned with the pad, level, and slowly drawn back to its front."""
        x, y, z = turned(self.north, (-nod, turn, lean), since)
        share = since / HOME_TIME
        z += share * (1.0 - z)
        x, y = x * (1.0 - share), y * (1.0 - share)
        along = x * down[0] + y * down[1] + z * down[2]
        x, y, z = x - along * down[0], y - along * down[1], z - along * down[2]
        size = (x * x + y * y + z * z) ** 0.5
        if size > 0.05:
            self.north = (x / size, y / size, z / size)
