"""Mouse motion (contract R9): speeds integrated exactly, whole counts sent on ticks, one carry per mouse axis."""

from __future__ import annotations

from math import floor

from nubshift.events import Motion, Output
from nubshift.feel.edge import edge_integral
from nubshift.units import Micros


class Speed:
    """What one stick contributes: a speed in counts per µs, and the gain that builds up since it reached its edge."""

    __slots__ = ("boost", "edge_since", "rise", "since", "vx", "vy")

    def __init__(self) -> None:
        self.vx = 0.0
        self.vy = 0.0
        self.since: Micros = 0
        self.edge_since: Micros | None = None
        self.boost = 0.0
        self.rise: Micros = 1

    def way(self, until: Micros) -> tuple[float, float]:
        """The counts from `since` to `until`, which becomes the new `since`."""
        duration: float = until - self.since
        if self.edge_since is not None and self.boost:
            duration = edge_integral(self.since - self.edge_since, until - self.edge_since, self.boost, self.rise)
        self.since = until
        return self.vx * duration, self.vy * duration


class Mover:
    """Gathers the motion of all sticks and sends it in whole counts at multiples of the tick."""

    def __init__(self, tick: Micros) -> None:
        self.tick = tick
        self._moving: dict[Speed, None] = {}
        self._x = 0.0  # the integral since the carry was last dropped, in counts
        self._y = 0.0
        self._sent_x = 0
        self._sent_y = 0
        self.next_tick: Micros | None = None

    def set(self, speed: Speed, vx: float, vy: float, t: Micros) -> None:
        """Give a stick a new speed from `t` on; call `gather` and set its gain before."""
        speed.vx, speed.vy = vx, vy
        if vx or vy:
            self._moving[speed] = None
        else:
            self._moving.pop(speed, None)
        if self.next_tick is None and (self._moving or self._unsent()):
            self.next_tick = (t // self.tick + 1) * self.tick

    def gather(self, speed: Speed, t: Micros) -> None:
        """Take in what a stick moved up to `t`, so that its speed and gain may change from then on."""
        dx, dy = speed.way(t)
        self._x += dx
        self._y += dy

    def retime(self, tick: Micros, t: Micros) -> None:
        """Go on with another tick length."""
        self.tick = tick
        if self.next_tick is not None:
            self.next_tick = (t // tick + 1) * tick

    def run_tick(self, t: Micros, out: list[Output]) -> None:
        """The tick at `t` (which is `next_tick`): send the whole counts gathered until now."""
        for speed in self._moving:
            self.gather(speed, t)
        dx, dy = floor(self._x + 0.5) - self._sent_x, floor(self._y + 0.5) - self._sent_y
        if dx or dy:
            self._sent_x += dx
            self._sent_y += dy
            out.append(Motion(t, dx, dy))
        self.next_tick = t + self.tick if self._moving else None

    def drop(self, t: Micros) -> None:
        """Stop all motion and forget the carry (R12)."""
        for speed in self._moving:
            speed.vx = speed.vy = 0.0
            speed.since = t
            speed.edge_since = None
        self._moving.clear()
        self._x = self._y = 0.0
        self._sent_x = self._sent_y = 0
        self.next_tick = None

    def _unsent(self) -> bool:
        return floor(self._x + 0.5) != self._sent_x or floor(self._y + 0.5) != self._sent_y
