"""The clocks of the machine."""

from __future__ import annotations

import time
from typing import Final

from nubshift.units import Micros

BOOTTIME: Final = time.CLOCK_BOOTTIME


def monotonic() -> Micros:
    """µs of the clock that input events are stamped with (CLOCK_MONOTONIC)."""
    return time.monotonic_ns() // 1000


def slept(now: Micros) -> Micros:
    """How long the machine has slept since it was started, in µs, at a time of the other clock."""
    return time.clock_gettime_ns(BOOTTIME) // 1000 - now
