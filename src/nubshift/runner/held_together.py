"""Controls held together for a while, at work in every profile: those that pause, those of the menu (need N61)."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Final

from nubshift.events import Report
from nubshift.units import MILLISECOND, Micros

DOWN: Final = 0.5
"""A control counts as held from here on."""


class HeldTogether:
    """Follows what is reported. With no controls it never fires."""

    def __init__(self, controls: Iterable[str] = (), hold: int = 0) -> None:
        """`hold` is in ms."""
        self.controls = frozenset(controls)
        self._hold: Micros = hold * MILLISECOND
        self._held: dict[str, set[str]] = {}
        self._since: dict[str, Micros] = {}

    @property
    def is_held(self) -> bool:
        """Whether all of them are down."""
        return bool(self._since)

    @property
    def next_deadline(self) -> Micros | None:
        """When they have been held long enough, if they stay so."""
        return min(self._since.values()) + self._hold if self._since else None

    def saw(self, reports: Iterable[Report]) -> None:
        """Take in what was reported."""
        if not self.controls:
            return
        for report in reports:
            for name, x, _y in report.changes:
                if name not in self.controls:
                    continue
                held = self._held.setdefault(report.seat, set())
                (held.add if x >= DOWN else held.discard)(name)
                if len(held) < len(self.controls):
                    self._since.pop(report.seat, None)
                else:
                    self._since.setdefault(report.seat, report.t)

    def forget(self, seat: str) -> None:
        """Whoever held them in this seat is gone."""
        self._held.pop(seat, None)
        self._since.pop(seat, None)

    def fires(self, now: Micros) -> str:
        """The seat in which they have been held long enough, once for each time; empty for none."""
        due = [seat for seat, since in self._since.items() if now >= since + self._hold]
        for seat in due:
            del self._since[seat]
            self._held.pop(seat, None)
        return due[0] if due else ""
