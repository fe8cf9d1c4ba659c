"""The engine: input events and time in, output events out. Pure and timed (contract R1).

It reads no clock and does no I/O; times are integer microseconds. The same input gives the same output, however the
time between is cut into steps.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TypeAlias

from nubshift.engine.buttons import ButtonState
from nubshift.engine.grip import Ledger, end_together
from nubshift.engine.holders import Holders
from nubshift.engine.layers import LayerStack
from nubshift.engine.motion import Mover
from nubshift.engine.program import ButtonEntry, Entry, Program, StickEntry, TriggerEntry
from nubshift.engine.sticks import StickState
from nubshift.events import Change, InputEvent, Output, Plugged, Report, Unplugged
from nubshift.units import Micros

State: TypeAlias = ButtonState | StickState
Buttons: TypeAlias = list[tuple[ButtonState, bool]]

MAX_ROUNDS = 16
"""How often sticks may follow layers that sticks changed in one step; a profile can't need more than it has sticks."""


@dataclass(slots=True)
class Counts:
    """What was odd about the input so far (contract R3, R13)."""

    repeated: int = 0  # presses of what was pressed, releases of what was not
    late: int = 0  # events with an earlier time than the one before
    unknown: int = 0  # controls or seats that the profile does not have
    clamped: int = 0  # values outside the normal form
    not_numbers: int = 0


