"""What is happening now, as the runner tells it: kept for painting, with a short past."""

from __future__ import annotations

import time
from collections import deque
from math import hypot

from msgspec import Struct
from PyQt6.QtCore import QObject, pyqtSignal

from nubshift.app.painting.timing import every
from nubshift.events import Surface
from nubshift.model.controls import CHANNELS, CONTROLS, Kind
from nubshift.model.joining import STICKS
from nubshift.protocol.messages import Frame, Sent, Status

PAST_US = 3_000_000
"""How much of the output the Now strip shows."""
TRAIL = 40
STILL = 0.04
FIRST = "1"
"""The seat whose controls stand in a frame itself."""
Values = dict[str, tuple[float, float]]
"""Where controls stand, by name."""
MOTION_SAMPLES = 150
RATE_US = 250_000
TOUCH_AT, TOUCH_BELOW = 0.6, 0.35
"""A control counts as touched on purpose from the first value on, and may be touched again below the second."""


class Bar(Struct):
    """One time that a key was down: from and until (None: still) in µs, and whether it really went out."""

    code: str
    start: int
    end: int | None
    real: bool


def now_us() -> int:
    """The runner's clock, which is this machine's."""
    return time.monotonic_ns() // 1000


class Mirror(QObject):
    """The present state of the controller and of the output. Signals say which part changed.

    `output_changed` comes with every motion of the mouse, `held_changed` only when what is held does.
    """

    controls_changed = pyqtSignal(set)
    output_changed = pyqtSignal()
    held_changed = pyqtSignal()
    layers_changed = pyqtSignal()
    surfaces_changed = pyqtSignal()
    belts_changed = pyqtSignal()
    touched = pyqtSignal(str)
    framed = pyqtSignal(Frame)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.seat = FIRST
        self._seats: dict[str, Values] = {FIRST: {}}
        self.surfaces: tuple[Surface, ...] = ()
        self.belts: dict[str, int] = {}
        self.variants: dict[str, str] = {}
        self.trails: dict[str, deque[tuple[float, float]]] = {}
        self.motion: deque[tuple[float, float]] = deque(maxlen=MOTION_SAMPLES)
        self.held: tuple[str, ...] = ()
        self.layers: tuple[str, ...] = ()
        self.real = True
        self.bars: deque[Bar] = deque()
        self._moves: deque[tuple[int, int, int]] = deque()
        self._touched: set[str] = set()
        self._fade = every(self, 33, self._let_fade)

    @property
    def values(self) -> Values:
        """Where each control of the seat shown stands."""
        return self._seats.setdefault(self.seat, {})

    def show_seat(self, seat: str) -> None:
        """Show the controller in another seat."""
        if seat != self.seat:
            names = set(self.values)
            self.seat = seat
            self.trails.clear()
            self._touched.clear()
            self.controls_changed.emit(names | set(self.values))

    def value(self, control: str) -> tuple[float, float]:
        """Where a control stands: x (or depth) and y."""
        return self.values.get(control, (0.0, 0.0))

    def depth(self, control: str) -> float:
        """How far a control is moved, 0 to 1; the noise of a stick at rest is none."""
        depth = hypot(*self.value(control))
        return min(1.0, depth) if depth >= STILL else 0.0

    @property
    def speed(self) -> tuple[float, float]:
        """Mouse counts a second over the last quarter of a second, sideways and down."""
        since = now_us() - RATE_US
        while self._moves and self._moves[0][0] < since:
            self._moves.popleft()
        seconds = RATE_US / 1e6
        return sum(m[1] for m in self._moves) / seconds, sum(m[2] for m in self._moves) / seconds

    def take(self, frame: Frame) -> None:
        """Take in what the runner tells. Channels of motion are no controls; who draws them reads the trace."""
        changed: set[str] = set()
        for seat, told in {FIRST: frame.controls, **frame.seats}.items():
            controls = {name: value for name, value in told.items() if name not in CHANNELS}
            values = self._seats.setdefault(seat, {})
            if seat == self.seat:
                changed = {name for name, value in controls.items() if values.get(name) != value}
            values.update(controls)
        self._remember(changed)
        for sent in frame.sent:
            self._bar(sent, frame.real)
        if frame.dx or frame.dy:
            self._moves.append((frame.t, frame.dx, frame.dy))
        other = (frame.held, frame.real) != (self.held, self.real)
        self.held, self.real = frame.held, frame.real
        if other:
            self.held_changed.emit()
        if other or frame.sent or frame.dx or frame.dy:
            self.output_changed.emit()
        if frame.layers != self.layers:
            self.layers = frame.layers
            self.layers_changed.emit()
        if frame.surfaces != self.surfaces:
            self.surfaces = frame.surfaces
            self.surfaces_changed.emit()
        if frame.belts != self.belts:
            self.belts = frame.belts
            self.belts_changed.emit()
        self.variants = frame.variants
        if changed:
            self.controls_changed.emit(changed)
        self._notice_touch(changed)
        self.framed.emit(frame)

    def _remember(self, changed: set[str]) -> None:
        for name in changed:
            if name not in CONTROLS:
                continue
            if CONTROLS[name].kind is Kind.STICK:
                self.trails.setdefault(name, deque(maxlen=TRAIL)).append(self.values[name])
            elif CONTROLS[name].kind is Kind.MOTION:
                self.motion.append(self.values[name])
        if changed and not self._fade.isActive():
            self._fade.start()

    def close(self) -> None:
        """Nothing is shown any more."""
        self._fade.stop()

    def _let_fade(self) -> None:
        """Trails fade also while nothing moves; once they are gone the timer rests."""
        faded = set()
        for name, trail in self.trails.items():
            if trail:
                trail.popleft()
                faded.add(name)
        if faded:
            self.controls_changed.emit(faded)
        else:
            self._fade.stop()

    def _bar(self, sent: Sent, real: bool) -> None:
        if sent.code.startswith(("layer:", "wheel:")):
            return
        if sent.value:
            self.bars.append(Bar(sent.code, sent.t, None, real))
            return
        for bar in reversed(self.bars):
            if bar.code == sent.code and bar.end is None:
                bar.end = sent.t
                return

    def recent(self, now: int) -> list[Bar]:
        """The bars of the last `PAST_US`."""
        while self.bars and self.bars[0].end is not None and self.bars[0].end < now - PAST_US:
            self.bars.popleft()
        return [bar for bar in self.bars if bar.end is None or bar.end >= now - PAST_US]

    def _notice_touch(self, changed: set[str]) -> None:
        for name in changed:
            if name not in CONTROLS or CONTROLS[name].kind is Kind.MOTION:
                continue
            depth = self.depth(name)
            if depth >= TOUCH_AT and name not in self._touched:
                self._touched.add(name)
                self.touched.emit(name)
            elif depth < TOUCH_BELOW:
                self._touched.discard(name)

    def follow(self, status: Status) -> None:
        """Another controller, or none: what is not there any more stands at rest."""
        infos = {info.id: info for info in status.controllers}
        there = {
            name
            for part in status.fills.get(FIRST, ())
            if part.controller in infos
            for name in part.seen_of(infos[part.controller].controls)
        }
        values = self._seats[FIRST]
        gone = {name for name in values if name not in there and name not in STICKS}
        for name in gone:
            del values[name]
        for seat in set(self._seats) - {FIRST, *status.seats}:
            gone |= set(self._seats.pop(seat))
        self._touched -= gone
        if gone:
            self.controls_changed.emit(gone)

    def rest(self) -> None:
        """The runner is gone: nothing is held and nothing is known."""
        end = now_us()
        for bar in self.bars:
            bar.end = end if bar.end is None else bar.end
        names = set(self.values)
        self._seats = {FIRST: {}}
        self.held, self.layers = (), ()
        self.surfaces, self.belts = (), {}
        self._touched.clear()
        self.held_changed.emit()
        self.surfaces_changed.emit()
        self.output_changed.emit()
        self.layers_changed.emit()
        self.controls_changed.emit(names)
