"""Controls pressed together (contract R6): members wait for each other, and a combination acts like a button."""

from __future__ import annotations

from functools import partial

from nubshift.engine.context import Context, HeldSteps
from nubshift.engine.gestures import Gestures
from nubshift.engine.owner import ControlKey, Owner
from nubshift.engine.program import Blocked, CombinationEntry, GestureSet
from nubshift.engine.timers import Timer


class Member:
    """What a combination knows of a button that waits."""

    __slots__ = ("gestures", "key")
    key: ControlKey
    gestures: Gestures

    def act_alone(self) -> None:
        """The press waited for others to be pressed with it, and acts by itself after all."""
        raise NotImplementedError


class Combinations:
    """The combinations of one seat: presses that wait, combinations that wait for a larger one, and those down."""

    def __init__(self, context: Context, entry: CombinationEntry, seat: str) -> None:
        self._context = context
        self.entry = entry
        self._seat = seat
        self._waiting: dict[str, tuple[Member, Timer]] = {}
        self._complete: dict[frozenset[str], int] = {}  # with the newest entering of a layer at its last press
        self._down: dict[frozenset[str], Gestures] = {}
        self._gestures: dict[frozenset[str], Gestures] = {}

    def is_member(self, control: str, order: tuple[int, ...]) -> bool:
        """Whether a control is part of a combination in the active layers, so that its press must wait."""
        if not any(control in self.entry.members[layer] for layer in order):
            return False
        return any(control in members for members in self._shown(order))

    def would_change_layers(self, control: str, order: tuple[int, ...]) -> bool:
        """Whether a press of this member would complete a combination that changes layers at once."""
        shown = self._shown(order)
        members = self._find(control, shown)
        if members is None or self._can_grow(members, shown):
            return False
        combined = self._gestures.get(members)
        return shown[members].changes_layers(combined is not None and combined.would_double(shown[members]))

    def _shown(self, order: tuple[int, ...]) -> dict[frozenset[str], GestureSet]:
        """The combinations of these layers that are not blocked; of equal ones the newest layer's."""
        shown: dict[frozenset[str], GestureSet | Blocked] = {}
        for layer in order:
            for members, found in self.entry.sets[layer].items():
                shown.setdefault(members, found)
        return {members: found for members, found in shown.items() if not isinstance(found, Blocked)}

    def _find(self, control: str, shown: dict[frozenset[str], GestureSet]) -> frozenset[str] | None:
        """The combination that a press of `control` completes: of the most controls, from the newest layer.

        What is part of one that is complete, and waits for a larger one only, is free for larger ones only.
        """
        down = {*self._waiting, control}
        best: frozenset[str] | None = None
        for members in shown:
            fits = control in members and members <= down and (best is None or len(members) > len(best))
            if fits and all(complete <= members or not complete & members for complete in self._complete):
                best = members
        return best

    @staticmethod
    def _can_grow(members: frozenset[str], shown: dict[frozenset[str], GestureSet]) -> bool:
        """Whether one more control could make a larger combination of this one."""
        return any(members < larger for larger in shown)

    def press(self, button: Member, order: tuple[int, ...]) -> None:
        """A member was pressed, and its gestures were touched."""
        context, control = self._context, button.key[1]
        timer = context.timers.set(
            context.t + self.entry.within, partial(self._time_is_up, control), Owner(self._seat, control, "")
        )
        shown = self._shown(order)
        members = self._find(control, shown)
        self._waiting[control] = button, timer
        if members is None:
            return
        for smaller in [smaller for smaller in self._complete if smaller <= members]:
            del self._complete[smaller]
            self._gestures[smaller].swallow()
        combined = self._gestures.setdefault(members, Gestures(context))
        if self._can_grow(members, shown):
            self._complete[members] = context.layers.newest
            combined.touch(shown[members])
        else:
            cancelled = self._swallow(members, context.layers.newest)
            combined.touch(shown[members])
            self._begin(members, cancelled)

    def _swallow(self, members: frozenset[str], newest: int) -> frozenset[str]:
        """The presses of the members do nothing by themselves. Returns the layers for one press that this cancels."""
        by = (self._seat, "+".join(sorted(members)))
        cancelled = self._context.layers.pressed(by, newest)
        for name in [name for name in self._waiting if name in members]:
            button, limit = self._waiting.pop(name)
            limit.cancel()
            button.gestures.swallow()
        return cancelled

    def _begin(self, members: frozenset[str], cancelled: frozenset[str]) -> None:
        self._down[members] = self._gestures[members]
        self._down[members].start(cancelled)

    def _time_is_up(self, control: str) -> None:
        """A member waits no longer: the combination that it completed begins, else it acts by itself."""
        complete = next((members for members in self._complete if control in members), None)
        if complete is not None:
            self._begin(complete, self._swallow(complete, self._complete.pop(complete)))
            return
        button, timer = self._waiting.pop(control)
        timer.cancel()
        button.act_alone()

    def release(self, control: str) -> None:
        """A control went up: if it waited it acts now, by itself or together; the combination it is part of ends."""
        if control in self._waiting:
            self._time_is_up(control)
        for members in [members for members in self._down if control in members]:
            self._down.pop(members).release()

    def drop_deleted(self, layers: set[str]) -> None:
        """Forget combinations of layers that are gone (R12)."""
        for members in [m for m in self._complete if self._gestures[m].layer not in layers]:
            del self._complete[members]
        for members in [m for m, gestures in self._down.items() if gestures.layer not in layers]:
            self._down.pop(members).forget()

    def cancel(self) -> list[HeldSteps]:
        """No press waits any more and no combination goes on (R19); returns what they still hold."""
        for _, limit in self._waiting.values():
            limit.cancel()
        holds = [held for gestures in self._gestures.values() for held in gestures.cancel()]
        self.forget()
        return holds

    def forget(self) -> None:
        """Nothing is under way any more (R12)."""
        for gestures in self._gestures.values():
            gestures.forget()
        self._waiting.clear()
        self._complete.clear()
        self._down.clear()
        self._gestures.clear()
