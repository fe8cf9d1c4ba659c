"""Kernel input events into normal form (contract R2), by the inputs of the device. Nothing here opens a device."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from nubshift.devices.codes import EV_ABS, EV_KEY, EV_SYN, SYN_DROPPED, SYN_REPORT, AxisRange
from nubshift.devices.node_reader import NodeReader
from nubshift.events import Change
from nubshift.model.controller_setup import RELEASE, InputMapping
from nubshift.model.controls import CONTROLS


class Decoder(NodeReader):
    """Follows one node: takes its events one by one and gives the changes of each report at its SYN_REPORT.

    `axes` are the absolute axes that the node has, with their values. One that has not reported yet stands at 0 in the
    kernel, which is full left and up for many pads: it is at rest until it says something.
    """

    def __init__(self, inputs: Sequence[InputMapping], axes: Mapping[int, AxisRange]) -> None:
        self._keys: dict[int, list[InputMapping]] = {}
        self._axes: dict[int, list[InputMapping]] = {}
        for input_ in inputs:
            where = self._keys if input_.source == "key" else self._axes
            where.setdefault(input_.code, []).append(input_)
        there = {input_.control for input_ in inputs}
        super().__init__(tuple(name for name in CONTROLS if name in there))
        self._values: dict[str, list[float]] = {name: [0.0, 0.0] for name in self.controls}
        self._touched: dict[str, None] = {}
        self._dropped = False
        self._silent = {code for code, axis in axes.items() if axis.value == 0}
        for code, axis in axes.items():
            if not self._is_unknown(code, axis.value):
                self._axis(code, axis.value)
        self._told = {change[0]: change for change in self.state()}
        self._touched.clear()

    def state(self) -> tuple[Change, ...]:
        """How every control stands."""
        return tuple(self._change(name) for name in self._values)

    def event(self, kind: int, code: int, value: int) -> tuple[Change, ...] | None:
        """Take one event. At a SYN_REPORT: the controls the report spoke of, in their order, maybe none. Else None.

        After SYN_DROPPED events are lost: everything up to the next SYN_REPORT is passed over, then `lost` is True
        until `resync`.
        """
        if kind == EV_ABS:  # the most frequent
            if not self._dropped:
                if self._silent:
                    self._silent.discard(code)
                self._axis(code, value)
        elif kind == EV_SYN:
            if code == SYN_DROPPED:
                self._dropped = True
                self._touched.clear()
            elif code == SYN_REPORT and not self._dropped:
                return self._tell(self._touched)
        elif kind == EV_KEY and value != 2 and not self._dropped:
            self._key(code, bool(value))
        return None

    def _is_unknown(self, code: int, value: int) -> bool:
        """Whether the kernel's value of an axis is only that of one that never reported."""
        return value == 0 and code in self._silent and any(input_.normal(0) for input_ in self._axes.get(code, ()))

    @property
    def lost(self) -> bool:
        """Whether events were lost, so that the state must be read anew."""
        return self._dropped

    def resync(self, pressed: Iterable[int], axes: Mapping[int, int]) -> tuple[Change, ...]:
        """Take the whole state as read anew; returns the controls that differ from what was last told."""
        self._dropped = False
        down = set(pressed)
        for code in self._keys:
            self._key(code, code in down)
        for code, value in axes.items():
            if not self._is_unknown(code, value):
                self._silent.discard(code)
                self._axis(code, value)
        return self._tell(name for name in self._values if self._change(name) != self._told[name])

    def _tell(self, names: Iterable[str]) -> tuple[Change, ...]:
        changes = tuple(self._change(name) for name in names)
        for change in changes:
            self._told[change[0]] = change
        self._touched.clear()
        return changes

    def _change(self, name: str) -> Change:
        x, y = self._values[name]
        return name, x, y

    def _set(self, name: str, component: int, value: float) -> None:
        self._values[name][component] = value
        self._touched[name] = None

    def _key(self, code: int, down: bool) -> None:
        for input_ in self._keys.get(code, ()):
            self._set(input_.control, 0, 1.0 if down else 0.0)

    def _axis(self, code: int, value: int) -> None:
        for input_ in self._axes.get(code, ()):
            share = input_.normal(value)
            if input_.press is None:
                self._set(input_.control, int(input_.component == "y"), share)
                continue
            was = self._values[input_.control][0] > 0
            on = share >= (input_.press * RELEASE if was else input_.press)
            if on != was:
                self._set(input_.control, 0, float(on))
