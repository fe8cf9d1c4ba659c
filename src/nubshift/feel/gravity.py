"""Which way is down, from gyro and accelerometer together: a complementary filter (contract R10).

Axes are those of the pad: x right, y down, z away from the player, a right-handed set. A direction fixed in the world
turns in the pad's axes with dg/dt = -w × g, w the pad's rotation. The gyro carries the direction from report to
report; the accelerometer, which is right on average but shaken by every movement, pulls it back slowly.
"""

from __future__ import annotations

from math import cos, radians, sin, sqrt
from typing import Final, TypeAlias

Vector: TypeAlias = tuple[float, float, float]

PULL_TIME: Final = 0.6
"""Seconds in which the accelerometer corrects 63 % of an error, while it reads 1 g."""

SHAKE: Final = 0.25
"""How far the reading may differ from 1 g before it is not trusted at all."""

FLAT: Final = 0.1
"""Least length of the pad's sideways axis seen from above; below it the pad stands on its side."""


class Gravity:
    """The direction of gravity in the pad's axes, a vector of length 1; a pad that lies flat has (0, 1, 0)."""

    __slots__ = ("_known", "down")

    def __init__(self) -> None:
        self.down: Vector = (0.0, 1.0, 0.0)
        self._known = False

    def forget(self) -> None:
        """Take the next reading as it is."""
        self._known = False

    def step(self, turn: float, nod: float, lean: float, reading: Vector, step: float) -> Vector:
        """The direction after `step` seconds at these rates (°/s), with the accelerometer's `reading` in g."""
        size = sqrt(sum(part * part for part in reading))
        if not self._known:
            if size > 0.5:
                self.down = (reading[0] / size, reading[1] / size, reading[2] / size)
                self._known = True
            return self.down
        x, y, z = turned(self.down, (-nod, turn, lean), step)
        trust = max(0.0, 1.0 - abs(size - 1.0) / SHAKE) if size > 0.0 else 0.0
        if trust:
            share = trust * step / (PULL_TIME + step)
            x += share * (reading[0] / size - x)
            y += share * (reading[1] / size - y)
            z += share * (reading[2] / size - z)
        length = sqrt(x * x + y * y + z * z) or 1.0
        self.down = (x / length, y / length, z / length)
        return self.down


def turned(direction: Vector, rates: Vector, step: float) -> Vector:
    """A direction fixed in the world after the pad has turned for `step` seconds at `rates` (°/s about x, y, z).

    Rodrigues' formula, by the negative angle; exact for constant rates.
    """
    wx, wy, wz = rates
    rate = sqrt(wx * wx + wy * wy + wz * wz)
    if rate == 0.0:
        return direction
    kx, ky, kz = wx / rate, wy / rate, wz / rate
    angle = -radians(rate * step)
    c, s = cos(angle), sin(angle)
    x, y, z = direction
    along = (kx * x + ky * y + kz * z) * (1.0 - c)
    return (
        x * c + (ky * z - kz * y) * s + kx * along,
        y * c + (kz * x - kx * z) * s + ky * along,
        z * c + (kx * y - ky * x) * s + kz * along,
    )


def about_gravity(turn: float, nod: float, lean: float, down: Vector) -> tuple[float, float]:
    """Turn and nod (°/s) as they are about the vertical and about the horizontal through the pad's sides."""
    x, y, z = down
    about = -nod * x + turn * y + lean * z
    # the pad's right, made horizontal: r = x̂ - (x̂·g) g
    rx, ry, rz = 1.0 - x * x, -x * y, -x * z
    length = max(FLAT, sqrt(rx * rx + ry * ry + rz * rz))
    return about, -(-nod * rx + turn * ry + lean * rz) / length
