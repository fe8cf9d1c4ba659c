"""A pointer: the cursor put where the control points, or moved by what changes (contract R17, need N36)."""

from __future__ import annotations

from nubshift.engine.context import Context, Step
from nubshift.engine.owner import Owner
from nubshift.engine.program import Position
from nubshift.engine.roles.port import Followed, Follower
from nubshift.engine.timers import Timer
from nubshift.engine.tuning import Tuning
from nubshift.model.controls import CONTROLS, Kind
from nubshift.model.roles import PointerRole
from nubshift.units import MILLISECOND


class Cursor:
    """Puts the cursor on shares of the chosen area, clipped to it, and says nothing twice."""

    def __init__(self, role: PointerRole) -> None:
        self._role = role
        self._last: tuple[float, float] | None = None

    def put(self, context: Context, x: float, y: float) -> None:
        """Put it at a place of the control's own range, -1 to 1 each way."""
        left, top, right, bottom = self._role.area
        reach = 1.0 - self._role.margin * 2.0
        across = min(1.0, max(0.0, 0.5 + x / 2.0 / reach))
        down = min(1.0, max(0.0, 0.5 + y / 2.0 / reach))
        self.put_share(context, left + across * (right - left), top + down * (bottom - top))

    def put_share(self, context: Context, x: float, y: float) -> None:
        """Put it at shares of the whole."""
        if (x, y) != self._last:
            self._last = x, y
            context.point(x, y, self._role.target == "window")


class PointerFollower(Follower):
    """Follows a pointer, touch pad or stick. Lost, the last point is held for a while; then it parks."""

    def __init__(self, position: Position, role: PointerRole) -> None:
        self._position = position
        self._role = role
        self._cursor = Cursor(role)
        self._before: tuple[float, float] | None = None
        self._parking: Timer | None = None
        self._tuned: Tuning

    def tune(self, tuned: Tuning) -> None:
        """The feel for the layers as they are now."""
        self._tuned = tuned

    def update(self, state: Followed, wanted: dict[Step, Owner]) -> None:
        """Put or move the cursor."""
        if not state.present:
            self._lost(state)
            return
        if self._parking is not None:
            self._parking.cancel()
            self._parking = None
        x, y = state.x, state.y
        if CONTROLS[state.key[1]].kind is Kind.STICK:
            x, y, _ = self._tuned.respond(x, y)
        if not self._role.relative:
            self._cursor.put(state.context, x, y)
            return
        before, self._before = self._before, (x, y)
        if before is not None and before != (x, y):
            counts = self._tuned.across / 2.0
            dx = (x - before[0]) * counts * self._tuned.invert_x
            dy = (y - before[1]) * counts * self._tuned.invert_y
            state.context.move(dx, dy, state.owner)

    def _lost(self, state: Followed) -> None:
        self._before = None
        park = self._role.park
        if park is not None and self._parking is None:
            context = state.context
            due = context.t + self._role.hold * MILLISECOND
            self._parking = context.timers.set(
                due, lambda: self._cursor.put_share(context, *park), self._position.owner
            )

    def leave(self, state: Followed) -> None:
        """The cursor stays where it is."""
        if self._parking is not None:
            self._parking.cancel()

    def rest(self, state: Followed) -> None:
        """The cursor stays where it is."""
        self.leave(state)
