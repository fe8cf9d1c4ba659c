"""What follows the events of one node. A plain class, not a protocol: it is called for every event, and compiled."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from nubshift.events import Change


class NodeReader:
    """Takes the events of a node one by one; `controls` are those it tells of."""

    def __init__(self, controls: tuple[str, ...]) -> None:
        self.controls = controls

    @property
    def lost(self) -> bool:
        """Whether events were lost, so that the state must be read anew."""
        raise NotImplementedError

    def state(self) -> tuple[Change, ...]:
        """How every control stands."""
        raise NotImplementedError

    def event(self, kind: int, code: int, value: int) -> tuple[Change, ...] | None:
        """Take one event; the changes of a report at its end, else None."""
        raise NotImplementedError

    def resync(self, pressed: Iterable[int], axes: Mapping[int, int]) -> tuple[Change, ...]:
        """Take the whole state as read anew."""
        raise NotImplementedError
