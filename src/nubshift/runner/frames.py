"""What the app is told of play: gathered between frames, told 60 times a second at most."""

from __future__ import annotations

from collections import deque
from collections.abc import Iterable, Sequence
from typing import assert_never

from nubshift.engine.owner import Caused, Owner
from nubshift.events import NOTCH, Button, Change, Key, LayerChange, Light, Motion, Pad, Point, Rumble, Surface, Wheel
from nubshift.model.profile import Join, Seat
from nubshift.model.sends import PAD_BUTTONS
from nubshift.protocol.messages import Frame, GyroBias, Sent
from nubshift.units import SECOND, Micros

FRAME_EVERY: Micros = SECOND // 60

FIRST = "1"
"""The first seat, which every profile has."""

MOST = 20_000
"""Entries of each kind that wait for an app that does not read; of more, the oldest are forgotten."""

NOBODY = Owner("", "", "")
PARTS_OF_MOTION: dict[str, tuple[int, ...]] = {
    "motion": (0, 1),
    "motion_lean": (2,),
    "gravity": (3, 4),
    "gravity_z": (5,),
}
"""Where the changes of a report of motion stand in its trace."""


class Reporter:
    """Gathers what changed since the last frame. `watched` is the (seat, control) of which every report is told."""

    def __init__(self) -> None:
        self.listened = True
        self.watched: tuple[str, str] | None = None
        self._motion = [0.0] * 6
        self._joins: dict[str, tuple[Join, ...]] = {}
        self._axes: dict[tuple[str, str], float] = {}
        self._begin()
        self._last: Micros = 0

    def _begin(self) -> None:
        self._seats: dict[str, dict[str, tuple[float, float]]] = {}
        self._sent: deque[Sent] = deque(maxlen=MOST)
        self._dx = self._dy = 0
        self._wheel_x = self._wheel_y = 0
        self._moved_by: dict[str, None] = {}
        self._trace: deque[tuple[float, ...]] = deque(maxlen=MOST)
        self._moves: deque[tuple[int, int, int]] = deque(maxlen=MOST)
        self._news = False

    def listen(self, on: bool) -> None:
        """Whether anybody is there to be told. While nobody is, nothing is gathered."""
        self.listened = on
        self._begin()

    def watch(self, what: tuple[str, str] | None) -> None:
        """Tell every report of this (seat, control) from now on; what was gathered of another one is not told."""
        self.watched = what
        self._trace.clear()
        self._moves.clear()

    def join(self, seats: Iterable[Seat]) -> None:
        """Tell sticks that are joined from lone axes in these seats, beside the axes."""
        self._joins = {seat.id: seat.joins for seat in seats if seat.joins}

    def _with_joined(self, changes: Iterable[Change], seat: str) -> list[Change]:
        """The changes, and what they make of the joined sticks of the seat."""
        found = list(changes)
        joins = self._joins.get(seat, ())
        if not joins:
            return found
        moved = set()
        for name, x, _ in found:
            self._axes[seat, name] = x
            moved.add(name)
        return found + [
            (join.control, self._axes.get((seat, join.x), 0.0), self._axes.get((seat, join.y), 0.0))
            for join in joins
            if moved & {join.x, join.y}
        ]

    def saw(self, changes: Iterable[Change], seat: str = FIRST, t: Micros | None = None) -> None:
        """The controller of a seat reported, at `t`; without a time it only stands like this."""
        if not self.listened:
            return
        changes = self._with_joined(changes, seat)
        controls = self._seats.setdefault(seat, {})
        for name, x, y in changes:
            controls[name] = (x, y)
        self._news = True
        if t is not None and self.watched is not None and self.watched[0] == seat:
            self._follow(self.watched[1], changes, t)

    def _follow(self, control: str, changes: Iterable[Change], t: Micros) -> None:
        if control != "motion":
            self._trace += [(t, x, y) for name, x, y in changes if name == control]
            return
        seen = False
        for name, *values in changes:
            for place, value in zip(PARTS_OF_MOTION.get(name, ()), values, strict=False):
                self._motion[place] = value
                seen = True
        if seen:
            self._trace.append((t, *self._motion))

    def did(self, sent: Sequence[Caused]) -> None:
        """The engine sent this, or would have."""
        if not self.listened:
            return
        for output, owner in sent:
            by = owner or NOBODY
            match output:
                case Key(t, code, value) | Button(t, code, value):
                    self._note(t, code, value, by)
                case Pad(t, code, value) if code in PAD_BUTTONS:
                    self._note(t, f"pad:{code}", int(value), by)
                case LayerChange(t, code, value):
                    self._note(t, f"layer:{code}", value, by)
                case Motion(t, dx, dy):
                    self._dx += dx
                    self._dy += dy
                    self._moved_by[by.control] = None
                    if self.watched is not None:
                        self._moves.append((t, dx, dy))
                case Wheel(t, dx, dy):
                    self._wheel_x += dx
                    self._wheel_y += dy
                    if not dx % NOTCH and not dy % NOTCH:
                        self._note(t, f"wheel:{_way(dx, dy)}", 1, by)
                case Pad() | Point() | Rumble() | Light():
                    pass
                case never:
                    assert_never(never)
        self._news = self._news or bool(sent)

    def _note(self, t: Micros, code: str, value: int, by: Owner) -> None:
        self._sent.append(Sent(t, code, value, by.control, by.part, by.layer, by.seat or FIRST))

    @property
    def next_deadline(self) -> Micros | None:
        """When the next frame may go, if there is news."""
        return self._last + FRAME_EVERY if self._news else None

    def frame(
        self,
        now: Micros,
        real: bool,
        held: tuple[str, ...],
        layers: tuple[str, ...],
        axes: dict[str, float],
        surfaces: tuple[Surface, ...],
        belts: dict[str, int],
        bias: GyroBias | None,
        variants: dict[str, str],
    ) -> Frame:
        """The frame for `now`; gathering begins anew."""
        frame = Frame(
            t=now,
            real=real,
            controls=self._seats.pop(FIRST, {}),
            held=held,
            layers=layers,
            sent=tuple(self._sent),
            dx=self._dx,
            dy=self._dy,
            moved_by=tuple(self._moved_by),
            wheel=(self._wheel_x, self._wheel_y),
            axes=axes,
            surfaces=surfaces,
            seats=self._seats,
            belts=belts,
            watched=self.watched[1] if self.watched is not None else "",
            trace=tuple(self._trace),
            moves=tuple(self._moves),
            bias=bias if self._trace else None,
            variants=variants,
        )
        self._begin()
        self._last = now
        return frame

    def again(self) -> None:
        """Tell the next frame even if nothing else happens."""
        self._news = True


def _way(dx: int, dy: int) -> str:
    """The direction of a wheel's notch."""
    if dy:
        return "up" if dy > 0 else "down"
    return "right" if dx > 0 else "left"
