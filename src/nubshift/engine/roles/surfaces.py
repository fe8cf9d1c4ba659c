"""Tiles, radial menus and the on-screen keyboard (contract R17, need N32, N33, N38): cells chosen by position.

They work blind; the context's `surfaces` tells an overlay which cell is chosen.
"""

from __future__ import annotations

from nubshift.engine.act import Act
from nubshift.engine.context import Step
from nubshift.engine.owner import Owner
from nubshift.engine.program import Position
from nubshift.engine.roles.port import Followed, Follower
from nubshift.engine.timers import Timer
from nubshift.engine.tuning import Tuning
from nubshift.events import Surface
from nubshift.feel.cells import grid_line, wheel_cell
from nubshift.feel.held_direction import HeldDirection
from nubshift.model.controls import CONTROLS, Kind
from nubshift.model.parameters import CELL_HYSTERESIS, SECTOR_HYSTERESIS
from nubshift.model.roles import BoardRole, MenuRole, TilesRole
from nubshift.units import MILLISECOND, Micros

REPEAT_AFTER: Micros = 350 * MILLISECOND
REPEAT_EVERY: Micros = 120 * MILLISECOND
"""How the mark of an on-screen keyboard goes on while a direction is held."""


def _jumps(state: Followed) -> bool:
    """Whether the control points at a place by itself, as a finger on a touch pad does."""
    return CONTROLS[state.key[1]].kind in (Kind.TOUCH, Kind.POINTER)


class _Surface(Follower):
    """What the three have in common: a cell, told outward."""

    def __init__(self, position: Position, use: str) -> None:
        self._position = position
        self._use = use
        self._cell: int | None = None
        self._tuned: Tuning

    def tune(self, tuned: Tuning) -> None:
        """The feel for the layers as they are now."""
        self._tuned = tuned

    def _show(self, state: Followed) -> None:
        seat, control = state.key
        cell = -1 if self._cell is None else self._cell
        state.context.surfaces.show(state.key, Surface(seat, control, self._use, self._position.owner.layer, cell))

    def leave(self, state: Followed) -> None:
        """Another binding counts: the overlay goes."""
        self.rest(state)

    def rest(self, state: Followed) -> None:
        """The overlay goes."""
        self._cell = None
        state.context.surfaces.hide(state.key)


class TilesFollower(_Surface):
    """Holds what the cell holds that the position lies in."""

    def __init__(self, position: Position, role: TilesRole) -> None:
        super().__init__(position, "tiles")
        self._role = role
        self._line: tuple[int | None, int | None] = (None, None)

    def update(self, state: Followed, wanted: dict[Step, Owner]) -> None:
        """Hold the cell's steps."""
        self._cell = self._find(state) if state.present else None
        if self._cell is None:
            self._line = (None, None)
        else:
            for act in self._position.acts[self._cell]:
                wanted.update(dict.fromkeys(act.steps(state.context.layers.pad_form), act.owner))
        self._show(state)

    def _find(self, state: Followed) -> int | None:
        role = self._role
        if role.slices:
            radius = self._tuned.menu_radius
            return wheel_cell(state.x, state.y, role.slices, radius, self._cell, CELL_HYSTERESIS, SECTOR_HYSTERESIS)
        row = grid_line(state.y, role.rows, self._line[0], CELL_HYSTERESIS)
        column = grid_line(state.x, role.columns, self._line[1], CELL_HYSTERESIS)
        self._line = row, column
        return row * role.columns + column


