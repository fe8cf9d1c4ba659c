"""The engine: input events and time in, output events out. Pure and timed (contract R1).

It reads no clock and does no I/O; times are integer microseconds. The same input gives the same output, however the
time between is cut into steps.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import TypeAlias

from nubshift.engine.buttons import ButtonState
from nubshift.engine.core import Core
from nubshift.engine.gyro import MotionState
from nubshift.engine.intake import Counts
from nubshift.engine.owner import Caused, ControlKey, Owner
from nubshift.engine.program import Program
from nubshift.engine.settling import Settling
from nubshift.engine.states import States
from nubshift.engine.toggles import ToggleStep, coming_back
from nubshift.events import Captured, Change, Focus, InputEvent, Plugged, Report, Surface, Unplugged
from nubshift.feel.bias import Bias
from nubshift.units import NEVER, Micros

Press: TypeAlias = tuple[ButtonState, bool]
NOBODY: ControlKey = ("", "")
"""Who does what no control does."""


class Engine:
    """A compiled profile at work."""

    def __init__(self, program: Program) -> None:
        self.counts = Counts()
        self._program = program
        self._core = Core(program)
        self._running = True
        self._states = States(self._core, self.counts)
        self._states.take(program)
        self._settling = Settling(self._core, self._states)
        self._by_player = False
        self.coming_back: list[tuple[ToggleStep, Owner]] = []
        """Toggles that were on when the game lost the focus, and are to be on again with it."""

    # What it is like now

    @property
    def held(self) -> tuple[str, ...]:
        """Keys and mouse buttons that are down, the newest last."""
        return self._core.holders.held

    @property
    def pad(self) -> dict[str, float]:
        """What is held of the virtual pad: its buttons at 1, and the axes that are not neutral."""
        return dict.fromkeys(self._core.holders.held_on_pad, 1.0) | self._core.pad.axes

    @property
    def active_layers(self) -> tuple[str, ...]:
        """Ids of the entered layers, the newest last, without the base."""
        return self._core.layers.active

    @property
    def surfaces(self) -> tuple[Surface, ...]:
        """The tiles, menus and on-screen keyboards in use, for an overlay to draw."""
        return self._core.surfaces.shown

    @property
    def gain(self) -> float:
        """What "faster" and "slower" made of the speed of sticks so far; 1 at the start."""
        return self._core.speeds.gain

    @property
    def variants(self) -> dict[ControlKey, str]:
        """The variant that was stepped to, by control; none of those that are in use by themselves."""
        return {key: variant.id for key, variant in self._core.variants.chosen.items()}

    def choose_variants(self, chosen: Mapping[ControlKey, str]) -> None:
        """Begin with these variants, as far as they are there: those that were stepped to when it played before."""
        self._core.variants.choose(chosen)

    def bias(self, seat: str) -> Bias | None:
        """What the gyro of a seat says when nothing turns, as far as it is known."""
        state = self._states.positions.get((seat, "motion"))
        return state.sense.bias if isinstance(state, MotionState) else None

    @property
    def lost_pulses(self) -> int:
        """How many taps of commands that the game toggles itself were dropped by stops, so that it may be off."""
        return self._core.game_toggles.lost

    def belt(self, belt: str) -> int | None:
        """The entry of a belt that was sent last, None before the first."""
        return self._core.belts.at(belt)

    @property
    def next_deadline(self) -> Micros | None:
        """When `advance` has something to do next, or None while nothing runs."""
        due = self._core.due()
        return due if due != NEVER else None

    # What drives it

    def feed(self, event: InputEvent) -> list[Caused]:
        """Take one input event; returns what is due up to it and what it causes."""
        report = event if type(event) is Report else None
        if report is None and not isinstance(event, Plugged | Unplugged | Focus | Captured):
            self.counts.unknown += 1
            return []
        core = self._core
        t = event.t if isinstance(event.t, int) else core.t
        if t >= NEVER:
            t = core.t
        core.stamp = t
        if t < core.t:
            self.counts.late += 1
        out = self.advance(t)
        if report is not None:
            self._report(report)
        elif isinstance(event, Focus):
            self._focus(event.on)
        elif event.seat not in self._states.intakes:
            self.counts.unknown += 1
        elif isinstance(event, Captured):
            self._capture(event)
        else:
            self._unplug(event.seat)
            if isinstance(event, Plugged):
                self._plug(event.seat, event.changes)
        return out

    def release_all(self, t: Micros, *, by_player: bool = True) -> list[Caused]:
        """Stop (R12): release everything, forget what is under way, and act on nothing until `resume`.

        A stop by the player lasts until then whatever the focus does, and no toggle comes back after it.
        """
        out = self.advance(t)
        if by_player:
            self._by_player = True
            self.coming_back.clear()
        self._stop()
        return out

    def resume(self, t: Micros, *, bring_back: bool = False) -> list[Caused]:
        """Act again: positions from their present value at once, buttons when they are pressed anew (R12).

        With `bring_back` the toggles `coming_back` are on again before, in the order in which they went on.
        """
        out = self.advance(t)
        self._by_player = False
        if bring_back:
            self._bring_back()
        self._resume()
        return out

    def choose_layer(self, layer: str, t: Micros) -> list[Caused]:
        """Have only this layer, as a button that does that; an empty one: back to the base (R19)."""
        out = self.advance(t)
        if self._running:
            if layer:
                self._core.layers.only(layer, NOBODY)
            else:
                self._core.layers.back_to_base("")
            self._settling.follow([])
            self._core.end_step()
        return out

    def choose_variant(self, key: ControlKey, variant: str, t: Micros) -> list[Caused]:
        """Give a control this variant, as stepping to it does (R18, R19)."""
        out = self.advance(t)
        self._core.variants.choose({key: variant})
        if self._running:
            self._settling.follow([])
        self._core.end_step()
        return out

    def to_come_back(self) -> list[tuple[ToggleStep, Owner]]:
        """The toggles that are on now and come back with the focus."""
        return coming_back(self._core)

    def replace(self, program: Program, t: Micros) -> list[Caused]:
        """A live edit (R12): presses end what they began, positions follow at once, what exists keeps its state."""
        out = self.advance(t)
        core = self._core
        before, self._program = self._program, program
        layers = {layer.id for layer in program.layers}
        seats = {seat for seat, _ in program.buttons}
        core.drop(lambda owner: (owner.layer != "" and owner.layer not in layers) or owner.seat not in seats)
        for place in [place for place in core.toggles if place not in program.toggles]:
            core.toggles.pop(place).end_all()
        self._states.drop_deleted(layers)
        core.replace(before, program)
        self._states.take(program)
        if self._running:
            self._settling.settle(list(self._states.positions.values()))
        self._core.end_step()
        return out

    # Time

    def advance(self, t: Micros) -> list[Caused]:
        """Let time pass to `t`; returns what was due on the way, each with its own time.

        The core's time is `t` from here on, and what the next step sends is added to the list that was returned.
        """
        core = self._core
        out = core.outbox.begin()
        due = core.due()
        while due <= t and due != NEVER:
            core.t = due
            while (call := core.timers.take(due)) is not None:
                call()
                if core.touched or core.revision.count != self._settling.followed:
                    self._settling.follow([])
                core.end_step()
            if core.mover.next_tick == due:
                core.mover.run_tick(due, core.outbox)
            if core.scroller.next_tick == due:
                core.scroller.run_tick(due, core.outbox)
            core.end_step()
            due = core.due()
        if core.t < t:
            core.t = t
        return out

    # Reports

    def _report(self, report: Report) -> None:
        """One report: presses that change layers, then the other buttons in order, then positions once (R1)."""
        intake = self._states.intakes.get(report.seat)
        if intake is None:
            self.counts.unknown += 1
            return
        buttons, moved = intake.take(report.changes)
        if not self._running:
            for button, down in buttons:
                button.down = down
            return
        if buttons:
            if len(buttons) > 1:
                buttons = self._layer_presses_first(buttons)
            for button, down in buttons:
                self._act(button, down)
        self._settling.follow(moved)
        self._core.end_step()

    def _layer_presses_first(self, buttons: list[Press]) -> list[Press]:
        """Do the presses that change layers, each looked up after the one before; returns the rest in order."""
        rest = []
        touched: set[ButtonState] = set()
        for button, down in buttons:
            first = down and not button.down and button not in touched
            touched.add(button)
            if first and button.changes_layers():
                self._act(button, down)
            else:
                rest.append((button, down))
        return rest

    def _act(self, button: ButtonState, down: bool) -> None:
        if down == button.down:
            if not button.is_trigger:
                self.counts.repeated += 1
        elif down:
            button.press()
        else:
            button.release()

    # Coming, going and stopping

    def _capture(self, event: Captured) -> None:
        """The controls of a seat are taken, or act again as they stand (R19)."""
        if not event.on:
            self._plug(event.seat, event.changes)
            return
        self._states.capture(event.seat)
        if self._running:
            self._settling.settle_all()
        self._core.end_step()

    def _plug(self, seat: str, changes: tuple[Change, ...]) -> None:
        """A controller as it stands: its buttons are known to be down without effect, its positions act (R12)."""
        buttons, moved = self._states.intakes[seat].take(changes)
        for button, down in buttons:
            button.down = down
        for state in moved:
            if isinstance(state, MotionState):
                state.fresh = False
        if self._running:
            self._settling.settle(moved)
        self._core.end_step()

    def _unplug(self, seat: str) -> None:
        """The controller is gone: what its controls hold ends, newest first, and they are at rest."""
        core = self._core
        core.drop(lambda owner: owner.seat == seat)
        self._states.unplug(seat)
        if self._running:
            self._settling.settle_all()
        self._core.end_step()

    def _focus(self, on: bool) -> None:
        """The game lost the focus: a stop. It has it again: toggles that come back do, before positions act (R12)."""
        if not on:
            if self._running:
                self.coming_back = coming_back(self._core)
            self._stop()
            return
        if not self._running and not self._by_player:
            self._bring_back()
            self._resume()

    def _bring_back(self) -> None:
        back, self.coming_back = self.coming_back, []
        for toggle, owner in back:
            if toggle.place not in self._core.toggles:
                toggle.begin(self._core, owner)

    def _stop(self) -> None:
        self._core.stop()
        self._states.stop()
        self._running = False

    def _resume(self) -> None:
        self._running = True
        self._settling.settle_all()
        self._core.end_step()
