"""Sensors with nodes of their own, as the kernel's drivers give them: motion, touch pad, infrared dots (need N06).

Each takes the events of its node like a `Decoder` and gives the changes of a report at its end.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from nubshift.devices.codes import (
    ABS_HAT0X,
    ABS_X,
    ABS_Y,
    BTN_LEFT,
    BTN_TOUCH,
    EV_ABS,
    EV_KEY,
    EV_MSC,
    EV_SYN,
    MSC_TIMESTAMP,
    SYN_DROPPED,
    SYN_REPORT,
    AxisRange,
)
from nubshift.devices.frames import COMMON, Half, MotionFrame
from nubshift.devices.node_reader import Event, NodeReader, Told
from nubshift.events import Change

DOTS = 4
"""An infrared camera tells of at most so many."""


class _Sense(NodeReader):
    """What the sensors share: values by code, and the rule for dropped events."""

    def __init__(
        self, axes: Mapping[int, AxisRange], controls: tuple[str, ...] = (), *, every_report: bool = False
    ) -> None:
        """`every_report`: one counts also if nothing changed; the kernel passes on only the values that did."""
        super().__init__(controls)
        self._every_report = every_report
        self._ranges = axes
        self._values = {code: entry.value for code, entry in axes.items()}
        self._keys: set[int] = set()
        self._news = False

    def take(self, events: Iterable[Event]) -> list[Told]:
        """Take events. A report tells all of it, if anything changed or every report counts."""
        found: list[Told] = []
        values, lost, news = self._values, self.lost, self._news
        for second, us, kind, code, value in events:
            if kind == EV_ABS:  # the most frequent
                if not lost and code in values:
                    values[code] = value
                    news = True
            elif kind == EV_SYN:
                if code == SYN_DROPPED:
                    lost = True
                elif code == SYN_REPORT and not lost:
                    told = self.state() if news or self._every_report else ()
                    found.append((second, us, self.stamp, told))
                    news = False
            elif kind == EV_MSC:
                if code == MSC_TIMESTAMP:
                    self.stamp = value
            elif kind == EV_KEY and not lost:
                (self._keys.add if value else self._keys.discard)(code)
                news = True
        self.lost, self._news = lost, news
        return found

    def resync(self, pressed: Iterable[int], axes: Mapping[int, int]) -> tuple[Change, ...]:
        """Take the whole state."""
        self.lost = False
        self._keys = set(pressed)
        self._values.update((code, value) for code, value in axes.items() if code in self._values)
        return self.state()


class MotionSense(_Sense):
    """Gyro and accelerometer, each where it has one, by the frame of their driver: turn right, nod down and lean right
    in °/s, and the pull of gravity right, down and away in g (contract R10). `held` turns it for a half held sideways.
    """

    def __init__(self, axes: Mapping[int, AxisRange], frame: MotionFrame = COMMON, held: Half = "") -> None:
        turns = frame.turns(axes, held)
        # a steady turn says the same again and again, and goes on all the same
        super().__init__(axes, ("motion",) if turns is not None else (), every_report=True)
        self._turns = turns
        self._gravity = frame.gravity(axes, held)

    def state(self) -> tuple[Change, ...]:
        """Turn and nod, lean, and the pull of gravity."""
        values = self._values
        turned: tuple[Change, ...] = ()
        if self._turns is not None:
            (turn, per_turn), (nod, per_nod), (lean, per_lean) = self._turns
            turned = (
                ("motion", values[turn] * per_turn, values[nod] * per_nod),
                ("motion_lean", values[lean] * per_lean, 0.0),
            )
        if self._gravity is None:
            return turned
        (x, per_x), (y, per_y), (z, per_z) = self._gravity
        return (*turned, ("gravity", values[x] * per_x, values[y] * per_y), ("gravity_z", values[z] * per_z, 0.0))


class TouchSense(_Sense):
    """A touch pad: the place of the first finger, whether it touches, and the click of the whole pad."""

    def __init__(self, axes: Mapping[int, AxisRange]) -> None:
        super().__init__(axes, ("touch_pad", "touch_pad_touched", "touch_pad_click"))

    def _place(self, code: int) -> float:
        entry = self._ranges.get(code)
        if entry is None or entry.high == entry.low:
            return 0.0
        return 2.0 * (self._values[code] - entry.low) / (entry.high - entry.low) - 1.0

    def state(self) -> tuple[Change, ...]:
        """The finger, and the click."""
        touched, clicked = float(BTN_TOUCH in self._keys), float(BTN_LEFT in self._keys)
        return (
            ("touch_pad", self._place(ABS_X), self._place(ABS_Y)),
            ("touch_pad_touched", touched, 0.0),
            ("touch_pad_click", clicked, 0.0),
        )


class DotsSense(_Sense):
    """An infrared camera that sees up to four dots: the place it points at, and whether it sees any.

    Each hat axis pair is a dot in the camera's picture, at its far end where it is not seen. The picture moves against
    the hand, so both ways are turned round. With one of two dots hidden, the other carries on from where both were.
    """

    def __init__(self, axes: Mapping[int, AxisRange]) -> None:
        super().__init__(axes, ("pointer", "pointer_seen"))
        self._at = (0.0, 0.0)
        self._spread: tuple[float, float] = (0.0, 0.0)

    def _dots(self) -> list[tuple[float, float]]:
        found = []
        for number in range(DOTS):
            x, y = ABS_HAT0X + 2 * number, ABS_HAT0X + 2 * number + 1
            if x not in self._ranges or y not in self._ranges:
                continue
            across, down = self._ranges[x], self._ranges[y]
            if self._values[x] < across.high and self._values[y] < down.high:
                found.append(
                    (
                        2.0 * (self._values[x] - across.low) / (across.high - across.low) - 1.0,
                        2.0 * (self._values[y] - down.low) / (down.high - down.low) - 1.0,
                    )
                )
        return found

    def state(self) -> tuple[Change, ...]:
        """Where it points; frozen while nothing is seen."""
        dots = self._dots()
        if len(dots) >= 2:
            (ax, ay), (bx, by) = dots[:2]
            self._spread = ((bx - ax) / 2, (by - ay) / 2)
            self._at = (-(ax + bx) / 2, -(ay + by) / 2)
        elif dots:
            x, y = dots[0]
            ways = [(x + s * self._spread[0], y + s * self._spread[1]) for s in (1, -1)]
            near = min(ways, key=lambda place: (place[0] + self._at[0]) ** 2 + (place[1] + self._at[1]) ** 2)
            self._at = (-near[0], -near[1])
        return ("pointer", *self._at), ("pointer_seen", float(bool(dots)), 0.0)
