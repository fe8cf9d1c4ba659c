"""The channel through the kernel: a virtual keyboard and mouse, and a pointer and a pad where a profile wants them.

The one file here that imports evdev. When the process ends, however it ends, the kernel removes the devices and
releases what they held.
"""

from __future__ import annotations

import contextlib
import os
import struct
from collections.abc import Callable, Sequence
from typing import Any, Final, TypeAlias, assert_never

from evdev import AbsInfo, UInput, UInputError, ecodes

from nubshift.errors import SinkError
from nubshift.events import (
    NOTCH,
    VIRTUAL_KEYBOARD,
    VIRTUAL_MOUSE,
    VIRTUAL_PHYS,
    Button,
    Key,
    LayerChange,
    Light,
    Motion,
    Output,
    Pad,
    Point,
    Rumble,
    Wheel,
)
from nubshift.model.keys import KEYS, is_button
from nubshift.model.profile import PadKind
from nubshift.outputs.feedback import Feedback
from nubshift.outputs.point_places import PointPlaces
from nubshift.outputs.virtual_pad import AXIS_CODES, BUTTON_CODES, MODELS, PULL, REACH, VENDOR, raw_axis
from nubshift.texts import _
from nubshift.units import Micros

NODE = "/dev/uinput"
KEYBOARD, MOUSE, POINTER = 0x0010, 0x0011, 0x0012
"""Products of our own vendor, so that other programs can tell our devices from each other and from everybody's."""
SPAN = 65535
"""Steps of the pointer's axes across the screen."""
EVENT: Final = struct.Struct("@llHHi")
"""struct input_event (linux/input.h) on this machine; the kernel sets its time."""
EV_KEY: Final = ecodes.EV_KEY
EV_REL: Final = ecodes.EV_REL
REL_X: Final = ecodes.REL_X
REL_Y: Final = ecodes.REL_Y
END: Final = (0, 0, ecodes.EV_SYN, ecodes.SYN_REPORT, 0)
SYN: Final = EVENT.pack(*END)
MOVED: Final = struct.Struct("@llHHillHHillHHi")
MOVED_ALONG: Final = struct.Struct("@llHHillHHi")
"""A whole report of the mouse: a move along both axes or along one, and its end."""
Making: TypeAlias = Callable[..., Any]
"""Makes a virtual device of its events, name and product: evdev's `UInput`, or what stands for one."""


