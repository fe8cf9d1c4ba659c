"""What rumbles in whose hand: the profile's own pulses, and what the game sends to the virtual pad (need N08)."""

from __future__ import annotations

from nubshift.events import Rumble
from nubshift.outputs.feedback import Capped
from nubshift.runner.frames import FIRST
from nubshift.runner.session import earliest
from nubshift.units import Micros


class Rumbling:
    """Strengths by seat. A pulse lasts as long as it was meant to, also when it was dealt with late as a whole."""

    def __init__(self) -> None:
        self._capped = Capped()
        self._own: dict[str, float] = {}
        self._began: dict[str, tuple[Micros, Micros]] = {}
        self._ends: dict[str, Micros] = {}
        self._told: dict[str, float] = {}
        self._cap: Micros = 0

    def take(self, effect: Rumble, now: Micros) -> None:
        """The profile lets a controller rumble, or ends that."""
        seat = effect.code
        if effect.value:
            self._own[seat] = effect.value
            self._began[seat] = (effect.t, now)
            self._ends.pop(seat, None)
        elif seat in self._own:
            t, began = self._began[seat]
            self._ends[seat] = began + max(0, effect.t - t)

    def stop(self) -> None:
        """Everything is let go of: nothing of the profile rumbles on."""
        self._own.clear()
        self._ends.clear()

    def changes(self, game: float, share: float, cap: Micros, now: Micros) -> dict[str, float]:
        """The seats whose strength is another one now. `game` is what the game wants, of which `share` is felt."""
        self._cap = cap
        for seat in [seat for seat, end in self._ends.items() if end <= now]:
            del self._ends[seat]
            self._own.pop(seat, None)
        felt = self._capped.felt(game, share, cap, now)
        wanted = {
            seat: max(felt if seat == FIRST else 0.0, self._own.get(seat, 0.0))
            for seat in dict.fromkeys([FIRST, *self._own, *self._told])
        }
        changed = {seat: value for seat, value in wanted.items() if value != self._told.get(seat, 0.0)}
        self._told = {seat: value for seat, value in wanted.items() if value}
        return changed

    @property
    def next_deadline(self) -> Micros | None:
        """When something ends by itself."""
        return earliest(*self._ends.values(), self._capped.ends(self._cap))
