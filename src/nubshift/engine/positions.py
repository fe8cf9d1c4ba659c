"""Controls by their position: sticks, triggers with bands, axes, d-pads, touch pads, pointers (contract R4).

They follow their value and the layers at once. What a position holds is what its role and its bands want together;
the difference to what it held before is ended and begun.
"""

from __future__ import annotations

from math import hypot
from typing import TYPE_CHECKING

from nubshift.engine.grip import Grip
from nubshift.engine.owner import Owner
from nubshift.engine.program import Blocked, ControlKey, Position, PositionEntry, Step, setting_layer
from nubshift.engine.roles.make import followers_for
from nubshift.engine.tuning import Tuning, tuning
from nubshift.model.part import Direction

if TYPE_CHECKING:
    from nubshift.engine.core import Core
    from nubshift.engine.roles.port import Follower

_ALONG: dict[Direction, tuple[float, float]] = {
    "up": (0.0, -1.0), "right": (1.0, 0.0), "down": (0.0, 1.0), "left": (-1.0, 0.0),
}  # fmt: skip


class PositionState:
    """One control of one seat: its value, the binding it follows, and what it holds.

    `acts` says whether any layer binds it; `x`, `y` are in normal form; `present` is False while a sensor has lost
    sight of what it senses.
    """

    def __init__(self, core: Core, key: ControlKey, entry: PositionEntry) -> None:
        self.core = core
        self.key = key
        self.entry = entry
        self.acts = entry.acts
        self.x = 0.0
        self.y = 0.0
        self.present = not entry.senses
        self.touched = self.here = False  # of a half of a touch pad: a finger is down; and in this half
        self.position: Position | None = None
        self.grip = Grip(core, Owner(*key, ""))
        self._followers: tuple[Follower, ...] = ()
        self._version = -1
        self._tunings: dict[tuple[str, tuple[int, ...]], Tuning] = {}
        self.tuned: Tuning | None = None

    def set_entry(self, entry: PositionEntry) -> None:
        """Go on with an edited entry."""
        self.entry = entry
        self.acts = entry.acts
        self._tunings.clear()
        self._version = -1

    def take(self, component: int, value: float) -> None:
        """A part of the value: 0 is x, 1 is y."""
        if component:
            self.y = value
        else:
            self.x = value

    def depth(self, side: Direction | None) -> float:
        """How far it is moved, 0 to 1; along a straight direction if `side` is one."""
        along = _ALONG.get(side) if side is not None else None
        size = hypot(self.x, self.y) if along is None else max(0.0, self.x * along[0] + self.y * along[1])
        return min(1.0, size)

    def follow(self) -> None:
        """Act on the present value with the layers as they are now."""
        if self._version != self.core.version:
            self._look()
        wanted: dict[Step, Owner] = {}
        for follower in self._followers:
            follower.update(self, wanted)
        if wanted or self.grip:
            self.grip.change_to(wanted)
        if self.core.paced:
            for run in self.core.paced.get(self.key, ()):
                run.follow()

    def _look(self) -> None:
        """The layers, or the feel, changed: look the binding up again, unless this control holds a layer itself."""
        core = self.core
        self._version = core.version
        order = core.layers.order
        if not core.layers.is_held_by(self.key):
            layer = setting_layer(self.entry.positions, order)
            found = None if layer is None else self.entry.positions[layer]
            position = None if isinstance(found, Blocked) else found
            if position != self.position:
                for follower in self._followers:
                    follower.leave(self)
                self.position = position
                self._followers = followers_for(self, position) if position is not None else ()
                if position is not None:
                    self.grip.owner = position.owner
        self._tune()

    def stay(self) -> None:
        """Keep the binding that it follows, with the feel of the layers as they are now."""
        if self._version != self.core.version:
            self._version = self.core.version
            self._tune()

    def _tune(self) -> None:
        """The feel for the layers as they are now."""
        core = self.core
        order = core.layers.order
        variant = core.variants.chosen.get(self.key)
        under = (variant.id if variant else "", order)
        tuned = self._tunings.get(under)
        if tuned is None:
            own = {variant.layer: variant.feel} if variant else {}
            feels = tuple(own.get(layer, self.entry.feels[layer]) for layer in order)
            tuned = self._tunings[under] = tuning(feels, core.layers.counts_per_degree)
        self.tuned = tuned
        for follower in self._followers:
            follower.tune(tuned)

    def rest(self) -> None:
        """Stop acting: hold and move nothing; the value stays known (R12)."""
        for follower in self._followers:
            follower.rest(self)
        self.grip.forget()
        self._followers = ()
        self.position = None
        self._version = -1

    def unplug(self) -> None:
        """The controller is gone: at rest, and its value is too."""
        self.rest()
        self.x = self.y = 0.0
        self.present = not self.entry.senses
        self.touched = self.here = False

    def drop_deleted(self, layers: set[str]) -> None:
        """Rest if the binding followed is of a deleted layer (R12)."""
        if self.position is not None and self.position.owner.layer not in layers:
            self.rest()
