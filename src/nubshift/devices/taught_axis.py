"""An axis while a controller is taught: where it rests, how it trembles, and whether it was moved."""

from __future__ import annotations

from msgspec import Struct

from nubshift.devices.codes import AxisRange
from nubshift.units import MILLISECOND, SECOND, Micros

LASTS: Micros = 30 * MILLISECOND
"""A spike of noise is shorter; a hand is not."""
LEAST = 0.4
DRIFT = 0.04
"""Share of an axis' way a second by which its rest may drift."""
STILL = 0.05


class TaughtAxis(Struct):
    """What is known of an axis: its range, where it rests, how it trembles, where it is and how far it was out."""

    range: AxisRange
    rest: float
    noise: float = 0.0
    value: float = 0.0
    seen: list[int] = []
    out: float = 0.0  # furthest signed share since the request
    out_since: Micros | None = None
    still_since: Micros = 0
    still_at: float = 0.0
    moved: Micros = 0

    def share(self, value: float | None = None) -> float:
        """How far it is from rest: 1 is the end of its range, or the whole range if it rests at one end."""
        value = self.value if value is None else value
        span = (self.range.high - self.rest) if value >= self.rest else (self.rest - self.range.low)
        whole = self.range.high - self.range.low
        if span < whole / 8:  # it rests at this end; what is beyond is noise
            span = whole
        return (value - self.rest) / span if span else 0.0

    @property
    def rests_at_an_end(self) -> bool:
        """Whether it has one direction only, like a trigger."""
        whole = self.range.high - self.range.low
        return min(self.rest - self.range.low, self.range.high - self.rest) < whole / 8

    @property
    def trembles(self) -> float:
        """Its noise as a share."""
        whole = self.range.high - self.range.low
        return 2 * self.noise / whole if whole else 0.0

    @property
    def counts_from(self) -> float:
        """How far out it answers."""
        return max(LEAST, 6 * self.trembles)

    @property
    def side(self) -> int:
        """To which side it is out now: 1 or -1, 0 at rest."""
        share = self.share()
        return 0 if abs(share) < self.counts_from else 1 if share > 0 else -1

    def rests(self, value: int) -> bool:
        """It says a value while everything is to rest; whether it still does."""
        self.value = float(value)
        self.seen.append(value)
        whole = self.range.high - self.range.low
        return not whole or abs(value - self.seen[0]) <= whole / 5

    def begin_rest(self) -> None:
        """The rest is measured anew."""
        self.seen = [int(self.value)]

    def end_rest(self, t: Micros) -> None:
        """What it said at rest is its rest."""
        if self.seen:
            from statistics import median  # it brings much with it, and is only needed for teaching

            self.rest = float(median(self.seen))
            self.noise = (max(self.seen) - min(self.seen)) / 2
        self.still_at, self.still_since, self.moved = self.value, t, t

    def move(self, value: int, t: Micros, hat: bool) -> bool:
        """It says a value; whether it is far enough out, for long enough to be no spike. Its rest may drift."""
        self.value = float(value)
        share, step, self.moved = self.share(), t - self.moved, t
        whole = self.range.high - self.range.low
        if abs(self.value - self.still_at) > STILL * whole:
            self.still_at, self.still_since = self.value, t
        if abs(share) < self.counts_from / 2 and not hat:
            most = DRIFT * whole * min(step, SECOND) / SECOND
            self.rest += max(-most, min(most, self.value - self.rest))
        if abs(share) < self.counts_from:
            self.out_since = None
            return False
        if self.out_since is None:
            self.out_since = t
        return hat or self.has_lasted(t)

    def has_lasted(self, t: Micros) -> bool:
        """Whether it has been out for long enough to be no spike."""
        return self.out_since is not None and t - self.out_since >= LASTS
