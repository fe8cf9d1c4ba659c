"""Which controllers are connected, and word of coming and going: udev where it runs, else the kernel's own events."""

from __future__ import annotations

import os
from dataclasses import dataclass

import pyudev

from nubshift.devices.kernel import node_paths, probe
from nubshift.devices.port import ControllerInfo

UDEV_CONTROL = "/run/udev/control"


def connected() -> list[ControllerInfo]:
    """The controllers that are there now, in the order of their nodes.

    Where udev has tagged a node as a joystick or as something else, its word counts; a node without tags is judged by
    its capabilities.
    """
    tags = _udev_tags()
    found = []
    for path in node_paths():
        tag = tags.get(path)
        if tag is not False and (info := probe(path)) is not None and (tag or not info.trouble):
            found.append(info)
    return found


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


@dataclass(frozen=True)
class Plug:
    """A node came (`added`) or went."""

    path: str
    added: bool


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
        """What came and went since the last call."""
        found = []
        while (device := self._monitor.poll(timeout=0)) is not None:
            node = device.device_node
            if node and node.startswith("/dev/input/event") and device.action in ("add", "remove"):
                found.append(Plug(node, device.action == "add"))
        return found
