"""What follows the events of one node. A plain class, not a protocol: it is called for every report, and compiled."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import TypeAlias

from nubshift.events import Change

Event: TypeAlias = tuple[int, int, int, int, int]
"""Second, µs, kind, code and value: struct input_event (linux/input.h)."""
Told: TypeAlias = tuple[int, int, int | None, tuple[Change, ...]]
"""A report: second and µs of its end, the device's own stamp (MSC_TIMESTAMP) if it has told one, and its changes."""


class NodeReader:
    """Takes the events of a node in their order; `controls` are those it tells of.

    After SYN_DROPPED events are lost: everything is passed over from there on, and `lost` is True until `resync`.
    `stamp` is the one that the device told last.
    """

    def __init__(self, controls: tuple[str, ...]) -> None:
        self.controls = controls
        self.lost = False
        self.stamp: int | None = None

    def state(self) -> tuple[Change, ...]:
        """How every control stands."""
        raise NotImplementedError

    def take(self, events: Iterable[Event]) -> list[Told]:
        """Take events. For each report that ends, at its SYN_REPORT, what it changed, maybe nothing."""
        raise NotImplementedError

    def event(self, kind: int, code: int, value: int) -> tuple[Change, ...] | None:
        """Take one event by itself; the changes of a report at its end, else None."""
        told = self.take(((0, 0, kind, code, value),))
        return told[0][3] if told else None

    def resync(self, pressed: Iterable[int], axes: Mapping[int, int]) -> tuple[Change, ...]:
        """Take the whole state as read anew."""
        raise NotImplementedError
