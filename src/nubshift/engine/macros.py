"""Macros (contract R16): steps in time, four ways to treat a trigger while one runs, three ways to run."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, TypeAlias

from nubshift.engine.held_steps import HeldSteps
from nubshift.engine.owner import Owner
from nubshift.engine.program import Act, MacroInfo, Step, Steps
from nubshift.engine.timers import Timer
from nubshift.model.parameters import SHORTEST_US
from nubshift.units import Micros

if TYPE_CHECKING:
    from nubshift.engine.core import Core


@dataclass(frozen=True, slots=True)
class Hold:
    """Hold something from here on."""

    act: Act


@dataclass(frozen=True, slots=True)
class LetGo:
    """Let go of it."""

    act: Act


@dataclass(frozen=True, slots=True)
class Tap:
    """Hold something for `length` µs, then go on."""

    act: Act
    length: Micros


@dataclass(frozen=True, slots=True)
class Wait:
    """Wait."""

    length: Micros


MAX_QUEUE = 100
"""More triggers than this do not wait for their turn."""

MacroOp: TypeAlias = Hold | LetGo | Tap | Wait


@dataclass(frozen=True, slots=True)
class MacroStep(Step):
    """Trigger a macro by its name."""

    macro: str

    def begin(self, core: Core, owner: Owner) -> object:
        """Trigger it."""
        return core.macros.trigger(core, self.macro, owner)

    def end(self, core: Core, token: object) -> None:
        """The trigger was let go of: one that runs while held ends."""
        if isinstance(token, _Run):
            core.macros.let_go(core, self.macro, token)

    def drop(self, core: Core, token: object) -> None:
        """Its run is dropped by itself."""


class _Run:
    """One run of a macro, with its own grip, so that two runs hold apart."""

    def __init__(self, core: Core, info: MacroInfo, owner: Owner, over: Callable[[_Run], None]) -> None:
        self.info = info
        self.owner = owner
        self.released = False
        self._core = core
        self._grip = HeldSteps(core, owner)
        self._tapped: HeldSteps | None = None
        self._at = 0
        self._began = core.t
        self._timer: Timer | None = None
        self._over = over

    def go_on(self) -> None:
        """Do what comes next, until something takes time."""
        self._core.holders.directly(True)
        self._go_on()
        self._core.holders.directly(False)

    def _go_on(self) -> None:
        core = self._core
        if self._tapped is not None:
            self._tapped.end_all()
            self._tapped = None
        while self._at < len(self.info.ops):
            op = self.info.ops[self._at]
            if isinstance(op, Tap) and self._must_wait(op):
                self._later(self.info.gap)
                return
            self._at += 1
            match op:
                case Hold(act):
                    self._grip.begin(self._steps(act))
                case LetGo(act):
                    for step in self._steps(act):
                        self._grip.end(step)
                case Tap(act, length):
                    self._tapped = HeldSteps(core, self.owner)
                    self._tapped.begin(self._steps(act))
                    self._later(length)
                    return
                case Wait(length):
                    self._later(length)
                    return
        self._grip.end_all()
        self._over(self)

    def _steps(self, act: Act) -> Steps:
        return act.steps(self._core.layers.pad_form)

    def _must_wait(self, op: Tap) -> bool:
        """Whether a key of a tap went up in this very microsecond, so that a game would see one long press (R16)."""
        codes = (code for step in self._steps(op.act) for code in step.codes)
        return self._core.holders.went_up_at(codes, self._core.t)

    def _later(self, length: Micros) -> None:
        self._timer = self._core.timers.set(self._core.t + length, self.go_on, self.owner)

    def again(self) -> None:
        """From the start once more; a macro that takes no time waits a moment."""
        self._at = 0
        began, self._began = self._began, max(self._core.t, self._began + SHORTEST_US)
        if self._core.t - began < SHORTEST_US:
            self._later(self._began - self._core.t)
        else:
            self.go_on()

    def stop(self) -> None:
        """End at once, releasing what it holds."""
        self.cut()
        self._core.holders.directly(True)
        if self._tapped is not None:
            self._tapped.end_all()
        self._grip.end_all()
        self._core.holders.directly(False)

    def cut(self) -> None:
        """Nothing further comes; what it holds is left to others."""
        if self._timer is not None:
            self._timer.cancel()


class Macros:
    """The runs of each macro: those at work, and those that wait for their turn."""

    def __init__(self, infos: dict[str, MacroInfo]) -> None:
        self._infos = infos
        self._runs: dict[str, list[_Run]] = {}
        self._queue: dict[str, list[_Run]] = {}

    def replace(self, infos: dict[str, MacroInfo]) -> None:
        """Go on with edited macros; runs under way end as they began."""
        self._infos = infos

    def trigger(self, core: Core, macro: str, owner: Owner) -> _Run | None:
        """A gesture began that runs this macro."""
        info = self._infos.get(macro)
        if info is None:
            return None
        runs = self._runs.setdefault(macro, [])
        if runs and info.runs == "until-pressed":
            self._stop_all(macro)
            return None
        run = _Run(core, info, owner, lambda over: self._over(macro, over))
        if runs:
            if info.again == "ignore":
                return None
            if info.again == "queue":
                queue = self._queue.setdefault(macro, [])
                if len(queue) < MAX_QUEUE:
                    queue.append(run)
                return run
            if info.again == "restart":
                self._stop_all(macro)
        self._runs.setdefault(macro, []).append(run)
        run.go_on()
        return run

    def let_go(self, core: Core, macro: str, run: _Run) -> None:
        """The gesture that triggered a run ended."""
        run.released = True
        if run.info.runs == "while-held" and run in self._runs.get(macro, ()):
            run.stop()
            self._finish(macro, run)

    def _over(self, macro: str, run: _Run) -> None:
        """A run came to its end by itself."""
        if run.info.runs == "once" or (run.released and run.info.runs == "while-held"):
            self._finish(macro, run)
        else:
            run.again()

    def _finish(self, macro: str, run: _Run) -> None:
        runs = self._runs.get(macro, [])
        if run in runs:
            runs.remove(run)
        while not self._runs.get(macro) and self._queue.get(macro):
            waiting = self._queue[macro].pop(0)
            if waiting.info.runs == "while-held" and waiting.released:
                continue
            self._runs.setdefault(macro, []).append(waiting)
            waiting.go_on()
        if not self._runs.get(macro):
            self._runs.pop(macro, None)
            self._queue.pop(macro, None)

    def _stop_all(self, macro: str) -> None:
        for run in self._runs.pop(macro, []):
            run.stop()
        self._queue.pop(macro, None)

    def drop(self, of: Callable[[Owner], bool]) -> None:
        """Forget the runs of these owners; what they hold is dropped with them."""
        for macro in tuple(self._runs):
            waiting = [run for run in self._queue.get(macro, []) if not of(run.owner)]
            self._queue[macro] = waiting
            for run in tuple(self._runs[macro]):
                if of(run.owner):
                    run.cut()
                    self._finish(macro, run)

    def clear(self) -> None:
        """Forget everything."""
        self._runs.clear()
        self._queue.clear()
