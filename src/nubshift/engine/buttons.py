"""Buttons, and triggers used as buttons: looked up and captured at press, ended at release (contract R4, R5)."""

from __future__ import annotations

from nubshift.engine.act import Act
from nubshift.engine.combinations import Combinations, Member
from nubshift.engine.context import Context, HeldSteps
from nubshift.engine.gestures import Gestures
from nubshift.engine.owner import ControlKey, Owner
from nubshift.engine.program import Blocked, ButtonEntry, GestureSet, setting_layer
from nubshift.engine.steps import ChangeLayerStep
from nubshift.model.controls import PRESENCE


class ButtonState(Member):
    """One button of one seat: whether it is down, and what its presses have under way.

    Being down is kept apart from acting: a button pressed while the engine is stopped is known to be down afterwards.
    """

    __slots__ = (
        "_context",
        "_entries",
        "_entry",
        "_press_at",
        "_release_at",
        "_spares",
        "down",
        "is_trigger",
        "together",
    )

    def __init__(self, context: Context, key: ControlKey, entry: ButtonEntry, together: Combinations | None) -> None:
        self._context = context
        self.key = key
        self.set_entry(entry)
        self.together = together
        self.gestures = Gestures(context)
        self.down = False
        self._spares = False
        self._entries = 0

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
        layers = self._context.layers
        layer = setting_layer(self._entry.presses, layers.order)
        if layer is None:
            return self._way_out()
        found = self._entry.presses[layer]
        return None if isinstance(found, Blocked) else found

    def _way_out(self) -> GestureSet | None:
        """A button that toggled a hiding layer on toggles it off, where that layer does not set the button (R5)."""
        bottom = self._context.layers.bottom
        if not bottom.hides or self._context.layers.toggled_by(bottom.id) != self.key:
            return None
        owner = Owner(*self.key, bottom.id)
        off = (ChangeLayerStep(bottom.id, "toggle"),)
        return GestureSet(owner, press=Act(off, off, owner))

    def changes_layers(self) -> bool:
        """Whether a press now would change layers at once, so that it comes first in its report."""
        if not self._entry.may_change_layers and self.together is None and not self._context.layers.bottom.hides:
            return False
        order = self._context.layers.order
        if self.together is not None and self.together.is_member(self.key[1], order):
            return self.together.would_change_layers(self.key[1], order)
        found = self.look_up()
        return found is not None and found.changes_layers(self.gestures.would_double(found))

    def press(self) -> None:
        """The button came down."""
        self.down = True
        context = self._context
        context.presses.press(self.key)
        context.layers.entering.discard(self.key)
        order = context.layers.order
        found = self.look_up()
        self._spares = self._spares_once(order)
        self._entries = context.layers.newest
        if self.together is not None and self.together.is_member(self.key[1], order):
            self.gestures.touch(found)
            self.together.press(self, order)
        else:
            own = self._use_up_once()
            self.gestures.touch(found)
            self.gestures.start(own)
        context.presses.tell(self.key, True)

    def _spares_once(self, order: tuple[int, ...]) -> bool:
        """Whether a press leaves layers for one press alone: a finger or sight, or a trigger by its depth (R5)."""
        if self.key[1] in PRESENCE:
            return True
        depths = self._entry.depths
        layer = setting_layer(self._entry.presses, order) if depths else None
        return layer is not None and depths[layer]

    def _use_up_once(self) -> frozenset[str]:
        """The press acts by itself: layers for one press end. Those that were its own are not entered anew (R5)."""
        return frozenset() if self._spares else self._context.layers.pressed(self.key, self._entries)

    def act_alone(self) -> None:
        """The press waited for others to be pressed with it, and acts by itself after all."""
        self.gestures.start(self._use_up_once())

    @property
    def entered_a_layer(self) -> bool:
        """Whether the present press entered a layer, so that it keeps what it was bound to until its release (R4)."""
        return self.down and self.gestures.set is not None and self.key in self._context.layers.entering

    def release(self) -> None:
        """The button went up."""
        context = self._context
        if self.entered_a_layer:
            context.look_anew(self.key)
        self.down = False
        context.presses.forget(self.key)
        context.layers.entering.discard(self.key)
        if self.together is not None:
            self.together.release(self.key[1])
        self.gestures.release()
        context.presses.tell(self.key, False)

    def forget(self) -> None:
        """Nothing is under way; if the button is down it stays without effect until pressed anew (R12)."""
        self._context.presses.forget(self.key)
        self.gestures.forget()

    def cancel(self) -> list[HeldSteps]:
        """The control is taken from play: its press does nothing more (R19); returns what it still holds."""
        self._context.presses.forget(self.key)
        self._context.layers.entering.discard(self.key)
        self.down = False
        return self.gestures.cancel()

    def drop_deleted(self, layers: set[str]) -> None:
        """Forget what a binding of a deleted layer began (R12)."""
        if self.gestures.layer is not None and self.gestures.layer not in layers:
            self.gestures.forget()
