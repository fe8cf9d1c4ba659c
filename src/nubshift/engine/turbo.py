"""Turbo and pulsing in proportion (contract R7)."""

from __future__ import annotations

from msgspec.structs import replace

from nubshift.engine.context import Context, HeldSteps, Step, Steps
from nubshift.engine.owner import Owner
from nubshift.engine.timers import Timer
from nubshift.model.parameters import SHORTEST_US
from nubshift.model.part import Direction
from nubshift.units import SECOND, Micros


class TurboStep(Step, frozen=True):
    """Pulses of `what`: `rate` a second (with `rate_at_full` following the depth), down for the share `duty`."""

    place: str
    what: Steps
    rate: float
    duty: float
    rate_at_full: float | None
    side: Direction | None = None

    @property
    def changes_layers(self) -> bool:
        """If its first pulse does."""
        return any(step.changes_layers for step in self.what)

    def begin(self, context: Context, owner: Owner) -> _Pulses:
        """Begin with a pulse."""
        owner = replace(owner, side=self.side)
        if self.rate_at_full is None:
            return EvenTurbo(context, owner, self)
        return PacedTurbo(context, owner, self, self.rate_at_full)

    def end(self, context: Context, token: object) -> None:
        """No further pulse; one that is down lasts its least time."""
        assert isinstance(token, _Pulses)
        token.stop()

    def drop(self, context: Context, token: object) -> None:
        """No further pulse; the one that is down is dropped by itself."""
        assert isinstance(token, _Pulses)
        token.cut()


class PulsedStep(Step, frozen=True):
    """Down for the share of each period that the control is moved."""

    place: str
    what: Steps
    period: Micros
    side: Direction | None = None

    def begin(self, context: Context, owner: Owner) -> _Pulses:
        """Begin with a period."""
        return Proportional(context, replace(owner, side=self.side), self)

    def end(self, context: Context, token: object) -> None:
        """No further pulse; one that is down lasts its least time."""
        assert isinstance(token, _Pulses)
        token.stop()

    def drop(self, context: Context, token: object) -> None:
        """No further pulse; the one that is down is dropped by itself."""
        assert isinstance(token, _Pulses)
        token.cut()


class _Pulses:
    """Pulses under way: the steps held, the time the present pulse began, and when it ends and the next one comes."""

    def __init__(self, context: Context, owner: Owner, what: Steps) -> None:
        self._context = context
        self._owner = owner
        self._what = what
        self._held = HeldSteps(context, owner)
        self._since: Micros = context.t
        self._next: Timer | None = None
        self._up: Timer | None = None

    def _down(self) -> None:
        """A pulse begins; one that is down still goes on."""
        self._since = self._context.t
        self._held.begin(self._what)

    def _set_up(self, due: Micros) -> None:
        if self._up is not None:
            self._up.cancel()
        self._up = self._context.timers.set(due, self._held.end_all, self._owner)

    def _set_next(self, due: Micros) -> None:
        if self._next is not None:
            self._next.cancel()
        self._next = self._context.timers.set(due, self._pulse, self._owner)

    def _pulse(self) -> None:
        """The next pulse is due."""
        raise NotImplementedError

    def stop(self) -> None:
        """A pulse that is down reaches its least length and no more."""
        self.cut()
        if self._held:
            if self._context.t - self._since >= SHORTEST_US:
                self._held.end_all()
            else:
                self._set_up(self._since + SHORTEST_US)

    def cut(self) -> None:
        """Nothing further comes."""
        for timer in (self._next, self._up):
            if timer is not None:
                timer.cancel()


class EvenTurbo(_Pulses):
    """Pulse k begins at start + k · period."""

    def __init__(self, context: Context, owner: Owner, step: TurboStep) -> None:
        super().__init__(context, owner, step.what)
        self._period, self._length = even_pulse(step.rate, step.duty)
        self._start = context.t
        self._k = 0
        self._pulse()

    def _pulse(self) -> None:
        self._down()
        self._k += 1
        self._set_up(self._since + self._length)
        self._set_next(self._start + self._k * self._period)


def even_pulse(rate: float, duty: float) -> tuple[Micros, Micros]:
    """Period and length of a pulse in µs for a rate in Hz and a duty; pulse and gap last at least `SHORTEST_US`."""
    period = max(round(SECOND / rate), 2 * SHORTEST_US)
    return period, min(max(round(period * duty), SHORTEST_US), period - SHORTEST_US)


class PacedTurbo(_Pulses):
    """The phase advances with the rate of the moment; a pulse begins whenever it has come around."""

    def __init__(self, context: Context, owner: Owner, step: TurboStep, rate_at_full: float) -> None:
        super().__init__(context, owner, step.what)
        self._slow, self._fast, self._duty = step.rate, rate_at_full, step.duty
        self._phase = 0.0
        self._at = self._last_up = context.t
        self._rate = self._rate_now()
        context.on_depth.setdefault(owner.key, []).append(self.follow)
        self._pulse()

    def _rate_now(self) -> float:
        """Turns of the phase per µs."""
        return (self._slow + (self._fast - self._slow) * self._context.depth(self._owner)) / SECOND

    def _pulse(self) -> None:
        self._down()
        self._phase = 0.0
        self._at = self._context.t
        self._plan()

    def follow(self) -> None:
        """The depth may have changed."""
        rate = self._rate_now()
        if rate != self._rate:
            self._phase += (self._context.t - self._at) * self._rate
            self._at = self._context.t
            self._rate = rate
            self._plan()

    def _plan(self) -> None:
        """When the pulse ends and the next begins, at this rate."""
        t = self._context.t
        around = self._at + round((1.0 - self._phase) / self._rate)
        if self._held:
            ends = self._at + round((self._duty - self._phase) / self._rate)
            up = max(self._since + SHORTEST_US, min(ends, around - SHORTEST_US), t)
            self._set_up(up)
            self._set_next(max(around, up + SHORTEST_US))
            self._last_up = up
        else:
            self._set_next(max(around, self._last_up + SHORTEST_US, t))

    def cut(self) -> None:
        """Nothing further comes, and the depth is not followed any more."""
        super().cut()
        told = self._context.on_depth.get(self._owner.key, [])
        if self.follow in told:
            told.remove(self.follow)
            if not told:
                del self._context.on_depth[self._owner.key]


class Proportional(_Pulses):
    """Each period reads the depth at its start and is down for that share of it."""

    def __init__(self, context: Context, owner: Owner, step: PulsedStep) -> None:
        super().__init__(context, owner, step.what)
        self._period = step.period
        self._start = context.t
        self._k = 0
        self._pulse()

    def _pulse(self) -> None:
        length = round(self._context.depth(self._owner) * self._period)
        if length < SHORTEST_US:
            self._held.end_all()
        else:
            self._down()
            if self._period - length >= SHORTEST_US:
                self._set_up(self._context.t + length)
        self._k += 1
        self._set_next(self._start + self._k * self._period)
