"""Which of eight sectors a stick points to (contract R8).

Angles are degrees clockwise from up; sectors are numbered likewise, 0 is up.
"""

from __future__ import annotations

from math import atan2, degrees


def angle_of(x: float, y: float) -> float:
    """The direction of (x right, y down) in [0, 360). (0, 0) gives 0."""
    angle = degrees(atan2(x, -y))
    return angle + 360.0 if angle < 0.0 else angle


def sector_edges(diagonal: float) -> tuple[tuple[float, float], ...]:
    """Centre and half width of the eight sectors, for diagonals `diagonal` degrees wide (0 to 90)."""
    return tuple((45.0 * i, (diagonal if i % 2 else 90.0 - diagonal) / 2.0) for i in range(8))


def plain_sector(angle: float, diagonal: float) -> int:
    """The sector that `angle` lies in. A sector owns its counter-clockwise edge; one of no width is never chosen."""
    half = (90.0 - diagonal) / 2.0
    quarter, rest = divmod((angle + half) % 360.0, 90.0)
    straight = 2 * int(quarter) % 8
    return straight if rest < 90.0 - diagonal else straight + 1


def held_sector(angle: float, diagonal: float, held: int | None, reach: float) -> int:
    """The sector for `angle` if `held` was it until now: it keeps the stick up to `reach` degrees beyond its edges."""
    if held is not None:
        half = (diagonal if held % 2 else 90.0 - diagonal) / 2.0
        off = abs((angle - 45.0 * held + 180.0) % 360.0 - 180.0)
        if half > 0.0 and off <= half + reach:
            return held
    return plain_sector(angle, diagonal)