class MenuFollower(_Surface):
    """A radial menu: the entry pointed at, sent on return, on letting go, or by a press of another control."""

    def __init__(self, state: Followed, position: Position, role: MenuRole) -> None:
        super().__init__(position, "menu")
        self._role = role
        self._count = len(role.entries)
        self._was_present = False
        self._held: Act | None = None
        if role.on == "press":
            self._press = lambda down: self._pressed(state, down)
            self._by = (state.key[0], role.by)
            state.context.presses.listen(self._by, self._press)

    def update(self, state: Followed, wanted: dict[Step, Owner]) -> None:
        """Follow the position; on return to the centre or on letting go, send."""
        before, on = self._cell, self._role.on
        if state.present:
            self._cell = wheel_cell(
                state.x, state.y, self._count, self._tuned.menu_radius, before, CELL_HYSTERESIS, SECTOR_HYSTERESIS
            )
            if self._cell is None and before is not None and on == "return":
                self._send(state, before)
        else:
            self._cell = None
            if self._was_present and (on == "release" or (on == "return" and before is not None)):
                self._send(state, before)
        self._was_present = state.present
        if self._held is not None:
            wanted.update(dict.fromkeys(self._held.steps(state.context.layers.pad_form), self._held.owner))
        self._show(state)

    def _act(self, cell: int | None) -> Act | None:
        if cell is None:
            return self._position.middle
        return next(iter(self._position.acts[cell]), None)

    def _send(self, state: Followed, cell: int | None) -> None:
        act = self._act(cell)
        if act is not None:
            state.context.pulse(act.steps(state.context.layers.pad_form), act.owner, self._position.pulse)

    def _pressed(self, state: Followed, down: bool) -> None:
        self._held = self._act(self._cell) if down else None
        state.context.touch(state.key)

    def leave(self, state: Followed) -> None:
        """The menu's layer was left: that is letting go of it."""
        if self._role.on == "release" and state.present:
            self._send(state, self._cell)
        self.rest(state)

    def rest(self, state: Followed) -> None:
        """Nothing is sent any more."""
        if self._role.on == "press":
            state.context.presses.unlisten(self._by, self._press)
        self._held = None
        super().rest(state)


class BoardFollower(_Surface):
    """An on-screen keyboard: the mark moves by direction, or lies where the finger is; a press types."""

    def __init__(self, state: Followed, position: Position, role: BoardRole) -> None:
        super().__init__(position, "board")
        self._rows = role.rows
        self._cell: int | None = None
        self._row = self._column = 0
        self._direction = HeldDirection()
        self._repeat: Timer | None = None
        self._was_present = False
        self._by = (state.key[0], role.by) if role.by else None
        self._press = lambda down: self._pressed(state, down)
        if self._by is not None:
            state.context.presses.listen(self._by, self._press)

    def tune(self, tuned: Tuning) -> None:
        """The feel for the layers as they are now."""
        self._direction.tune(tuned.press_radius, tuned.release_radius, 0.0)

    def update(self, state: Followed, wanted: dict[Step, Owner]) -> None:
        """Move the mark."""
        if _jumps(state):
            self._point(state)
        else:
            self._step(state)
        self._cell = self._index()
        self._show(state)

    def _index(self) -> int:
        return sum(len(row) for row in self._rows[: self._row]) + self._column

    def _point(self, state: Followed) -> None:
        if state.present:
            self._row = grid_line(state.y, len(self._rows), self._row, CELL_HYSTERESIS)
            self._column = grid_line(state.x, len(self._rows[self._row]), self._column, CELL_HYSTERESIS)
        elif self._was_present and self._by is None:
            self._type(state)
        self._was_present = state.present

    def _step(self, state: Followed) -> None:
        before = self._direction.sector
        sector = self._direction.step(state.x, state.y)
        if sector != before:
            self._stop_repeat()
            if sector is not None:
                self._move(state, REPEAT_AFTER)

    def _move(self, state: Followed, then: Micros) -> None:
        rows = self._rows
        match self._direction.sector:
            case 0:
                self._row = (self._row - 1) % len(rows)
            case 4:
                self._row = (self._row + 1) % len(rows)
            case 2:
                self._column = (self._column + 1) % len(rows[self._row])
            case 6:
                self._column = (self._column - 1) % len(rows[self._row])
        self._column = min(self._column, len(rows[self._row]) - 1)
        self._cell = self._index()
        self._show(state)
        context = state.context
        self._repeat = context.timers.set(
            context.t + then, lambda: self._move(state, REPEAT_EVERY), self._position.owner
        )

    def _stop_repeat(self) -> None:
        if self._repeat is not None:
            self._repeat.cancel()
            self._repeat = None

    def _pressed(self, state: Followed, down: bool) -> None:
        if down:
            self._type(state)

    def _type(self, state: Followed) -> None:
        for act in self._position.acts[self._index()]:
            state.context.pulse(act.steps(state.context.layers.pad_form), act.owner, self._position.pulse)

    def rest(self, state: Followed) -> None:
        """The overlay goes, and nothing moves or types any more."""
        self._stop_repeat()
        if self._by is not None:
            state.context.presses.unlisten(self._by, self._press)
        super().rest(state)
