"""How play goes, as figures: how late the loop turns to what is due, and how much the controllers report."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict

from nubshift.engine.intake import Counts
from nubshift.protocol.messages import Health
from nubshift.units import SECOND, Micros

TELL_EVERY: Micros = SECOND
MOST = 5_000
"""Times of lateness that are kept for one message."""


class Wellbeing:
    """Gathers for the next message. `lateness` is told for each turn of the loop that had something due."""

    def __init__(self, now: Micros) -> None:
        self._since = now
        self._late: list[Micros] = []
        self._reports: dict[str, int] = {}

    def was_late(self, by: Micros) -> None:
        """The loop turned to something this long after it was due, or reported."""
        if len(self._late) < MOST:
            self._late.append(max(0, by))

    @property
    def next_deadline(self) -> Micros:
        """When the next message may go."""
        return self._since + TELL_EVERY

    def message(
        self, now: Micros, reports: Mapping[str, int], dropped: Mapping[str, int], counts: Counts, lost: int
    ) -> Health:
        """What to tell now, and begin anew. `reports` and `dropped` count since each controller is open."""
        late = sorted(self._late)
        told = Health(
            seconds=round((now - self._since) / SECOND, 3),
            late=late[len(late) // 2] if late else 0,
            latest=late[-1] if late else 0,
            reports={
                name: count - self._reports.get(name, 0)
                for name, count in reports.items()
                if count >= self._reports.get(name, 0)
            },
            dropped={name: count for name, count in dropped.items() if count},
            counts={name: count for name, count in asdict(counts).items() if count},
            lost=lost,
        )
        self._since, self._late, self._reports = now, [], dict(reports)
        return told
