"""Commands that the game toggles itself (contract R7): tapped on entering and on leaving, never joined or masked."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING

from nubshift.engine.grip import Grip
from nubshift.engine.owner import Owner
from nubshift.engine.program import Step, Steps
from nubshift.units import Micros

if TYPE_CHECKING:
    from nubshift.engine.core import Core

GAP_US = 30_000
"""Between two pulses of one command (R7)."""


@dataclass(frozen=True, slots=True)
class GameToggleStep(Step):
    """One pulse on beginning and one on ending, of `pulse` µs."""

    command: str
    what: Steps
    pulse: Micros

    def begin(self, core: Core, owner: Owner) -> Owner:
        """Switch it on in the game."""
        core.game_toggles.add(self, owner)
        return owner

    def end(self, core: Core, token: object) -> None:
        """Switch it off again."""
        assert isinstance(token, Owner)
        core.game_toggles.add(self, token)

    def drop(self, core: Core, token: object) -> None:
        """A stop sends nothing more; the game may be left with it on."""
        core.game_toggles.lost += 1


class GameToggles:
    """The pulses of each command, one after the other. `lost` counts those that a stop dropped."""

    def __init__(self, core: Core) -> None:
        self._core = core
        self._queues: dict[str, deque[tuple[GameToggleStep, Owner]]] = {}
        self.lost = 0

    def add(self, step: GameToggleStep, owner: Owner) -> None:
        """One pulse more."""
        queue = self._queues.setdefault(step.command, deque())
        queue.append((step, owner))
        if len(queue) == 1:
            self._start(step.command)

    def _start(self, command: str) -> None:
        """Send the first in the queue, as soon as none of its keys is held by anything else."""
        step, owner = self._queues[command][0]
        core = self._core
        busy = next((code for part in step.what for code in part.codes if core.holders.is_down(code)), None)
        if busy is not None:
            core.holders.when_up(busy, lambda: core.timers.set(core.t + GAP_US, lambda: self._retry(command), owner))
            return
        grip = Grip(core, owner)
        grip.begin(step.what)
        core.timers.set(core.t + step.pulse, lambda: self._over(command, grip), owner)

    def _retry(self, command: str) -> None:
        if self._queues.get(command):
            self._start(command)

    def _over(self, command: str, grip: Grip) -> None:
        grip.end_all()
        owner = grip.owner
        self._core.timers.set(self._core.t + GAP_US, lambda: self._next(command), owner)

    def _next(self, command: str) -> None:
        queue = self._queues[command]
        queue.popleft()
        if queue:
            self._start(command)
        else:
            del self._queues[command]

    def drop(self, of: Callable[[Owner], bool]) -> None:
        """Forget the pulses of these owners; the others go on."""
        for command, queue in tuple(self._queues.items()):
            kept = deque(entry for entry in queue if not of(entry[1]))
            if len(kept) == len(queue):
                continue
            head_goes = of(queue[0][1])
            self.lost += len(queue) - len(kept) - int(head_goes)
            if not head_goes:
                self._queues[command] = kept
                continue
            del self._queues[command]
            for step, owner in kept:
                self.add(step, owner)

    def clear(self) -> None:
        """Forget all that waits, and remember how much that was."""
        self.lost += sum(max(0, len(queue) - 1) for queue in self._queues.values())
        for grip in self._core.grips:
            self.lost += sum(isinstance(step, GameToggleStep) for _, step, _ in grip.held())
        self._queues.clear()
