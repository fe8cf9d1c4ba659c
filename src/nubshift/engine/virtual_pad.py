"""The axes of the virtual pad (need N34): each is the sum of what pushes it, clipped, sent at the step's end."""

from __future__ import annotations

from nubshift.events import Output, Pad
from nubshift.units import Micros


class VirtualPad:
    """What is pushed, by whom, and what was last sent. Triggers lie in [0, 1], sticks in [-1, 1]."""

    def __init__(self) -> None:
        self._pushed: dict[str, dict[object, float]] = {}
        self._sent: dict[str, float] = {}
        self.touched: dict[str, None] = {}
        """Axes that were pushed in this step."""

    @property
    def axes(self) -> dict[str, float]:
        """The axes that are not neutral."""
        return {axis: value for axis, value in self._sent.items() if value}

    def push(self, axis: str, by: object, value: float) -> None:
        """`by` pushes an axis this far from now on; 0 lets go of it."""
        pushed = self._pushed.setdefault(axis, {})
        if pushed.get(by, 0.0) == value:
            return
        if value:
            pushed[by] = value
        else:
            del pushed[by]
        self.touched[axis] = None

    def changed(self, t: Micros) -> tuple[list[Output], list[Output]]:
        """The step is over: of the axes that it changed those that return to neutral, and those that do not."""
        neutral: list[Output] = []
        moving: list[Output] = []
        for axis in self.touched:
            low = 0.0 if axis.endswith("trigger") else -1.0
            total = min(1.0, max(low, sum(self._pushed[axis].values())))
            if total != self._sent.get(axis, 0.0):
                self._sent[axis] = total
                (moving if total else neutral).append(Pad(t, axis, total))
        self.touched.clear()
        return neutral, moving

    def neutral(self, t: Micros) -> list[Output]:
        """Everything back to neutral (R12); what that sends."""
        self._pushed.clear()
        self.touched.clear()
        sent, self._sent = self._sent, {}
        return [Pad(t, axis, 0.0) for axis, value in sent.items() if value]
