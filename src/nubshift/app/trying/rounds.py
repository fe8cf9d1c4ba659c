"""The exercises as they go: rounds in the runner's time, without a picture.

Times are µs. A round begins a moment after it was asked for, so that the hand can find the controller.
"""

from __future__ import annotations

from math import hypot, log2
from random import Random

from msgspec import Struct, field

READY = 1_500_000
"""From asking to the beginning."""
LAPS = 2
TARGETS = 10
DWELL = 250_000
"""The aim must stay in a target this long."""
SIZE = 1.6
"""Radius of a target, in degrees."""
ACROSS, DOWN = 28.0, 14.0
"""Targets lie within so many degrees of the middle."""
NEAREST = 8.0
"""At least so far from the one before."""


class Round(Struct):
    """What both exercises share: not begun, getting ready, under way or over."""

    asked: int | None = None
    over: bool = False
    now: int = 0

    @property
    def begins(self) -> int:
        """When it begins."""
        return (self.asked or 0) + READY

    @property
    def waiting(self) -> bool:
        """Whether it was asked for but has not begun."""
        return self.asked is not None and not self.over and self.now < self.begins

    @property
    def running(self) -> bool:
        """Whether it is under way."""
        return self.asked is not None and not self.over and self.now >= self.begins

    @property
    def seconds(self) -> float:
        """Since it began."""
        return max(0.0, (self.now - self.begins) / 1e6)

    def ask(self, now: int) -> None:
        """Get ready."""
        self.asked, self.over, self.now = now, False, now

    def advance(self, now: int) -> bool:
        """Time passes; true at the moment at which it is over."""
        self.now = max(self.now, now)
        if self.running and self._done():
            self.over = True
            return True
        return False

    def _done(self) -> bool:
        return False


class EightRound(Round):
    """Following the figure of eight, `LAPS` times around."""

    lap: float = 8.0

    def _done(self) -> bool:
        return self.seconds >= LAPS * self.lap


class TargetRound(Round):
    """Reaching targets at random places, one after the other.

    `times` are the seconds each took, `difficulty` its index in bits: log2(distance / size + 1), after P. M. Fitts
    (1954) in the form of I. S. MacKenzie (1992).
    """

    random: Random = field(default_factory=Random)
    target: tuple[float, float] = (0.0, 0.0)
    times: list[float] = []
    difficulty: list[float] = []
    _shown: int = 0
    _inside: int | None = None

    def ask(self, now: int) -> None:
        """Get ready; the first target is chosen."""
        super().ask(now)
        self.times.clear()
        self.difficulty.clear()
        self._inside = None
        self._shown = self.begins
        self._next((0.0, 0.0))

    def _next(self, aim: tuple[float, float]) -> None:
        while True:
            place = self.random.uniform(-ACROSS, ACROSS), self.random.uniform(-DOWN, DOWN)
            if hypot(place[0] - aim[0], place[1] - aim[1]) >= NEAREST:
                break
        self.target = place
        self.difficulty.append(log2(hypot(place[0] - aim[0], place[1] - aim[1]) / SIZE + 1))

    def aim(self, t: int, x: float, y: float) -> None:
        """The aim is there at `t`."""
        self.now = max(self.now, t)
        if not self.running:
            return
        if hypot(x - self.target[0], y - self.target[1]) > SIZE:
            self._inside = None
        elif self._inside is None:
            self._inside = t
        elif t - self._inside >= DWELL:
            self.times.append((self._inside - self._shown) / 1e6)
            self._inside, self._shown = None, t
            if len(self.times) < TARGETS:
                self._next((x, y))

    @property
    def dwelling(self) -> float:
        """How much of the time needed within the target has passed, 0 to 1."""
        return min(1.0, (self.now - self._inside) / DWELL) if self._inside is not None else 0.0

    def _done(self) -> bool:
        return len(self.times) >= TARGETS

    @property
    def scores(self) -> dict[str, float]:
        """Seconds a target, and seconds for each bit of difficulty."""
        bits = sum(self.difficulty[: len(self.times)])
        return {"time": sum(self.times) / len(self.times), "per_bit": sum(self.times) / bits}
