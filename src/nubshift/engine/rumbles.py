"""Rumble of the controllers: the newest word counts, and ends by itself."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from nubshift.engine.outbox import Outbox
from nubshift.engine.owner import Owner
from nubshift.engine.timers import Timer, Timers
from nubshift.events import Rumble
from nubshift.units import Micros


class Rumbles:
    """The controllers that rumble, by seat, each with the timer that ends it."""

    def __init__(self, timers: Timers, outbox: Outbox) -> None:
        self._timers = timers
        self._outbox = outbox
        self._ends: dict[str, Timer] = {}

    def begin(self, seat: str, strength: float, t: Micros, length: Micros) -> None:
        """Let a controller rumble from `t` on for `length` µs."""
        before = self._ends.pop(seat, None)
        if before is not None:
            before.cancel()
        owner = Owner(seat, "", "")
        self._outbox.add(Rumble(t, seat, strength), None)
        self._ends[seat] = self._timers.set(t + length, partial(self._end, seat, t + length), owner)

    def _end(self, seat: str, t: Micros) -> None:
        del self._ends[seat]
        self._outbox.add(Rumble(t, seat, 0.0), None)

    def drop(self, of: Callable[[Owner], bool], t: Micros) -> None:
        """End the rumble of these seats (R12)."""
        for seat in [seat for seat in self._ends if of(Owner(seat, "", ""))]:
            self._end(seat, t)
