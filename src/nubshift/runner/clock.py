"""The clocks of the machine."""

from __future__ import annotations

import time

from nubshift.units import Micros


def monotonic() -> Micros:
    """µs of the clock that input events are stamped with (CLOCK_MONOTONIC)."""
    return time.monotonic_ns() // 1000


def slept() -> Micros:
    """How long the machine has slept since it was started, in µs."""
    return (time.clock_gettime_ns(time.CLOCK_BOOTTIME) - time.monotonic_ns()) // 1000