class UinputChannel:
    """Sends through uinput. `making` makes a virtual device there. Raises SinkError."""

    name = "uinput"

    def __init__(self, making: Making | None = None) -> None:
        self._make = making or make_device
        keys = [info.code for name, info in KEYS.items() if not is_button(name)]
        buttons = [info.code for name, info in KEYS.items() if is_button(name)]
        axes = [
            ecodes.REL_X,
            ecodes.REL_Y,
            ecodes.REL_WHEEL,
            ecodes.REL_HWHEEL,
            ecodes.REL_WHEEL_HI_RES,
            ecodes.REL_HWHEEL_HI_RES,
        ]
        self._keyboard = self._make({ecodes.EV_KEY: keys}, VIRTUAL_KEYBOARD, KEYBOARD)
        self._mouse = self._make({ecodes.EV_KEY: buttons, ecodes.EV_REL: axes}, VIRTUAL_MOUSE, MOUSE)
        self._mouse_fd = int(self._mouse.fd)
        self._pointer: UInput | None = None
        self._pad: UInput | None = None
        self._pad_kind: PadKind = "none"
        self._feedback = Feedback()
        self._places = PointPlaces()
        self._codes = {name: info.code for name, info in KEYS.items()}
        self._wheel_x = 0
        self._wheel_y = 0

    def prepare(self, pad: PadKind, points: bool) -> str:
        """Make the pad and the pointer that a profile wants, and remove a pad that it does not."""
        if points:
            self._places.begin()
        if points and self._pointer is None:
            span = AbsInfo(0, 0, SPAN, 0, 0, 0)
            events = {
                ecodes.EV_KEY: [ecodes.BTN_LEFT, ecodes.BTN_RIGHT],
                ecodes.EV_ABS: [(ecodes.ABS_X, span), (ecodes.ABS_Y, span)],
            }
            props = [ecodes.INPUT_PROP_POINTER]
            self._pointer = self._make(events, "Nub Shift pointer", POINTER, input_props=props)
        if pad != self._pad_kind:
            if self._pad is not None:
                self._pad.close()
                self._pad = None
                self._feedback = Feedback()
            self._pad_kind = pad
            if pad != "none":
                self._pad = _pad_device(pad, self._make)
        return ""

    def filenos(self) -> tuple[int, ...]:
        """Where a game is heard that rumbles the pad, and what is new about the screens."""
        return (*((int(self._pad.fd),) if self._pad is not None else ()), *self._places.filenos())

    @property
    def next_deadline(self) -> Micros | None:
        """When an effect ends by itself."""
        return self._feedback.next_deadline

    def hear(self, now: Micros) -> None:
        """Take in the rumble that a game asks for; it is answered at once, since the game waits."""
        self._places.hear()
        if self._pad is not None:
            with contextlib.suppress(OSError, UInputError):
                for event in self._pad.read():
                    self._hear(self._pad, event.type, event.code, event.value, now)

    def rumble(self, now: Micros) -> float:
        """How strongly a game lets the pad rumble now."""
        return self._feedback.strength(now)

    def _hear(self, pad: UInput, kind: int, code: int, value: int, now: Micros) -> None:
        if kind == ecodes.EV_UINPUT and code == ecodes.UI_FF_UPLOAD:
            upload = pad.begin_upload(value)
            effect = upload.effect
            rumble = effect.u.ff_rumble_effect
            if effect.type == ecodes.FF_RUMBLE:
                self._feedback.upload(
                    effect.id, rumble.strong_magnitude, rumble.weak_magnitude, effect.ff_replay.length
                )
            upload.retval = 0
            pad.end_upload(upload)
        elif kind == ecodes.EV_UINPUT and code == ecodes.UI_FF_ERASE:
            erase = pad.begin_erase(value)
            self._feedback.erase(erase.effect_id)
            erase.retval = 0
            pad.end_erase(erase)
        elif kind == ecodes.EV_FF and code == ecodes.FF_GAIN:
            self._feedback.gain(value)
        elif kind == ecodes.EV_FF:
            self._feedback.play(code, value, now)

    def write(self, outputs: Sequence[Output]) -> None:
        """Send these now; devices are told apart by a report each, in the order of the events, written at once."""
        last: UInput | None = None
        report: list[bytes] = []
        try:
            only = outputs[0] if len(outputs) == 1 else None
            if type(only) is Motion:  # most of what is sent
                os.write(self._mouse_fd, _moved(only.dx, only.dy))
                return
            for output in outputs:
                device: UInput | None = self._mouse
                if type(output) is Motion:
                    events = _moved(output.dx, output.dy)[: -len(SYN)]
                elif type(output) is Key:
                    device, events = self._keyboard, EVENT.pack(0, 0, EV_KEY, self._codes[output.code], output.value)
                else:
                    device = self._device_of(output)
                    events = b"".join([EVENT.pack(0, 0, *event) for event in self._events(output)])
                if device is None:
                    continue
                if last is not None and device is not last:
                    _send(last, report)
                    report = []
                last = device
                report.append(events)
            if last is not None:
                _send(last, report)
        except OSError as error:
            raise SinkError(
                _("{node} takes no more events: {strerror}").format(node=NODE, strerror=error.strerror)
            ) from error

    def _device_of(self, output: Output) -> UInput | None:
        match output:
            case Key():
                return self._keyboard
            case Button() | Motion() | Wheel():
                return self._mouse
            case Point():
                return self._pointer
            case Pad():
                return self._pad
            case LayerChange() | Rumble() | Light():
                return None
            case never:
                assert_never(never)

    def _events(self, output: Output) -> list[tuple[int, int, int]]:
        """The kernel's events (type, code, value) of one output."""
        match output:
            case Key(_, code, value) | Button(_, code, value):
                return [(ecodes.EV_KEY, self._codes[code], value)]
            case Motion(_, dx, dy):
                steps = ((REL_X, dx), (REL_Y, dy))
                return [(ecodes.EV_REL, axis, step) for axis, step in steps if step]
            case Wheel(_, dx, dy):
                return self._wheel_events(dx, dy)
            case Point(_, x, y):
                x, y = self._places.place(x, y)
                return [(ecodes.EV_ABS, ecodes.ABS_X, round(x * SPAN)), (ecodes.EV_ABS, ecodes.ABS_Y, round(y * SPAN))]
            case Pad(_, code, value) if code in BUTTON_CODES:
                return [(ecodes.EV_KEY, BUTTON_CODES[code], int(value))]
            case Pad(_, code, value):
                return [(ecodes.EV_ABS, AXIS_CODES[code], raw_axis(code, value))]
            case LayerChange() | Rumble() | Light():
                return []
            case never:
                assert_never(never)

    def _wheel_events(self, dx: int, dy: int) -> list[tuple[int, int, int]]:
        """High-resolution steps, and a whole notch for older programs as soon as one is full, as the kernel has it."""
        found = []
        for way, fine, coarse, name in (
            (dx, ecodes.REL_HWHEEL_HI_RES, ecodes.REL_HWHEEL, "_wheel_x"),
            (dy, ecodes.REL_WHEEL_HI_RES, ecodes.REL_WHEEL, "_wheel_y"),
        ):
            if not way:
                continue
            found.append((ecodes.EV_REL, fine, way))
            gathered = getattr(self, name) + way
            notches = int(gathered / NOTCH)
            setattr(self, name, gathered - notches * NOTCH)
            if notches:
                found.append((ecodes.EV_REL, coarse, notches))
        return found

    def close(self) -> None:
        """Remove the devices; the kernel releases what they hold."""
        self._places.close()
        for device in (self._keyboard, self._mouse, self._pointer, self._pad):
            if device is not None:
                with contextlib.suppress(OSError):
                    device.close()


