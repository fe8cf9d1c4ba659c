"""The state of every control of every seat, made for a program and gone on with when it is edited."""

from __future__ import annotations

from nubshift.engine.buttons import ButtonState
from nubshift.engine.combinations import Combinations
from nubshift.engine.context import end_together
from nubshift.engine.core import Core
from nubshift.engine.gyro import MotionState
from nubshift.engine.intake import Counts, Intake
from nubshift.engine.owner import ControlKey
from nubshift.engine.positions import PositionState
from nubshift.engine.program import Program


class States:
    """`positions` are those of the core; `acting` are those among them that some layer binds."""

    def __init__(self, core: Core, counts: Counts) -> None:
        self._core = core
        self._counts = counts
        self._buttons = core.buttons
        self._together: dict[str, Combinations] = {}
        self.acting: list[PositionState] = []
        self.intakes: dict[str, Intake] = {}
        self._taken: Program | None = None

    @property
    def positions(self) -> dict[ControlKey, PositionState]:
        """Every control by its position."""
        return self._core.positions

    def take(self, program: Program) -> None:
        """States for every control of a program; those that exist go on with their new entry, if it is another."""
        before, self._taken = self._taken, program
        self._take_together(program)
        self._take_buttons(program)
        self._take_positions(program, before is not None and before.layers == program.layers)
        if before is not None:
            for key in before.variants.keys() | program.variants.keys():
                if before.variants.get(key) != program.variants.get(key) and key in self.positions:
                    self.positions[key].tune_anew()
        self.acting = [state for state in self.positions.values() if state.bound]
        if before is None or _setup(before) != _setup(program):
            self.intakes = {
                seat: Intake(seat, program, self._buttons, self.positions, self._counts)
                for seat in dict.fromkeys(seat for seat, _ in program.buttons)
            }

    def _take_together(self, program: Program) -> None:
        for seat in self._together.keys() - program.together.keys():
            del self._together[seat]
        for seat, entry in program.together.items():
            if seat in self._together:
                self._together[seat].entry = entry
            else:
                self._together[seat] = Combinations(self._core, entry, seat)

    def _take_buttons(self, program: Program) -> None:
        for gone in self._buttons.keys() - program.buttons.keys():
            del self._buttons[gone]
        for key, entry in program.buttons.items():
            state = self._buttons.get(key)
            if state is None:
                self._buttons[key] = ButtonState(self._core, key, entry, self._together.get(key[0]))
            else:
                state.set_entry(entry)
                state.together = self._together.get(key[0])

    def _take_positions(self, program: Program, same_layers: bool) -> None:
        for gone in self.positions.keys() - program.positions.keys():
            self.positions.pop(gone).rest()
        for key, entry in program.positions.items():
            state = self.positions.get(key)
            if state is None:
                make = MotionState if entry.motion else PositionState
                self.positions[key] = make(self._core, key, entry)
            elif state.entry is not entry or not same_layers:
                state.set_entry(entry)

    def drop_deleted(self, layers: set[str]) -> None:
        """Forget what bindings of layers other than these began (R12)."""
        for button in self._buttons.values():
            button.drop_deleted(layers)
        for together in self._together.values():
            together.drop_deleted(layers)
        for state in self.positions.values():
            state.drop_deleted(layers)

    def stop(self) -> None:
        """Nothing is under way any more, and nothing acts (R12)."""
        for together in self._together.values():
            together.forget()
        for button in self._buttons.values():
            button.forget()
        for state in self.positions.values():
            state.rest()
        self._core.pad.touched.clear()

    def capture(self, seat: str) -> None:
        """What the controls of a seat hold ends, newest first, with nothing sent at its end; they are at rest (R19)."""
        holds = self._together[seat].cancel() if seat in self._together else []
        for key, button in self._buttons.items():
            if key[0] == seat:
                holds += button.cancel()
        mine = [state for key, state in self.positions.items() if key[0] == seat]
        end_together([*holds, *(state.held for state in mine)])
        for state in mine:
            state.unplug()

    def unplug(self, seat: str) -> None:
        """The controls of a seat are at rest, and nothing of theirs is under way."""
        if seat in self._together:
            self._together[seat].forget()
        for key, button in self._buttons.items():
            if key[0] == seat:
                button.forget()
                button.down = False
        for key, state in self.positions.items():
            if key[0] == seat:
                state.unplug()


def _setup(program: Program) -> object:
    """What decides where a report's values go."""
    return program.feeds, [(key, entry.motion and entry.bound) for key, entry in program.positions.items()]
