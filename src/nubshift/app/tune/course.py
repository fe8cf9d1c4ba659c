"""What the engine makes of a control's reports, worked out with the engine's own stages, so that it can be drawn.

Pure arithmetic on reports, in order of time; times in µs.
"""

from __future__ import annotations

from math import hypot

from nubshift.feel.gravity import Vector, turned
from nubshift.feel.gyro import LONGEST_STEP, Axes, GyroChain, MotionChain
from nubshift.feel.response import number, response
from nubshift.feel.stick import StickChain
from nubshift.feel.zone import axis_zone, zone
from nubshift.model.profile import Feel
from nubshift.units import SECOND, Micros

HOME_TIME = 3.0
"""Seconds in which the drawn pad turns back to facing away."""


def travel(feel: Feel, x: float, y: float) -> float:
    """How far along its way a stick is, 0 where the dead zone ends to 1 at the edge: what the curve is asked for."""
    inner, outer = number(feel.inner), number(feel.outer)
    if feel.zone == "axes":
        return min(1.0, hypot(axis_zone(x, inner, outer), axis_zone(y, inner, outer)))
    return zone(hypot(x, y), inner, outer)


class StickCourse:
    """A stick (or an axis, with y 0), with ticks of its own between its reports, as the engine has them."""

    def __init__(self, tick: Micros) -> None:
        self._tick = tick
        self._next: Micros = 0
        self._chain = StickChain()

    def tune(self, feel: Feel | None) -> None:
        """The feel from now on; None leaves values as they are."""
        if feel is None:
            self._chain.tune(None, 0.0, 0.0)
        else:
            self._chain.tune(response(feel), number(feel.min_cutoff), number(feel.beta))

    def step(self, t: Micros, x: float, y: float) -> tuple[float, float]:
        """What the game gets at `t`, as shares of full speed."""
        chain, smoothed = self._chain, self._chain.smooths
        chain.take(x, y)
        if not chain.smooths:
            return chain.out
        if not smoothed:
            self._next = t + self._tick
        while self._next <= t:
            chain.tick(self._tick / SECOND)
            self._next += self._tick
            if t - self._next > SECOND:  # nothing was said for long: the filter has settled
                self._next = t
        return chain.out


class GyroCourse:
    """Motion, and how the pad lies."""

    def __init__(self) -> None:
        self.sense = MotionChain()
        self.north: Vector = (0.0, 0.0, 1.0)
        self._chain = GyroChain()
        self._axes: Axes = "turn"
        self._last: Micros | None = None

    def tune(self, feel: Feel | None, axes: Axes) -> None:
        """The feel and the choice of axes from now on."""
        self._axes = axes
        if feel is None:
            self._chain.tune(0.0, 0.0, 0.0)
        else:
            self._chain.tune(number(feel.gyro_threshold), number(feel.min_cutoff), number(feel.beta))

    def step(
        self, t: Micros, turn: float, nod: float, lean: float, pull: Vector, bias: Vector | None
    ) -> tuple[float, float]:
        """Sideways and up-and-down rates as they go into the ratio; `bias` is the runner's, if it told one."""
        since = min(t - self._last, LONGEST_STEP) if self._last is not None else 0
        self._last = t
        self.sense.take(t, (turn, nod, lean), pull, bias=bias)
        sense = self.sense
        self._follow(sense.turn, sense.nod, sense.lean, sense.gravity.down, since / SECOND)
        return self._chain.step(*sense.about(self._axes), since)

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