class Engine:
    """A compiled profile at work."""

    def __init__(self, program: Program) -> None:
        self.counts = Counts()
        self._program = program
        self._now: Micros = 0
        self._running = True
        self._holders = Holders()
        self._layers = LayerStack(program.layers)
        self._ledger = Ledger(self._holders, self._layers)
        self._mover = Mover(program.tick)
        self._states: dict[str, dict[str, State]] = {}
        self._sticks: list[StickState] = []
        self._make_states()

    # What it is like now

    @property
    def held(self) -> tuple[str, ...]:
        """Keys and mouse buttons that are down, the newest last."""
        return self._holders.held

    @property
    def active_layers(self) -> tuple[str, ...]:
        """Ids of the entered layers, the newest last, without the base."""
        return self._layers.active

    @property
    def next_deadline(self) -> Micros | None:
        """When `advance` has something to do next, or None while nothing runs."""
        return self._mover.next_tick

    # What drives it

    def feed(self, event: InputEvent) -> list[Output]:
        """Take one input event; returns what is due up to it and what it causes."""
        if not isinstance(event, Report | Plugged | Unplugged):
            self.counts.unknown += 1
            return []
        t = event.t if isinstance(event.t, int) else self._now
        if t < self._now:
            self.counts.late += 1
        out = self.advance(t)
        t = self._now
        states = self._states.get(event.seat)
        if states is None:
            self.counts.unknown += 1
        elif isinstance(event, Report):
            self._report(event, states, t, out)
        elif isinstance(event, Plugged):
            self._unplug(states, t, out)
            self._plug(event, states, t, out)
        else:
            self._unplug(states, t, out)
        return out

    def advance(self, t: Micros) -> list[Output]:
        """Let time pass to `t`; returns what was due on the way, each with its own time."""
        out: list[Output] = []
        mover = self._mover
        while mover.next_tick is not None and mover.next_tick <= t:
            mover.run_tick(mover.next_tick, out)
        self._now = max(self._now, t)
        return out

    def release_all(self, t: Micros) -> list[Output]:
        """Stop (R12): release everything, forget the carry and the layers, and act on nothing until `resume`."""
        out = self.advance(t)
        t = self._now
        self._holders.release_all(t, out)
        self._layers.clear(t, out)
        for states in self._states.values():
            for state in states.values():
                if isinstance(state, StickState):
                    state.rest(t)
                else:
                    state.forget()
        self._mover.drop(t)
        self._running = False
        return out

    def resume(self, t: Micros) -> list[Output]:
        """Act again: sticks from their present value at once, buttons when they are pressed anew (R12)."""
        out = self.advance(t)
        self._running = True
        self._follow(self._sticks, self._now, out)
        return out

    def replace(self, program: Program, t: Micros) -> list[Output]:
        """A live edit (R12): presses end what they began, sticks follow at once, layers that still exist stay."""
        out = self.advance(t)
        t = self._now
        self._program = program
        layers = {layer.id for layer in program.layers}
        for states in self._states.values():
            for state in states.values():
                state.drop_deleted(layers, t, out)
        self._layers.replace(program.layers, t, out)
        self._mover.retime(program.tick, t)
        self._make_states(out)
        if self._running:
            self._follow(self._sticks, t, out)
        return out

    # The parts of a step

    def _make_states(self, out: list[Output] | None = None) -> None:
        """A state for every control of every seat; those that exist go on with their new entry."""
        wanted: dict[str, dict[str, State]] = {}
        for (seat, control), entry in self._program.controls.items():
            old = self._states.get(seat, {}).get(control)
            state = _go_on(old, entry) if old is not None else self._new_state(entry)
            if state is not None:
                wanted.setdefault(seat, {})[control] = state
        for seat in self._states.keys() - wanted.keys():
            end_together((s.grip for s in self._states[seat].values()), self._now, out if out is not None else [])
            for state in self._states[seat].values():
                if isinstance(state, StickState):
                    state.rest(self._now)
        self._states = wanted
        self._sticks = [s for states in wanted.values() for s in states.values() if isinstance(s, StickState)]

    def _new_state(self, entry: Entry) -> State | None:
        if isinstance(entry, ButtonEntry | TriggerEntry):
            return ButtonState(entry, self._ledger)
        if isinstance(entry, StickEntry):
            return StickState(entry, self._ledger, self._mover)
        return None

    def _report(self, report: Report, states: dict[str, State], t: Micros, out: list[Output]) -> None:
        """One report: presses that change layers, then the other buttons in order, then the sticks (R1)."""
        buttons, moved = self._take_in(report, states)
        if not self._running:
            for state, down in buttons:
                state.down = down
            return
        version = self._layers.version
        if len(buttons) > 1:
            buttons = self._layer_presses_first(buttons, t, out)
        for state, down in buttons:
            self._act(state, down, t, out)
        self._follow(self._sticks if self._layers.version != version else moved, t, out)

    def _plug(self, event: Plugged, states: dict[str, State], t: Micros, out: list[Output]) -> None:
        """A controller as it stands: its buttons are known to be down without effect, its sticks act (R12)."""
        buttons, moved = self._take_in(event, states)
        for state, down in buttons:
            state.down = down
        if self._running:
            self._follow(moved, t, out)

    def _take_in(self, event: Report | Plugged, states: dict[str, State]) -> tuple[Buttons, list[StickState]]:
        """The buttons a report speaks of, in its order, and its sticks, which have their new values already."""
        buttons: Buttons = []
        moved: list[StickState] = []
        for change in event.changes:
            self._sort_in(change, event.seat, states, buttons, moved)
        return buttons, moved

    def _sort_in(
        self, change: Change, seat: str, states: dict[str, State], buttons: Buttons, moved: list[StickState]
    ) -> None:
        if len(change) != 3:
            self.counts.unknown += 1
            return
        name, x, y = change
        state = states.get(name)
        if state is None:
            if (seat, name) not in self._program.controls:
                self.counts.unknown += 1
        elif not (_is_number(x) and _is_number(y)):
            self.counts.not_numbers += 1
        elif isinstance(state, ButtonState):
            buttons.append((state, self._read(state, self._clamped(x, 0.0), buttons)))
        else:
            state.x, state.y = self._clamped(x, -1.0), self._clamped(y, -1.0)
            if state not in moved:
                moved.append(state)

    @staticmethod
    def _read(state: ButtonState, value: float, buttons: Buttons) -> bool:
        """Down or not, seen from the last word on this control in the same report."""
        before = next((down for other, down in reversed(buttons) if other is state), state.down)
        return state.reads(value, before)

    def _clamped(self, value: float, low: float) -> float:
        if low <= value <= 1.0:
            return value
        self.counts.clamped += 1
        return low if value < low else 1.0

    def _layer_presses_first(self, buttons: Buttons, t: Micros, out: list[Output]) -> Buttons:
        """Do the presses that change layers, each looked up after the one before; returns the rest in order."""
        rest = []
        touched: set[ButtonState] = set()
        for state, down in buttons:
            first = down and not state.down and state not in touched and state.entry.may_change_layers
            touched.add(state)
            press = state.look_up(self._layers.order) if first else None
            if press is not None and press.changes_layers:
                self._act(state, down, t, out)
            else:
                rest.append((state, down))
        return rest

    def _act(self, state: ButtonState, down: bool, t: Micros, out: list[Output]) -> None:
        if down == state.down:
            if isinstance(state.entry, ButtonEntry):
                self.counts.repeated += 1
            return
        state.act(down, self._layers.order, t, out)

    def _follow(self, sticks: list[StickState], t: Micros, out: list[Output]) -> None:
        """Let sticks act; if one of them changes the layers, all follow once more."""
        per_degree = self._program.counts_per_degree
        for _ in range(MAX_ROUNDS):
            version = self._layers.version
            for stick in sticks:
                stick.follow(self._layers.order, per_degree, t, out)
            if self._layers.version == version:
                return
            sticks = self._sticks

    def _unplug(self, states: dict[str, State], t: Micros, out: list[Output]) -> None:
        """The controller is gone: what its controls hold ends, newest first, and they are at rest."""
        version = self._layers.version
        end_together((state.grip for state in states.values()), t, out)
        for state in states.values():
            if isinstance(state, StickState):
                state.rest(t)
                state.x = state.y = 0.0
            else:
                state.forget()
                state.down = False
        if self._running and self._layers.version != version:
            self._follow(self._sticks, t, out)


def _go_on(state: State, entry: Entry) -> State:
    """A state with its edited entry. A control never changes its kind."""
    if isinstance(state, StickState) and isinstance(entry, StickEntry):
        state.set_entry(entry)
    elif isinstance(state, ButtonState) and isinstance(entry, ButtonEntry | TriggerEntry):
        state.entry = entry
    return state


def _is_number(value: object) -> bool:
    return isinstance(value, float | int) and value == value  # noqa: PLR0124 - not a NaN
