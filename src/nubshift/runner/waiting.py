"""Waiting for descriptors and for time."""

from __future__ import annotations

import selectors


class Waiting:
    """What is waited for.

    By select: it waits by the microsecond, where poll and epoll wait by the millisecond; and epoll forgets a descriptor
    that is closed, although the next one opened may have its number.
    """

    def __init__(self) -> None:
        self._selector = selectors.SelectSelector()
        self._readers: tuple[int, ...] = ()
        self._writers: tuple[int, ...] = ()

    def follow(self, readers: tuple[int, ...], writers: tuple[int, ...]) -> None:
        """Wait for these from now on."""
        if readers == self._readers and writers == self._writers:
            return
        self._readers, self._writers = readers, writers
        wanted = dict.fromkeys(readers, selectors.EVENT_READ)
        for descriptor in writers:
            wanted[descriptor] = wanted.get(descriptor, 0) | selectors.EVENT_WRITE
        present = {key.fd: key.events for key in self._selector.get_map().values()}
        for descriptor in present.keys() - wanted.keys():
            self._selector.unregister(descriptor)
        for descriptor, events in wanted.items():
            if descriptor not in present:
                self._selector.register(descriptor, events)
            elif present[descriptor] != events:
                self._selector.modify(descriptor, events)

    def wait(self, seconds: float | None) -> set[int]:
        """Wait until one can be read or written, or the time is over; returns those that can be read."""
        return {key.fd for key, events in self._selector.select(seconds) if events & selectors.EVENT_READ}
