"""Sticks that move the mouse or turn the wheel, at a speed (contract R9, R11)."""

from __future__ import annotations

from nubshift.engine.context import Step
from nubshift.engine.motion import Mover, Speed
from nubshift.engine.owner import Owner
from nubshift.engine.roles.port import Followed
from nubshift.engine.tuning import Tuning
from nubshift.feel.euro import OneEuroPair
from nubshift.units import SECOND, Micros


class SpeedFollower:
    """Dead zone, curve, least step, smoothing, edge acceleration and speed, in that order.

    `upright`: a control of one dimension acts up and down.
    """

    def __init__(self, mover: Mover, upright: bool) -> None:
        self._mover = mover
        self._upright = upright
        self._speed = Speed()
        self._tuned: Tuning
        self._filter: OneEuroPair | None = None
        self._target = (0.0, 0.0)
        self._scale = (0.0, 0.0)
        self._started = False

    def tune(self, tuned: Tuning) -> None:
        """The feel for the layers as they are now."""
        self._tuned = tuned

    def _full(self, state: Followed) -> tuple[float, float]:
        """The speed at full tilt, across and down."""
        precision = state.context.speeds.factor
        return self._tuned.speed_x * precision, self._tuned.speed_y * precision

    def update(self, state: Followed, wanted: dict[Step, Owner]) -> None:
        """A new speed from this moment on."""
        t = state.context.t
        tuned, speed, mover = self._tuned, self._speed, self._mover
        if self._started:
            mover.gather(speed, t)
        else:
            speed.since, self._started = t, True
            speed.owner = state.owner
        if not state.present:
            x, y, at_edge = 0.0, 0.0, False
        elif self._upright and not state.plane:
            x, y, at_edge = tuned.respond(0.0, state.x)
        else:
            x, y, at_edge = tuned.respond(state.x, state.y)
        if not at_edge:
            speed.edge_since = None
        elif speed.edge_since is None:
            speed.edge_since = t
        speed.boost, speed.rise = tuned.boost, tuned.rise
        full_x, full_y = self._full(state)
        if tuned.steady or self._filter is not None:
            self._smooth(x, y, full_x, full_y, t)
        else:
            mover.set(speed, x * full_x, y * full_y, t)

    def _smooth(self, x: float, y: float, full_x: float, full_y: float, t: Micros) -> None:
        """Leave it to the ticks; where the dead zone gives zero it is zero at once (R11)."""
        speed, tuned = self._speed, self._tuned
        if not (x or y) or not tuned.steady:
            self._filter = None
            speed.on_tick = None
            self._mover.set(speed, x * full_x, y * full_y, t)
            return
        if self._filter is None:
            self._filter = OneEuroPair(tuned.steady, tuned.quick)
            speed.on_tick = self._tick
            vx = vy = 0.0
        else:
            self._filter.tune(tuned.steady, tuned.quick)
            vx = speed.vx * full_x / self._scale[0] if self._scale[0] else 0.0
            vy = speed.vy * full_y / self._scale[1] if self._scale[1] else 0.0
        self._target, self._scale = (x, y), (full_x, full_y)
        self._mover.set(speed, vx, vy, t)

    def _tick(self, t: Micros) -> None:
        if self._filter is not None:
            x, y = self._filter.step(*self._target, self._mover.tick / SECOND)
            self._mover.set(self._speed, x * self._scale[0], y * self._scale[1], t)

    def leave(self, state: Followed) -> None:
        """Stand still; what was gathered goes with the next tick."""
        self._filter = None
        self._mover.leave(self._speed, state.context.t)

    def rest(self, state: Followed) -> None:
        """As leaving: the carry is dropped by the stop itself."""
        self.leave(state)


class ScrollFollower(SpeedFollower):
    """The wheel: up is positive there, and precision does not slow it."""

    def _full(self, state: Followed) -> tuple[float, float]:
        return self._tuned.scroll, -self._tuned.scroll
