"""How the kernel's conventions for gamepads read a device, and the generic reading of what they leave out.

See Documentation/input/gamepad.rst of the kernel.
"""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping

from nubshift.devices.codes import (
    ABS_BRAKE,
    ABS_GAS,
    ABS_HAT0X,
    ABS_HAT0Y,
    ABS_HAT1X,
    ABS_HAT1Y,
    ABS_HAT2X,
    ABS_HAT2Y,
    ABS_MT_SLOT,
    ABS_RX,
    ABS_RY,
    ABS_RZ,
    ABS_THROTTLE,
    ABS_X,
    ABS_Y,
    ABS_Z,
    BTN_DIGI,
    BTN_DPAD_UP,
    BTN_JOYSTICK,
    BTN_MISC,
    BTN_SOUTH,
    BTN_TRIGGER_HAPPY,
    BTN_WHEEL,
    AxisRange,
)
from nubshift.model.controller_setup import InputMapping

BUTTONS: dict[int, str] = {
    0x130: "south",
    0x131: "east",
    0x133: "north",
    0x134: "west",
    0x136: "left_bumper",
    0x137: "right_bumper",
    0x13A: "select",
    0x13B: "start",
    0x13C: "mode",
    0x13D: "left_stick_click",
    0x13E: "right_stick_click",
    0x220: "dpad_up",
    0x221: "dpad_down",
    0x222: "dpad_left",
    0x223: "dpad_right",
    0x224: "left_grip",
    0x225: "right_grip",
    0x226: "left_grip_2",
    0x227: "right_grip_2",
    0x2C4: "right_grip",
    0x2C5: "left_grip",
    0x2C6: "right_grip_2",
    0x2C7: "left_grip_2",
}
"""Buttons by key code: face, shoulders, centre, stick clicks, d-pad, grips (both ways the kernel reports them)."""

TRIGGER_KEYS: dict[int, str] = {0x138: "left_trigger", 0x139: "right_trigger"}
PRESS = 0.5
MOST_BUTTONS, MOST_AXES = 32, 8
FEW_KEYS = 16
"""Keys that are no buttons, as a pad may have some (for sharing, for recording); more are a keyboard's."""
ONE_SIDED = frozenset({ABS_THROTTLE, ABS_GAS, ABS_BRAKE})
"""Axes that are pulled or pushed from one end; others, as a twist or a rudder, go both ways."""


def looks_like_pad(keys: Collection[int], axes: Collection[int]) -> bool:
    """Whether a node with these capabilities is a gamepad beyond doubt: it has BTN_SOUTH and a stick."""
    return BTN_SOUTH in keys and (ABS_X in axes or ABS_RX in axes)


def keeps_conventions(keys: Collection[int]) -> bool:
    """Whether the kernel's conventions say what the keys of a controller mean: those with BTN_SOUTH, sticks or none."""
    return BTN_SOUTH in keys


def could_be_controller(keys: Collection[int], axes: Collection[int]) -> bool:
    """Whether a node without a word from udev may be a controller of any kind: it has buttons made for play.

    A tablet has buttons of a pen, and a keyboard or mouse has none of these.
    """
    if any(BTN_DIGI <= code < BTN_WHEEL for code in keys):
        return False
    return any(is_button_of_play(code) for code in keys)


def is_button_of_play(code: int) -> bool:
    """Whether a key code is one of the kernel's ranges for joysticks, gamepads, d-pads and further buttons."""
    return BTN_JOYSTICK <= code < BTN_DIGI or BTN_DPAD_UP <= code <= 0x227 or BTN_TRIGGER_HAPPY <= code < 0x2E8


def pad_inputs(keys: Collection[int], axes: Mapping[int, AxisRange]) -> list[InputMapping]:
    """The inputs of a node by the kernel's conventions."""
    inputs = [*_sticks(axes), *_triggers(axes), *_bumpers(keys, axes), *hat_inputs(axes, keys)]
    inputs += [key_input(name, code) for code, name in BUTTONS.items() if code in keys]
    wired = {input_.control for input_ in inputs}
    return inputs + [key_input(n, code) for code, n in TRIGGER_KEYS.items() if code in keys and n not in wired]


def key_input(control: str, code: int) -> InputMapping:
    """A key of the kernel that is a control."""
    return InputMapping(control, "key", code)


def stick_inputs(control: str, axes: Mapping[int, AxisRange], pair: tuple[int, int]) -> list[InputMapping]:
    """The two axes of a stick that rests in their middle."""
    found = []
    for component, code in zip(("x", "y"), pair, strict=True):
        entry = axes[code]
        found.append(InputMapping(control, "axis", code, component, entry.low, entry.middle, entry.high))  # type: ignore[arg-type]
    return found


def pull_input(control: str, code: int, entry: AxisRange) -> InputMapping:
    """An axis that rests at its low end."""
    return InputMapping(control, "axis", code, low=entry.low, rest=entry.low, high=entry.high)


def _sticks(axes: Mapping[int, AxisRange]) -> Iterator[InputMapping]:
    """The left stick is X/Y; the right one RX/RY, or Z/RZ where a pad has no RX."""
    right = (ABS_RX, ABS_RY) if ABS_RX in axes else (ABS_Z, ABS_RZ)
    for control, pair in (("left_stick", (ABS_X, ABS_Y)), ("right_stick", right)):
        if all(code in axes for code in pair):
            yield from stick_inputs(control, axes, pair)


