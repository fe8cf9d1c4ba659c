"""Kernel input events into normal form (contract R2), by the inputs of the device. Nothing here opens a device."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from nubshift.devices.codes import EV_ABS, EV_KEY, EV_MSC, EV_SYN, MSC_TIMESTAMP, SYN_DROPPED, SYN_REPORT, AxisRange
from nubshift.devices.node_reader import Event, NodeReader, Told
from nubshift.events import Change
from nubshift.model.controller_setup import RELEASE, InputMapping
from nubshift.model.controls import CONTROLS


class _Control:
    """How one control stands, by what its node says."""

    def __init__(self, name: str) -> None:
        self.name = name
        self.x = self.y = 0.0
        self.told_x = self.told_y = 0.0
        self.spoken_of = False
        """Whether the present report says something of it."""


class _Axis:
    """What the values of one axis mean for a control: `InputMapping.normal`, with all worked out ahead that can be."""

    def __init__(self, input_: InputMapping, control: _Control) -> None:
        self.control = control
        self._upright = input_.component == "y"
        self._press = input_.press
        self.is_moved_at_0 = bool(input_.normal(0))
        self._rest = input_.rest
        self._above, self._below = float(input_.high - input_.rest), float(input_.rest - input_.low)
        self._sign = -1.0 if input_.side == "below" or (input_.side == "both" and input_.flip) else 1.0
        self._least = -1.0 if input_.side == "both" else 0.0

    def move(self, value: int) -> bool:
        """Move the control to a value; whether that says something of it."""
        span = self._above if value >= self._rest else self._below
        share = self._sign * ((value - self._rest) / span) if span else 0.0
        if share > 1.0:
            share = 1.0
        elif share < self._least:
            share = self._least
        elif not share:
            share = 0.0  # never -0
        control, press = self.control, self._press
        if press is None:
            if self._upright:
                control.y = share
            else:
                control.x = share
            return True
        was = control.x > 0
        on = share >= (press * RELEASE if was else press)
        control.x = float(on)
        return on != was


class Decoder(NodeReader):
    """Follows one node: takes its events one by one and gives the changes of each report at its SYN_REPORT.

    `axes` are the absolute axes that the node has, with their values. One that has not reported yet stands at 0 in the
    kernel, which is full left and up for many pads: it is at rest until it says something.
    """

    def __init__(self, inputs: Sequence[InputMapping], axes: Mapping[int, AxisRange]) -> None:
        there = {input_.control for input_ in inputs}
        super().__init__(tuple(name for name in CONTROLS if name in there))
        self._controls = {name: _Control(name) for name in self.controls}
        self._keys: dict[int, list[_Control]] = {}
        self._axes: dict[int, list[_Axis]] = {}
        for input_ in inputs:
            control = self._controls[input_.control]
            if input_.source == "key":
                self._keys.setdefault(input_.code, []).append(control)
            else:
                self._axes.setdefault(input_.code, []).append(_Axis(input_, control))
        self._spoken_of: list[_Control] = []
        self._silent = {code for code, axis in axes.items() if axis.value == 0}
        for code, axis in axes.items():
            if not self._is_unknown(code, axis.value):
                self._axis(code, axis.value)
        self._tell(list(self._controls.values()))

    def state(self) -> tuple[Change, ...]:
        """How every control stands."""
        return tuple([(control.name, control.x, control.y) for control in self._controls.values()])

    def take(self, events: Iterable[Event]) -> list[Told]:
        """Take events. A report tells the controls that it spoke of, in their order."""
        found: list[Told] = []
        silent, axes, lost = self._silent, self._axes, self.lost
        for second, us, kind, code, value in events:
            if kind == EV_ABS:  # the most frequent
                if not lost and code in axes:
                    if code in silent:
                        silent.discard(code)
                    for axis in axes[code]:
                        control = axis.control
                        if axis.move(value) and not control.spoken_of:
                            control.spoken_of = True
                            self._spoken_of.append(control)
            elif kind == EV_SYN:
                if code == SYN_DROPPED:
                    self.lost = lost = True
                    self._tell_nothing()
                elif code == SYN_REPORT and not lost:
                    found.append((second, us, self.stamp, self._tell(self._spoken_of)))
            elif kind == EV_KEY:
                if value != 2 and not lost:
                    self._key(code, bool(value))
            elif kind == EV_MSC and code == MSC_TIMESTAMP:
                self.stamp = value
        return found

    def _is_unknown(self, code: int, value: int) -> bool:
        """Whether the kernel's value of an axis is only that of one that never reported."""
        return value == 0 and code in self._silent and any(axis.is_moved_at_0 for axis in self._axes.get(code, ()))

    def resync(self, pressed: Iterable[int], axes: Mapping[int, int]) -> tuple[Change, ...]:
        """Take the whole state as read anew; returns the controls that differ from what was last told."""
        self.lost = False
        down = set(pressed)
        for code in self._keys:
            self._key(code, code in down)
        for code, value in axes.items():
            if not self._is_unknown(code, value):
                self._silent.discard(code)
                self._axis(code, value)
        return self._tell([c for c in self._controls.values() if c.x != c.told_x or c.y != c.told_y])

    def _tell(self, controls: list[_Control]) -> tuple[Change, ...]:
        changes = []
        for control in controls:
            control.told_x, control.told_y = control.x, control.y
            control.spoken_of = False
            changes.append((control.name, control.x, control.y))
        if controls is self._spoken_of:
            self._spoken_of = []
        else:
            self._tell_nothing()
        return tuple(changes)

    def _tell_nothing(self) -> None:
        """Of what the report spoke so far is over."""
        for control in self._spoken_of:
            control.spoken_of = False
        self._spoken_of = []

    def _speak_of(self, control: _Control) -> None:
        control.spoken_of = True
        self._spoken_of.append(control)

    def _key(self, code: int, down: bool) -> None:
        for control in self._keys.get(code, ()):
            control.x = 1.0 if down else 0.0
            if not control.spoken_of:
                self._speak_of(control)

    def _axis(self, code: int, value: int) -> None:
        for axis in self._axes.get(code, ()):
            if axis.move(value) and not axis.control.spoken_of:
                self._speak_of(axis.control)
