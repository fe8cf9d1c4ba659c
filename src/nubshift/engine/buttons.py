"""Buttons, and triggers used as buttons: captured at press, ended at release (contract R3, R4)."""

from __future__ import annotations

from nubshift.engine.grip import Grip, Ledger
from nubshift.engine.program import Blocked, ButtonEntry, Press, TriggerEntry, setting_layer
from nubshift.events import Output
from nubshift.units import Micros


class ButtonState:
    """One button of one seat: whether it is down, and what its press began.

    Being down is kept apart from acting: a button pressed while the engine is stopped is known to be down afterwards.
    """

    __slots__ = ("down", "entry", "grip", "press")

    def __init__(self, entry: ButtonEntry | TriggerEntry, ledger: Ledger) -> None:
        self.entry = entry
        self.grip = Grip(ledger)
        self.press: Press | None = None
        self.down = False

    def reads(self, value: float, down: bool) -> bool:
        """Whether the control counts as down with this value if it was `down` before (contract R4 for triggers)."""
        entry = self.entry
        if isinstance(entry, TriggerEntry):
            return value >= (entry.release_at if down else entry.press_at)
        return value >= 0.5

    def look_up(self, order: tuple[int, ...]) -> Press | None:
        """What a press would begin with these active layers (indexes, newest first)."""
        layer = setting_layer(self.entry.presses, order)
        found = None if layer is None else self.entry.presses[layer]
        return None if isinstance(found, Blocked) else found

    def act(self, down: bool, order: tuple[int, ...], t: Micros, out: list[Output]) -> None:
        """Press or release; `down` must differ from what was."""
        self.down = down
        if down:
            self.press = self.look_up(order)
            if self.press is not None:
                self.grip.begin(self.press.steps, t, out)
        else:
            self.grip.end_all(t, out)
            self.press = None

    def forget(self) -> None:
        """Hold nothing any more; if the button is down it stays without effect until pressed anew (R12)."""
        self.grip.forget()
        self.press = None

    def drop_deleted(self, layers: set[str], t: Micros, out: list[Output]) -> None:
        """Release what a binding of a deleted layer began (R12)."""
        if self.press is not None and self.press.layer not in layers:
            self.grip.end_all(t, out)
            self.press = None
