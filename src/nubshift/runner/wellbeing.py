"""How play goes, as figures: how late the loop turns to what is due, and how much the controllers report."""

from __future__ import annotations

from collections import Counter, deque
from collections.abc import Mapping, Sequence
from itertools import pairwise
from typing import Final

from msgspec.structs import asdict

from nubshift.engine.intake import Counts
from nubshift.protocol.messages import Health
from nubshift.protocol.play_figures import Lateness, Pace, Urgency
from nubshift.runner.urgency import Urging
from nubshift.units import SECOND, Micros

TELL_EVERY: Micros = SECOND
MOST: Final = 5_000
"""Times of lateness that are kept for one message."""
MINUTE: Micros = 60 * SECOND
FINENESS = 5
"""Binary digits of a time that is kept for a minute: it is true to 3 %."""
LIVELY = 50
"""Times between reports within a second from which a controller is known to move all the time."""
TOGETHER: Micros = 100
"""Reports of several nodes of one controller that came as one are not further apart."""


class LastMinute:
    """Times of the last minute, told in portions of a second or so."""

    def __init__(self) -> None:
        self._portions: deque[tuple[Micros, Counter[int], Micros]] = deque()
        self._counted: Counter[int] = Counter()

    def add(self, now: Micros, times: Sequence[Micros]) -> None:
        """These were measured until now."""
        portion = Counter(map(_rounded, times))
        self._portions.append((now, portion, max(times, default=0)))
        self._counted.update(portion)
        while self._portions[0][0] <= now - MINUTE:
            self._counted -= self._portions.popleft()[1]

    def lateness(self) -> Lateness:
        """What they come to."""
        count = self._counted.total()
        longest = max((portion[2] for portion in self._portions), default=0)
        median, most = self._at(count // 2), self._at(count - 1 - count // 100)
        return Lateness(min(median, longest), min(most, longest), longest)

    def _at(self, place: int) -> Micros:
        """The time at a place in their order."""
        for time, often in sorted(self._counted.items()):
            place -= often
            if place < 0:
                return time
        return 0


def _rounded(time: Micros) -> Micros:
    """The middle of the step in which a time lies."""
    shift = max(0, time.bit_length() - FINENESS)
    return (time >> shift << shift) + (1 << shift >> 1)


def lateness_of(times: Sequence[Micros]) -> Lateness:
    """What some times come to."""
    late = sorted(times)
    return Lateness(late[len(late) // 2], late[-1 - len(late) // 100], late[-1]) if late else Lateness()


def pace_of(times: Sequence[Micros]) -> Pace | None:
    """How a controller that reported at these times reports; None if it hardly did."""
    gaps = sorted(gap for before, after in pairwise(times) if (gap := after - before) > TOGETHER)
    if len(gaps) < LIVELY:
        return None
    every = gaps[len(gaps) // 2]
    off = sorted(abs(gap - every) for gap in gaps if gap < 1.5 * every)
    return Pace(every, off[len(off) * 95 // 100])


class Wellbeing:
    """Gathers for the next message. `lateness` is told for each turn of the loop that had something due. `urging` asked
    for priority, if anybody did.
    """

    def __init__(self, now: Micros, urging: Urging | None = None) -> None:
        self._urging = urging
        self._since = now
        self._late: list[Micros] = []
        self._minute = LastMinute()
        self._reports: dict[str, int] = {}
        self._paces: dict[str, Pace] = {}
        self._told: Health | None = None

    def latest(self, now: Micros) -> Health:
        """What was told last; of 0 seconds where nobody is there to be told."""
        if self._told is None or now > self._since + 3 * TELL_EVERY:
            return Health(0.0, urgency=self._granted)
        return self._told

    @property
    def _granted(self) -> Urgency:
        return self._urging.granted if self._urging is not None else Urgency()

    def begin_anew(self, now: Micros, reports: Mapping[str, int]) -> None:
        """What was gathered while nobody was there to be told is of no use."""
        self._since, self._late, self._reports = now, [], dict(reports)
        self._minute, self._told = LastMinute(), None

    def was_late(self, by: Micros) -> None:
        """The loop turned to something this long after it was due, or reported."""
        if len(self._late) < MOST:
            self._late.append(max(0, by))

    @property
    def next_deadline(self) -> Micros:
        """When the next message may go."""
        return self._since + TELL_EVERY

    def message(
        self,
        now: Micros,
        reports: Mapping[str, int],
        times: Mapping[str, Sequence[Micros]],
        dropped: Mapping[str, int],
        counts: Counts,
        lost: int,
        left_out: int,
    ) -> Health:
        """What to tell now, and begin anew. `reports` and `dropped` count since each controller is open; `times` has
        when each of its last reports was, as many as are kept. A pace is told until there is another one."""
        recent = {name: pace_of([t for t in seen if t > self._since]) for name, seen in times.items()}
        self._paces = {name: pace for name, new in recent.items() if (pace := new or self._paces.get(name)) is not None}
        self._minute.add(now, self._late)
        self._told = Health(
            seconds=round((now - self._since) / SECOND, 3),
            late=lateness_of(self._late),
            minute=self._minute.lateness(),
            reports={
                name: count - self._reports.get(name, 0)
                for name, count in reports.items()
                if count >= self._reports.get(name, 0)
            },
            paces=self._paces,
            dropped={name: count for name, count in dropped.items() if count},
            counts={name: count for name, count in asdict(counts).items() if count},
            lost=lost,
            left_out=left_out,
            urgency=self._granted,
        )
        self._since, self._late, self._reports = now, [], dict(reports)
        return self._told