def _triggers(axes: Mapping[int, AxisRange]) -> Iterator[InputMapping]:
    """Triggers are Z and RZ where RX is the right stick, else BRAKE and GAS, else the third hat.

    They rest at their low end. Bumpers with a depth are the second hat. A hat with the steps of a d-pad is neither.
    """
    pair: tuple[int, ...] = (ABS_Z, ABS_RZ) if ABS_RX in axes else (ABS_BRAKE, ABS_GAS)
    if not any(code in axes for code in pair):
        pair = _pulls(axes, (ABS_HAT2Y, ABS_HAT2X))
    for control, code in zip(("left_trigger", "right_trigger"), pair, strict=False):
        if code in axes:
            yield pull_input(control, code, axes[code])


def _bumpers(keys: Collection[int], axes: Mapping[int, AxisRange]) -> Iterator[InputMapping]:
    for control, code in zip(("left_bumper", "right_bumper"), _pulls(axes, (ABS_HAT1Y, ABS_HAT1X)), strict=False):
        if not any(BUTTONS.get(key) == control for key in keys):
            entry = axes[code]
            yield InputMapping(control, "axis", code, low=entry.low, rest=entry.low, high=entry.high, press=PRESS)


def _pulls(axes: Mapping[int, AxisRange], pair: tuple[int, int]) -> tuple[int, ...]:
    """The pair, if both are there and are pulled, as a hat never is."""
    return pair if all(code in axes and axes[code].high > 1 for code in pair) else ()


def hat_inputs(axes: Mapping[int, AxisRange], keys: Collection[int] = ()) -> Iterator[InputMapping]:
    """The first hat is the d-pad: four buttons. Beside keys for a d-pad, a hat with many steps is something else."""
    if BTN_DPAD_UP in keys and ABS_HAT0X in axes and axes[ABS_HAT0X].high > 1:
        return
    for code, low, high in ((ABS_HAT0X, "dpad_left", "dpad_right"), (ABS_HAT0Y, "dpad_up", "dpad_down")):
        if code in axes:
            entry = axes[code]
            for name, side in ((low, "below"), (high, "above")):
                yield InputMapping(
                    name,
                    "axis",
                    code,
                    low=entry.low,
                    rest=entry.middle if entry.low >= 0 else 0,
                    high=entry.high,
                    side=side,  # type: ignore[arg-type]
                    press=PRESS,
                )


def left_over(
    keys: Collection[int], axes: Mapping[int, AxisRange], inputs: Collection[InputMapping]
) -> list[InputMapping]:
    """Wires for what `inputs` say nothing of: buttons by number and lone axes, as many as there are names for."""
    used = {(input_.source, input_.code) for input_ in inputs}
    named = {input_.control for input_ in inputs}
    has_trigger = {code for code, name in TRIGGER_KEYS.items() if name in named}  # the same as their axes
    plain = [code for code in keys if code < BTN_MISC]
    played = [code for code in keys if code >= BTN_MISC]
    if len(plain) <= FEW_KEYS or not played:  # keys of a pad, or of a small keyboard that was brought in
        played += sorted(plain)
    buttons = [c for c in _by_number(played) if ("key", c) not in used and c not in has_trigger]
    lone = [c for c in sorted(axes) if ("axis", c) not in used and c < ABS_MT_SLOT]
    free = [n for n in range(1, MOST_BUTTONS + 1) if f"button_{n}" not in named]
    found = [key_input(f"button_{number}", code) for number, code in zip(free, buttons, strict=False)]
    free = [n for n in range(1, MOST_AXES + 1) if f"axis_{n}" not in named]
    for number, code in zip(free, lone, strict=False):
        entry = axes[code]
        rest = entry.low if _rests_low(code, entry) else entry.middle
        found.append(InputMapping(f"axis_{number}", "axis", code, low=entry.low, rest=rest, high=entry.high))
    return found


def _by_number(codes: Collection[int]) -> list[int]:
    """Buttons before keys, each by their numbers."""
    return sorted(codes, key=lambda code: (code < BTN_MISC, code))


def left_out(keys: Collection[int], axes: Collection[int], inputs: Collection[InputMapping]) -> int:
    """How many of the things that could be played on have no input, since there are no names for so many."""
    used = {(input_.source, input_.code) for input_ in inputs}
    named = {input_.control for input_ in inputs}
    there = [("key", c) for c in keys if c >= BTN_MISC and TRIGGER_KEYS.get(c) not in named]
    there += [("axis", c) for c in axes if c < ABS_MT_SLOT]
    return sum(raw_input not in used for raw_input in there)


def _rests_low(code: int, entry: AxisRange) -> bool:
    """Whether a lone axis rests at its low end: by where it stands, and by what it is called if it never reported."""
    if entry.value == 0 and entry.low == 0:
        return code in ONE_SIDED
    return entry.value - entry.low < (entry.high - entry.low) / 8


def generic_inputs(keys: Collection[int], axes: Mapping[int, AxisRange]) -> list[InputMapping]:
    """Where nothing is known: X and Y are a stick, a hat is a d-pad, all else has numbers."""
    inputs = list(hat_inputs(axes))
    if ABS_X in axes and ABS_Y in axes:
        inputs += stick_inputs("left_stick", axes, (ABS_X, ABS_Y))
    return inputs + left_over(keys, axes, inputs)
