"""Controls pressed together (contract R6): members wait for each other, and a combination acts like a button."""

from __future__ import annotations

from typing import TYPE_CHECKING

from nubshift.engine.gestures import Gestures
from nubshift.engine.owner import Owner
from nubshift.engine.program import Blocked, GestureSet, TogetherEntry
from nubshift.engine.timers import Timer

if TYPE_CHECKING:
    from nubshift.engine.core import Core


class Together:
    """The combinations of one seat: presses that wait, and combinations that are down."""

    def __init__(self, core: Core, entry: TogetherEntry, seat: str) -> None:
        self._core = core
        self.entry = entry
        self._seat = seat
        self._waiting: dict[str, tuple[Gestures, Timer]] = {}
        self._down: dict[frozenset[str], Gestures] = {}
        self._gestures: dict[frozenset[str], Gestures] = {}

    def is_member(self, control: str, order: tuple[int, ...]) -> bool:
        """Whether a control is part of a combination in the active layers, so that its press must wait."""
        if not any(control in self.entry.members[layer] for layer in order):
            return False
        return any(not isinstance(found, Blocked) for members, found in self._shown(order) if control in members)

    def _shown(self, order: tuple[int, ...]) -> list[tuple[frozenset[str], GestureSet | Blocked]]:
        """The combinations of these layers; of equal ones the newest layer's."""
        shown: dict[frozenset[str], GestureSet | Blocked] = {}
        for layer in order:
            for members, found in self.entry.sets[layer].items():
                shown.setdefault(members, found)
        return list(shown.items())

    def find(self, control: str, order: tuple[int, ...]) -> tuple[frozenset[str], GestureSet] | None:
        """The combination that a press of `control` completes: of the most controls, from the newest layer."""
        down = {*self._waiting, control}
        best: tuple[frozenset[str], GestureSet] | None = None
        for members, found in self._shown(order):
            fits = control in members and members <= down and (best is None or len(members) > len(best[0]))
            if fits and not isinstance(found, Blocked):
                best = members, found
        return best

    def press(self, control: str, gestures: Gestures, complete: tuple[frozenset[str], GestureSet] | None) -> None:
        """A member was pressed, and its gestures were touched; `complete` is what `find` says."""
        core = self._core
        owner = Owner(self._seat, control, gestures.layer or "")
        timer = core.timers.set(core.t + self.entry.within, lambda: self._alone(control), owner)
        self._waiting[control] = gestures, timer
        if complete is None:
            return
        members, found = complete
        for name in [name for name in self._waiting if name in members]:
            waiting, limit = self._waiting.pop(name)
            limit.cancel()
            waiting.swallow()
        combined = self._gestures.setdefault(members, Gestures(core))
        self._down[members] = combined
        combined.touch(found)
        combined.start()

    def release(self, control: str) -> None:
        """A control went up: if it waited it acts by itself now; the combination it is part of ends."""
        if control in self._waiting:
            self._alone(control)
        for members in [members for members in self._down if control in members]:
            self._down.pop(members).release()

    def _alone(self, control: str) -> None:
        gestures, timer = self._waiting.pop(control)
        timer.cancel()
        gestures.start()

    def drop_deleted(self, layers: set[str]) -> None:
        """Forget combinations of layers that are gone (R12)."""
        for members in [m for m, gestures in self._down.items() if gestures.layer not in layers]:
            self._down.pop(members).forget()

    def forget(self) -> None:
        """Nothing is under way any more (R12)."""
        for gestures in self._gestures.values():
            gestures.forget()
        self._waiting.clear()
        self._down.clear()
        self._gestures.clear()
