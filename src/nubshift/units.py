"""Units that cross folders. Time is an integer number of microseconds everywhere (suffix ``_us`` or type `Micros`)."""

from __future__ import annotations

from typing import Final, TypeAlias

Micros: TypeAlias = int

MILLISECOND: Final = 1_000
SECOND: Final = 1_000_000
NEVER: Final = 1 << 61
"""Later than everything. For what is asked with each report, where None would be a case of its own."""

TAP_US: Final = 30 * MILLISECOND
"""How long a tap lasts, so that a game that looks once a frame sees it (contract R6)."""
