"""For whose sake something happens: the binding that began it."""

from __future__ import annotations

from collections.abc import Iterable
from typing import TypeAlias

from nubshift.events import Output
from nubshift.model.part import Direction
from nubshift.records import Record

ControlKey: TypeAlias = tuple[str, str]
"""Seat id and control name."""


class Owner(Record, frozen=True):
    """The seat, the control (or those pressed together, joined with ``+``), the id of the layer it stands in.

    `side` is the direction of a stick, for which its depth is measured. `part` is what of the control it is: a gesture,
    a direction, ``bands/0``, ``cells/3``; it is there to be told, and decides nothing.
    """

    seat: str
    control: str
    layer: str
    side: Direction | None = None
    part: str = ""

    @property
    def key(self) -> ControlKey:
        """Seat and control."""
        return self.seat, self.control


Caused: TypeAlias = tuple[Output, Owner | None]
"""What is sent, and for whose sake; a stop has no owner."""


def outputs_of(sent: Iterable[Caused]) -> list[Output]:
    """What is sent, without for whose sake."""
    return [output for output, _ in sent]
