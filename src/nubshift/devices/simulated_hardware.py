"""Simulated hardware of the five shapes: it speaks as a kernel's node does, with noise and drift.

What a hand does to it is said by its things: the names that its makers have for what is there. What comes out of it are
keys and axes, read like those of any device.
"""

from __future__ import annotations

from collections.abc import Set
from random import Random

import msgspec

from nubshift.devices.codes import EV_ABS, EV_KEY, EV_SYN, AxisRange
from nubshift.devices.conventions import hat_inputs, key_input, pull_input, stick_inputs
from nubshift.devices.decode import Decoder
from nubshift.devices.device_mapping import DeviceFacts, DeviceMapping, KnownMappings, read_hardware
from nubshift.devices.mapping_line import guid_of, line_of, model_part
from nubshift.devices.port import Raw, Timed
from nubshift.devices.simulation import Simulation
from nubshift.events import Change
from nubshift.model.controller_info import ControllerInfo
from nubshift.model.controller_setup import RAW_INPUT, InputMapping, two_sided
from nubshift.model.controls import CONTROLS, PRESENCE
from nubshift.units import MILLISECOND, SECOND, Micros

BUS_VIRTUAL, VENDOR = 6, 0x6E73
"""Of nobody."""
EVERY: Micros = 8 * MILLISECOND


class HardwareModel(msgspec.Struct, frozen=True):
    """A model: its name, its axes, what its things really are, and how unsteady each axis is (in device units).

    `shape` is the one that fits it. `senses` are controls of sensors that need no teaching.
    """

    name: str
    shape: str
    axes: dict[int, AxisRange]
    raw_inputs: tuple[InputMapping, ...]
    noise: dict[int, float] = {}
    drift: dict[int, float] = {}
    senses: tuple[str, ...] = ()
    product: int = 0

    @property
    def keys(self) -> tuple[int, ...]:
        """Its key codes."""
        return tuple(sorted({input_.code for input_ in self.raw_inputs if input_.source == "key"}))

    @property
    def model(self) -> str:
        """As of a device of the kernel."""
        return f"{VENDOR:04x}:{self.product:04x} {self.name}"

    @property
    def guid(self) -> str:
        """As a mapping line names it."""
        return guid_of(BUS_VIRTUAL, VENDOR, self.product, 1)

    @property
    def controls(self) -> tuple[str, ...]:
        """What its things are."""
        there = {input_.control for input_ in self.raw_inputs}
        return tuple(name for name in CONTROLS if name in there)


def _keys(first: int, *controls: str) -> list[InputMapping]:
    return [key_input(control, first + place) for place, control in enumerate(controls)]


_BYTE = AxisRange(0, 255, 128)
_HAT = AxisRange(-1, 1)
_WIDE = AxisRange(-512, 511)

_ALDER_AXES = {0: _BYTE, 1: _BYTE, 2: _BYTE, 5: _BYTE, 6: AxisRange(0, 255), 7: AxisRange(0, 255), 16: _HAT, 17: _HAT}
_QUARRY_AXES = {16: _HAT, 17: _HAT}
_REED_AXES = {2: AxisRange(0, 255, 4), 4: _WIDE, 17: _HAT}
_BREATH = AxisRange(0, 1023, 512)
_WILLOW_AXES = {0: _WIDE, 1: _WIDE, 3: _BREATH, 4: _BREATH, 5: _BREATH}


def _breath(control: str, code: int) -> InputMapping:
    return InputMapping(control, "axis", code, low=0, rest=512, high=1023)


