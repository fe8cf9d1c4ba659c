"""The context that there is, with all that stands above it: belts, macros, buttons and positions."""

from __future__ import annotations

from collections.abc import Callable

from nubshift.engine.belts import Belts
from nubshift.engine.buttons import ButtonState
from nubshift.engine.context import Context, HeldSteps, Step, Steps, drop_together
from nubshift.engine.game_toggles import GameToggles
from nubshift.engine.macros import Macros
from nubshift.engine.owner import ControlKey, Owner
from nubshift.engine.positions import PositionState
from nubshift.engine.program import Program
from nubshift.engine.steps import KeyStep
from nubshift.model.part import DIRECTIONS
from nubshift.units import Micros

PARTS = {part: rank for rank, part in enumerate(("out", *DIRECTIONS, "cells", "entries", "middle", "bands"))}
"""The parts of a position in the order in which they begin."""


class Core(Context):
    """A context whose controls, belts and macros are those of a program."""

    def __init__(self, program: Program) -> None:
        super().__init__(program.layers, program.variants, program.tick)
        self.belts = Belts(program.belts)
        self.macros = Macros(program.macros)
        self.game_toggles = GameToggles(self)
        self.positions: dict[ControlKey, PositionState] = {}
        self.buttons: dict[ControlKey, ButtonState] = {}
        self._take(program)

    def _take(self, program: Program) -> None:
        self._pulse = program.pulse
        self._rank = {key: rank for rank, key in enumerate(program.positions)}

    def replace(self, before: Program, program: Program) -> None:
        """Go on with an edited program: what is gone ends, what is still there keeps its state."""
        self.layers.replace(program.layers)
        for mover in (self.mover, self.scroller):
            mover.retime(program.tick, self.t)
        self.belts.replace(program.belts)
        self.variants.replace(program.variants, before.feel_of, program.feel_of)
        self.macros.replace(program.macros)
        self._take(program)

    # Steps of time

    def due(self) -> Micros:
        """When there is something to do next, `NEVER` while nothing runs."""
        found = self.timers.due
        if self.mover.next_tick < found:
            found = self.mover.next_tick
        if self.scroller.next_tick < found:
            found = self.scroller.next_tick
        return found

    def end_step(self) -> None:
        """The step is over: what it sent is put in order, and what comes last in a step is sent (R1)."""
        outbox = self.outbox
        if self.pad.touched:
            neutral, moving = self.pad.changed(self.t)
            if neutral:
                outbox.add_early(neutral)
            outbox.arrange()
            outbox.sent += [(output, None) for output in moving]
        elif outbox.loose:
            outbox.arrange()
        if self._points:
            outbox.sent += [(output, None) for output in self._points]
            self._points.clear()
        if self._moves:
            for dx, dy, by in self._moves:
                self.mover.move(dx, dy, self.t, by, outbox)
            self._moves.clear()
        outbox.start = len(outbox.sent)

    def end_change(self) -> None:
        """What positions hold has changed: send the difference. A key that changed layers itself, and was lost by that,
        lasts one pulse (R3)."""
        holders = self.holders
        if self.changers:
            lost: dict[Owner, list[Step]] = {}
            for code, by in holders.begun_and_lost():
                if by in self.changers:
                    lost.setdefault(by, []).append(KeyStep(code))
            for by, steps in lost.items():
                held = HeldSteps(self, by)
                held.begin(steps)
                self.timers.set(self.t + self._pulse, held.end_all, by)
        holders.settle(self.t, self._rank_of)

    def _rank_of(self, by: Owner) -> tuple[int, ...]:
        """Where what a position begins stands in its step: by control, then by direction, then by band."""
        part, _, index = by.part.partition("/")
        return self._rank.get(by.key, 0), PARTS.get(part, len(PARTS)), int(index) if index.isdigit() else 0

    def take_touched(self) -> list[PositionState]:
        """The controls that were asked to follow since this was called last."""
        found = [self.positions[key] for key in self.touched if key in self.positions]
        self.touched.clear()
        return found

    # What steps and roles ask

    def depth(self, owner: Owner) -> float:
        """See `Context.depth`."""
        state = self.positions.get(owner.key)
        return 1.0 if state is None else state.depth(owner.side)

    def is_captured(self, key: ControlKey) -> bool:
        """See `Context.is_captured`."""
        button = self.buttons.get(key)
        return button is not None and button.entered_a_layer

    def look_anew(self, key: ControlKey) -> None:
        """See `Context.look_anew`."""
        state = self.positions.get(key)
        if state is not None:
            state.look_anew()

    def step_belt(self, belt: str, how: str) -> Steps:
        """See `Context.step_belt`."""
        act = self.belts.step(belt, how, self.t)
        return () if act is None else act.steps(self.layers.pad_form)

    def follow_command(self, command: str, but: str) -> None:
        """See `Context.follow_command`."""
        self.belts.follow(command, but)

    def run_macro(self, macro: str, owner: Owner) -> object:
        """See `Context.run_macro`."""
        return self.macros.trigger(self, macro, owner)

    def let_go_of_macro(self, macro: str, run: object) -> None:
        """See `Context.let_go_of_macro`."""
        self.macros.let_go(macro, run)

    def toggle_in_game(self, command: str, what: Steps, pulse: Micros, owner: Owner) -> None:
        """See `Context.toggle_in_game`."""
        self.game_toggles.tap(command, what, pulse, owner)

    def lose_tap_in_game(self) -> None:
        """See `Context.lose_tap_in_game`."""
        self.game_toggles.lost += 1

    # Stopping

    def drop(self, of: Callable[[Owner], bool]) -> None:
        """Release what these owners hold, newest first, and forget what they have under way (R12)."""
        self.timers.drop(of)
        self.macros.drop(of)
        self.game_toggles.drop(of)
        drop_together(self.held, of)
        self.layers.drop(lambda by: of(Owner(*by, "")))
        self.toggles = {place: held for place, held in self.toggles.items() if held}
        self.rumbles.drop(of, self.t)

    def stop(self) -> None:
        """Release everything held, newest first; end rumble, layers and all that is under way (R12)."""
        self._points.clear()
        self._moves.clear()
        self.holders.release_all(self.t)
        for output in self.pad.neutral(self.t):
            self.send(output, None)
        self.rumbles.drop(lambda _: True, self.t)
        self.layers.clear()
        self.timers.clear()
        self.macros.clear()
        self.game_toggles.clear()
        for held in self.held:
            held.forget()
        self.held.clear()
        self.toggles.clear()
        self.on_depth.clear()
        self.touched.clear()
        self.presses.clear()
        self.gyro_paused = False
        self.surfaces.stop()
        self.speeds.end_all()
        self.mover.drop(self.t)
        self.scroller.drop(self.t)
