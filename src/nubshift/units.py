"""Units that cross folders. Time is an integer number of microseconds everywhere (suffix ``_us`` or type `Micros`)."""

from __future__ import annotations

from typing import TypeAlias

Micros: TypeAlias = int

MILLISECOND: Micros = 1_000
SECOND: Micros = 1_000_000

TAP_US: Micros = 30 * MILLISECOND
"""How long a tap lasts, so that a game that looks once a frame sees it (contract R6)."""
