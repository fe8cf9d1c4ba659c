"""What of a stick's feel can be taken hold of on its plane: rings, and the edges of the diagonals."""

from __future__ import annotations

from collections.abc import Iterator
from math import atan2, degrees, hypot

from nubshift.feel.directions import sector_edges
from nubshift.feel.response import number
from nubshift.model import parameters as p
from nubshift.model.parameters import Parameter
from nubshift.model.profile import Binding, Feel
from nubshift.model.roles import KeysRole, MenuRole, TilesRole
from nubshift.records import Record
from nubshift.texts import _

ROOM = 0.05
"""Least distance between the dead zone and the edge."""


class Ring(Record, frozen=True):
    """A ring about rest. `field` is the feel's, or ``band:N`` for the N-th depth of the binding; `word` names it."""

    field: str
    radius: float
    parameter: Parameter
    word: str

    def text(self) -> str:
        """``dead zone 8 %``."""
        return f"{self.word} {self.parameter.text(self.radius)}"


def rings_of(feel: Feel, binding: Binding | None, tuned: bool) -> list[Ring]:
    """The rings that count for what a stick is used as, the innermost first."""
    return sorted(_rings(feel, binding, tuned), key=lambda ring: ring.radius)


def _rings(feel: Feel, binding: Binding | None, tuned: bool) -> Iterator[Ring]:
    role = binding.role if binding is not None else None
    if tuned or (binding is not None and binding.out):
        yield Ring("inner", number(feel.inner), p.INNER, _("dead zone"))
    if tuned:
        yield Ring("outer", number(feel.outer), p.OUTER, _("full output at"))
    if isinstance(role, KeysRole):
        yield Ring("key_radius", number(feel.key_radius), p.KEY_RADIUS, _("presses at"))
    if isinstance(role, MenuRole) or (isinstance(role, TilesRole) and role.slices):
        yield Ring("menu_radius", number(feel.menu_radius), p.MENU_RADIUS, _("selects at"))
    for index, band in enumerate(binding.bands if binding is not None else ()):
        yield Ring(f"band:{index}", band.start, p.BAND_FROM, _("depth from"))


def kept_in(ring: Ring, radius: float, feel: Feel, binding: Binding | None) -> float:
    """`radius` in half hundredths, within the range of the ring and clear of its neighbours."""
    low, high = ring.parameter.low, ring.parameter.high
    if ring.field == "inner":
        high = min(high, number(feel.outer) - ROOM)
    elif ring.field == "outer":
        low = max(low, number(feel.inner) + ROOM)
    elif ring.field.startswith("band:") and binding is not None:
        at = int(ring.field.removeprefix("band:"))
        low = binding.bands[at - 1].start + 0.02 if at else low
        high = binding.bands[at + 1].start - 0.02 if at + 1 < len(binding.bands) else high
    return ring.parameter.clamp(min(high, max(low, round(radius * 200) / 200)))


def edge_near(x: float, y: float, diagonal: float, reach: float) -> tuple[int, int] | None:
    """The edge of a diagonal near a place (shares of the reach): the sector, and -1 or 1 for its side; None for none.

    `reach` is how near, as a share of the reach, along the circle.
    """
    size = hypot(x, y)
    angle = degrees(atan2(x, -y)) % 360.0
    best: tuple[float, tuple[int, int]] | None = None
    for sector, (middle, half) in enumerate(sector_edges(diagonal)):
        if sector % 2:
            for side in (-1, 1):
                off = abs((angle - (middle + side * half) + 180.0) % 360.0 - 180.0)
                if best is None or off < best[0]:
                    best = off, (sector, side)
    return best[1] if best is not None and best[0] / 57.3 * size <= reach else None


def diagonal_at(x: float, y: float, sector: int) -> float:
    """The width of the diagonals if the edge of this one lies at a place."""
    angle = degrees(atan2(x, -y)) % 360.0
    off = abs((angle - 45.0 * sector + 180.0) % 360.0 - 180.0)
    return p.DIAGONAL.clamp(round(2.0 * off))