HARDWARE: dict[str, HardwareModel] = {
    "alder": HardwareModel(
        "Alder pad, not set up",
        "pad",
        _ALDER_AXES,
        (
            *stick_inputs("left_stick", _ALDER_AXES, (0, 1)),
            *stick_inputs("right_stick", _ALDER_AXES, (2, 5)),
            pull_input("left_trigger", 6, _ALDER_AXES[6]),
            pull_input("right_trigger", 7, _ALDER_AXES[7]),
            *hat_inputs(_ALDER_AXES),
            *_keys(0x120, "west", "south", "east", "north", "left_bumper", "right_bumper"),
            *_keys(0x128, "select", "start", "left_stick_click", "right_stick_click", "mode"),
        ),
        noise={0: 1.5, 1: 1.5, 2: 2.0, 5: 2.0},
        drift={2: 0.8},
        senses=("motion", "touch_pad", "touch_pad_touched", "touch_pad_click"),
        product=0x101,
    ),
    "quarry": HardwareModel(
        "Quarry board",
        "arcade",
        _QUARRY_AXES,
        (
            *hat_inputs(_QUARRY_AXES),
            *_keys(
                0x120,
                "south",
                "east",
                "west",
                "north",
                "left_bumper",
                "right_bumper",
                "left_trigger",
                "right_trigger",
                "select",
                "start",
            ),
        ),
        product=0x102,
    ),
    "reed": HardwareModel(
        "Reed guitar",
        "guitar",
        _REED_AXES,
        (
            *_keys(0x120, "button_1", "button_2", "button_4", "button_3", "button_5"),
            *_keys(0x128, "select", "start"),
            *hat_inputs(_REED_AXES),
            pull_input("axis_1", 2, AxisRange(0, 255)),
            InputMapping("axis_2", "axis", 4, low=-512, rest=0, high=511, side="above"),
        ),
        noise={2: 3.0, 4: 24.0},
        drift={4: 6.0},
        product=0x103,
    ),
    "tern": HardwareModel(
        "Tern remote",
        "remote",
        {},
        (
            *_keys(0x120, "south", "right_trigger", "button_1", "button_2", "select", "mode", "start"),
            *_keys(0x2C0, "dpad_up", "dpad_down", "dpad_left", "dpad_right"),
        ),
        senses=("motion", "pointer", "pointer_seen"),
        product=0x104,
    ),
    "willow": HardwareModel(
        "Willow mouth stick",
        "mouth",
        _WILLOW_AXES,
        (
            InputMapping("left_stick", "axis", 0, "x", -512, 0, 511),
            InputMapping("left_stick", "axis", 1, "y", -512, 0, 511, flip=True),
            _breath("axis_1", 3),
            _breath("axis_2", 4),
            _breath("axis_3", 5),
            *_keys(0x120, "button_1", "button_2"),
        ),
        noise={0: 8.0, 1: 8.0, 3: 14.0, 4: 14.0, 5: 14.0},
        drift={3: 4.0, 0: 2.0},
        product=0x105,
    ),
}
"""The models, by their names for ``--source sim:NAME``."""


def hardware_info(name: str, mappings: KnownMappings) -> ControllerInfo:
    """What the player is told of a model."""
    return _info(name, HARDWARE[name], _mapping(HARDWARE[name], mappings))


def _mapping(hardware: HardwareModel, mappings: KnownMappings) -> DeviceMapping:
    own = model_part(hardware.guid)
    lines = [line for line in mappings.lines if model_part(line.guid) == own]
    return read_hardware(hardware.model, hardware.keys, hardware.axes, mappings, DeviceFacts(lines))


def _info(name: str, hardware: HardwareModel, mapping: DeviceMapping) -> ControllerInfo:
    there = {input_.control for input_ in mapping.inputs} | set(hardware.senses)
    controls = tuple(control for control in CONTROLS if control in there)
    return ControllerInfo(
        f"sim:{name}",
        hardware.name,
        controls,
        simulated=True,
        key=f"sim:{name}",
        model=hardware.model,
        how=mapping.how,
        uncertain=mapping.uncertain,
        names=mapping.names,
        shape=mapping.shape,
        raw_inputs=hardware.controls,
        line=""
        if mapping.how == "guess"
        else line_of(hardware.guid, hardware.name, mapping.inputs, hardware.keys, hardware.axes),
        two_sided=two_sided(mapping.inputs),
    )


