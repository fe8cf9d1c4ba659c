"""The smallest circle of the engine, in one file: steps, what holds them, and the context that they act on.

A `Step` is begun and ended on a `Context`; `HeldSteps` are the steps held for one reason; and a context knows all that
is held, so that a stop finds it. Everything else of the engine stands above: steps (`steps`, `turbo`, `macros`, ...),
roles, buttons and positions know the context; the `core`, which is the context that there is, knows all of them.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from functools import partial
from typing import TypeAlias

from nubshift.engine.holders import Holders
from nubshift.engine.layers import LayerInfo, LayerStack
from nubshift.engine.motion import Mover
from nubshift.engine.outbox import Outbox
from nubshift.engine.owner import ControlKey, Owner
from nubshift.engine.presses import Presses
from nubshift.engine.revision import Revision
from nubshift.engine.rumbles import Rumbles
from nubshift.engine.speeds import Speeds
from nubshift.engine.surfaces import Surfaces
from nubshift.engine.timers import Timers
from nubshift.engine.variants import VariantInfo, Variants
from nubshift.engine.virtual_pad import VirtualPad
from nubshift.events import LayerChange, Motion, Output, Point, Wheel
from nubshift.records import Record
from nubshift.units import Micros

LAYER_RUMBLE_US = 80_000
"""How long the controller tells that a layer was entered, if the layer wants it."""


class Step(Record, frozen=True):
    """One thing that can be begun and ended. Equal steps are the same: held before and after, it is not touched."""

    @property
    def changes_layers(self) -> bool:
        """Whether beginning it may change which layers are entered."""
        return False

    @property
    def codes(self) -> tuple[str, ...]:
        """The keys and buttons that it holds by itself."""
        return ()

    def begin(self, context: Context, owner: Owner) -> object:
        """Begin, at the context's time; what is returned is given back to `end`."""
        raise NotImplementedError

    def end(self, context: Context, token: object) -> None:
        """End what `begin` began. A momentary step has nothing to end."""

    def drop(self, context: Context, token: object) -> None:
        """Cut it short, as a stop does (R12); what it holds through held steps of its own is dropped by itself."""
        self.end(context, token)


Steps: TypeAlias = tuple[Step, ...]


class Context:
    """What a step acts on: the time of the step being worked out, what is sent, and all that lasts.

    `t` is the time of now; `stamp` is when the report that is worked out happened, which may be earlier where it came
    late. `touched` are controls that something other than their own value asks to follow at the end of the step, and
    `changers` those for whose sake positions changed layers in it. `held` is everything that holds steps, `toggles`
    what is toggled on, by its place. `on_depth` is told when the depth of a control may have changed.
    """

    def __init__(
        self, layers: tuple[LayerInfo, ...], variants: dict[ControlKey, tuple[VariantInfo, ...]], tick: Micros
    ) -> None:
        self.t: Micros = 0
        self.stamp: Micros = 0
        self.begun = 0
        self.outbox = Outbox()
        self.timers = Timers()
        self.holders = Holders(self.outbox)
        self.revision = Revision()
        self.layers = LayerStack(layers, self._layer_changed, self.revision)
        self.mover = Mover(tick, Motion)
        self.scroller = Mover(tick, Wheel)
        self.pad = VirtualPad()
        self.variants = Variants(variants, self.revision)
        self.speeds = Speeds(self.revision)
        self.rumbles = Rumbles(self.timers, self.outbox)
        self.surfaces = Surfaces()
        self.presses = Presses()
        self.held: dict[HeldSteps, None] = {}
        self.toggles: dict[str, HeldSteps] = {}
        self.touched: dict[ControlKey, None] = {}
        self.changers: list[Owner] = []
        self.on_depth: dict[ControlKey, list[Callable[[], None]]] = {}
        self.gyro_paused = False
        self.recentred = 0
        """How often the gyro was recentred."""
        self._moves: list[tuple[float, float, Owner]] = []
        self._points: list[Output] = []

    # Sending

    def send(self, output: Output, by: Owner | None) -> None:
        """Send something that is not held."""
        self.outbox.add(output, by)

    def down(self, code: str, by: Owner) -> None:
        """One holder more for a key, mouse button or pad button."""
        self.holders.down(code, self.t, by)

    def up(self, code: str, by: Owner) -> None:
        """One holder less."""
        self.holders.up(code, self.t, by)

    def move(self, dx: float, dy: float, by: Owner) -> None:
        """Move the mouse by so many counts, last of all in this step."""
        self._moves.append((dx, dy, by))

    def point(self, x: float, y: float, window: bool) -> None:
        """Put the cursor on shares of the screen or window, at the end of this step."""
        self._points.append(Point(self.t, x, y, window))

    def pulse(self, steps: Steps, owner: Owner, length: Micros, *, keys_only: bool = False) -> None:
        """Hold steps for `length` µs. If a key of theirs went up in this microsecond, one length later (R6).

        `keys_only`: what is no key, as a toggle or a layer, does not wait for that.
        """
        codes = [code for step in steps for code in step.codes]
        if codes and self.holders.went_up_at(codes, self.t):
            waiting = tuple(step for step in steps if step.codes) if keys_only else steps
            self.timers.set(self.t + length, partial(self.pulse, waiting, owner, length), owner)
            steps = tuple(step for step in steps if step not in waiting)
            if not steps:
                return
        held = HeldSteps(self, owner)
        self.timers.set(self.t + length, held.end_all, owner)  # before what the steps set: keys in order end first
        held.begin(steps)

    def touch(self, key: ControlKey) -> None:
        """Ask a control to follow at the end of this step, although its value is the same."""
        self.touched[key] = None

    def rumble(self, seat: str, strength: float, length: Micros) -> None:
        """Let a controller rumble for `length` µs."""
        self.rumbles.begin(seat, strength, self.t, length)

    def _layer_changed(self, info: LayerInfo, on: bool, by: ControlKey | None) -> None:
        self.send(LayerChange(self.t, info.id, int(on)), Owner(*(by or ("", "")), info.id))
        if on and info.rumble:
            self.rumble("1", info.rumble, LAYER_RUMBLE_US)

    # What is known by the core only

    def depth(self, owner: Owner) -> float:
        """How far the owner's control is moved, 0 to 1; along its side if it has one. A plain button is all the way."""
        raise NotImplementedError

    def is_captured(self, key: ControlKey) -> bool:
        """Whether a trigger's present press, as a button, entered a layer: its depth does not act beside it (R4)."""
        raise NotImplementedError

    def look_anew(self, key: ControlKey) -> None:
        """What captured the binding of a control is over: it is looked up anew at the end of this step."""
        raise NotImplementedError

    def step_belt(self, belt: str, how: str) -> Steps:
        """Step a belt (``next``, ``back``, ``again``); returns what it sends then."""
        raise NotImplementedError

    def follow_command(self, command: str, but: str) -> None:
        """Another binding sends a command: belts that have it, `but` one, take its place."""
        raise NotImplementedError

    def run_macro(self, macro: str, owner: Owner) -> object:
        """Trigger a macro; what is returned is given back to `let_go_of_macro`."""
        raise NotImplementedError

    def let_go_of_macro(self, macro: str, run: object) -> None:
        """The trigger of a macro was let go of."""
        raise NotImplementedError

    def toggle_in_game(self, command: str, what: Steps, pulse: Micros, owner: Owner) -> None:
        """Tap a command that the game toggles itself, once no tap of it is under way (R7)."""
        raise NotImplementedError

    def lose_tap_in_game(self) -> None:
        """Such a tap will not be sent any more; the game may be left with the command on."""
        raise NotImplementedError


