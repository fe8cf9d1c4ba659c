"""The port behind which every source of input stands, and what is known of a controller."""

from __future__ import annotations

from typing import Protocol

import msgspec

from nubshift.events import Change
from nubshift.units import Micros

Timed = tuple[Micros, tuple[Change, ...]]
"""When a report happened (µs on the monotonic clock) and what it said."""


class ControllerInfo(msgspec.Struct, frozen=True):
    """A controller as the player knows it.

    `id` names it for ``--source`` (``sim:moss``, ``evdev:/dev/input/event7``); `trouble` is a sentence if it can't be
    used as it is, else empty.
    """

    id: str
    name: str
    controls: tuple[str, ...] = ()
    simulated: bool = False
    trouble: str = ""


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

    def fileno(self) -> int | None:
        """A descriptor that becomes readable when there is input, or None."""
        ...

    def state(self) -> tuple[Change, ...]:
        """How every control stands now."""
        ...

    def read(self, now: Micros) -> list[Timed]:
        """The reports that came up to `now`, oldest first."""
        ...

    def grab(self, exclusive: bool) -> None:
        """Keep the controller to ourselves, so that the game does not see it too, or let go of it."""
        ...

    def close(self) -> None:
        """Let go of the controller."""
        ...
