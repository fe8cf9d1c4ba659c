"""Keys in order (contract R6): each goes down one gap after the one before, and all stay until release."""

from __future__ import annotations

from nubshift.engine.context import Context, HeldSteps, Step, Steps
from nubshift.engine.owner import Owner
from nubshift.engine.timers import Timer
from nubshift.units import Micros


class OrderStep(Step, frozen=True):
    """Begin `what` one by one, `gap` µs apart; those that a release comes before are tapped for `pulse` µs."""

    place: str
    what: Steps
    gap: Micros
    pulse: Micros

    @property
    def codes(self) -> tuple[str, ...]:
        """What goes down first."""
        return self.what[0].codes if self.what else ()

    @property
    def changes_layers(self) -> bool:
        """If the first does."""
        return bool(self.what) and self.what[0].changes_layers

    def begin(self, context: Context, owner: Owner) -> _SequenceRun:
        """Begin with the first."""
        return _SequenceRun(context, owner, self)

    def end(self, context: Context, token: object) -> None:
        """Let go of what is down; the rest is tapped, each in its time."""
        assert isinstance(token, _SequenceRun)
        token.release()

    def drop(self, context: Context, token: object) -> None:
        """Nothing further comes; what is down is dropped by itself."""
        assert isinstance(token, _SequenceRun)
        token.cut()


class _SequenceRun:
    """A chord in order that is under way."""

    def __init__(self, context: Context, owner: Owner, step: OrderStep) -> None:
        self._context = context
        self._step = step
        self._held = HeldSteps(context, owner)
        self._at = 0
        self._released = False
        self._timer: Timer | None = None
        self._go_on()

    def _go_on(self) -> None:
        step = (self._step.what[self._at],)
        if self._released:
            self._context.pulse(step, self._held.owner, self._step.pulse)
        else:
            self._held.begin(step)
        self._at += 1
        if self._at < len(self._step.what):
            self._timer = self._context.timers.set(self._context.t + self._step.gap, self._go_on, self._held.owner)

    def release(self) -> None:
        """The press is over."""
        self._released = True
        self._held.end_all()

    def cut(self) -> None:
        """Nothing further comes."""
        if self._timer is not None:
            self._timer.cancel()
