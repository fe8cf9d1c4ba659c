"""What a controller's hardware means, from the first that knows: the player's setup, its driver, a line, … (N02)."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from typing import Literal, TypeAlias

import msgspec

from nubshift.devices.codes import ABS_RX, ABS_RZ, ABS_Z, AxisRange
from nubshift.devices.conventions import generic_inputs, keeps_conventions, left_out, left_over, pad_inputs
from nubshift.devices.drivers import Correction, correction_for
from nubshift.devices.frames import Half
from nubshift.devices.halves import NAMES, SIDEWAYS_NAMES, half_inputs, half_of
from nubshift.devices.mapping_line import MappingLine, guid_of, inputs_of, model_part
from nubshift.devices.nodes import Device, NodeUse
from nubshift.devices.sdl_table import lines_for
from nubshift.model.controller_setup import ControllerSetup, InputMapping
from nubshift.model.controls import Kind, kind_of
from nubshift.texts import _

How: TypeAlias = Literal["taught", "corrected", "conventions", "line", "table", "guess", "built-in"]
COUNTING_DRIVERS = frozenset({"hid-generic", "usbhid"})
"""They number the buttons of a pad as they come, whatever is printed on them (drivers/hid/hid-input.c)."""


class DeviceMapping(msgspec.Struct, frozen=True):
    """How a device is read: by what, its inputs, a sentence for all that is uncertain, and the words of its player.

    `correction` says what is put right of its driver, in a part of a sentence. `half` is which half of a pair it is,
    and `sideways` whether it is held so. `unsettled` says that a table of models would be heard, if there were one.
    """

    how: How
    inputs: tuple[InputMapping, ...]
    uncertain: tuple[str, ...] = ()
    names: dict[str, str] = {}
    shape: str = ""
    correction: str = ""
    half: Half = ""
    sideways: bool = False
    unsettled: bool = False

    @property
    def held(self) -> Half:
        """Which half it is, if its motion is to be turned since it is held sideways."""
        return self.half if self.sideways else ""


class KnownMappings(msgspec.Struct, frozen=True):
    """What is known of models: what was taught, and lines in the open text format: the player's, and a table's.

    `sideways` are the keys of the pieces of hardware that are held sideways.
    """

    taught: Mapping[str, ControllerSetup] = {}
    lines: Sequence[MappingLine] = ()
    table: tuple[MappingLine, ...] = ()
    sideways: frozenset[str] = frozenset()


class DeviceFacts(msgspec.Struct, frozen=True):
    """What is known of one device beside its keys and axes.

    `lines` are the player's for its model, `table` those of the table. `counting` says that its driver only numbers its
    buttons.
    """

    lines: Sequence[MappingLine] = ()
    table: Sequence[MappingLine] = ()
    correction: Correction | None = None
    counting: bool = False
    sideways: bool = False


def map_device(device: Device, mappings: KnownMappings) -> DeviceMapping:
    """How to read a device: by the player's setup, a known driver, a line for the model, the conventions, a guess."""
    main = device.of(NodeUse.PAD) or device.main
    guid = guid_of(main.bus, main.vendor, main.product, main.version)
    known = DeviceFacts(
        [line for line in mappings.lines if model_part(line.guid) == model_part(guid)],
        lines_for(mappings.table, guid) if mappings.table else (),
        correction_for(main.driver, main.bus, main.vendor),
        main.driver in COUNTING_DRIVERS,
        device.key in mappings.sideways,
    )
    return read_hardware(device.model, main.keys, main.axes, mappings, known)


