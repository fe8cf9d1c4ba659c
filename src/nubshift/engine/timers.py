"""What is due later: by due time, then by when it was set (contract R1)."""

from __future__ import annotations

from collections.abc import Callable
from heapq import heapify, heappop, heappush

from nubshift.engine.owner import Owner
from nubshift.units import NEVER, Micros


class Timer:
    """One thing to do. `cancel` it by dropping its call."""

    __slots__ = ("call", "due", "owner", "timers")

    def __init__(self, due: Micros, call: Callable[[], object], owner: Owner, timers: Timers) -> None:
        self.due = due
        self.call: Callable[[], object] | None = call
        self.owner = owner
        self.timers = timers

    def cancel(self) -> None:
        """Never run it."""
        if self.call is not None:
            self.call = None
            self.timers.waiting -= 1


class Timers:
    """All that is due. `due` is the time of the next one, or `NEVER`; a cancelled one may still stand there.

    `waiting` is how many there are that were not cancelled.
    """

    def __init__(self) -> None:
        self._heap: list[tuple[Micros, int, Timer]] = []
        self._count = 0
        self.due: Micros = NEVER
        self.waiting = 0

    def set(self, due: Micros, call: Callable[[], object], owner: Owner) -> Timer:
        """Do `call` at `due`, for the sake of `owner`."""
        timer = Timer(due, call, owner, self)
        self._count += 1
        self.waiting += 1
        heappush(self._heap, (due, self._count, timer))
        self.due = self._heap[0][0]
        return timer

    def take(self, t: Micros) -> Callable[[], object] | None:
        """The next thing due at `t` or before, taken out; None when there is none."""
        if self.due > t:
            return None
        heap = self._heap
        found = None
        while found is None and heap and heap[0][0] <= t:
            _, _, timer = heappop(heap)
            found, timer.call = timer.call, None
            if found is not None:
                self.waiting -= 1
        while heap and heap[0][2].call is None:
            heappop(heap)
        self.due = heap[0][0] if heap else NEVER
        return found

    def drop(self, of: Callable[[Owner], bool]) -> None:
        """Cancel what was set for the sake of these owners."""
        for _, _, timer in self._heap:
            if of(timer.owner):
                timer.cancel()
        self._heap = [entry for entry in self._heap if entry[2].call is not None]
        heapify(self._heap)
        self.due = self._heap[0][0] if self._heap else NEVER

    def clear(self) -> None:
        """Cancel everything."""
        for _, _, timer in self._heap:
            timer.cancel()
        self._heap.clear()
        self.due = NEVER
