"""What is wrong with a stick: what its sensor says of where the hand holds it.

All lengths are shares of the reach. The same faults make the simulated pads' noise and drift, and the worn
sticks on which measurements are proved.
"""

from __future__ import annotations

from math import cos, hypot, sin
from random import Random
from typing import Literal

from msgspec import Struct

OUT = 0.3
"""Further out than this a hand has moved the stick; where it comes back to may differ from then on."""


class Faults(Struct, frozen=True):
    """The faults of one stick.

    `noise` is the standard deviation of each axis, `offset` where it rests, `stuck` how far short of its rest the
    spring leaves it, on the side that it came from. `reach` is how far it gets to the right, down, left and up. A
    `square` gate lets it get as far along both axes at once as along one.
    """

    noise: float = 0.0
    offset: tuple[float, float] = (0.0, 0.0)
    stuck: float = 0.0
    reach: tuple[float, float, float, float] = (1.0, 1.0, 1.0, 1.0)
    gate: Literal["round", "square"] = "round"

    def rest(self, came_from: float | None) -> tuple[float, float]:
        """Where it rests after it was let go of at an angle (radians from right, towards down); None: never moved."""
        if came_from is None:
            return self.offset
        return self.offset[0] + self.stuck * cos(came_from), self.offset[1] + self.stuck * sin(came_from)

    def place(self, x: float, y: float, came_from: float | None) -> tuple[float, float]:
        """What an ideal sensor on this stick says when a hand holds it at (x, y), within the unit circle."""
        size = hypot(x, y)
        if size == 0.0:
            return self.rest(came_from)
        if self.gate == "square":
            wider = size / max(abs(x), abs(y))
            x, y = x * wider, y * wider
        right, down, left, up = self.reach
        rest_x, rest_y = self.rest(came_from)
        held = min(1.0, size)
        reached_x, reached_y = x * (right if x > 0 else left), y * (down if y > 0 else up)
        return reached_x + rest_x * (1.0 - held), reached_y + rest_y * (1.0 - held)

    def sensed(self, x: float, y: float, came_from: float | None, random: Random) -> tuple[float, float]:
        """The same with noise, within the sensor's range and in its steps."""
        ideal = self.place(x, y, came_from)
        noisy = [value + random.gauss(0, self.noise) for value in ideal] if self.noise else ideal
        return round(max(-1.0, min(1.0, noisy[0])), 4), round(max(-1.0, min(1.0, noisy[1])), 4)
