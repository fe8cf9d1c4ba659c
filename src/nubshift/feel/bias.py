"""What a gyro says when nothing turns, learned at rest and only there (contract R10).

The rule. Readings are averaged over blocks of 40 ms. When all of the last `REST_TIME` of blocks

- lie within `SPREAD` of each other on each axis (a hand trembles by more, however calm it is),
- with the accelerometer, if there is one, within `SHAKE` of each other on each axis,
- and have no trend: the mean of the first half and that of the second differ by less than `TREND`,

the pad is at rest. The first time, the mean becomes the bias if none of it is larger than `LARGEST`. From then on a
bias only creeps, with temperature, while a turn begins with a jump: a mean that lies further than `CREEP` from the
bias is a turn and is not learned. So a view that is panned slowly and evenly stays a pan; what remains possible is a
turntable slower than `CREEP`, 12 degrees in a minute, and a first rest on one slower than `LARGEST`.
"""

from __future__ import annotations

from collections import deque
from typing import Final

BLOCK: Final = 0.040
REST_TIME: Final = 1.5
"""Seconds of rest before anything is learned."""
SPREAD: Final = 0.8
"""Degrees a second between the largest and the smallest block."""
SHAKE: Final = 0.03
"""g between the largest and the smallest block."""
TREND: Final = 0.06
"""Degrees a second."""
CREEP: Final = 0.2
"""Degrees a second."""
LARGEST: Final = 5.0
"""Degrees a second: more is no bias of a working sensor."""
BLOCKS: Final = round(REST_TIME / BLOCK)

_ZERO = (0.0, 0.0, 0.0)


class Bias:
    """The bias of turn, nod and lean in degrees a second."""

    __slots__ = ("_blocks", "_count", "_lean", "_learned", "_nod", "_time", "_turn", "_x", "_y", "_z", "value")

    def __init__(self) -> None:
        self.value = _ZERO
        self._learned = False
        self._blocks: deque[tuple[float, ...]] = deque(maxlen=BLOCKS)
        self._begin_block()

    def _begin_block(self) -> None:
        self._turn = self._nod = self._lean = 0.0
        self._x = self._y = self._z = 0.0
        self._count = 0
        self._time = 0.0

    @property
    def known(self) -> bool:
        """Whether a rest was seen yet."""
        return self._learned

    def step(self, turn: float, nod: float, lean: float, x: float, y: float, z: float, step: float) -> None:
        """One report: rates as the sensor says, the accelerometer in g, seconds since the one before."""
        self._turn += turn
        self._nod += nod
        self._lean += lean
        self._x += x
        self._y += y
        self._z += z
        self._count += 1
        self._time += step
        if self._time >= BLOCK:
            sums = self._turn, self._nod, self._lean, self._x, self._y, self._z
            self._blocks.append(tuple([part / self._count for part in sums]))
            self._begin_block()
            if len(self._blocks) == BLOCKS and self._at_rest():
                self._learn()

    def interrupt(self) -> None:
        """Reports are missing: what was gathered says nothing any more."""
        self._blocks.clear()
        self._begin_block()

    def _at_rest(self) -> bool:
        half = BLOCKS // 2
        for axis, parts in enumerate(zip(*self._blocks, strict=True)):
            if max(parts) - min(parts) > (SPREAD if axis < 3 else SHAKE):
                return False
            if axis < 3 and abs(sum(parts[:half]) / half - sum(parts[half:]) / (BLOCKS - half)) > TREND:
                return False
        return True

    def _learn(self) -> None:
        mean = tuple(sum(parts) / BLOCKS for parts in zip(*self._blocks, strict=True))[:3]
        if self._learned:
            if any(abs(new - old) > CREEP for new, old in zip(mean, self.value, strict=True)):
                self._blocks.clear()
                return
        elif max(map(abs, mean)) > LARGEST:
            return
        self._learned = True
        self.value = (mean[0], mean[1], mean[2])
        for _ in range(BLOCKS // 2):
            self._blocks.popleft()
