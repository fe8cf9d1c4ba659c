"""What one control holds at this moment: the steps it began, in order, to be ended in reverse (contract R3 to R5)."""

from __future__ import annotations

from collections.abc import Iterable

from nubshift.engine.holders import Holders
from nubshift.engine.layers import LayerStack
from nubshift.engine.program import KeyStep, LayerStep, Step
from nubshift.events import Output
from nubshift.units import Micros


class Ledger:
    """What all grips share: the holders, the layers, and a count that tells which step began last."""

    def __init__(self, holders: Holders, layers: LayerStack) -> None:
        self.holders = holders
        self.layers = layers
        self._count = 0

    def begin(self, step: Step, t: Micros, out: list[Output]) -> tuple[int, int]:
        """Begin a step; returns its place in the order of all beginnings, and the token of a layer's entry."""
        self._count += 1
        if isinstance(step, KeyStep):
            self.holders.down(step.code, t, out)
            return self._count, 0
        return self._count, self.layers.enter(step.layer, t, out)

    def end(self, step: Step, token: int, t: Micros, out: list[Output]) -> None:
        """End a step that was begun."""
        if isinstance(step, KeyStep):
            self.holders.up(step.code, t, out)
        else:
            self.layers.end(token, t, out)


class Grip:
    """The steps one control holds."""

    __slots__ = ("_ledger", "_steps")

    def __init__(self, ledger: Ledger) -> None:
        self._ledger = ledger
        self._steps: dict[Step, tuple[int, int]] = {}

    def __bool__(self) -> bool:
        return bool(self._steps)

    @property
    def holds_layer(self) -> bool:
        """Whether a layer is kept entered by this control, which then keeps its binding (R4)."""
        return any(isinstance(step, LayerStep) for step in self._steps)

    def begun(self) -> list[tuple[int, Step]]:
        """The steps held, each with its place in the order of all beginnings."""
        return [(place, step) for step, (place, _) in self._steps.items()]

    def begin(self, steps: Iterable[Step], t: Micros, out: list[Output]) -> None:
        """Begin steps in their order; one already held goes on."""
        for step in steps:
            if step not in self._steps:
                self._steps[step] = self._ledger.begin(step, t, out)

    def end(self, step: Step, t: Micros, out: list[Output]) -> None:
        """End one step that is held."""
        _, token = self._steps.pop(step)
        self._ledger.end(step, token, t, out)

    def change_to(self, steps: dict[Step, None], t: Micros, out: list[Output]) -> None:
        """Hold exactly `steps`: what stays is not touched; all others end, newest first, before the new ones begin."""
        for step in [s for s in reversed(self._steps) if s not in steps]:
            self.end(step, t, out)
        self.begin(steps, t, out)

    def end_all(self, t: Micros, out: list[Output]) -> None:
        """End everything, newest first."""
        self.change_to({}, t, out)

    def forget(self) -> None:
        """Hold nothing any more without a word; what was held has been released as a whole."""
        self._steps.clear()


def end_together(grips: Iterable[Grip], t: Micros, out: list[Output]) -> None:
    """End what several grips hold, newest first over all of them."""
    held = [(place, step, grip) for grip in grips for place, step in grip.begun()]
    for _, step, grip in sorted(held, key=lambda entry: entry[0], reverse=True):
        grip.end(step, t, out)
