"""Buttons, and triggers used as buttons: looked up and captured at press, ended at release (contract R4, R5)."""

from __future__ import annotations

from typing import TYPE_CHECKING

from nubshift.engine.gestures import Gestures
from nubshift.engine.owner import Owner
from nubshift.engine.program import Act, Blocked, ButtonEntry, ControlKey, GestureSet, setting_layer
from nubshift.engine.steps import ChangeLayerStep
from nubshift.engine.together import Together

if TYPE_CHECKING:
    from nubshift.engine.core import Core


class ButtonState:
    """One button of one seat: whether it is down, and what its presses have under way.

    Being down is kept apart from acting: a button pressed while the engine is stopped is known to be down afterwards.
    """

    __slots__ = ("_core", "_entry", "_press_at", "_release_at", "down", "gestures", "is_trigger", "key", "together")

    def __init__(self, core: Core, key: ControlKey, entry: ButtonEntry, together: Together | None) -> None:
        self._core = core
        self.key = key
        self.set_entry(entry)
        self.together = together
        self.gestures = Gestures(core)
        self.down = False

    def set_entry(self, entry: ButtonEntry) -> None:
        """Go on with an edited entry. A trigger has a depth, so a report without a press or release is nothing odd."""
        self._entry = entry
        self._press_at, self._release_at = entry.press_at, entry.release_at
        self.is_trigger = entry.press_at != entry.release_at

    def reads(self, value: float, down: bool) -> bool:
        """Whether the control counts as down with this value if it was `down` before (R4 for triggers)."""
        return value >= (self._release_at if down else self._press_at)

    def look_up(self) -> GestureSet | None:
        """What a press would do with the layers as they are now."""
        layers = self._core.layers
        layer = setting_layer(self._entry.presses, layers.order)
        if layer is None:
            return self._way_out()
        found = self._entry.presses[layer]
        return None if isinstance(found, Blocked) else found

    def _way_out(self) -> GestureSet | None:
        """A button that toggled a hiding layer on toggles it off, where that layer does not set the button (R5)."""
        bottom = self._core.layers.bottom
        if not bottom.hides or self._core.layers.toggled_by(bottom.id) != self.key:
            return None
        owner = Owner(*self.key, bottom.id)
        off = (ChangeLayerStep(bottom.id, "toggle"),)
        return GestureSet(owner, press=Act(off, off, owner))

    def changes_layers(self) -> bool:
        """Whether a press now would change layers, so that it comes first in its report."""
        if not self._entry.may_change_layers and self.together is None and not self._core.layers.bottom.hides:
            return False
        order = self._core.layers.order
        if self.together is not None and self.together.is_member(self.key[1], order):
            complete = self.together.find(self.key[1], order)
            return complete is not None and complete[1].changes_layers
        found = self.look_up()
        return found is not None and found.changes_layers

    def press(self) -> None:
        """The button came down."""
        self.down = True
        core = self._core
        core.pressed.add(self.key)
        order = core.layers.order
        found = self.look_up()
        waits = self.together is not None and self.together.is_member(self.key[1], order)
        complete = self.together.find(self.key[1], order) if waits and self.together is not None else None
        own = core.layers.pressed(self.key)
        if own and found is not None:
            found = _without_once(found, own)
        self.gestures.touch(found)
        if waits and self.together is not None:
            self.together.press(self.key[1], self.gestures, complete)
        else:
            self.gestures.start()
        for call in tuple(core.listeners.get(self.key, ())):
            call(True)

    def release(self) -> None:
        """The button went up."""
        self.down = False
        self._core.pressed.discard(self.key)
        if self.together is not None:
            self.together.release(self.key[1])
        self.gestures.release()
        for call in tuple(self._core.listeners.get(self.key, ())):
            call(False)

    def forget(self) -> None:
        """Nothing is under way; if the button is down it stays without effect until pressed anew (R12)."""
        self._core.pressed.discard(self.key)
        self.gestures.forget()

    def drop_deleted(self, layers: set[str]) -> None:
        """Forget what a binding of a deleted layer began (R12)."""
        if self.gestures.layer is not None and self.gestures.layer not in layers:
            self.gestures.forget()


def _without_once(found: GestureSet, layers: frozenset[str]) -> GestureSet:
    """The set without entering these layers for one press: the press cancelled them instead."""

    def cleaned(act: Act | None) -> Act | None:
        if act is None:
            return None
        keys, pad = (
            tuple(s for s in steps if not (isinstance(s, ChangeLayerStep) and s.how == "once" and s.layer in layers))
            for steps in (act.keys, act.pad)
        )
        return Act(keys, pad, act.owner)

    return GestureSet(
        found.owner, cleaned(found.press), cleaned(found.tap), cleaned(found.hold), cleaned(found.double),
        cleaned(found.release), found.hold_at, found.double_within, found.pulse,
    )  # fmt: skip
