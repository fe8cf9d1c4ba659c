"""What is held for one reason: the steps that a gesture, a stick or a run began, to be ended in reverse (R3 to R5)."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import TYPE_CHECKING

from nubshift.engine.owner import Owner
from nubshift.engine.program import Step

if TYPE_CHECKING:
    from nubshift.engine.core import Core


class HeldSteps:
    """The steps held for the sake of `owner`. While it holds any, the core knows it, so that a stop finds it."""

    __slots__ = ("_core", "_steps", "owner")

    def __init__(self, core: Core, owner: Owner) -> None:
        self._core = core
        self._steps: dict[Step, tuple[int, object]] = {}
        self.owner = owner

    def __bool__(self) -> bool:
        return bool(self._steps)

    def begin(self, steps: Iterable[Step], by: Owner | None = None) -> None:
        """Begin steps in their order, for the sake of `by` if not the grip's own owner; one already held goes on."""
        core, owner = self._core, by or self.owner
        for step in steps:
            if step not in self._steps:
                if not self._steps:
                    core.grips[self] = None
                core.begun += 1
                place = core.begun
                if step.changes_layers:
                    core.changers.append(owner)
                self._steps[step] = place, None
                self._steps[step] = place, step.begin(core, owner)

    def end(self, step: Step) -> None:
        """End one step, if it is held."""
        held = self._steps.pop(step, None)
        if held is not None:
            self._let_go()
            step.end(self._core, held[1])

    def drop(self, step: Step) -> None:
        """Cut one step short, if it is held (R12)."""
        held = self._steps.pop(step, None)
        if held is not None:
            self._let_go()
            step.drop(self._core, held[1])

    def _let_go(self) -> None:
        if not self._steps:
            self._core.grips.pop(self, None)

    def change_to(self, steps: dict[Step, Owner]) -> None:
        """Hold exactly `steps`, each for the sake of its owner: what stays is not touched.

        All others end, newest first, before the new ones begin.
        """
        if self._steps.keys() == steps.keys():
            return
        for step in [s for s in reversed(self._steps) if s not in steps]:
            self.end(step)
        for step, by in steps.items():
            self.begin((step,), by)

    def end_all(self) -> None:
        """End everything, newest first."""
        for step in tuple(reversed(self._steps)):
            self.end(step)

    def forget(self) -> None:
        """Hold nothing any more without a word; what was held has been released as a whole."""
        self._steps.clear()

    def tokens(self) -> list[tuple[Step, object]]:
        """Each step held with what its beginning gave back."""
        return [(step, token) for step, (_, token) in self._steps.items()]

    def held(self) -> list[tuple[int, Step, HeldSteps]]:
        """Each step held with its place in the order of all beginnings."""
        return [(place, step, self) for step, (place, _) in self._steps.items()]


def end_together(grips: Iterable[HeldSteps]) -> None:
    """End what several grips hold, newest first over all of them."""
    for _, step, grip in _newest_first(grips):
        grip.end(step)


def drop_together(grips: Iterable[HeldSteps], of: Callable[[Owner], bool]) -> None:
    """Cut short what the grips of these owners hold, newest first over all of them."""
    for _, step, grip in _newest_first(grip for grip in tuple(grips) if of(grip.owner)):
        grip.drop(step)


def _newest_first(grips: Iterable[HeldSteps]) -> list[tuple[int, Step, HeldSteps]]:
    held = [entry for grip in grips for entry in grip.held()]
    return sorted(held, key=lambda entry: entry[0], reverse=True)
