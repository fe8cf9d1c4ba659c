"""Figures of how play goes, as the runner tells them: how late it is, and how a controller reports."""

from __future__ import annotations

from typing import Literal

import msgspec


class Lateness(msgspec.Struct, frozen=True, array_like=True):
    """From a report, by the kernel's stamp, to when what it causes was written; of what is due by itself, to when the
    runner turned to it. In µs: the median, what 99 of 100 stay within, the longest. All 0 where there was nothing.
    """

    median: int = 0
    most: int = 0
    longest: int = 0


class Pace(msgspec.Struct, frozen=True, array_like=True):
    """How a controller reports while it moves, in µs: the usual time between two reports, and how far 95 of 100 of
    these times are off it at most.
    """

    every: int
    jitter: int


class Urgency(msgspec.Struct, frozen=True, array_like=True):
    """How the system lets play go first: in real time, at a high priority, not at all; or it did, and play gave that
    back since it worked too long without a pause. `by` says who grants it.
    """

    kind: Literal["real-time", "high", "usual", "given back"] = "usual"
    by: Literal["", "limits", "rtkit"] = ""
