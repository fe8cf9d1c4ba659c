"""Waiting for descriptors and for time."""

from __future__ import annotations

import select
from typing import Final

NOTHING: Final[frozenset[int]] = frozenset()


class Waiting:
    """What is waited for.

    By select: it waits by the microsecond, where poll and epoll wait by the millisecond; and epoll forgets a descriptor
    that is closed, although the next one opened may have its number. With few descriptors it takes no longer.
    """

    def __init__(self) -> None:
        self._readers: list[int] = []
        self._writers: list[int] = []
        self.has_more = False
        """Whether the last wait ended for more than what can be read: something can be written, or is not there now."""

    def follow(self, readers: tuple[int, ...], writers: tuple[int, ...]) -> None:
        """Wait for these from now on."""
        self._readers, self._writers = list(readers), list(writers)

    def wait(self, seconds: float | None) -> frozenset[int]:
        """Wait until one can be read or written, or the time is over; returns those that can be read."""
        try:
            ready, writable, _unused = select.select(self._readers, self._writers, (), seconds)
        except (OSError, ValueError):  # one of them was closed meanwhile
            self.has_more = True
            return NOTHING
        self.has_more = bool(writable)
        return frozenset(ready) if ready else NOTHING
