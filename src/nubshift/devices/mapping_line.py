"""The open text format of the SDL project for gamepads: one line a device, read and written.

A line is ``GUID,name,target:source,...,platform:Linux``. Sources count the buttons, axes and hats that a device has, in
the order in which the kernel lists them. (The format is described in that project's public documentation.)
"""

from __future__ import annotations

import re
from collections.abc import Collection, Iterable, Mapping

from msgspec import Struct

from nubshift.devices.codes import ABS_HAT0X, ABS_MAX, BTN_JOYSTICK, KEY_MAX, AxisRange, is_hat
from nubshift.devices.conventions import PRESS, key_input
from nubshift.errors import SourceError
from nubshift.model.controller_setup import InputMapping, Side
from nubshift.texts import _

TARGETS: dict[str, str] = {
    "a": "south",
    "b": "east",
    "x": "west",
    "y": "north",
    "back": "select",
    "guide": "mode",
    "start": "start",
    "leftstick": "left_stick_click",
    "rightstick": "right_stick_click",
    "leftshoulder": "left_bumper",
    "rightshoulder": "right_bumper",
    "dpup": "dpad_up",
    "dpdown": "dpad_down",
    "dpleft": "dpad_left",
    "dpright": "dpad_right",
    "lefttrigger": "left_trigger",
    "righttrigger": "right_trigger",
    "paddle1": "right_grip",
    "paddle2": "left_grip",
    "paddle3": "right_grip_2",
    "paddle4": "left_grip_2",
    "touchpad": "touch_pad_click",
    "misc1": "button_1",
}
STICKS: dict[str, tuple[str, str]] = {
    "leftx": ("left_stick", "x"),
    "lefty": ("left_stick", "y"),
    "rightx": ("right_stick", "x"),
    "righty": ("right_stick", "y"),
}
_BY_PRINT = ("hint", "SDL_GAMECONTROLLER_USE_BUTTON_LABELS:=1")
"""A line with this says where a letter is printed, on pads that have A and B, and X and Y, the other way round."""
_TURNED = {"a": "b", "b": "a", "x": "y", "y": "x"}
_HAT_BITS = {1: ("y", -1), 2: ("x", 1), 4: ("y", 1), 8: ("x", -1)}
_SOURCE = re.compile(
    r"(?:(?P<button>b)(?P<b>\d{1,4})|(?P<half>[+-]?)a(?P<a>\d{1,4})(?P<flip>~?)|h(?P<h>\d{1,4})\.(?P<bit>\d{1,4}))"
)


def guid_of(bus: int, vendor: int, product: int, version: int) -> str:
    """The 32 digits by which a line names a model: four numbers, each with its low byte first, and zeros between."""
    words = (number.to_bytes(2, "little").hex() for number in (bus, vendor, product, version))
    return "".join(f"{word}0000" for word in words)


def model_part(guid: str) -> str:
    """What of a GUID says which model it is; a check sum of the name may stand in between."""
    return guid[:4] + guid[8:]


class MappingLine(Struct, frozen=True):
    """A line: the model's GUID, its name, and (target, source) in order."""

    guid: str
    name: str
    pairs: tuple[tuple[str, str], ...]


def parse_line(text: str) -> MappingLine:
    """A line of the format. Raises SourceError that says what is wrong with it."""
    fields = [field.strip() for field in text.strip().rstrip(",").split(",")]
    if len(fields) < 3 or not re.fullmatch(r"[0-9a-fA-F]{32}", fields[0]):
        raise SourceError(
            _("this is not a mapping line: it must begin with 32 hexadecimal digits, a comma, and a name")
        )
    pairs = []
    for field in fields[2:]:
        target, colon, source = field.partition(":")
        if not colon or not target.strip("+-"):
            raise SourceError(
                _('the mapping line has "{field}", where a target, a colon and a source should stand').format(
                    field=field
                )
            )
        pairs.append((target, source))
    return MappingLine(fields[0].lower(), fields[1], tuple(pairs))


def parse_lines(text: str) -> tuple[list[MappingLine], list[str]]:
    """Every line of a file for this platform, and a sentence for each that can't be read; comments are passed over."""
    found, troubles = [], []
    for number, line in enumerate(text.splitlines(), 1):
        if not line.strip() or line.lstrip().startswith("#"):
            continue
        try:
            parsed = parse_line(line)
        except SourceError as error:
            troubles.append(_("line {number}: {error}").format(number=number, error=error))
            continue
        if dict(parsed.pairs).get("platform", "Linux") == "Linux":
            found.append(parsed)
    return found, troubles


class Order(Struct, frozen=True):
    """How a device's keys, axes and hats are counted."""

    buttons: tuple[int, ...]
    axes: tuple[int, ...]
    hats: tuple[int, ...]


