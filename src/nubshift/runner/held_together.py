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
        self.since: dict[str, Micros] = {}
        """The seats in which all of them are down, and since when."""

    @property
    def next_deadline(self) -> Micros | None:
        """When they have been held long enough, if they stay so."""
        return min(self.since.values()) + self._hold if self.since else None

    def saw(self, reports: Iterable[Report]) -> None:
        """Take in what was reported."""
        controls = self.controls
        if not controls:
            return
        for report in reports:
            for name, x, _y in report.changes:
                if name in controls:
                    self._saw(report, name, x >= DOWN)

    def _saw(self, report: Report, name: str, down: bool) -> None:
        held = self._held.setdefault(report.seat, set())
        (held.add if down else held.discard)(name)
        if len(held) < len(self.controls):
            self.since.pop(report.seat, None)
        else:
            self.since.setdefault(report.seat, report.t)

    def forget(self, seat: str) -> None:
        """Whoever held them in this seat is gone."""
        self._held.pop(seat, None)
        self.since.pop(seat, None)

    def fires(self, now: Micros) -> str:
        """The seat in which they have been held long enough, once for each time; empty for none."""
        due = [seat for seat, since in self.since.items() if now >= since + self._hold]
        for seat in due:
            del self.since[seat]
            self._held.pop(seat, None)
        return due[0] if due else ""
