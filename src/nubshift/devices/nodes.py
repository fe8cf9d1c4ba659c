"""Event nodes, what each is for, and which of them are one controller (needs N01, N06). Nothing here opens a device."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from enum import StrEnum
from functools import partial

import msgspec

from nubshift.devices.codes import (
    ABS_HAT0X,
    ABS_HAT3Y,
    ABS_RX,
    ABS_RY,
    ABS_RZ,
    ABS_X,
    BTN_TOUCH,
    PROP_ACCELEROMETER,
    AxisRange,
    is_hat,
)
from nubshift.devices.conventions import could_be_controller, is_button_of_play, looks_like_pad
from nubshift.devices.frames import frame_of


class NodeUse(StrEnum):
    """What a node is for."""

    PAD = "pad"
    MOTION = "motion"
    TOUCH = "touch"
    POINTER = "pointer"
    OTHER = "other"


class Node(msgspec.Struct, frozen=True):
    """One event node and what the kernel says of it.

    `place` is the directory of the hardware in sysfs, and `driver` the name of its driver there. `tagged` is udev's
    word on whether it is a joystick, None where it says nothing. `stamps` says that its reports carry the device's own
    time. `trouble` is a sentence if it can't be opened; what is known of it then comes from sysfs, without the ranges
    of its axes.
    """

    path: str
    name: str
    phys: str = ""
    uniq: str = ""
    bus: int = 0
    vendor: int = 0
    product: int = 0
    version: int = 0
    keys: tuple[int, ...] = ()
    axes: dict[int, AxisRange] = {}
    properties: tuple[int, ...] = ()
    rumbles: bool = False
    stamps: bool = False
    place: str = ""
    driver: str = ""
    tagged: bool | None = None
    trouble: str = ""

    @property
    def use(self) -> NodeUse:
        """What it is for, by its capabilities, and by udev's word where those allow for several things."""
        if PROP_ACCELEROMETER in self.properties:
            return NodeUse.MOTION
        if not self.keys and {ABS_RX, ABS_RY, ABS_RZ} <= set(self.axes):
            return NodeUse.MOTION
        if not self.keys and {ABS_HAT0X, ABS_HAT0X + 1} <= set(self.axes) and _wide(self.axes):
            return NodeUse.POINTER
        if BTN_TOUCH in self.keys and ABS_X in self.axes and not any(is_button_of_play(code) for code in self.keys):
            return NodeUse.TOUCH
        if looks_like_pad(self.keys, self.axes) or self.tagged:
            return NodeUse.PAD
        if self.tagged is None and could_be_controller(self.keys, self.axes):
            return NodeUse.PAD
        return NodeUse.OTHER

    @property
    def has_gyro(self) -> bool:
        """Whether it is a motion node that tells of turns, and not only of what is up."""
        return self.use is NodeUse.MOTION and frame_of(self.driver, self.name).has_gyro(self.axes)

    @property
    def kin(self) -> tuple[object, ...]:
        """What it shares with the other nodes of the same hardware.

        The unique number where there is one (the address, over radio); else the place of the plug; else the hardware's
        directory, unless that is the one of all made-up devices.
        """
        if self.uniq:
            return self.vendor, self.product, self.uniq
        hardware = self.place.partition("/input/")[0]
        if hardware.endswith("/virtual"):
            return (self.path,)  # made by a program; what it says of its plug means nothing
        plug = self.phys.partition("/input")[0]
        if plug:
            return self.vendor, self.product, plug
        return (hardware,) if hardware else (self.path,)


def _wide(axes: Mapping[int, AxisRange]) -> bool:
    """Whether the hats have so many steps that they are no hats."""
    return all(axes[code].high > 16 for code in axes if ABS_HAT0X <= code <= ABS_HAT3Y)


class Device(msgspec.Struct, frozen=True):
    """The nodes of one controller, the main one first. `number` counts the controllers behind one plug, from 1 on."""

    nodes: tuple[Node, ...]
    number: int = 1

    @property
    def main(self) -> Node:
        """The node that gives it its name."""
        return self.nodes[0]

    @property
    def id(self) -> str:
        """How it is named for ``--source``."""
        return f"evdev:{self.main.path}"

    @property
    def key(self) -> str:
        """Which piece of hardware it is, the same whenever it is plugged in, as far as it tells."""
        plug = self.main.uniq or self.main.phys.partition("/input")[0]
        return f"{self.model}#{plug}".rstrip("#") + (f"/{self.number}" if self.number > 1 else "")

    @property
    def model(self) -> str:
        """Which model it is: its numbers, and its name, since many share a number of nobody."""
        return f"{self.main.vendor:04x}:{self.main.product:04x} {self.main.name}"

    @property
    def is_controller(self) -> bool:
        """Whether it is made for play."""
        return any(node.use is NodeUse.PAD for node in self.nodes)

    def of(self, use: NodeUse) -> Node | None:
        """Its node for this use, if it has one."""
        return next((node for node in self.nodes if node.use is use), None)


ORDER = (NodeUse.PAD, NodeUse.MOTION, NodeUse.TOUCH, NodeUse.POINTER, NodeUse.OTHER)


def joined(nodes: Iterable[Node]) -> list[Device]:
    """The nodes by the controllers that they belong to, in the order of their first nodes.

    Nodes that complete one another are one: a pad, its motion, its touch pad. Nodes that are a pad each are controllers
    of their own, whatever they share: a receiver or an adapter for several, a device with two interfaces.
    """
    groups: dict[tuple[object, ...], list[Node]] = {}
    for node in nodes:
        groups.setdefault(node.kin, []).append(node)
    return [device for group in groups.values() for device in _apart(group)]


def _apart(group: list[Node]) -> list[Device]:
    """The controllers among the nodes of one kin."""
    pads = [node for node in group if node.use is NodeUse.PAD] or group[:1]
    parts: dict[str, list[Node]] = {pad.path: [pad] for pad in pads}
    for node in group:
        if node not in pads:
            pad = max(pads, key=partial(_nearness, node))
            parts[pad.path].append(node)
    return [
        Device(tuple(sorted(part, key=lambda node: ORDER.index(node.use))), number)
        for number, part in enumerate(parts.values(), 1)
    ]


def _nearness(node: Node, pad: Node) -> tuple[bool, bool, bool]:
    """By how much a pad of the same kin is the one that a node belongs to."""
    return _hardware(pad) == _hardware(node), pad.phys == node.phys, node.name.startswith(pad.name)


def _hardware(node: Node) -> str:
    """The directory of a node's parent device in sysfs; empty where nothing is known of it."""
    return node.place.partition("/input/")[0]


def bits(text: str) -> tuple[int, ...]:
    """The numbers of a capability as sysfs writes it: hexadecimal words of the machine, the highest first."""
    found = []
    for place, word in enumerate(reversed(text.split())):
        value = int(word, 16)
        found += [place * 64 + bit for bit in range(64) if value >> bit & 1]
    return tuple(found)


def plain_axes(codes: Iterable[int]) -> dict[int, AxisRange]:
    """Axes of which only the numbers are known."""
    return {code: AxisRange(-1, 1) if is_hat(code) else AxisRange(0, 255, 128) for code in codes}