def order_of(keys: Collection[int], axes: Collection[int]) -> Order:
    """Keys from BTN_JOYSTICK upwards come first, then those below; axes in their order, hats apart by their X code."""
    buttons = [*range(BTN_JOYSTICK, KEY_MAX), *range(BTN_JOYSTICK)]
    hats = [ABS_HAT0X + 2 * n for n in range(4) if ABS_HAT0X + 2 * n in axes or ABS_HAT0X + 2 * n + 1 in axes]
    return Order(
        tuple(code for code in buttons if code in keys),
        tuple(code for code in range(ABS_MAX) if code in axes and not is_hat(code)),
        tuple(hats),
    )


def inputs_of(
    line: MappingLine, keys: Collection[int], axes: Mapping[int, AxisRange]
) -> tuple[list[InputMapping], list[str]]:
    """The inputs that a line means on a device, and a sentence for each thing of it that the device has not."""
    order = order_of(keys, axes)
    inputs: list[InputMapping] = []
    troubles = []
    turned = _TURNED if _BY_PRINT in line.pairs else {}
    for target, source in line.pairs:
        side, name = (target[0], target[1:]) if target[:1] in "+-" else ("", target)
        name = turned.get(name, name)
        if name not in TARGETS and name not in STICKS:
            continue  # platform, type, hints and targets of other systems
        found = _input(name, side, source, order, axes)
        if found is None:
            troubles.append(
                _("{target}:{source} names something that this device has not").format(target=target, source=source)
            )
        else:
            inputs.append(found)
    return inputs, troubles


def _input(name: str, side: str, source: str, order: Order, axes: Mapping[int, AxisRange]) -> InputMapping | None:
    match = _SOURCE.fullmatch(source)
    if match is None:
        return None
    control, component = STICKS.get(name, (TARGETS.get(name, ""), "x"))
    if match["button"]:
        number = int(match["b"])
        return key_input(control, order.buttons[number]) if number < len(order.buttons) and name in TARGETS else None
    if match["h"]:
        return _hat(control, int(match["h"]), int(match["bit"]), order, axes)
    number = int(match["a"])
    if number >= len(order.axes):
        return None
    code = order.axes[number]
    entry = axes[code]
    press = PRESS if name in TARGETS and not name.endswith("trigger") else None
    if match["half"]:
        way: Side = "above" if (match["half"] == "+") != bool(match["flip"]) else "below"
        return InputMapping(control, "axis", code, component, entry.low, entry.middle, entry.high, way, press=press)  # type: ignore[arg-type]
    if name in STICKS:
        flip = bool(match["flip"]) != (side == "-")
        return InputMapping(control, "axis", code, component, entry.low, entry.middle, entry.high, flip=flip)  # type: ignore[arg-type]
    if match["flip"]:
        return InputMapping(
            control, "axis", code, low=entry.low, rest=entry.high, high=entry.high, side="below", press=press
        )
    return InputMapping(control, "axis", code, low=entry.low, rest=entry.low, high=entry.high, press=press)


def _hat(control: str, number: int, bit: int, order: Order, axes: Mapping[int, AxisRange]) -> InputMapping | None:
    if number >= len(order.hats) or bit not in _HAT_BITS:
        return None
    component, way = _HAT_BITS[bit]
    code = order.hats[number] + (component == "y")
    entry = axes.get(code)
    if entry is None:
        return None
    return InputMapping(
        control, "axis", code, low=entry.low, rest=0, high=entry.high, side="above" if way > 0 else "below", press=PRESS
    )


def line_of(guid: str, name: str, inputs: Iterable[InputMapping], keys: Collection[int], axes: Collection[int]) -> str:
    """The line that says as much of the inputs as the format has words for."""
    order = order_of(keys, axes)
    targets = {control: target for target, control in TARGETS.items()}
    sticks = {whole: target for target, whole in STICKS.items()}
    pairs = []
    for input_ in inputs:
        target = sticks.get((input_.control, input_.component)) or targets.get(input_.control)
        source = _source(input_, order)
        if target and source:
            pairs.append(f"{target}:{source}")
    return ",".join([guid, name.replace(",", " "), *sorted(pairs), "platform:Linux"]) + ","


def _source(input_: InputMapping, order: Order) -> str:
    if input_.source == "key":
        return f"b{order.buttons.index(input_.code)}" if input_.code in order.buttons else ""
    if is_hat(input_.code):
        number, is_y = divmod(input_.code - ABS_HAT0X, 2)
        hat = order.hats.index(ABS_HAT0X + 2 * number)
        way = 1 if input_.side == "above" else -1
        bit = next(b for b, place in _HAT_BITS.items() if place == ("y" if is_y else "x", way))
        return f"h{hat}.{bit}"
    if input_.code not in order.axes:
        return ""
    number = order.axes.index(input_.code)
    if input_.side != "both":
        if input_.rest == input_.high:
            return f"a{number}~"
        return f"{'+' if input_.side == 'above' else '-'}a{number}"
    return f"a{number}{'~' if input_.flip else ''}"
