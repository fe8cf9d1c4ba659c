"""Commands that the game toggles itself (contract R7): tapped on entering and on leaving, never joined or masked."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable
from functools import partial

from nubshift.engine.context import Context, HeldSteps, Step, Steps
from nubshift.engine.owner import Owner
from nubshift.units import Micros

GAP_US = 30_000
"""Between two pulses of one command (R7)."""


class GameToggleStep(Step, frozen=True):
    """One pulse on beginning and one on ending, of `pulse` µs."""

    command: str
    what: Steps
    pulse: Micros

    def begin(self, context: Context, owner: Owner) -> Owner:
        """Switch it on in the game."""
        context.toggle_in_game(self.command, self.what, self.pulse, owner)
        return owner

    def end(self, context: Context, token: object) -> None:
        """Switch it off again."""
        assert isinstance(token, Owner)
        context.toggle_in_game(self.command, self.what, self.pulse, token)

    def drop(self, context: Context, token: object) -> None:
        """A stop sends nothing more; the game may be left with it on."""
        context.lose_tap_in_game()


class _Line:
    """The pulses of one command, one after the other. The first is down, or waits for its keys, or is over."""

    def __init__(self, context: Context) -> None:
        self._context = context
        self._entries: deque[tuple[Steps, Micros, Owner]] = deque()
        self._sent = False  # the first was sent
        self._wait = 0  # counts the waits for a key, so that only the newest of them is heard

    def __bool__(self) -> bool:
        return bool(self._entries)

    def add(self, what: Steps, pulse: Micros, owner: Owner) -> None:
        """One pulse more."""
        self._entries.append((what, pulse, owner))
        if len(self._entries) == 1:
            self._start()

    def _start(self) -> None:
        """Send the first, as soon as none of its keys is held by anything else."""
        context = self._context
        self._sent = False
        self._wait += 1
        what, pulse, owner = self._entries[0]
        busy = next((code for part in what for code in part.codes if context.holders.is_down(code)), None)
        if busy is not None:
            context.holders.when_up(busy, partial(self._freed, self._wait))
            return
        self._sent = True
        held = HeldSteps(context, owner)
        held.begin(what)
        context.timers.set(context.t + pulse, partial(self._over, held), owner)

    def _freed(self, wait: int) -> None:
        if wait == self._wait and self._entries:
            self._in_a_moment(self._start)

    def _over(self, held: HeldSteps) -> None:
        held.end_all()
        self._in_a_moment(self._next)

    def _next(self) -> None:
        self._entries.popleft()
        if self._entries:
            self._start()

    def _in_a_moment(self, call: Callable[[], None]) -> None:
        self._context.timers.set(self._context.t + GAP_US, call, self._entries[0][2])

    def drop(self, of: Callable[[Owner], bool]) -> int:
        """Forget the pulses of these owners, whose timers are gone; the others go on. Returns how many were lost."""
        if not self._entries:
            return 0
        first_goes = of(self._entries[0][2])
        before = len(self._entries)
        self._entries = deque(entry for entry in self._entries if not of(entry[2]))
        lost = before - len(self._entries) - int(first_goes and self._sent)
        if first_goes:
            self._wait += 1
            if self._entries:
                self._in_a_moment(self._start)
        return lost

    def clear(self) -> int:
        """Forget all. Returns how many were not sent."""
        lost = len(self._entries) - int(self._sent and bool(self._entries))
        self._entries.clear()
        self._wait += 1
        return lost


class GameToggles:
    """The pulses of each command. `lost` counts those that a stop dropped."""

    def __init__(self, context: Context) -> None:
        self._context = context
        self._lines: dict[str, _Line] = {}
        self.lost = 0

    def tap(self, command: str, what: Steps, pulse: Micros, owner: Owner) -> None:
        """One pulse more."""
        line = self._lines.get(command)
        if line is None:
            line = self._lines[command] = _Line(self._context)
        line.add(what, pulse, owner)

    def drop(self, of: Callable[[Owner], bool]) -> None:
        """Forget the pulses of these owners; the others go on."""
        self.lost += sum(line.drop(of) for line in self._lines.values())

    def clear(self) -> None:
        """Forget all that waits, and remember how much that was."""
        self.lost += sum(line.clear() for line in self._lines.values())
        for held in self._context.held:
            self.lost += sum(isinstance(step, GameToggleStep) for _, step, _ in held.entries())
