"""Motion by speed (contract R9): integrated exactly, whole counts sent on ticks, one carry per axis.

The mouse has one `Mover`, in counts; the wheel has another, in units of 1/120 notch.
"""

from __future__ import annotations

from collections.abc import Callable
from math import floor

from nubshift.engine.outbox import Outbox
from nubshift.engine.owner import Owner
from nubshift.events import Output
from nubshift.feel.edge import edge_integral
from nubshift.units import NEVER, Micros


class Speed:
    """What one control contributes: a speed in counts per µs, and the gain that builds up since it reached its edge.

    `on_tick`, where it is set, is told after each tick and may set another speed: smoothing works that way. `owner` is
    for whose sake it moves.
    """

    __slots__ = ("boost", "edge_since", "on_tick", "owner", "rise", "since", "vx", "vy")

    def __init__(self, owner: Owner | None = None) -> None:
        self.owner = owner
        self.vx = 0.0
        self.vy = 0.0
        self.since: Micros = 0
        self.edge_since: Micros | None = None
        self.boost = 0.0
        self.rise: Micros = 1
        self.on_tick: Callable[[Micros], None] | None = None


class Mover:
    """Gathers motion and sends it in whole counts; `make` makes the event of (t, dx, dy).

    `next_tick` is when `run_tick` is to be called, `NEVER` while nothing moves.
    """

    def __init__(self, tick: Micros, make: Callable[[Micros, int, int], Output]) -> None:
        self.tick = tick
        self._make = make
        self._moving: dict[Speed, None] = {}
        self._x = 0.0  # all that was gathered since the carry was last dropped, in counts
        self._y = 0.0
        self._later_x = 0.0  # what speeds brought since the last tick, which the next tick takes in
        self._later_y = 0.0
        self._sent_x = 0
        self._sent_y = 0
        self.next_tick: Micros = NEVER
        self._last_owner: Owner | None = None

    # Speeds, sent on ticks

    def set(self, speed: Speed, vx: float, vy: float, t: Micros) -> None:
        """Give a control a new speed from `t` on; call `gather` and set its gain before."""
        speed.vx, speed.vy = vx, vy
        if vx or vy or speed.on_tick is not None:
            self._moving[speed] = None
            self._last_owner = speed.owner
        else:
            self._moving.pop(speed, None)
        if self.next_tick == NEVER and (self._moving or self._unsent()):
            self.next_tick = (t // self.tick + 1) * self.tick

    def gather(self, speed: Speed, t: Micros) -> None:
        """Take in what a control moved up to `t`, so that its speed and gain may change from then on."""
        duration = float(t - speed.since)
        if speed.edge_since is not None and speed.boost:
            begun = speed.edge_since
            duration = edge_integral(speed.since - begun, t - begun, speed.boost, speed.rise)
        speed.since = t
        self._later_x += speed.vx * duration
        self._later_y += speed.vy * duration

    def leave(self, speed: Speed, t: Micros) -> None:
        """A control moves nothing any more; what it gathered goes with the next tick."""
        self.gather(speed, t)
        speed.edge_since = None
        speed.on_tick = None
        self.set(speed, 0.0, 0.0, t)

    def retime(self, tick: Micros, t: Micros) -> None:
        """Go on with another tick length."""
        if tick != self.tick:
            self.tick = tick
            if self.next_tick != NEVER:
                self.next_tick = (t // tick + 1) * tick

    def run_tick(self, t: Micros, outbox: Outbox) -> None:
        """The tick at `t` (which is `next_tick`): send the whole counts gathered until now."""
        by, first, smooths = self._last_owner, True, False
        for speed in self._moving:
            self.gather(speed, t)
            if first:  # of several it is the one that began first; while what is left goes out, the last one
                by, first = speed.owner, False
            if speed.on_tick is not None:
                smooths = True
        self._x += self._later_x
        self._y += self._later_y
        self._later_x = self._later_y = 0.0
        self._send(t, by, outbox)
        if smooths:
            for speed in tuple(self._moving):
                if speed.on_tick is not None:
                    speed.on_tick(t)
        self.next_tick = t + self.tick if self._moving else NEVER

    # Motion that comes at once

    def move(self, dx: float, dy: float, t: Micros, by: Owner, outbox: Outbox) -> None:
        """Move by so many counts now, for the sake of `by`; whole counts of the shared carry go out with it (R10)."""
        self._x += dx
        self._y += dy
        self._send(t, by, outbox)

    def _send(self, t: Micros, by: Owner | None, outbox: Outbox) -> None:
        dx, dy = floor(self._x + 0.5) - self._sent_x, floor(self._y + 0.5) - self._sent_y
        if dx or dy:
            self._sent_x += dx
            self._sent_y += dy
            outbox.sent.append((self._make(t, dx, dy), by))

    def drop(self, t: Micros) -> None:
        """Stop all motion and forget the carry (R12)."""
        for speed in self._moving:
            speed.vx = speed.vy = 0.0
            speed.since = t
            speed.edge_since = None
            speed.on_tick = None
        self._moving.clear()
        self._x = self._y = self._later_x = self._later_y = 0.0
        self._sent_x = self._sent_y = 0
        self.next_tick = NEVER

    def _unsent(self) -> bool:
        x, y = self._x + self._later_x, self._y + self._later_y
        return floor(x + 0.5) != self._sent_x or floor(y + 0.5) != self._sent_y
