"""What is being tuned: one control, every report of it, what is made of them, and the settings from before."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable
from typing import Any

from msgspec.structs import replace
from PyQt6.QtCore import QObject, pyqtSignal

from nubshift.app.client.watching import Watching
from nubshift.app.stage import Stage
from nubshift.app.tune.course import GyroCourse, StickCourse
from nubshift.app.tune.switching import DepthCourse, KeysCourse
from nubshift.app.tune.thresholds import Threshold, thresholds_of
from nubshift.model import edits, steering
from nubshift.model import parameters as p
from nubshift.model.changes import Changes
from nubshift.model.controls import Kind, kind_of
from nubshift.model.profile import BASE, Binding, Feel, Profile
from nubshift.model.roles import GyroRole, KeysRole, MouseRole, PadStickRole, PointerRole, Role, ScrollRole
from nubshift.model.usage import feel_for, look_up
from nubshift.protocol.messages import Frame, GyroBias
from nubshift.records import Record
from nubshift.units import MILLISECOND

SECONDS = 4.0
"""How much of the past is kept."""
FIRST = "right_stick"
"""What is tuned until something is chosen."""
TUNED = (MouseRole, ScrollRole, PointerRole, PadStickRole)
"""Roles for which dead zone and curve count."""


class Sample(Record, frozen=True):
    """One report at `t` (µs): what the control says (`raw`), and what is made of it (`out`), in the same order."""

    t: int
    raw: tuple[float, ...]
    out: tuple[float, ...]


class Tuner(QObject):
    """Follows the control that is tuned. `play` lets the runner play a profile that is no edit."""

    moved = pyqtSignal()
    refreshed = pyqtSignal()
    control_changed = pyqtSignal()
    traced = pyqtSignal(Frame)

    def __init__(self, stage: Stage, watching: Watching, play: Callable[[Profile], None], parent: QObject) -> None:
        super().__init__(parent)
        self.stage = stage
        self._watching = watching
        self._play = play
        self.control = FIRST
        self.on = False
        self.fresh: list[Sample] = []
        self.past: deque[Sample] = deque(maxlen=4200)
        self.bias: GyroBias | None = None
        self._before: Profile | None = None
        self.showing_before = False
        self.stick = StickCourse(4 * MILLISECOND)
        self.gyro = GyroCourse()
        self.switch: KeysCourse | DepthCourse | None = None
        studio = stage.studio
        studio.document.edited.connect(self._edited)
        studio.selection.layer_changed.connect(self.refresh)
        studio.document.opened.connect(self._opened)
        studio.selection.seat_changed.connect(self._opened)
        stage.live.framed.connect(self.take)

    # What is tuned

    def open(self, control: str) -> None:
        """Tune this control from now on; what it is like now is what it was before."""
        if control != self.control:
            self.show_before(False)
            self.control = control
            self._before = self.stage.studio.profile
            self._forget()
            self._watch()
            self.control_changed.emit()
            self.refresh()

    def turn_on(self, on: bool) -> None:
        """Whether anybody looks."""
        if on != self.on:
            self.show_before(False)
            self.on = on
            if on:
                self._before = self.stage.studio.profile
                self._forget()
            self._watch()
            if on:
                self.control_changed.emit()
                self.refresh()

    def _opened(self) -> None:
        if not self.on:  # it is all begun anew once somebody looks
            return
        self.show_before(False)
        self._before = self.stage.studio.profile
        self._forget()
        self._watch()
        self.control_changed.emit()
        self.refresh()

    def _watch(self) -> None:
        self._watching.want(self, self.control if self.on else "", self.stage.selection.seat)

    def _forget(self) -> None:
        self.past.clear()
        self.fresh = []
        self.bias = None
        self.stick = StickCourse(self.profile.game.tick * MILLISECOND)
        self.gyro = GyroCourse()

    @property
    def profile(self) -> Profile:
        """The profile as it is shown and played: now, or with this control as it was before."""
        studio = self.stage.studio
        if self.showing_before and self._before is not None:
            return edits.with_feel_from(studio.profile, self._before, self.control, studio.selection.seat)
        return studio.profile

    @property
    def feel(self) -> Feel:
        """The feel of the control in the layer shown, every field set."""
        studio = self.stage.studio
        return feel_for(self.profile, studio.selection.layer, self.control, studio.selection.seat)

    @property
    def binding(self) -> Binding | None:
        """What it does in the layer shown."""
        studio = self.stage.studio
        found = look_up(self.profile, studio.selection.layer, self.control, studio.selection.seat)
        return found.binding if found else None

    @property
    def role(self) -> Role | None:
        """What it is used as."""
        binding = self.binding
        return binding.role if binding is not None else None

    @property
    def tuned(self) -> bool:
        """Whether dead zone and curve count in what it is used as."""
        role = self.role
        return isinstance(role, TUNED) and (not isinstance(role, PadStickRole) or role.tuned)

    @property
    def answers(self) -> bool:
        """Whether it is known what the game gets for each report."""
        return self.tuned or self.switch is not None

    @property
    def lone(self) -> bool:
        """Whether it has one way only: a trigger, or a lone axis."""
        return kind_of(self.control) in (Kind.TRIGGER, Kind.AXIS)

    @property
    def two_sided(self) -> bool:
        """Whether a lone axis goes both ways from rest on this controller."""
        return self.control in self.stage.grasp.two_sided

    @property
    def thresholds(self) -> list[Threshold]:
        """The depths of a trigger or lone axis at which something begins."""
        return thresholds_of(self.control, self.feel, self.binding, self.tuned)

    @property
    def counts_per_degree(self) -> float:
        """The turn gauge that counts in the layer shown."""
        return steering.counts_per_degree(self.stage.studio.profile, self.stage.selection.layer)

    @property
    def cursor(self) -> bool:
        """Whether the mouse moves a cursor in the layer shown, not the view."""
        return steering.moves(self.stage.studio.profile, self.stage.selection.layer) == "cursor"

    def read(self, parameter: p.Parameter) -> p.Parameter:
        """A parameter in the units of the layer shown."""
        return steering.as_read(parameter, self.stage.studio.profile, self.stage.selection.layer)

    def set_feel(self, title: str, part: str = "", **values: Any) -> None:
        """Change the feel in the layer shown; changes of one `part` in one go are one step of undo."""
        studio, control, seat = self.stage.studio, self.control, self.stage.selection.seat
        own = any(p.BY_NAME[name].scope is p.Scope.CONTROL for name in values if name in p.BY_NAME)
        layer = BASE if own else studio.selection.layer
        merge = f"feel:{layer}:{control}:{part}" if part else ""
        studio.document.edit(
            f"{title}, {studio.selection.names.inside(control)}",
            lambda profile: edits.with_feel(profile, layer, control, seat, **values),
            merge,
        )

    def set_band(self, title: str, index: int, start: float) -> None:
        """Let a depth of the control begin elsewhere."""
        studio, binding, layer = self.stage.studio, self.binding, self.stage.selection.layer
        if binding is None:
            return
        bands = binding.bands
        changed = replace(binding, bands=(*bands[:index], replace(bands[index], start=start), *bands[index + 1 :]))

        def change(profile: Profile) -> Profile:
            return edits.with_binding(profile, layer, changed)

        studio.document.edit(
            f"{title}, {studio.selection.names.inside(self.control)}", change, f"band:{self.control}:{index}"
        )

    def _edited(self, changes: Changes) -> None:
        """Only this control's feel and use are shown, and the names of what it sends."""
        if self.on and (changes.commands or changes.tunes(self.stage.selection.seat, self.control)):
            self.refresh()

    def refresh(self) -> None:
        """The profile, the layer or the side of before and after changed."""
        feel, role = self.feel, self.role
        self.stick.tune(feel if self.tuned else None)
        self.gyro.tune(
            feel if isinstance(role, GyroRole) else None, role.axes if isinstance(role, GyroRole) else "turn"
        )
        self.switch = self._switch_of(feel, role)
        self.refreshed.emit()

    def _switch_of(self, feel: Feel, role: Role | None) -> KeysCourse | DepthCourse | None:
        if isinstance(role, KeysRole):
            return KeysCourse(feel)
        if self.lone and not self.tuned and (thresholds := self.thresholds):
            return DepthCourse(thresholds)
        return None

    # Before and after

    def mark_before(self) -> None:
        """What it is like now is what it was before."""
        self._before = self.stage.studio.profile
        self.refreshed.emit()

    @property
    def differs(self) -> bool:
        """Whether the feel is another one than before."""
        studio, before = self.stage.studio, self._before
        now = studio.profile
        return before is not None and edits.with_feel_from(now, before, self.control, studio.selection.seat) is not now

    def show_before(self, on: bool) -> None:
        """See and feel the settings from before, as long as it is asked for."""
        if on != self.showing_before and (self._before is not None or not on):
            self.showing_before = on
            self._play(self.profile)
            self.refresh()

    # What happens

    def take(self, frame: Frame) -> None:
        """What the runner tells."""
        if not self.on or not frame.trace or frame.watched != self.control:
            return
        self.bias = frame.bias or self.bias
        if kind_of(self.control) is Kind.MOTION:
            self.fresh = [self._turned(row) for row in frame.trace if len(row) == 7]
        else:
            self.fresh = [self._stepped(row) for row in frame.trace if len(row) == 3]
        self.past.extend(self.fresh)
        self.traced.emit(frame)
        self.moved.emit()

    def _stepped(self, row: tuple[float, ...]) -> Sample:
        t, x, y = int(row[0]), row[1], 0.0 if self.lone else row[2]
        out = self.switch.step(x, y) if self.switch is not None else self.stick.step(t, x, y)
        return Sample(t, (x, y), out)

    def _turned(self, row: tuple[float, ...]) -> Sample:
        t, (turn, nod, lean, x, y, z) = int(row[0]), row[1:]
        bias = (self.bias.turn, self.bias.nod, self.bias.lean) if self.bias is not None else None
        out = self.gyro.step(t, turn, nod, lean, (x, y, z), bias)
        return Sample(t, (turn, nod, lean), out)

    @property
    def last(self) -> Sample | None:
        """The newest report."""
        return self.past[-1] if self.past else None
