"""The gestures of one button (contract R6): press, tap, hold, double tap and release, timed from the real press.

A press has two moments: `touch`, when the finger came down and the binding was taken, and `start`, when it is known
that it is no combination. Most buttons do both at once.
"""

from __future__ import annotations

from functools import partial

from nubshift.engine.act import Act
from nubshift.engine.context import Context, HeldSteps, end_together
from nubshift.engine.program import GestureSet
from nubshift.engine.steps import ChangeLayerStep
from nubshift.engine.timers import Timer
from nubshift.units import Micros


class Gestures:
    """What the presses of one button have under way. `set` is the binding of the press that is down."""

    __slots__ = ("_context", "_double", "_first", "_hold_timer", "_holds", "_pressed_at", "_spared", "_waiting", "set")

    def __init__(self, context: Context) -> None:
        self._context = context
        self.set: GestureSet | None = None
        self._pressed_at: Micros = 0
        self._double = False
        self._first: tuple[GestureSet, Micros] | None = None  # a tap that may become a double tap
        self._waiting: Timer | None = None  # its tap, not sent yet
        self._spared: GestureSet | None = None  # the same, kept back while it is open whether a double tap comes
        self._hold_timer: Timer | None = None
        self._holds: list[tuple[HeldSteps, Micros]] = []  # what the press holds, and until when at least

    def touch(self, found: GestureSet | None) -> None:
        """The button came down, bound like this. A tap that waits is sent now if this can't make it a double tap."""
        context = self._context
        first, self._first = self._first, None
        waits = self._waiting is not None and self._waiting.call is not None
        if self._waiting is not None:
            self._waiting.cancel()
            self._waiting = None
        self._double = _is_double(first, found, context.t)
        self.set = found
        self._pressed_at = context.t
        if waits and first is not None:
            if self._double:
                self._spared = first[0]
            else:
                self._tap(first[0])

    def would_double(self, found: GestureSet) -> bool:
        """Whether a press now, bound like this, is the second one of a double tap."""
        return _is_double(self._first, found, self._context.t)

    def start(self, cancelled: frozenset[str] = frozenset()) -> None:
        """The press acts. It does not enter the layers for one press that it `cancelled` (R5)."""
        if cancelled and self.set is not None:
            self.set = _without_once(self.set, cancelled)
        found = self.set
        self._spared = None
        if found is None:
            return
        context = self._context
        if found.press is not None:
            self._hold(found.press, context.t)
        if self._double and found.double is not None:
            self._hold(found.double, context.t + found.pulse)
        elif found.hold is not None:
            due = self._pressed_at + found.hold_at
            if due <= context.t:
                self._begin_hold(found.hold)
            else:
                self._hold_timer = context.timers.set(due, partial(self._begin_hold, found.hold), found.owner)

    def swallow(self) -> None:
        """The press was part of a combination: it does nothing by itself; a tap from before is sent after all."""
        spared, self._spared = self._spared, None
        if spared is not None:
            self._tap(spared)
        self.set = None

    def release(self) -> None:
        """The button went up: what the press held ends, newest first, then a tap, then the release (R6)."""
        found, self.set = self.set, None
        if found is None:
            return
        context = self._context
        if self._hold_timer is not None:
            self._hold_timer.cancel()
        holds, self._holds = self._holds, []
        end_together(held for held, until in holds if until <= context.t)
        for held, until in holds:
            if until > context.t:
                context.timers.set(until, held.end_all, found.owner)
        if not self._double and context.t - self._pressed_at < found.hold_at:
            self._tapped(found)
        if found.release is not None:
            context.pulse(
                found.release.steps(context.layers.pad_form), found.release.owner, found.pulse, keys_only=True
            )

    def cancel(self) -> list[HeldSteps]:
        """The press ends with nothing sent at its end, and nothing that waited is sent; returns what it still holds."""
        for timer in (self._waiting, self._hold_timer):
            if timer is not None:
                timer.cancel()
        holds = [held for held, _ in self._holds]
        self.forget()
        return holds

    def _tapped(self, found: GestureSet) -> None:
        """The press was a tap: send it now, or when no double tap can come any more."""
        due = self._pressed_at + found.double_within
        if found.double is None or due <= self._context.t:
            self._tap(found)
            return
        self._first = found, self._pressed_at
        if found.tap is not None:
            self._waiting = self._context.timers.set(due, partial(self._tap, found), found.owner)

    def _tap(self, found: GestureSet) -> None:
        if found.tap is not None:
            self._context.pulse(found.tap.steps(self._context.layers.pad_form), found.tap.owner, found.pulse)

    def _begin_hold(self, act: Act) -> None:
        assert self.set is not None
        self._hold(act, self._context.t + self.set.pulse)

    def _hold(self, act: Act, until: Micros) -> None:
        """Hold an act as long as the button is down, at least `until`."""
        held = HeldSteps(self._context, act.owner)
        held.begin(act.steps(self._context.layers.pad_form))
        self._holds.append((held, until))

    @property
    def layer(self) -> str | None:
        """The layer whose binding the press has taken."""
        return None if self.set is None else self.set.owner.layer

    def forget(self) -> None:
        """Nothing is under way any more; what was held has been released by others (R12)."""
        self.set = self._spared = self._first = None
        self._waiting = self._hold_timer = None
        self._double = False
        self._holds.clear()


def _is_double(first: tuple[GestureSet, Micros] | None, found: GestureSet | None, t: Micros) -> bool:
    """Whether a press at `t` bound as `found` is the second one after the tap `first`."""
    return first is not None and found is not None and found == first[0] and t - first[1] < found.double_within


def _without_once(found: GestureSet, layers: frozenset[str]) -> GestureSet:
    """The set without entering these layers for one press."""

    def cleaned(act: Act | None) -> Act | None:
        if act is None:
            return None
        keys, pad = (
            tuple(s for s in steps if not (isinstance(s, ChangeLayerStep) and s.how == "once" and s.layer in layers))
            for steps in (act.keys, act.pad)
        )
        return Act(keys, pad, act.owner)

    return GestureSet(
        found.owner,
        cleaned(found.press),
        cleaned(found.tap),
        cleaned(found.hold),
        cleaned(found.double),
        cleaned(found.release),
        found.hold_at,
        found.double_within,
        found.pulse,
    )