def _moved(dx: int, dy: int) -> bytes:
    """The report of a move of the mouse."""
    if dx and dy:
        return MOVED.pack(0, 0, EV_REL, REL_X, dx, 0, 0, EV_REL, REL_Y, dy, *END)
    return MOVED_ALONG.pack(0, 0, EV_REL, REL_X if dx else REL_Y, dx or dy, *END)


def _send(device: UInput, report: list[bytes]) -> None:
    """One report, ended by its SYN. Raises OSError."""
    report.append(SYN)
    os.write(device.fd, b"".join(report))


def make_device(events: dict[int, Any], name: str, product: int, **more: Any) -> UInput:
    """A virtual device with these events. Raises SinkError."""
    try:
        return UInput(
            events, name=name, vendor=VENDOR, product=product, phys=VIRTUAL_PHYS, bustype=ecodes.BUS_VIRTUAL, **more
        )
    except (OSError, UInputError) as error:
        raise SinkError(
            _("{node} can't be used: {error}. Run: nubshift doctor").format(node=NODE, error=error)
        ) from error


def _pad_device(kind: PadKind, making: Making) -> UInput:
    model = MODELS[kind]
    axes = []
    for axis in model.axes:
        if axis.endswith("trigger"):
            axes.append((AXIS_CODES[axis], AbsInfo(0, 0, PULL, 0, 0, 0)))
        else:
            axes.append((AXIS_CODES[axis], AbsInfo(0, -REACH, REACH, 16, 128, 0)))
    events: dict[int, Any] = {ecodes.EV_KEY: [BUTTON_CODES[button] for button in model.buttons], ecodes.EV_ABS: axes}
    if kind == "full":
        events[ecodes.EV_FF] = [ecodes.FF_RUMBLE, ecodes.FF_GAIN]
    made: UInput = making(events, model.name, model.product)
    return made