def read_hardware(
    model: str,
    keys: Collection[int],
    axes: Mapping[int, AxisRange],
    mappings: KnownMappings,
    known: DeviceFacts | None = None,
) -> DeviceMapping:
    """The same for keys and axes of a model, with what is known of the device beside them."""
    known = known or DeviceFacts()
    half = half_of(keys, axes)
    taught = mappings.taught.get(model)
    if taught is not None:
        missing = sum(input_.code not in (keys if input_.source == "key" else axes) for input_ in taught.inputs)
        told = (
            [_("{missing} of the controls of your setup are missing now.").format(missing=missing)] if missing else []
        )
        told += _shared(taught.inputs)
        return DeviceMapping("taught", taught.inputs, tuple(told), dict(taught.names), taught.shape, half=half)
    if known.correction is not None and keeps_conventions(keys):
        fix = known.correction
        inputs = fix.corrected(pad_inputs(keys, axes), keys)
        more = left_over(fix.played(keys, inputs), axes, inputs)
        doubts = tuple(_doubts(keys, axes, inputs, more))
        return DeviceMapping("corrected", (*inputs, *more), doubts, shape=fix.shape, correction=fix.text)
    if (by_line := _by_lines(known.lines, keys, axes, "line")) is not None:
        return by_line
    if half:
        inputs = half_inputs(half, known.sideways, keys, axes)
        more = left_over(keys, axes, inputs)
        names = dict((SIDEWAYS_NAMES if known.sideways else NAMES)[half])
        return DeviceMapping(
            "conventions",
            (*inputs, *more),
            tuple(_doubts(keys, axes, inputs, more)),
            names,
            half=half,
            sideways=known.sideways,
        )
    counted = known.counting and keeps_conventions(keys)
    if (counted or not keeps_conventions(keys)) and (found := _by_lines(known.table, keys, axes, "table")) is not None:
        return found
    if keeps_conventions(keys):
        inputs = pad_inputs(keys, axes)
        more = left_over(keys, axes, inputs)
        doubts = tuple(_doubts(keys, axes, inputs, more))
        if counted:
            doubts = (
                _(
                    "Its driver only numbers its buttons, so some may be in the wrong place. Press them to "
                    "check, and set it up if they are."
                ),
                *doubts,
            )
        return DeviceMapping("conventions", (*inputs, *more), doubts, unsettled=counted)
    inputs = generic_inputs(keys, axes)
    return DeviceMapping(
        "guess",
        tuple(inputs),
        (
            _("Its buttons and axes only have numbers. Set it up to give them their places."),
            *_without_place(keys, axes, inputs),
        ),
        unsettled=True,
    )


def _by_lines(
    lines: Sequence[MappingLine], keys: Collection[int], axes: Mapping[int, AxisRange], how: How
) -> DeviceMapping | None:
    """The first of these lines that means something on the device, with numbers for what it leaves out."""
    for line in lines:
        inputs, troubles = inputs_of(line, keys, axes)
        if inputs:
            more = left_over(keys, axes, inputs)
            doubts = [
                *(f"{trouble}." for trouble in troubles),
                *_numbered(more),
                *_without_place(keys, axes, [*inputs, *more]),
            ]
            return DeviceMapping(how, (*inputs, *more), tuple(doubts))
    return None


def _shared(inputs: Sequence[InputMapping]) -> list[str]:
    """Two triggers on one axis, and what that loses."""
    codes = [input_.code for input_ in inputs if input_.source == "axis" and kind_of(input_.control) is Kind.TRIGGER]
    if len(codes) == len(set(codes)):
        return []
    return [_("Its two triggers share one axis: pulled together they cancel each other out.")]


def _doubts(
    keys: Collection[int], axes: Mapping[int, AxisRange], inputs: Sequence[InputMapping], more: Sequence[InputMapping]
) -> list[str]:
    """What the conventions leave open."""
    found = []
    if ABS_RX not in axes and ABS_Z in axes and ABS_RZ in axes:
        found.append(_("Its right stick uses axes that other pads use for triggers. Push it to check."))
    return [*found, *_numbered(more), *_without_place(keys, axes, [*inputs, *more])]


def _numbered(more: Sequence[InputMapping]) -> list[str]:
    """What only has a number."""
    if not more:
        return []
    keys = sum(input_.source == "key" for input_ in more)
    parts = [f"{n} {word}{'s' if n > 1 else ''}" for n, word in ((keys, "button"), (len(more) - keys, "axis")) if n]
    counted = " and ".join(part.replace("axiss", "axes") for part in parts)
    return [_("{counted} only {more} a number.").format(counted=counted, more="has" if len(more) == 1 else "have")]


def _without_place(keys: Collection[int], axes: Collection[int], inputs: Sequence[InputMapping]) -> list[str]:
    """What is left out altogether."""
    count = left_out(keys, axes, inputs)
    return (
        [_("{count} more of its buttons and axes can't be used: there are no more numbers.").format(count=count)]
        if count
        else []
    )
