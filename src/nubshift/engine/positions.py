"""Controls by their position: sticks, triggers with bands, axes, d-pads, touch pads, pointers (contract R4).

They follow their value and the layers at once. What a position holds is what its role and its bands want together;
the difference to what it held before is ended and begun.
"""

from __future__ import annotations

from math import hypot
from typing import cast

from msgspec import Struct

from nubshift.engine.context import Context, HeldSteps, Step
from nubshift.engine.owner import ControlKey, Owner
from nubshift.engine.program import Blocked, Position, PositionEntry, setting_layer
from nubshift.engine.roles.bands import BandsFollower, OutFollower
from nubshift.engine.roles.keys import KeysFollower
from nubshift.engine.roles.make import followers_for
from nubshift.engine.roles.port import Followed, Follower
from nubshift.engine.steps import LayerStep
from nubshift.engine.tuning import Tuning, tuning
from nubshift.model.part import Direction

_ALONG: dict[Direction, tuple[float, float]] = {
    "up": (0.0, -1.0),
    "right": (1.0, 0.0),
    "down": (0.0, 1.0),
    "left": (-1.0, 0.0),
}


class _Spent(Struct):
    """Entries of layers that others removed while a direction or band held them, by the binding that held them.

    The same direction or band does not enter them again before the control itself has left it (R4); its `followers`
    tell when that is.
    """

    position: Position
    followers: tuple[Follower, ...]
    steps: dict[Step, Owner]


class PositionState(Followed):
    """One control of one seat: its value, the binding it follows, and what it holds.

    `bound` says whether any layer binds it, `version` is that of the layers and the feel when it was looked up last.
    """

    def __init__(self, context: Context, key: ControlKey, entry: PositionEntry) -> None:
        self.context = context
        self.key = key
        self.entry = entry
        self.plane = entry.plane
        self.bound = entry.bound
        self.x = 0.0
        self.y = 0.0
        self.present = not entry.senses
        self.touched = self.here = False  # of a half of a touch pad: a finger is down; and in this half
        self.position: Position | None = None
        self._held = HeldSteps(context, Owner(*key, ""))
        self._followers: tuple[Follower, ...] = ()
        self.version = -1
        self._captured = False
        self._under: tuple[str, ...] = ()
        self._spent: list[_Spent] = []
        self._tunings: dict[tuple[str, tuple[int, ...]], Tuning] = {}
        self.tuned: Tuning | None = None

    @property
    def held(self) -> HeldSteps:
        """What it holds now."""
        return self._held

    @property
    def owner(self) -> Owner:
        """The binding that it follows, or followed last."""
        return self._held.owner

    def set_entry(self, entry: PositionEntry) -> None:
        """Go on with an edited entry."""
        self.entry = entry
        self.plane = entry.plane
        self.bound = entry.bound
        self.tune_anew()

    def tune_anew(self) -> None:
        """What its feel is made from has changed: it is worked out anew, and the binding looked up anew."""
        self._tunings.clear()
        self.version = -1

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
        """Act on the present value, by the binding that was looked up last."""
        wanted: dict[Step, Owner] = {}
        for follower in self._followers:
            follower.update(self, wanted)
        if self._spent:
            self._without_spent(wanted)
        held = self._held
        if wanted or held.steps:
            held.change_to(wanted)
        if self.context.on_depth:
            for call in self.context.on_depth.get(self.key, ()):
                call()

    def look_anew(self) -> None:
        """What captured the binding is over: it is looked up anew at the end of this step."""
        self.version = -1
        self.context.touch(self.key)

    def look(self) -> None:
        """The layers or the feel changed: look the binding up again; to be done before anything `follow`s.

        A control that holds a layer itself keeps what it had, with its feel, until that entry ends (R4).
        """
        context = self.context
        self.version = context.revision.count
        layers = context.layers
        self._note_spent()
        self._captured = layers.is_held_by(self.key) or context.is_captured(self.key)
        if not self._captured:
            self._under = layers.ids(layers.order)
            layer = setting_layer(self.entry.positions, layers.order)
            found = None if layer is None else self.entry.positions[layer]
            position = None if isinstance(found, Blocked) else found
            if position != self.position:
                for follower in self._followers:
                    follower.leave(self)
                self.position = position
                self._followers = followers_for(self, position) if position is not None else ()
                if position is not None:
                    self._held.owner = position.owner
        self._tune()

    def _note_spent(self) -> None:
        """Entries that this control holds and that were removed by others are not entered again for now."""
        layers, position = self.context.layers, self.position
        if position is None:
            return
        gone = [s for s, t in self._held.tokens() if isinstance(s, LayerStep) and not layers.has(cast("int", t))]
        if not gone:
            return
        spent = next((spent for spent in self._spent if spent.position == position), None)
        if spent is None:
            followers = tuple(f for f in self._followers if isinstance(f, KeysFollower | BandsFollower | OutFollower))
            spent = _Spent(position, followers, {})
            self._spent.append(spent)
        wanted: dict[Step, Owner] = {}
        for follower in spent.followers:
            follower.update(self, wanted)
        spent.steps.update((step, wanted[step]) for step in gone if step in wanted)

    def _without_spent(self, wanted: dict[Step, Owner]) -> None:
        """Leave out what is spent; what the control has left by itself is so no longer."""
        for spent in tuple(self._spent):
            still = wanted
            if not set(spent.followers) <= set(self._followers):
                still = {}
                for follower in spent.followers:
                    follower.update(self, still)
            spent.steps = {step: by for step, by in spent.steps.items() if still.get(step) == by}
            if not spent.steps:
                self._spent.remove(spent)
        for spent in self._spent:
            for step, by in spent.steps.items():
                if wanted.get(step) == by:
                    del wanted[step]

    def stay(self) -> None:
        """Keep the binding that it follows, with the feel of the layers as they are now."""
        if self.version != self.context.revision.count:
            self.version = self.context.revision.count
            self._tune()

    def _tune(self) -> None:
        """The feel for the layers as they are now, or were when the binding was captured."""
        context = self.context
        order = context.layers.order_of(self._under) if self._captured else context.layers.order
        variant = context.variants.chosen.get(self.key)
        under = (variant.id if variant else "", order)
        tuned = self._tunings.get(under)
        if tuned is None:
            own = {variant.layer: variant.feel} if variant else {}
            feels = tuple(own.get(layer, self.entry.feels[layer]) for layer in order)
            tuned = self._tunings[under] = tuning(feels, context.layers.counts_per_degree(order))
        self.tuned = tuned
        for follower in self._followers:
            follower.tune(tuned)

    def rest(self) -> None:
        """Stop acting: hold and move nothing; the value stays known (R12)."""
        for follower in self._followers:
            follower.rest(self)
        self._held.forget()
        self._spent.clear()
        self._followers = ()
        self.position = None
        self.version = -1

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