class SimulatedHardware(Simulation):
    """One piece of simulated hardware behind the port. The same `seed` and the same calls give the same events."""

    def __init__(self, name: str, mappings: KnownMappings, now: Micros = 0, *, seed: int = 1) -> None:
        self.hardware = HARDWARE[name]
        mapping = _mapping(self.hardware, mappings)
        self._inputs = mapping.inputs
        self._info = _info(name, self.hardware, mapping)
        self._random = Random(seed)
        self._decoder = Decoder(self._inputs, self.hardware.axes)
        self._place: dict[int, float] = {code: float(entry.value) for code, entry in self.hardware.axes.items()}
        self._told: dict[int, int] = {code: entry.value for code, entry in self.hardware.axes.items()}
        self._senses: dict[str, tuple[float, float]] = dict.fromkeys(self.hardware.senses, (0.0, 0.0))
        self._began = now
        self._down: set[int] = set()
        self._pending: list[Timed] = []
        self._heard: list[Raw] | None = None
        self._watched = False
        self._next: Micros | None = None

    @property
    def info(self) -> ControllerInfo:
        """What it is."""
        return self._info

    @property
    def next_deadline(self) -> Micros | None:
        """When it reports next."""
        return self._pending[0][0] if self._pending else self._next

    def state(self) -> tuple[Change, ...]:
        """How every control stands."""
        return (*self._decoder.state(), *((name, x, y) for name, (x, y) in self._senses.items()))

    def steer(self, control: str, x: float, y: float, now: Micros) -> None:
        """Put a control somewhere as a hand would: as it is understood, or a thing of the hardware (`RAW_INPUT`)."""
        name = control.removeprefix(RAW_INPUT)
        if name in self._senses:
            self._sense(name, x, y, now)
            return
        for input_ in self.hardware.raw_inputs if control.startswith(RAW_INPUT) else self._inputs:
            if input_.control == name:
                self._put(input_, y if input_.component == "y" else x)
        self._report(now)
        self._next = now + EVERY if self._lively else None

    def _sense(self, name: str, x: float, y: float, now: Micros) -> None:
        """Sensors are in normal form; one that can lose sight sees until it is put back to the very middle."""
        scale = 200.0 if name == "motion" else 1.0
        self._senses[name] = (x * scale, y * scale)
        changes: list[Change] = [(name, x * scale, y * scale)]
        seen = next((button for button, sensor in PRESENCE.items() if sensor == name), None)
        if seen in self._senses:
            sight = float((x, y) != (0.0, 0.0))
            self._senses[seen] = (sight, 0.0)
            changes.append((seen, sight, 0.0))
        self._pending.append((now, tuple(changes)))

    def _put(self, input_: InputMapping, value: float) -> None:
        if input_.source == "key":
            (self._down.add if value > 0 else self._down.discard)(input_.code)
        elif value or self._is_out_by(input_):
            self._place[input_.code] = float(input_.value(value))

    def _is_out_by(self, input_: InputMapping) -> bool:
        """Whether an axis is out on the side of this input, so that letting go brings it back."""
        return input_.side == "both" or input_.normal(round(self._place[input_.code])) > 0

    @property
    def _lively(self) -> bool:
        """Whether it trembles now: while somebody looks, or something is out."""
        rest = {code: float(entry.value) for code, entry in self.hardware.axes.items()}
        return bool(self._watched or self._heard is not None or self._place != rest)

    def let_go(self, now: Micros) -> None:
        """Put everything to rest."""
        self._down.clear()
        self._place = {code: float(entry.value) for code, entry in self.hardware.axes.items()}
        for name, value in self._senses.items():
            if value != (0.0, 0.0):
                self._senses[name] = (0.0, 0.0)
                self._pending.append((now, ((name, 0.0, 0.0),)))
        self._report(now)

    def watch(self, control: str, now: Micros) -> None:
        """Somebody wants every report of a control; empty for nobody."""
        self._watched = bool(control)
        self._next = now if self._lively else None

    def _report(self, t: Micros) -> None:
        events: list[tuple[int, int, int]] = []
        for code in self.hardware.keys:
            down = int(code in self._down)
            if down != self._told.get(0x1000 + code, 0):
                self._told[0x1000 + code] = down
                events.append((EV_KEY, code, down))
        for code, entry in self.hardware.axes.items():
            value = self._sensed(code, entry, t)
            if value != self._told[code]:
                self._told[code] = value
                events.append((EV_ABS, code, value))
        if not events:
            return
        events.append((EV_SYN, 0, 0))
        for event in events:
            if self._heard is not None:
                self._heard.append((t, "pad", *event))
            changes = self._decoder.event(*event)
            if changes:
                self._pending.append((t, changes))

    def _sensed(self, code: int, entry: AxisRange, t: Micros) -> int:
        drift = self.hardware.drift.get(code, 0.0) * min((t - self._began) / SECOND, 20.0)
        noise = self._random.gauss(0.0, self.hardware.noise[code]) if code in self.hardware.noise else 0.0
        return max(entry.low, min(entry.high, round(self._place[code] + drift + noise)))

    def read(self, now: Micros, ready: Set[int] | None = None) -> list[Timed]:
        """The reports due up to `now`."""
        while self._next is not None and self._next <= now:
            t = self._next
            self._report(t)
            self._next = max(t + EVERY, now - SECOND) if self._lively else None
        found, self._pending = self._pending, []
        return found

    def listen(self, on: bool) -> None:
        """Keep the events themselves too."""
        self._heard = [] if on else None
        self._next = self._next if self._next is not None or not on else self._began

    def heard(self) -> list[Raw]:
        """The events since this was asked last."""
        found, self._heard = self._heard or [], [] if self._heard is not None else None
        return found
