"""The time of a report from the device's own clock (MSC_TIMESTAMP), which does not tremble as its arrival does."""

from __future__ import annotations

from typing import Final

from nubshift.units import MILLISECOND, Micros

WRAP: Final = 1 << 32
LAPSE: Final = 100 * MILLISECOND
"""When the two clocks differ by more than this, the device has begun anew."""


class Stamps:
    """Puts a device's stamps (µs, 32 bits, begun anywhere) on the runner's clock.

    A report can't have happened after it arrived, so the least delay that was seen is the offset of the two clocks.
    """

    def __init__(self) -> None:
        self._last: int | None = None
        self._turns = 0
        self._offset: int | None = None

    def time(self, stamp: int, arrived: Micros) -> Micros:
        """When a report with `stamp` that arrived at `arrived` happened."""
        stamp &= WRAP - 1
        if self._last is not None and stamp < self._last - WRAP // 2:
            self._turns += 1
        self._last = stamp
        own = stamp + self._turns * WRAP
        late = arrived - own
        if self._offset is None or late < self._offset or late - self._offset > LAPSE:
            self._offset = late
        return own + self._offset
