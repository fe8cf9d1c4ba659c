"""What a report says, sorted: its buttons in order, and the positions it moved, with their new values (R1, R13)."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any, Final, TypeAlias

from msgspec import Struct

from nubshift.engine.buttons import ButtonState
from nubshift.engine.gyro import MotionState
from nubshift.engine.owner import ControlKey
from nubshift.engine.positions import PositionState
from nubshift.engine.program import LEFT_HALF, RIGHT_HALF, Feed, Program
from nubshift.model.controls import CHANNELS, CONTROLS, PRESENCE, Kind

Buttons: TypeAlias = list[tuple[ButtonState, bool]]

FASTEST = 10_000.0
"""Degrees a second; a gyro that says more is not believed."""
HEAVIEST = 64.0
"""g; an accelerometer that says more is not believed."""

RATES: Final = 0
LEAN: Final = 1
PULL: Final = 2
AWAY: Final = 3
PARTS = {"motion": RATES, "motion_lean": LEAN, "gravity": PULL, "gravity_z": AWAY}
"""What each channel of the motion is of it."""


class Counts(Struct):
    """What was odd about the input so far (contract R3, R13)."""

    repeated: int = 0  # presses of what was pressed, releases of what was not
    late: int = 0  # events with an earlier time than the one before
    unknown: int = 0  # controls or seats that the profile does not have
    clamped: int = 0  # values outside the normal form
    not_numbers: int = 0


class _Slot:
    """All that the value of one control goes to."""

    __slots__ = ("button", "channel", "feeds", "high", "low", "low_y", "more", "part", "position", "presence")

    def __init__(self) -> None:
        self.button: ButtonState | None = None
        self.position: PositionState | None = None
        self.presence: PositionState | None = None
        self.channel: MotionState | None = None
        self.part = RATES  # of the channel
        self.feeds: tuple[tuple[Feed, PositionState], ...] = ()
        self.low, self.low_y, self.high = 0.0, 0.0, 1.0
        self.more = False  # whether the value goes on to a presence or feeds


class Intake:
    """Sorts the reports of one seat."""

    def __init__(
        self,
        seat: str,
        program: Program,
        buttons: dict[ControlKey, ButtonState],
        positions: dict[ControlKey, PositionState],
        counts: Counts,
    ) -> None:
        self._counts = counts
        self._slots = {name: self._slot(seat, name, program, buttons, positions) for name in (*CONTROLS, *CHANNELS)}

    @staticmethod
    def _slot(
        seat: str,
        name: str,
        program: Program,
        buttons: dict[ControlKey, ButtonState],
        positions: dict[ControlKey, PositionState],
    ) -> _Slot:
        slot = _Slot()
        slot.button = buttons.get((seat, name))
        slot.feeds = tuple((feed, positions[seat, feed.control]) for feed in program.feeds.get((seat, name), ()))
        if name in PRESENCE:
            slot.presence = positions.get((seat, PRESENCE[name]))
        slot.more = bool(slot.feeds) or slot.presence is not None
        if name in CHANNELS or name == "motion":
            motion = positions[seat, "motion"]
            assert isinstance(motion, MotionState)
            slot.channel = motion if motion.bound else None
            slot.part = PARTS[name]
            slot.more = False
            slot.high = HEAVIEST if name.startswith("gravity") else FASTEST
            slot.low = slot.low_y = -slot.high
            return slot
        kind = CONTROLS[name].kind
        slot.position = positions.get((seat, name))
        if kind not in (Kind.BUTTON, Kind.TRIGGER):
            slot.low = slot.low_y = -1.0
        return slot

    def take(self, changes: Iterable[Any]) -> tuple[Buttons, list[PositionState]]:
        """Buttons as (state, down) in the report's order, and the positions it moved.

        The changes should be those of a report, but a source that is wrong may report anything.
        """
        buttons: Buttons = []
        moved: list[PositionState] = []
        slots = self._slots
        for change in changes:
            try:
                told: tuple[str, Any, Any] = change  # without a detour, too
                name, x, y = told
                slot = slots[name]
                if isinstance(x, float) and isinstance(y, float):  # compared without a detour where this is compiled
                    good = slot.low <= x <= slot.high and slot.low_y <= y <= slot.high
                else:
                    good = bool(slot.low <= x <= slot.high and slot.low_y <= y <= slot.high)
            except (ValueError, KeyError, TypeError):
                self._count_odd(change)
                continue
            if not good:
                if x != x or y != y:  # noqa: PLR0124 - not a number
                    self._counts.not_numbers += 1
                    continue
                x, y = self._clamped(x, slot.low, slot.high), self._clamped(y, slot.low_y, slot.high)
            position = slot.position
            if position is not None:
                position.x, position.y = x, y
                if (position.bound or position.context.on_depth) and position not in moved:
                    moved.append(position)
            button = slot.button
            if button is not None:
                down = button.reads(x, _down_so_far(button, buttons) if buttons else button.down)
                if down != button.down or not button.is_trigger or buttons:
                    buttons.append((button, down))
            channel = slot.channel
            if channel is not None:
                channel.fresh = True
                part = slot.part
                if part == RATES:
                    channel.x, channel.y = x, y
                elif part == LEAN:
                    channel.lean = x
                elif part == PULL:
                    channel.pull_right, channel.pull_down = x, y
                else:
                    channel.pull_away = x
                if channel not in moved:
                    moved.append(channel)
            elif slot.more:
                self._hand_on(name, slot, x, y, moved)
        return buttons, moved

    def _count_odd(self, change: object) -> None:
        """What is no change of a control that there is, or not in numbers."""
        known = isinstance(change, tuple) and len(change) == 3 and change[0] in self._slots
        if known:
            self._counts.not_numbers += 1
        else:
            self._counts.unknown += 1

    def _clamped(self, value: float, low: float, high: float) -> float:
        if low <= value <= high:
            return value
        self._counts.clamped += 1
        return low if value < low else high

    @staticmethod
    def _hand_on(name: str, slot: _Slot, x: float, y: float, moved: list[PositionState]) -> None:
        """To a sensor that sees or not, and to controls made of others."""
        told = [state for _, state in slot.feeds]
        if slot.presence is not None:
            slot.presence.present = x >= 0.5
            told.append(slot.presence)
        for feed, state in slot.feeds:
            _feed(feed, state, name, x, y)
        moved += [state for state in told if state not in moved]


def _feed(feed: Feed, state: PositionState, name: str, x: float, y: float) -> None:
    """Hand a part of a value on to the control that is made of it."""
    if feed.component not in (LEFT_HALF, RIGHT_HALF):
        state.take(feed.component, _part_of(state, feed, name, x))
        return
    if name == "touch_pad":
        mine = (x < 0.0) == (feed.component == LEFT_HALF)
        if mine:
            state.x, state.y = (2.0 * x + 1.0 if feed.component == LEFT_HALF else 2.0 * x - 1.0), y
        state.here = mine
    else:
        state.touched = x >= 0.5
    state.present = state.touched and state.here


def _part_of(state: PositionState, feed: Feed, name: str, x: float) -> float:
    """A lone axis is the part itself; of two opposite directions the one last pressed counts."""
    if not name.startswith("dpad"):
        return x * feed.sign
    if x >= 0.5:
        return feed.sign
    there = state.y if feed.component else state.x
    return 0.0 if there == feed.sign else there


def _down_so_far(button: ButtonState, buttons: Buttons) -> bool:
    """Down or not, seen from the last word on this control in the same report."""
    return next((down for other, down in reversed(buttons) if other is button), button.down)
