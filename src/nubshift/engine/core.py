"""What all parts of an engine share while a step is worked out: its time, what it sends, and the parts themselves."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from nubshift.engine.belts import Belts
from nubshift.engine.game_toggles import GameToggles
from nubshift.engine.held_steps import HeldSteps, drop_together
from nubshift.engine.holders import Holders
from nubshift.engine.layers import LayerStack
from nubshift.engine.macros import Macros
from nubshift.engine.motion import Mover
from nubshift.engine.order import arrange
from nubshift.engine.owner import Owner
from nubshift.engine.program import ControlKey, LayerInfo, Program, Step, Steps
from nubshift.engine.steps import KeyStep
from nubshift.engine.timers import Timer, Timers
from nubshift.engine.variants import Variants
from nubshift.engine.virtual_pad import VirtualPad
from nubshift.events import LayerChange, Motion, Output, Point, Rumble, Surface, Wheel
from nubshift.model.part import DIRECTIONS
from nubshift.units import Micros

if TYPE_CHECKING:
    from nubshift.engine.buttons import ButtonState
    from nubshift.engine.positions import PositionState
    from nubshift.engine.turbo import PacedTurbo

ALL: ControlKey = ("", "")
"""What the picture of everything stands under among the surfaces, where others have their control."""

PARTS = {part: rank for rank, part in enumerate(("out", *DIRECTIONS, "cells", "entries", "middle", "bands"))}
"""The parts of a position in the order in which they begin."""

LAYER_RUMBLE_US = 80_000
"""How long the controller tells that a layer was entered, if the layer wants it."""

GAIN_LOW, GAIN_HIGH = 0.05, 20.0
"""How far "slower" and "faster" can go."""


class Core:
    """`t` is the time of the step being worked out, `out` what it sends; all else keeps what goes on.

    `stamp` is when the report that is worked out happened, which may be earlier where it came late.

    `causes` says for whose sake something was sent, by its place in `out`.

    `touched` are positions that something other than their own value asks to follow at the end of the step, and
    `changers` those for whose sake positions changed layers in it.
    """

    def __init__(self, program: Program) -> None:
        self.t: Micros = 0
        self.stamp: Micros = 0
        self.begun = 0
        self.timers = Timers()
        self.holders = Holders()
        self._start = 0
        self._points: list[Output] = []
        self._moves: list[tuple[float, float, Owner]] = []
        self.take(program)
        self.changers: list[Owner] = []
        self.layers = LayerStack(program.layers, self._layer_changed)
        self.mover = Mover(program.tick, Motion)
        self.scroller = Mover(program.tick, Wheel)
        self.pad = VirtualPad()
        self.belts = Belts(program.belts)
        self.macros = Macros(program.macros)
        self.game_toggles = GameToggles(self)
        self.grips: dict[HeldSteps, None] = {}
        self.toggles: dict[str, HeldSteps] = {}
        self.positions: dict[ControlKey, PositionState] = {}
        self.paced: dict[ControlKey, list[PacedTurbo]] = {}
        self.touched: list[PositionState] = []
        self.buttons: dict[ControlKey, ButtonState] = {}
        self.pressed: set[ControlKey] = set()
        self.listeners: dict[ControlKey, list[Callable[[bool], None]]] = {}
        self.surfaces: dict[ControlKey, Surface] = {}
        self.variants = Variants(program.variants)
        self.gain = 1.0
        self.precision = 1.0
        """What sticks multiply their speed by: the holds of precision, and faster and slower."""
        self.gyro_paused = False
        self.recentred = 0
        self._precisions: list[tuple[object, float]] = []
        self._shows: list[object] = []
        self._feel_version = 0
        self._rumbling: dict[str, Timer] = {}

    def take(self, program: Program) -> None:
        """Go on with an edited program: the length of its pulses, and the order of its controls."""
        self._pulse = program.pulse
        self._rank = {key: rank for rank, key in enumerate(program.positions)}

    @property
    def version(self) -> int:
        """Counts what makes positions look again: every entry of a layer that came or went, and changes of the feel."""
        return self.layers.changes + self._feel_version

    @property
    def out(self) -> list[Output]:
        """What is sent, in order."""
        return self.holders.out

    @property
    def causes(self) -> dict[int, Owner]:
        """For whose sake, by the place in `out`."""
        return self.holders.causes

    # Steps of time

    def begin_list(self) -> list[Output]:
        """What is sent from now on goes to a new list, which is returned."""
        self.holders.out, self.holders.causes = [], {}
        self._start = 0
        return self.holders.out

    def end_step(self) -> None:
        """The step is over: what it sent is put in order, and what comes last in a step is sent (R1)."""
        holders, out = self.holders, self.holders.out
        moving: list[Output] | None = None
        if self.pad.touched:
            neutral, moving = self.pad.changed(self.t)
            if neutral:
                holders.early.update(range(len(out), len(out) + len(neutral)))
                holders.loose = True
                out += neutral
        if holders.loose:
            arrange(out, holders.causes, self._start, holders.early)
            holders.early.clear()
            holders.loose = False
        if moving:
            out += moving
        if self._points:
            out += self._points
            self._points.clear()
        if self._moves:
            for dx, dy, by in self._moves:
                place = len(out)
                self.mover.move(dx, dy, self.t, out)
                if len(out) > place:
                    holders.causes[place] = by
            self._moves.clear()
        self._start = len(out)

    def begin_change(self) -> None:
        """Positions begin to change what they hold: until `end_change` that is one change (R3)."""
        if self.changers:
            self.changers.clear()
        self.holders.gathers = True

    def end_change(self) -> None:
        """Send the difference. A key that changed layers itself, and was lost by that, lasts one pulse (R3)."""
        holders = self.holders
        if not holders.gathered:
            holders.gathers = False
            return
        if self.changers:
            lost: dict[Owner, list[Step]] = {}
            for code, by in holders.begun_and_lost():
                if by in self.changers:
                    lost.setdefault(by, []).append(KeyStep(code))
            for by, steps in lost.items():
                grip = HeldSteps(self, by)
                grip.begin(steps)
                self.timers.set(self.t + self._pulse, grip.end_all, by)
        holders.settle(self.t, self._rank_of)

    def _rank_of(self, by: Owner) -> tuple[int, ...]:
        """Where what a position begins stands in its step: by control, then by direction, then by band."""
        part, _, index = by.part.partition("/")
        return self._rank.get(by.key, 0), PARTS.get(part, len(PARTS)), int(index) if index.isdigit() else 0

    # Keys and pulses

    def down(self, code: str, by: Owner) -> None:
        """One holder more for a key, mouse button or pad button."""
        self.holders.down(code, self.t, by)

    def up(self, code: str, by: Owner) -> None:
        """One holder less."""
        self.holders.up(code, self.t, by)

    def send(self, output: Output, by: Owner) -> None:
        """Send something that is not held."""
        self.causes[len(self.out)] = by
        self.out.append(output)

    def move(self, dx: float, dy: float, by: Owner) -> None:
        """Move the mouse by so many counts, last of all in this step."""
        self._moves.append((dx, dy, by))

    def point(self, x: float, y: float, window: bool) -> None:
        """Put the cursor on shares of the screen or window, at the end of this step."""
        self._points.append(Point(self.t, x, y, window))

    def caused(self, place: int, by: Owner | None) -> None:
        """What stands in `out` from `place` on was sent for the sake of `by`."""
        if by is not None and len(self.out) > place:
            self.causes[place] = by

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
        grip = HeldSteps(self, owner)
        self.timers.set(self.t + length, grip.end_all, owner)  # before what the steps set: keys in order end first
        grip.begin(steps)

    # What controls say

    def depth(self, owner: Owner) -> float:
        """How far the owner's control is moved, 0 to 1; along its side if it has one. A plain button is all the way."""
        state = self.positions.get(owner.key)
        return 1.0 if state is None else state.depth(owner.side)

    def is_pressed(self, key: ControlKey) -> bool:
        """Whether a button is down and was pressed since the last stop."""
        return key in self.pressed

    def is_captured(self, key: ControlKey) -> bool:
        """Whether a trigger's present press, as a button, entered a layer: its depth does not act beside it (R4)."""
        button = self.buttons.get(key)
        return button is not None and button.entered_a_layer

    def listen(self, key: ControlKey, call: Callable[[bool], None]) -> None:
        """Tell `call` of every press (True) and release (False) of a button."""
        self.listeners.setdefault(key, []).append(call)

    def unlisten(self, key: ControlKey, call: Callable[[bool], None]) -> None:
        """Tell it no more."""
        calls = self.listeners.get(key, [])
        if call in calls:
            calls.remove(call)
            if not calls:
                del self.listeners[key]

    # Speed

    def change_gain(self, by: float) -> None:
        """Faster or slower from now on."""
        self.gain = min(GAIN_HIGH, max(GAIN_LOW, self.gain * by))
        self._count_precision()

    def add_precision(self, share: float) -> object:
        """A hold of precision; returns the token that ends it."""
        token = object()
        self._precisions.append((token, share))
        self._count_precision()
        return token

    def end_precision(self, token: object) -> None:
        """End a hold of precision."""
        self._precisions = [entry for entry in self._precisions if entry[0] is not token]
        self._count_precision()

    def show_all(self, seat: str) -> object:
        """Ask for the picture of what everything does; returns the token that ends it."""
        token = object()
        self._shows.append(token)
        self.surfaces[ALL] = Surface(seat, "", "all", "", -1)
        return token

    def hide_all(self, token: object) -> None:
        """One who asks less; the picture goes with the last."""
        self._shows = [entry for entry in self._shows if entry is not token]
        if not self._shows:
            self.surfaces.pop(ALL, None)

    def _count_precision(self) -> None:
        self.precision = self.gain
        for _, share in self._precisions:
            self.precision *= share
        self.count_feel()

    def count_feel(self) -> None:
        """Something of the feel changed: positions have to look again."""
        self._feel_version += 1

    # Rumble and layers

    def rumble(self, seat: str, strength: float, length: Micros) -> None:
        """Let a controller rumble for `length` µs; the newest word counts."""
        before = self._rumbling.pop(seat, None)
        if before is not None:
            before.cancel()
        self.out.append(Rumble(self.t, seat, strength))
        self._rumbling[seat] = self.timers.set(self.t + length, partial(self._calm, seat), Owner(seat, "", ""))

    def _calm(self, seat: str) -> None:
        del self._rumbling[seat]
        self.out.append(Rumble(self.t, seat, 0.0))

    def _layer_changed(self, info: LayerInfo, on: bool, by: ControlKey | None) -> None:
        self.send(LayerChange(self.t, info.id, int(on)), Owner(*(by or ALL), info.id))
        if on and info.rumble:
            self.rumble("1", info.rumble, LAYER_RUMBLE_US)

    # Stopping

    def drop(self, of: Callable[[Owner], bool]) -> None:
        """Release what these owners hold, newest first, and forget what they have under way (R12)."""
        self.timers.drop(of)
        self.macros.drop(of)
        self.game_toggles.drop(of)
        drop_together(self.grips, of)
        self.layers.drop(lambda by: of(Owner(*by, "")))
        self.toggles = {place: grip for place, grip in self.toggles.items() if grip}
        for seat in [seat for seat in self._rumbling if of(Owner(seat, "", ""))]:
            self._calm(seat)

    def stop(self) -> None:
        """Release everything held, newest first; end rumble, layers and all that is under way (R12)."""
        self._points.clear()
        self._moves.clear()
        self.holders.release_all(self.t)
        self.pad.neutral(self.t, self.out)
        for seat in tuple(self._rumbling):
            self._calm(seat)
        self.layers.clear()
        self.timers.clear()
        self.macros.clear()
        self.game_toggles.clear()
        for grip in self.grips:
            grip.forget()
        self.grips.clear()
        self.toggles.clear()
        self.paced.clear()
        self.touched.clear()
        self.pressed.clear()
        self.gyro_paused = False
        self._shows.clear()
        self.surfaces.pop(ALL, None)
        if self._precisions:
            self._precisions.clear()
            self._count_precision()
        self.mover.drop(self.t)
        self.scroller.drop(self.t)
