"""What hardware there is: nodes that come and go, joined into devices and understood; how full their batteries are."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from msgspec.structs import replace

from nubshift.devices.device_mapping import DeviceMapping, map_device
from nubshift.devices.discovery import Hardware, Monitor, Plug, info_of
from nubshift.devices.health import battery_of, is_low
from nubshift.devices.kernel import look_at
from nubshift.devices.nodes import Device, Node, NodeUse, joined
from nubshift.devices.sdl_table import Table
from nubshift.model.controller_info import ControllerInfo
from nubshift.runner.session import earliest
from nubshift.runner.stored import StoredControllers
from nubshift.texts import _
from nubshift.units import MILLISECOND, SECOND, Micros

BATTERY_EVERY: Micros = 30 * SECOND
RETRY_EVERY: Micros = 100 * MILLISECOND
RETRIES = 20
"""A node's permissions may arrive a moment after the node itself."""


class Inventory:
    """Real hardware. `tell` receives (severity, sentence) for the player; `generation` counts the changes."""

    def __init__(
        self,
        watch: bool,
        stored: StoredControllers,
        tell: Callable[[str, str], None],
        now: Micros,
        hardware: Hardware | None = None,
    ) -> None:
        self._tell = tell
        self.hardware = hardware or Hardware()
        self.stored = stored
        self.generation = 0
        self.devices: dict[str, Device] = {}
        self.infos: dict[str, ControllerInfo] = {}
        self.mapped: dict[str, DeviceMapping] = {}
        self._nodes: dict[str, Node] = {}
        self._retries: dict[str, tuple[int, Micros]] = {}
        self._warned: set[str] = set()
        self._batteries_at: Micros = now
        self._table = Table()
        self._table_at: Micros = now
        self.monitor = self._make_monitor() if watch else None
        if self.monitor is not None:
            self.put(node for device in self.hardware.devices() for node in device.nodes)
        self.map_device()

    def _make_monitor(self) -> Monitor | None:
        try:
            return self.hardware.monitor()
        except OSError as error:
            self._tell("warning", _("Controllers plugged in later won't be seen: {error}").format(error=error))
            return None

    # What there is

    @property
    def controllers(self) -> tuple[ControllerInfo, ...]:
        """What is a controller, by its nature or because the player said so."""
        return tuple(info for info in self.infos.values() if self._counts(info))

    @property
    def others(self) -> tuple[ControllerInfo, ...]:
        """Other input hardware with more than one thing to press, which can be brought in."""
        return tuple(info for info in self.infos.values() if not self._counts(info) and len(info.controls) > 1)

    def _counts(self, info: ControllerInfo) -> bool:
        return info.is_controller or info.key in self.stored.controllers.brought_in

    def is_awaited(self, device: Device) -> bool:
        """Whether the node that is played on could not be opened yet, and is looked at again."""
        return (device.of(NodeUse.PAD) or device.main).path in self._retries

    def having(self, path: str) -> str:
        """The id of the device that has a node; empty for none."""
        return next((id_ for id_, d in self.devices.items() if any(node.path == path for node in d.nodes)), "")

    def put(self, nodes: Iterable[Node]) -> None:
        """Know these nodes as well."""
        self._nodes |= {node.path: node for node in nodes}

    def map_device(self, stored: StoredControllers | None = None) -> None:
        """Take the nodes for devices and read them anew, by what is kept now."""
        self.stored = stored or self.stored
        self.devices = {device.id: device for device in joined(self._nodes.values())}
        mappings = replace(self.stored.mappings, table=self._table.lines)
        self.mapped = {id_: map_device(device, mappings) for id_, device in self.devices.items()}
        if any(self.mapped[id_].unsettled for id_, device in self.devices.items() if device.is_controller):
            self._table.want()
        self.infos = {id_: info_of(device, self.mapped[id_]) for id_, device in self.devices.items()}
        self.generation += 1

    # What comes and goes

    def take(self, change: Plug, now: Micros) -> str:
        """A node came or went; returns the id of the device that lost it, if one did."""
        self._retries.pop(change.path, None)
        if change.added:
            self._add(change.path, change.tagged, 0, now)
            return ""
        self._nodes.pop(change.path, None)
        return self.having(change.path)

    def forget(self, id_: str) -> None:
        """A device was pulled out before its nodes said so."""
        device = self.devices.get(id_)
        for node in device.nodes if device is not None else ():
            self._nodes.pop(node.path, None)
        self.map_device()

    def retry(self, now: Micros) -> bool:
        """Look again at nodes that could not be opened yet, and whether a table of models has come; whether any had."""
        due = [path for path, (_unused, at) in self._retries.items() if at <= now]
        for path in due:
            tries, _unused = self._retries.pop(path)
            self._add(path, self._nodes[path].tagged if path in self._nodes else None, tries + 1, now)
        came = False
        if self._table.pending and self._table_at <= now:
            self._table_at = now + RETRY_EVERY
            came = self._table.take()
        return bool(due) or came

    def _add(self, path: str, tagged: bool | None, tries: int, now: Micros) -> None:
        node = look_at(path)
        if node is None:
            return
        self._nodes[path] = replace(node, tagged=tagged)
        if node.trouble and tries < RETRIES:
            self._retries[path] = (tries, now + RETRY_EVERY)

    @property
    def next_deadline(self) -> Micros | None:
        """When `retry` or `look_at_batteries` has something to do."""
        retry = min((due for _unused, due in self._retries.values()), default=None)
        table = self._table_at if self._table.pending else None
        return earliest(retry, table, self._batteries_at if self.devices else None)

    # Batteries

    def look_at_batteries(self, now: Micros) -> None:
        """Read them anew now and then; a low one is told once, until it has been charged."""
        if now < self._batteries_at:
            return
        self._batteries_at = now + BATTERY_EVERY
        for id_, device in self.devices.items():
            info, battery = self.infos[id_], battery_of(device)
            if battery != info.battery:
                self.infos[id_] = info = replace(info, battery=battery)
                self.generation += 1
            if not is_low(battery):
                self._warned.discard(info.key)
            elif info.key not in self._warned:
                self._warned.add(info.key)
                name = self.stored.controllers.of(info.key).name or info.name
                self._tell(
                    "warning",
                    _("The battery of {name} is low ({battery}). Charge it soon.").format(name=name, battery=battery),
                )
