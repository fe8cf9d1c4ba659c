"""What a recording may hold, in either text format: far more than anybody records, and no more than can be played."""

from __future__ import annotations

from nubshift.errors import TakeError
from nubshift.texts import _
from nubshift.units import SECOND, Micros

MOST_BYTES = 32_000_000
"""About ten minutes of everything that a pad can say at 1000 reports a second, and hours of most."""
LONGEST: Micros = 4 * 3600 * SECOND
LONGEST_GAP: Micros = 600 * SECOND
"""Between two reports. What is longer is a slip of the pen, and would be played tick by tick."""
MOST_TIME_DIGITS = 18
MOST_VALUE = 1e6
"""No control says more, in whatever unit."""


def check_time(t: Micros, before: Micros, place: str) -> None:
    """Raise TakeError where the time of a report can't be meant. `before` is that of the report before it."""
    if t > LONGEST:
        raise TakeError(
            _("{place}: a take is at most {longest} hours long").format(place=place, longest=LONGEST // SECOND // 3600)
        )
    if t - before > LONGEST_GAP:
        seconds = (t - before) // SECOND
        raise TakeError(
            _("{place}: {seconds:,} s pass before this report; at most {longest_gap} may").format(
                place=place, seconds=seconds, longest_gap=LONGEST_GAP // SECOND
            )
        )
