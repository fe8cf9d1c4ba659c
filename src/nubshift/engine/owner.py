"""For whose sake something happens: the binding that began it."""

from __future__ import annotations

from dataclasses import dataclass

from nubshift.model.part import Direction


@dataclass(frozen=True, slots=True)
class Owner:
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
    def key(self) -> tuple[str, str]:
        """Seat and control."""
        return self.seat, self.control
