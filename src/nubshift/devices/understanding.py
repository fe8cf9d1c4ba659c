"""What a controller's hardware means, from the first that knows: the player's setup, its driver, a line, … (N02)."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from typing import Literal, TypeAlias

import msgspec

from nubshift.devices.codes import ABS_RX, ABS_RZ, ABS_Z, AxisRange
from nubshift.devices.conventions import generic_wires, left_over, looks_like_pad, pad_wires
from nubshift.devices.drivers import Correction, correction_for
from nubshift.devices.mapping_line import MappingLine, guid_of, model_part, wires_of
from nubshift.devices.nodes import Device, Use
from nubshift.model.controls import Kind, kind_of
from nubshift.model.wiring import Wire, Wiring

How: TypeAlias = Literal["taught", "corrected", "conventions", "line", "guess", "built-in"]


class Understanding(msgspec.Struct, frozen=True):
    """How a device is read: by what, its wires, a sentence for all that is uncertain, and the words of its player.

    `correction` says what is put right of its driver, in a part of a sentence.
    """

    how: How
    wires: tuple[Wire, ...]
    uncertain: tuple[str, ...] = ()
    names: dict[str, str] = {}
    shape: str = ""
    correction: str = ""


class Lore(msgspec.Struct, frozen=True):
    """What is known of models: what was taught, and lines in the open text format."""

    taught: Mapping[str, Wiring] = {}
    lines: Sequence[MappingLine] = ()


def understand(device: Device, lore: Lore) -> Understanding:
    """How to read a device: by the player's setup, a known driver, a line for the model, the conventions, a guess."""
    main = device.of(Use.PAD) or device.main
    guid = model_part(guid_of(main.bus, main.vendor, main.product, main.version))
    lines = [line for line in lore.lines if model_part(line.guid) == guid]
    correction = correction_for(main.driver, main.bus, main.vendor)
    return read_hardware(device.model, main.keys, main.axes, lore, lines, correction)


def read_hardware(
    model: str,
    keys: Collection[int],
    axes: Mapping[int, AxisRange],
    lore: Lore,
    lines: Sequence[MappingLine] = (),
    correction: Correction | None = None,
) -> Understanding:
    """The same for keys and axes of a model, with the lines that are for it, and what is known of its driver."""
    taught = lore.taught.get(model)
    if taught is not None:
        missing = sum(wire.code not in (keys if wire.source == "key" else axes) for wire in taught.wires)
        told = [f"{missing} of the things it was taught with are not there now."] if missing else []
        told += _shared(taught.wires)
        return Understanding("taught", taught.wires, tuple(told), dict(taught.names), taught.shape)
    if looks_like_pad(keys, axes) and correction is not None:
        wires = correction.corrected(pad_wires(keys, axes))
        more = left_over(correction.played(keys, wires), axes, wires)
        doubts = tuple(_doubts(axes, more))
        return Understanding("corrected", (*wires, *more), doubts, correction=correction.text)
    for line in lines:
        wires, troubles = wires_of(line, keys, axes)
        if wires:
            more = left_over(keys, axes, wires)
            return Understanding("line", (*wires, *more), tuple(f"{trouble}." for trouble in troubles))
    if looks_like_pad(keys, axes):
        wires = pad_wires(keys, axes)
        more = left_over(keys, axes, wires)
        return Understanding("conventions", (*wires, *more), tuple(_doubts(axes, more)))
    wires = generic_wires(keys, axes)
    return Understanding("guess", tuple(wires), (
        "Its buttons and axes only have numbers, since nothing says which is where. Teach it to give them places.",
    ))  # fmt: skip


def _shared(wires: Sequence[Wire]) -> list[str]:
    """Two triggers on one axis, and what that loses."""
    codes = [wire.code for wire in wires if wire.source == "axis" and kind_of(wire.control) is Kind.TRIGGER]
    if len(codes) == len(set(codes)):
        return []
    return ["Its two triggers share one axis: pulled together they cancel each other out, and no program can tell."]


def _doubts(axes: Mapping[int, AxisRange], more: Sequence[Wire]) -> list[str]:
    """What the conventions leave open."""
    found = []
    if ABS_RX not in axes and ABS_Z in axes and ABS_RZ in axes:
        found.append("Its right stick is taken from the axes that other pads have for triggers. Push it to see.")
    if more:
        keys = sum(wire.source == "key" for wire in more)
        parts = [f"{n} {word}{'s' if n > 1 else ''}" for n, word in ((keys, "button"), (len(more) - keys, "axis")) if n]
        counted = " and ".join(part.replace("axiss", "axes") for part in parts)
        found.append(f"{counted} only {'has' if len(more) == 1 else 'have'} a number.")
    return found
