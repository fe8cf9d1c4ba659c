"""The port behind which every source of input stands, and what is known of a controller."""

from __future__ import annotations

from collections.abc import Set
from typing import Protocol

from nubshift.events import Change
from nubshift.model.controller_info import ControllerInfo
from nubshift.units import Micros

Timed = tuple[Micros, tuple[Change, ...]]
"""When a report happened (µs on the monotonic clock) and what it said."""

Raw = tuple[Micros, str, int, int, int]
"""An event of a node as the kernel has it: when, the use of the node, and its type, code and value."""


class Source(Protocol):
    """One open controller. All methods raise SourceGone when it was unplugged."""

    @property
    def info(self) -> ControllerInfo:
        """What it is."""
        ...

    @property
    def next_deadline(self) -> Micros | None:
        """When `read` has something without the file descriptor saying so, or None."""
        ...

    @property
    def dropped(self) -> int:
        """How often events were lost on the way, so that the state had to be read anew."""
        ...

    def filenos(self) -> tuple[int, ...]:
        """Descriptors that become readable when there is input."""
        ...

    def state(self) -> tuple[Change, ...]:
        """How every control stands now."""
        ...

    def read(self, now: Micros, ready: Set[int] | None = None) -> list[Timed]:
        """The reports that came up to `now`, oldest first; of these descriptors only, where they are given."""
        ...

    def need(self, controls: Set[str] | None) -> bool:
        """Read only what these controls need, from now on; None for everything. Whether the descriptors changed."""
        ...

    def listen(self, on: bool) -> None:
        """Keep the events themselves too, for teaching; nothing where there are none."""
        ...

    def heard(self) -> list[Raw]:
        """The events since this was asked last."""
        ...

    def grab(self, exclusive: bool) -> None:
        """Keep the controller to ourselves, so that the game does not see it too, or let go of it."""
        ...

    def rumble(self, strength: float) -> None:
        """Rumble at a strength from 0 (not) to 1 until told otherwise, for some seconds at most."""
        ...

    def close(self) -> None:
        """Let go of the controller."""
        ...