class HeldSteps:
    """The steps held for the sake of `owner`. While it holds any, the context knows it, so that a stop finds it.

    `steps` are those, each with its place in the order of all beginnings, and with what its beginning gave back.
    """

    __slots__ = ("_context", "owner", "steps")

    def __init__(self, context: Context, owner: Owner) -> None:
        self._context = context
        self.steps: dict[Step, tuple[int, object]] = {}
        self.owner = owner

    def __bool__(self) -> bool:
        return bool(self.steps)

    def begin(self, steps: Iterable[Step], by: Owner | None = None) -> None:
        """Begin steps in their order, for the sake of `by` if not the own owner; one already held goes on."""
        context, owner = self._context, by or self.owner
        for step in steps:
            if step not in self.steps:
                if not self.steps:
                    context.held[self] = None
                context.begun += 1
                place = context.begun
                if step.changes_layers:
                    context.changers.append(owner)
                self.steps[step] = place, None
                self.steps[step] = place, step.begin(context, owner)

    def end(self, step: Step) -> None:
        """End one step, if it is held."""
        held = self.steps.pop(step, None)
        if held is not None:
            self._let_go()
            step.end(self._context, held[1])

    def drop(self, step: Step) -> None:
        """Cut one step short, if it is held (R12)."""
        held = self.steps.pop(step, None)
        if held is not None:
            self._let_go()
            step.drop(self._context, held[1])

    def _let_go(self) -> None:
        if not self.steps:
            self._context.held.pop(self, None)

    def change_to(self, steps: dict[Step, Owner]) -> None:
        """Hold exactly `steps`, each for the sake of its owner: what stays is not touched.

        All others end, newest first, before the new ones begin.
        """
        if self.steps.keys() == steps.keys():
            return
        for step in [s for s in reversed(self.steps) if s not in steps]:
            self.end(step)
        for step, by in steps.items():
            self.begin((step,), by)

    def end_all(self) -> None:
        """End everything, newest first."""
        for step in tuple(reversed(self.steps)):
            self.end(step)

    def forget(self) -> None:
        """Hold nothing any more without a word; what was held has been released as a whole."""
        self.steps.clear()

    def tokens(self) -> list[tuple[Step, object]]:
        """Each step held with what its beginning gave back."""
        return [(step, token) for step, (_, token) in self.steps.items()]

    def entries(self) -> list[tuple[int, Step, HeldSteps]]:
        """Each step held with its place in the order of all beginnings."""
        return [(place, step, self) for step, (place, _) in self.steps.items()]


def end_together(held: Iterable[HeldSteps]) -> None:
    """End what several hold, newest first over all of them."""
    for _, step, holding in _newest_first(held):
        holding.end(step)


def drop_together(held: Iterable[HeldSteps], of: Callable[[Owner], bool]) -> None:
    """Cut short what is held for the sake of these owners, newest first over all of it."""
    for _, step, holding in _newest_first(holding for holding in tuple(held) if of(holding.owner)):
        holding.drop(step)


def _newest_first(held: Iterable[HeldSteps]) -> list[tuple[int, Step, HeldSteps]]:
    return sorted((entry for holding in held for entry in holding.entries()), key=lambda entry: entry[0], reverse=True)
