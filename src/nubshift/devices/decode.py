"""Kernel input events into normal form (contract R2), by the kernel's conventions for gamepads.

See Documentation/input/gamepad.rst of the kernel; codes are those of linux/input-event-codes.h.
Nothing here opens a device.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping

import msgspec

from nubshift.events import Change

EV_SYN, EV_KEY, EV_ABS = 0, 1, 3
SYN_REPORT, SYN_DROPPED = 0, 3
BTN_SOUTH = 0x130

BUTTONS: dict[int, str] = {
    0x130: "south", 0x131: "east", 0x133: "north", 0x134: "west", 0x136: "left_bumper", 0x137: "right_bumper",
    0x13A: "select", 0x13B: "start", 0x13C: "mode", 0x13D: "left_stick_click", 0x13E: "right_stick_click",
    0x220: "dpad_up", 0x221: "dpad_down", 0x222: "dpad_left", 0x223: "dpad_right",
    0x224: "left_grip", 0x225: "right_grip", 0x226: "left_grip_2", 0x227: "right_grip_2",
    0x2C4: "right_grip", 0x2C5: "left_grip", 0x2C6: "right_grip_2", 0x2C7: "left_grip_2",
}  # fmt: skip
"""Buttons by key code: face, shoulders, centre, stick clicks, d-pad, grips (both ways the kernel reports them)."""

TRIGGER_KEYS: dict[int, str] = {0x138: "left_trigger", 0x139: "right_trigger"}
ABS_X, ABS_Y, ABS_Z, ABS_RX, ABS_RY, ABS_RZ, ABS_GAS, ABS_BRAKE = 0, 1, 2, 3, 4, 5, 9, 10
ABS_HAT0X, ABS_HAT0Y = 0x10, 0x11


class AxisRange(msgspec.Struct, frozen=True):
    """The range of one absolute axis in device units, and its value when it was asked for."""

    low: int
    high: int
    value: int = 0


class _Axis(msgspec.Struct, frozen=True):
    """How an axis becomes part of a control: component 0 is x or depth, 1 is y."""

    control: str
    component: int
    low: int
    rest: int
    high: int

    def normal(self, value: int) -> float:
        """`value` with each half scaled on its own from rest, clipped to [-1, 1]."""
        span = self.high - self.rest if value >= self.rest else self.rest - self.low
        return max(-1.0, min(1.0, (value - self.rest) / span)) if span else 0.0


class Decoder:
    """Follows one node: takes its events one by one and gives the changes of each report at its SYN_REPORT.

    `keys` are the key codes and `axes` the absolute axes that the node has.
    """

    def __init__(self, keys: Iterable[int], axes: Mapping[int, AxisRange]) -> None:
        self._keys = {code: BUTTONS[code] for code in keys if code in BUTTONS}
        self._axes = dict(_sticks(axes)) | dict(_triggers(axes))
        self._trigger_keys = {
            code: name
            for code, name in TRIGGER_KEYS.items()
            if code in keys and not any(axis.control == name for axis in self._axes.values())
        }
        self._hats = {code for code in (ABS_HAT0X, ABS_HAT0Y) if code in axes}
        self._values: dict[str, list[float]] = {name: [0.0, 0.0] for name in self.controls}
        self._touched: dict[str, None] = {}
        self._dropped = False
        for code, axis in axes.items():
            self._axis(code, axis.value)
        self._told = {change[0]: change for change in self.state()}
        self._touched.clear()

    @property
    def controls(self) -> tuple[str, ...]:
        """The controls this node has."""
        hats = ("dpad_up", "dpad_right", "dpad_down", "dpad_left") if self._hats else ()
        sticks = (axis.control for axis in self._axes.values())
        return tuple(dict.fromkeys([*sticks, *hats, *self._keys.values(), *self._trigger_keys.values()]))

    def state(self) -> tuple[Change, ...]:
        """How every control stands."""
        return tuple(self._change(name) for name in self._values)

    def event(self, kind: int, code: int, value: int) -> tuple[Change, ...] | None:
        """Take one event. At a SYN_REPORT: the controls the report spoke of, in their order, maybe none. Else None.

        After SYN_DROPPED events are lost: everything up to the next SYN_REPORT is passed over, then `lost` is True
        until `resync`.
        """
        if kind == EV_SYN:
            if code == SYN_DROPPED:
                self._dropped = True
                self._touched.clear()
                return None
            if code == SYN_REPORT and not self._dropped:
                return self._tell(self._touched)
            return None
        if self._dropped:
            return None
        if kind == EV_KEY:
            if value != 2 and (name := self._keys.get(code) or self._trigger_keys.get(code)):
                self._set(name, 0, 1.0 if value else 0.0)
        elif kind == EV_ABS:
            self._axis(code, value)
        return None

    @property
    def lost(self) -> bool:
        """Whether events were lost, so that the state must be read anew."""
        return self._dropped

    def resync(self, pressed: Iterable[int], axes: Mapping[int, int]) -> tuple[Change, ...]:
        """Take the whole state as read anew; returns the controls that differ from what was last told."""
        self._dropped = False
        down = set(pressed)
        for code, name in (self._keys | self._trigger_keys).items():
            self._set(name, 0, 1.0 if code in down else 0.0)
        for code, value in axes.items():
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

    def _axis(self, code: int, value: int) -> None:
        axis = self._axes.get(code)
        if axis is not None:
            self._set(axis.control, axis.component, axis.normal(value))
        elif code in self._hats:
            low, high = ("dpad_left", "dpad_right") if code == ABS_HAT0X else ("dpad_up", "dpad_down")
            for name, on in ((low, value < 0), (high, value > 0)):
                if self._values[name][0] != float(on):
                    self._set(name, 0, float(on))


def _sticks(axes: Mapping[int, AxisRange]) -> Iterable[tuple[int, _Axis]]:
    """The left stick is X/Y; the right one RX/RY, or Z/RZ where a pad has no RX."""
    right = (ABS_RX, ABS_RY) if ABS_RX in axes else (ABS_Z, ABS_RZ)
    for control, pair in (("left_stick", (ABS_X, ABS_Y)), ("right_stick", right)):
        if all(code in axes for code in pair):
            for component, code in enumerate(pair):
                entry = axes[code]
                yield code, _Axis(control, component, entry.low, (entry.low + entry.high + 1) // 2, entry.high)


def _triggers(axes: Mapping[int, AxisRange]) -> Iterable[tuple[int, _Axis]]:
    """Triggers are Z and RZ where RX is the right stick, else BRAKE and GAS. They rest at their low end."""
    pair = (ABS_Z, ABS_RZ) if ABS_RX in axes else (ABS_BRAKE, ABS_GAS)
    for control, code in zip(("left_trigger", "right_trigger"), pair, strict=True):
        if code in axes:
            entry = axes[code]
            yield code, _Axis(control, 0, entry.low, entry.low, entry.high)


def looks_like_pad(keys: Iterable[int], axes: Iterable[int]) -> bool:
    """Whether a node with these capabilities is a gamepad: the kernel's rule is that it has BTN_SOUTH and a stick."""
    return BTN_SOUTH in keys and ABS_X in axes
