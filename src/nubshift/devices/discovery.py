"""Which controllers are connected, and word of coming and going: udev where it runs, else the kernel's own events."""

from __future__ import annotations

import os
from collections.abc import Callable, Collection

import msgspec
import pyudev
from msgspec import Struct

from nubshift.devices.device_mapping import DeviceMapping, KnownMappings, map_device
from nubshift.devices.health import battery_of, lights_of
from nubshift.devices.kernel import Opening, look_at, node_paths, open_node
from nubshift.devices.mapping_line import guid_of, line_of
from nubshift.devices.nodes import Device, NodeUse, joined
from nubshift.devices.sdl_table import LONGEST_WAIT, Table
from nubshift.model.controller_info import ControllerInfo
from nubshift.model.controller_setup import two_sided
from nubshift.texts import _

SENSES = {NodeUse.MOTION: "motion", NodeUse.TOUCH: "touch pad", NodeUse.POINTER: "pointer"}
UDEV_CONTROL = "/run/udev/control"


def devices() -> list[Device]:
    """Every piece of input hardware that is there now, in the order of the nodes."""
    tags = _udev_tags()
    nodes = (look_at(path) for path in node_paths())
    return joined(msgspec.structs.replace(node, tagged=tags.get(node.path)) for node in nodes if node is not None)


def connected(mappings: KnownMappings | None = None, brought_in: Collection[str] = ()) -> list[ControllerInfo]:
    """The controllers that are there now. `brought_in` are the keys of hardware that counts as one though it is none.

    Where udev has tagged a node as a joystick or as something else, its word counts; a node without tags is judged by
    its capabilities.
    """
    mappings = mappings or KnownMappings()
    there = devices()
    if any(map_device(device, mappings).unsettled for device in there if device.is_controller):
        table = Table()
        table.want()
        table.take(LONGEST_WAIT)
        mappings = msgspec.structs.replace(mappings, table=table.lines)
    found = [info_of(device, map_device(device, mappings)) for device in there]
    return [info for info in found if info.is_controller or info.key in brought_in]


def info_of(device: Device, mapping: DeviceMapping) -> ControllerInfo:
    """What the player is told of a device."""
    played = device.of(NodeUse.PAD) or device.main
    closed = [node.use.value for node in device.nodes if node.trouble and node is not played and node.use in SENSES]
    doubts = [
        _("You have no permission to read its {senses}. The doctor tells what to do.").format(
            senses=SENSES[NodeUse(use)]
        )
        for use in closed
    ]
    senses = {
        NodeUse.MOTION: ("motion",),
        NodeUse.TOUCH: ("touch_pad", "touch_pad_touched", "touch_pad_click"),
        NodeUse.POINTER: ("pointer", "pointer_seen"),
    }
    wired = dict.fromkeys(input_.control for input_ in mapping.inputs)
    sensed = [control for use, controls in senses.items() if _has(device, use) for control in controls]
    return ControllerInfo(
        device.id,
        device.main.name,
        tuple(dict.fromkeys([*wired, *sensed])),
        trouble=played.trouble,
        key=device.key,
        model=device.model,
        how=mapping.how,
        uncertain=(*mapping.uncertain, *doubts),
        names=mapping.names,
        shape=mapping.shape,
        nodes=tuple(node.path for node in device.nodes),
        rumbles=any(node.rumbles for node in device.nodes),
        lights=lights_of(device),
        battery=battery_of(device),
        is_controller=device.is_controller,
        correction=mapping.correction,
        line=_line(device, mapping),
        two_sided=two_sided(mapping.inputs),
        half=mapping.half,
        sideways=mapping.sideways,
    )


def _has(device: Device, use: NodeUse) -> bool:
    """Whether a node for this use may be read; for motion, one with a gyro."""
    nodes = [node for node in device.nodes if node.use is use and not node.trouble]
    return any(node.has_gyro for node in nodes) if use is NodeUse.MOTION else bool(nodes)


def _line(device: Device, mapping: DeviceMapping) -> str:
    node = device.of(NodeUse.PAD)
    if node is None or mapping.how == "guess":
        return ""
    guid = guid_of(node.bus, node.vendor, node.product, node.version)
    return line_of(guid, node.name, mapping.inputs, node.keys, node.axes)


def _udev_tags() -> dict[str, bool]:
    """For each event node that udev has judged: whether it is a joystick (which gamepads are to udev)."""
    tags: dict[str, bool] = {}
    try:
        for device in pyudev.Context().list_devices(subsystem="input"):
            if device.device_node and device.properties.get("ID_INPUT"):
                tags[device.device_node] = device.properties.get("ID_INPUT_JOYSTICK") == "1"
    except (OSError, pyudev.DeviceNotFoundError):
        return {}
    return tags


class Plug(Struct, frozen=True):
    """A node came (`added`) or went. `tagged` is udev's word on whether it is a joystick, None for none."""

    path: str
    added: bool
    tagged: bool | None = None


class Monitor:
    """Tells of event nodes that come and go. `fileno` becomes readable when there is word."""

    def __init__(self) -> None:
        source = "udev" if os.path.exists(UDEV_CONTROL) or "UMOCKDEV_DIR" in os.environ else "kernel"
        self._monitor = pyudev.Monitor.from_netlink(pyudev.Context(), source=source)
        self._monitor.filter_by("input")
        self._monitor.start()

    def fileno(self) -> int:
        """The netlink socket."""
        return int(self._monitor.fileno())

    def read(self) -> list[Plug]:
        """What came and went since the last call. A change of rights counts as coming anew."""
        found = []
        while (device := self._monitor.poll(timeout=0)) is not None:
            node = device.device_node
            if node and node.startswith("/dev/input/event") and device.action in ("add", "remove", "change"):
                tagged = (
                    device.properties.get("ID_INPUT_JOYSTICK") == "1" if device.properties.get("ID_INPUT") else None
                )
                found.append(Plug(node, device.action != "remove", tagged))
        return found


class Hardware(Struct, frozen=True):
    """Where devices come from, and how their nodes are opened: the kernel, unless something stands for it."""

    devices: Callable[[], list[Device]] = devices
    monitor: Callable[[], Monitor] = Monitor
    opening: Opening = open_node
