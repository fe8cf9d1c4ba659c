"""Macros (contract R16): steps in time, four ways to treat a trigger while one runs, three ways to run."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeAlias, assert_never

from nubshift.engine.act import Act
from nubshift.engine.context import Context, HeldSteps, Step, Steps
from nubshift.engine.owner import Owner
from nubshift.engine.timers import Timer
from nubshift.model.parameters import SHORTEST_US
from nubshift.records import Record
from nubshift.units import Micros


class Hold(Record, frozen=True):
    """Hold something from here on."""

    act: Act


class LetGo(Record, frozen=True):
    """Let go of it."""

    act: Act


class Tap(Record, frozen=True):
    """Hold something for `length` µs, then go on."""

    act: Act
    length: Micros


class Wait(Record, frozen=True):
    """Wait."""

    length: Micros


MAX_QUEUE = 100
"""More triggers than this do not wait for their turn."""

MacroOp: TypeAlias = Hold | LetGo | Tap | Wait


class MacroInfo(Record, frozen=True):
    """A macro: its ops in order, how long it runs, and what a trigger does while it does.

    `gap` is kept between taps of one key in a row.
    """

    ops: tuple[MacroOp, ...]
    runs: str
    again: str
    gap: Micros = 30_000


class MacroStep(Step, frozen=True):
    """Trigger a macro by its name."""

    macro: str

    def begin(self, context: Context, owner: Owner) -> object:
        """Trigger it."""
        return context.run_macro(self.macro, owner)

    def end(self, context: Context, token: object) -> None:
        """The trigger was let go of: one that runs while held ends."""
        context.let_go_of_macro(self.macro, token)

    def drop(self, context: Context, token: object) -> None:
        """Its run is dropped by itself."""


class _MacroRun:
    """One run of a macro, with its own held steps, so that two runs hold apart."""

    def __init__(self, context: Context, info: MacroInfo, owner: Owner, over: Callable[[_MacroRun], None]) -> None:
        self.info = info
        self.owner = owner
        self.released = False
        self._context = context
        self._held = HeldSteps(context, owner)
        self._tapped: HeldSteps | None = None
        self._at = 0
        self._began = context.t
        self._timer: Timer | None = None
        self._over = over

    def go_on(self) -> None:
        """Do what comes next, until something takes time."""
        self._context.holders.directly(True)
        self._go_on()
        self._context.holders.directly(False)

    def _go_on(self) -> None:
        context = self._context
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
                    self._held.begin(self._steps(act))
                case LetGo(act):
                    for step in self._steps(act):
                        self._held.end(step)
                case Tap(act, length):
                    self._tapped = HeldSteps(context, self.owner)
                    self._tapped.begin(self._steps(act))
                    self._later(length)
                    return
                case Wait(length):
                    self._later(length)
                    return
                case never:
                    assert_never(never)
        self._held.end_all()
        self._over(self)

    def _steps(self, act: Act) -> Steps:
        return act.steps(self._context.layers.pad_form)

    def _must_wait(self, op: Tap) -> bool:
        """Whether a key of a tap went up in this very microsecond, so that a game would see one long press (R16)."""
        codes = (code for step in self._steps(op.act) for code in step.codes)
        return self._context.holders.went_up_at(codes, self._context.t)

    def _later(self, length: Micros) -> None:
        self._timer = self._context.timers.set(self._context.t + length, self.go_on, self.owner)

    def again(self) -> None:
        """From the start once more; a macro that takes no time waits a moment."""
        self._at = 0
        began, self._began = self._began, max(self._context.t, self._began + SHORTEST_US)
        if self._context.t - began < SHORTEST_US:
            self._later(self._began - self._context.t)
        else:
            self.go_on()

    def stop(self) -> None:
        """End at once, releasing what it holds."""
        self.cut()
        self._context.holders.directly(True)
        if self._tapped is not None:
            self._tapped.end_all()
        self._held.end_all()
        self._context.holders.directly(False)

    def cut(self) -> None:
        """Nothing further comes; what it holds is left to others."""
        if self._timer is not None:
            self._timer.cancel()


class Macros:
    """The runs of each macro: those at work, and those that wait for their turn."""

    def __init__(self, infos: dict[str, MacroInfo]) -> None:
        self._infos = infos
        self._runs: dict[str, list[_MacroRun]] = {}
        self._queue: dict[str, list[_MacroRun]] = {}

    def replace(self, infos: dict[str, MacroInfo]) -> None:
        """Go on with edited macros; runs under way end as they began."""
        self._infos = infos

    def trigger(self, context: Context, macro: str, owner: Owner) -> _MacroRun | None:
        """A gesture began that runs this macro."""
        info = self._infos.get(macro)
        if info is None:
            return None
        runs = self._runs.setdefault(macro, [])
        if runs and info.runs == "until-pressed":
            self._stop_all(macro)
            return None
        run = _MacroRun(context, info, owner, lambda over: self._over(macro, over))
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

    def let_go(self, macro: str, run: object) -> None:
        """The gesture that triggered a run, or none, ended."""
        if not isinstance(run, _MacroRun):
            return
        run.released = True
        if run.info.runs == "while-held" and run in self._runs.get(macro, ()):
            run.stop()
            self._finish(macro, run)

    def _over(self, macro: str, run: _MacroRun) -> None:
        """A run came to its end by itself."""
        if run.info.runs == "once" or (run.released and run.info.runs == "while-held"):
            self._finish(macro, run)
        else:
            run.again()

    def _finish(self, macro: str, run: _MacroRun) -> None:
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
