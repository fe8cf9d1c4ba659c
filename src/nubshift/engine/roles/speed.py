"""Sticks that move the mouse or turn the wheel, at a speed (contract R9, R11)."""

from __future__ import annotations

from nubshift.engine.context import Step
from nubshift.engine.motion import Mover, Speed
from nubshift.engine.owner import Owner
from nubshift.engine.roles.port import Followed, Follower
from nubshift.engine.tuning import Tuning
from nubshift.feel.stick import StickChain
from nubshift.units import SECOND, Micros


class SpeedFollower(Follower):
    """Dead zone, curve, least step, smoothing, edge acceleration and speed, in that order.

    `upright`: a control of one dimension acts up and down.
    """

    def __init__(self, mover: Mover, upright: bool) -> None:
        self._mover = mover
        self._upright = upright
        self._speed = Speed()
        self._tuned: Tuning
        self._chain = StickChain()
        self._full = (0.0, 0.0)
        self._started = False

    def tune(self, tuned: Tuning) -> None:
        """The feel for the layers as they are now."""
        self._tuned = tuned
        self._chain.tune(tuned.respond, tuned.min_cutoff, tuned.beta)

    def _at_full(self, state: Followed) -> tuple[float, float]:
        """The speed at full tilt, across and down."""
        factor = state.context.speeds.factor
        return self._tuned.speed_x * factor, self._tuned.speed_y * factor

    def update(self, state: Followed, wanted: dict[Step, Owner]) -> None:
        """A new speed from this moment on."""
        t = state.context.t
        tuned, speed, chain = self._tuned, self._speed, self._chain
        if self._started:
            self._mover.gather(speed, t)
        else:
            speed.since, self._started = t, True
            speed.owner = state.owner
        if not state.present:
            at_edge = chain.take(0.0, 0.0)
        elif self._upright and not state.plane:
            at_edge = chain.take(0.0, state.x)
        else:
            at_edge = chain.take(state.x, state.y)
        if not at_edge:
            speed.edge_since = None
        elif speed.edge_since is None:
            speed.edge_since = t
        speed.boost, speed.rise = tuned.boost, tuned.rise
        self._full = self._at_full(state)
        speed.on_tick = self._tick if chain.smooths else None
        self._set(t)

    def _tick(self, t: Micros) -> None:
        """Smoothing goes on."""
        self._chain.tick(self._mover.tick / SECOND)
        self._set(t)

    def _set(self, t: Micros) -> None:
        x, y = self._chain.out
        self._mover.set(self._speed, x * self._full[0], y * self._full[1], t)

    def leave(self, state: Followed) -> None:
        """Stand still; what was gathered goes with the next tick."""
        self._chain.reset()
        self._mover.leave(self._speed, state.context.t)

    def rest(self, state: Followed) -> None:
        """As leaving: the carry is dropped by the stop itself."""
        self.leave(state)


class ScrollFollower(SpeedFollower):
    """The wheel: up is positive there, and precision does not slow it."""

    def _at_full(self, state: Followed) -> tuple[float, float]:
        return self._tuned.scroll, -self._tuned.scroll
