"""What the controls of a controller mean to a menu on the screen: up, down, choose, back (need N61)."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal, TypeAlias

from nubshift.events import Change
from nubshift.units import MILLISECOND, Micros

MenuAct: TypeAlias = Literal["up", "down", "left", "right", "choose", "back"]
OUT, BACK = 0.6, 0.4
"""A stick means a direction beyond the first, and none any more below the second."""
WAIT: Micros = 400 * MILLISECOND
AGAIN: Micros = 110 * MILLISECOND
"""A direction that is held acts again after the first time, and then each time after the second."""

BUTTONS: dict[str, MenuAct] = {
    "dpad_up": "up",
    "dpad_down": "down",
    "dpad_left": "left",
    "dpad_right": "right",
    "south": "choose",
    "east": "back",
}
STICKS = ("left_stick", "right_stick")


class MenuActs:
    """Turns what one controller reports into acts. What is held as it begins counts when it is pressed anew."""

    def __init__(self, standing: Iterable[Change]) -> None:
        self._held: dict[str, MenuAct] = {}
        self._again: Micros | None = None
        self._repeated: MenuAct | None = None
        self.take(standing, 0)
        self._again = None

    @property
    def next_deadline(self) -> Micros | None:
        """When a direction that is held acts again."""
        return self._again

    def take(self, changes: Iterable[Change], t: Micros) -> list[MenuAct]:
        """What these changes mean."""
        acts = []
        for name, x, y in changes:
            act = self._meant(name, x, y)
            before = self._held.get(name)
            if act == before:
                continue
            if act is None:
                del self._held[name]
            else:
                self._held[name] = act
                acts.append(act)
            self._repeated = act if act in ("up", "down") else None
            self._again = t + WAIT if self._repeated else None
        return acts

    def _meant(self, name: str, x: float, y: float) -> MenuAct | None:
        if name in BUTTONS:
            return BUTTONS[name] if x >= 0.5 else None
        if name not in STICKS:
            return None
        before = self._held.get(name)
        if max(abs(x), abs(y)) < (BACK if before else OUT):
            return None
        if before is not None:
            return before  # another direction counts once the stick was back
        if abs(y) >= abs(x):
            return "up" if y < 0 else "down"
        return "left" if x < 0 else "right"

    def repeat(self, now: Micros) -> list[MenuAct]:
        """The direction that is held, if it is time that it acts again."""
        if self._again is None or self._repeated is None or now < self._again:
            return []
        self._again = now + AGAIN
        return [self._repeated]
