"""Motion of the controller as mouse, pointer or stick (contract R10, R11, need N35)."""

from __future__ import annotations

from collections.abc import Callable

from nubshift.engine.context import Context
from nubshift.engine.owner import ControlKey
from nubshift.engine.positions import PositionState
from nubshift.engine.program import Position, PositionEntry
from nubshift.engine.roles.pointing import Cursor
from nubshift.engine.tuning import Tuning
from nubshift.feel.gyro import LONGEST_STEP, GyroChain, MotionChain
from nubshift.model.roles import GyroRole, PointerRole
from nubshift.units import SECOND, Micros


class MotionState(PositionState):
    """The gyro and accelerometer of one seat. `x` and `y` are turn and nod as the sensor says, in degrees a second, as
    `lean` is; the pull is in g. `fresh`: all this was said by the present report.

    Bias is followed whatever the gyro is used as, and gravity as soon as any layer asks for it, so that both are known
    when they are needed.
    """

    def __init__(self, context: Context, key: ControlKey, entry: PositionEntry) -> None:
        super().__init__(context, key, entry)
        self.lean = self.pull_right = self.pull_down = self.pull_away = 0.0
        self.sense = MotionChain()
        self.fresh = False
        self._needs_gravity = _asks_for_gravity(entry)
        self._last: Micros | None = None
        self._follower: GyroFollower | None = None

    def set_entry(self, entry: PositionEntry) -> None:
        """Go on with an edited entry."""
        super().set_entry(entry)
        if not self.bound:
            self._last = None  # bound again, the first report moves nothing, however long it was not
        self._needs_gravity = _asks_for_gravity(entry)

    def follow(self) -> None:
        """Move by this report, if it is one of motion."""
        if not self.fresh:
            return
        self.fresh = False
        t = self.context.stamp  # a report that came late still moves by the time since the one before it (R10)
        rates, pull = (self.x, self.y, self.lean), (self.pull_right, self.pull_down, self.pull_away)
        self.sense.take(t, rates, pull, with_gravity=self._needs_gravity)
        last, self._last = self._last, t
        follower = self._follower
        if follower is not None:
            step = t - last if last is not None else 0
            if step > LONGEST_STEP:
                step = LONGEST_STEP
            elif step < 0:
                step = 0
            turn, nod = self.sense.about(follower.axes)
            follower.move(self, turn, nod, step)

    def look(self) -> None:
        """Also what follows the gyro."""
        super().look()
        self._set_follower()

    def _set_follower(self) -> None:
        role = self.position.role if self.position is not None else None
        if self._follower is not None and self._follower.role is not role:
            self._follower.leave(self)
            self._follower = None
        if self._follower is None and isinstance(role, GyroRole):
            self._follower = GyroFollower(self, role)
        if self._follower is not None:
            assert self.tuned is not None, "looked up just before"
            self._follower.tune(self.tuned)

    def depth(self, side: object) -> float:
        """Motion has no depth."""
        return 1.0

    def rest(self) -> None:
        """A stop: the next report counts from now on."""
        if self._follower is not None:
            self._follower.leave(self)
            self._follower = None
        super().rest()
        if self._last is not None:
            self._last = self.context.t

    def unplug(self) -> None:
        """Another controller may come: its first report moves nothing, and its bias is its own."""
        super().unplug()
        self._last = None
        self.lean = self.pull_right = self.pull_down = self.pull_away = 0.0
        self.sense = MotionChain()


def _asks_for_gravity(entry: PositionEntry) -> bool:
    roles = (position.role for position in entry.positions if isinstance(position, Position))
    return any(isinstance(role, GyroRole) and role.axes == "gravity" for role in roles)


class GyroFollower:
    """One use of the gyro."""

    def __init__(self, state: MotionState, role: GyroRole) -> None:
        self.role = role
        self.axes = role.axes
        self._to, self._acts, self._rate = role.to, role.active, role.stick_rate
        self._tuned: Tuning
        self._chain = GyroChain()
        self._on = False
        self._cursor = Cursor(PointerRole())
        self._angles = (0.0, 0.0)
        self._recentred = state.context.recentred
        self._by = (state.key[0], role.by)
        self._press: Callable[[bool], None] = self._pressed
        if role.active == "toggled":
            state.context.presses.listen(self._by, self._press)

    def tune(self, tuned: Tuning) -> None:
        """The feel for the layers as they are now."""
        self._tuned = tuned
        self._chain.tune(tuned.gyro_threshold, tuned.min_cutoff, tuned.beta)

    def _pressed(self, down: bool) -> None:
        if down:
            self._on = not self._on

    def _active(self, state: MotionState) -> bool:
        if state.context.gyro_paused:
            return False
        match self._acts:
            case "always":
                return True
            case "toggled":
                return self._on
            case "while":
                return state.context.presses.is_down(self._by)
            case "unless":
                return not state.context.presses.is_down(self._by)

    def move(self, state: MotionState, turn: float, nod: float, step: Micros) -> None:
        """One report: rates in degrees a second, bias removed, over `step` µs."""
        tuned, context = self._tuned, state.context
        if self._recentred != context.recentred:
            self._recentre(state)
        if (self._acts != "always" or context.gyro_paused) and not self._active(state):
            self._chain.reset()
            if self._to == "stick":
                self._push(context, 0.0, 0.0)
            return
        turn, nod = self._chain.step(turn, nod, step)
        turn *= tuned.invert_x
        nod = nod * tuned.gyro_upright * tuned.invert_y
        seconds = step / SECOND
        match self._to:
            case "mouse":
                scale = tuned.gyro_ratio * tuned.counts_per_degree * seconds
                context.move(turn * scale, nod * scale, state.owner)
            case "pointer":
                limit = self._rate
                x, y = self._angles[0] + turn * seconds, self._angles[1] + nod * seconds
                self._angles = min(limit, max(-limit, x)), min(limit, max(-limit, y))
                self._cursor.put(context, self._angles[0] / limit, self._angles[1] / limit)
            case "stick":
                self._push(context, turn / self._rate, nod / self._rate)

    def _push(self, context: Context, x: float, y: float) -> None:
        for axis, value in ((f"{self.role.stick}_x", x), (f"{self.role.stick}_y", y)):
            context.pad.push(axis, self, min(1.0, max(-1.0, value)))

    def _recentre(self, state: MotionState) -> None:
        self._recentred = state.context.recentred
        self._angles = (0.0, 0.0)
        state.sense.gravity.forget()

    def leave(self, state: PositionState) -> None:
        """Let go of the pad and of the button."""
        state.context.presses.unlisten(self._by, self._press)
        if self.role.to == "stick":
            self._push(state.context, 0.0, 0.0)
