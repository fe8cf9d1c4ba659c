"""Controllers of the kernel through evdev: the one file of this folder that imports it."""

from __future__ import annotations

import contextlib
import errno
import fcntl
import os
import struct
from collections.abc import Callable, Iterable, Set
from operator import itemgetter
from pathlib import Path
from typing import Any, Final, TypeAlias

import evdev

from nubshift.devices.codes import EV_ABS, EV_KEY, EV_MSC, MSC_TIMESTAMP, AxisRange
from nubshift.devices.device_mapping import DeviceMapping
from nubshift.devices.frames import Half
from nubshift.devices.node_reader import Event
from nubshift.devices.nodes import Device, Node, NodeUse, bits, plain_axes
from nubshift.devices.port import Raw, Timed
from nubshift.devices.readers import reader_for
from nubshift.devices.stamps import Stamps
from nubshift.errors import SourceError, SourceGone
from nubshift.events import VIRTUAL_PHYS, Change
from nubshift.model.controller_info import ControllerInfo
from nubshift.model.controller_setup import InputMapping
from nubshift.texts import _
from nubshift.units import SECOND, Micros

_EVIOCSCLOCKID = 0x400445A0  # _IOW('E', 0xa0, int), linux/input.h
_CLOCK_MONOTONIC = 1
_EV_FF, _FF_RUMBLE = 0x15, 0x50
EVENT: Final = struct.Struct("@llHHi")
"""struct input_event (linux/input.h) on this machine."""
AT_ONCE: Final = 64 * EVENT.size
READ_ORDER = {use: rank for rank, use in enumerate((NodeUse.PAD, NodeUse.MOTION, NodeUse.TOUCH, NodeUse.POINTER))}
"""Of reports with the same stamp (contract R1)."""
SENSED = {NodeUse.MOTION: "motion", NodeUse.TOUCH: "touch_pad", NodeUse.POINTER: "pointer"}
"""How the names of the controls of a sensor begin."""
MOST_READS: Final = 64
"""Of one node in a row: a broken device that never stops must not stop the others."""
OTHER_CLOCK: Final = 10 * SECOND
"""Stamps further than this from now are of a clock that is not ours."""
_time: Final = itemgetter(0)
LONGEST_RUMBLE_MS = 5000
"""Of one effect in the kernel. It ends earlier when it is told to, and when the runner dies, with the node."""


def node_paths() -> list[str]:
    """The event nodes that are there, readable or not."""
    try:
        names = os.listdir("/dev/input")
    except OSError:
        return []
    return sorted((f"/dev/input/{n}" for n in names if n.startswith("event")), key=lambda p: int(p[16:] or 0))


def look_at(path: str) -> Node | None:
    """What the kernel says of a node; None for one of our own making or one that is gone.

    A node that may not be opened is described from sysfs, with its `trouble`.
    """
    try:
        device = open_node(path)
    except SourceError as error:
        return _from_sysfs(path, str(error))
    try:
        if device.phys == VIRTUAL_PHYS:
            return None
        capabilities: dict[int, Any] = dict(device.capabilities(absinfo=True))
        place = _place(path)
        axes = {c: AxisRange(i.min, i.max, i.value, i.resolution) for c, i in capabilities.get(EV_ABS, [])}
        return Node(
            path,
            device.name,
            device.phys,
            device.uniq,
            device.info.bustype,
            device.info.vendor,
            device.info.product,
            device.info.version,
            tuple(capabilities.get(EV_KEY, [])),
            axes,
            tuple(device.input_props()),
            _FF_RUMBLE in capabilities.get(_EV_FF, []),
            MSC_TIMESTAMP in capabilities.get(EV_MSC, []),
            place,
            driver_of(place),
        )
    except OSError:
        return None
    finally:
        device.close()


def _place(path: str) -> str:
    return os.path.realpath(f"/sys/class/input/{os.path.basename(path)}/device")


def driver_of(place: str) -> str:
    """The name of the driver of the hardware at a place in sysfs; empty where there is none, as for made-up devices."""
    hardware = place.partition("/input/")[0]
    try:
        return os.path.basename(os.readlink(f"{hardware}/driver"))
    except OSError:
        return ""


def _from_sysfs(path: str, trouble: str) -> Node | None:
    """What anybody may read of a node."""
    if not os.path.exists(path):
        return None
    folder = Path(_place(path))

    def text(name: str) -> str:
        try:
            return (folder / name).read_text().strip()
        except OSError:
            return ""

    if text("phys") == VIRTUAL_PHYS:
        return None
    bus, vendor, product, version = (
        int(text(f"id/{n}") or "0", 16) for n in ("bustype", "vendor", "product", "version")
    )
    keys, axes = bits(text("capabilities/key")), plain_axes(bits(text("capabilities/abs")))
    return Node(
        path,
        text("name") or path,
        text("phys"),
        text("uniq"),
        bus,
        vendor,
        product,
        version,
        keys,
        axes,
        bits(text("properties")),
        False,
        False,
        str(folder),
        driver_of(str(folder)),
        trouble=trouble,
    )


def open_node(path: str) -> evdev.InputDevice[str]:
    """The node, open. A node that has only just come may fail in any way for a moment (SystemError too)."""
    try:
        return evdev.InputDevice(path)
    except PermissionError as error:
        raise SourceError(_("{path} can't be opened: no permission. Run: nubshift doctor").format(path=path)) from error
    except (OSError, SystemError) as error:
        raise SourceError(_("{path} can't be opened: {error}").format(path=path, error=error)) from error


Opening: TypeAlias = Callable[[str], Any]
"""Opens a node by its path: evdev's `InputDevice`, or what stands for one. Raises SourceError."""


class _OpenNode:
    """One node of a device, open, with the reader of its events."""

    def __init__(self, node: Node, inputs: Iterable[InputMapping], opening: Opening, held: Half = "") -> None:
        self.node = node
        self.device = opening(node.path)
        self.fd = int(self.device.fd)
        self.reader = reader_for(node, tuple(inputs), self._axes_now(), held)
        with contextlib.suppress(OSError, SystemError):
            self.reader.resync(self.device.active_keys(), {})
        self.dropped = 0
        self.needed = True
        self._stamps = Stamps() if node.stamps else None
        self._kernel_clock = self._use_monotonic_clock()
        self._grabbed = False

    def _axes_now(self) -> dict[int, AxisRange]:
        """The node's axes as they stand at this moment."""
        found = {}
        for code, entry in self.node.axes.items():
            found[code] = entry
            with contextlib.suppress(OSError, SystemError):
                value = self.device.absinfo(code).value
                found[code] = AxisRange(entry.low, entry.high, value, entry.resolution)
        return found

    def _use_monotonic_clock(self) -> bool:
        """Ask for event times on the clock the runner uses; without it reports count from when they are read."""
        try:
            fcntl.ioctl(self.device.fd, _EVIOCSCLOCKID, struct.pack("i", _CLOCK_MONOTONIC))
        except OSError:
            return False
        return True

    def read(self, now: Micros, raw: list[Raw] | None) -> list[Timed]:
        """All reports that are waiting; the events themselves go to `raw` where it is wanted. Raises OSError.

        A report that came after `now`, while this was reading, keeps its own later time.
        """
        found: list[Timed] = []
        stamps = self._stamps
        for _unused in range(MOST_READS):
            try:
                data = os.read(self.fd, AT_ONCE)
            except BlockingIOError:
                break
            if not data:
                raise OSError(errno.ENODEV, os.strerror(errno.ENODEV))
            events: Iterable[Event] = EVENT.iter_unpack(data)
            if raw is not None:
                events = list(events)
                self._tell_raw(events, now, raw)
            for second, us, stamp, changes in self.reader.take(events):
                if changes or stamps is not None:
                    t = self._when(second, us, now)
                    if stamps is not None and stamp is not None:
                        t = stamps.time(stamp, t)
                    if changes:
                        found.append((t, changes))
            if len(data) < AT_ONCE:  # it was all that there was
                break
        if self.reader.lost:
            self.dropped += 1
            with contextlib.suppress(SystemError):  # evdev's word for some failures; it is asked again next time
                if changes := self._read_anew():
                    found.append((max(now, found[-1][0] if found else now), changes))
        return found

    def _tell_raw(self, events: list[Event], now: Micros, raw: list[Raw]) -> None:
        use = self.node.use.value
        raw += [(self._when(s, us, now), use, kind, code, value) for s, us, kind, code, value in events]

    def _when(self, second: int, us: int, now: Micros) -> Micros:
        """When an event happened, by the runner's clock."""
        t = second * SECOND + us if self._kernel_clock else now
        return now if abs(t - now) > OTHER_CLOCK else t

    def begin_anew(self) -> None:
        """It was not read for a while: what waits is passed over, and its keys and axes are read as they stand."""
        with contextlib.suppress(OSError, SystemError):
            while len(os.read(self.fd, AT_ONCE)) == AT_ONCE:
                pass
        with contextlib.suppress(OSError, SystemError):
            self._read_anew()
        self.reader.stamp = None
        self._stamps = Stamps() if self.node.stamps else None

    def _read_anew(self) -> tuple[Change, ...]:
        """The kernel dropped events: ask for the state of every key and axis (input-event SYN_DROPPED rule)."""
        axes = {code: self.device.absinfo(code).value for code in self.node.axes}
        return self.reader.resync(self.device.active_keys(), axes)

    def grab(self, exclusive: bool) -> None:
        """Grab or ungrab the node. Raises OSError."""
        if exclusive != self._grabbed:
            (self.device.grab if exclusive else self.device.ungrab)()
            self._grabbed = exclusive

    def close(self) -> None:
        """Close the node; the kernel ends the grab."""
        with contextlib.suppress(OSError):
            self.device.close()


class EvdevSource:
    """One controller read from all of its nodes, report by report. `opening` opens a node.

    Raises SourceError if its main node can't be opened; sensors that can't be are left out.
    """

    def __init__(
        self, device: Device, mapping: DeviceMapping, info: ControllerInfo, opening: Opening = open_node
    ) -> None:
        self.device = device
        self.mapping = mapping
        self._info = info
        self._listens: list[Raw] | None = None
        self._effect: int | None = None
        self._nodes: list[_OpenNode] = []
        played = device.of(NodeUse.PAD) or device.main
        self._nodes.append(_OpenNode(played, mapping.inputs, opening))
        for node in sorted(device.nodes, key=lambda node: READ_ORDER.get(node.use, len(READ_ORDER))):
            if node is not played and node.use is not NodeUse.OTHER:
                with contextlib.suppress(SourceError):  # a pad without its motion is better than none
                    self._nodes.append(_OpenNode(node, (), opening, mapping.held))

    @property
    def info(self) -> ControllerInfo:
        """What it is."""
        return self._info

    @property
    def next_deadline(self) -> Micros | None:
        """None: the descriptors say when there is input."""
        return None

    def filenos(self) -> tuple[int, ...]:
        """The descriptors of the nodes that are needed."""
        return tuple(node.fd for node in self._nodes if node.needed)

    def need(self, controls: Set[str] | None) -> bool:
        """Leave out sensors that none of these controls is of: they report hundreds of times a second for nothing."""
        changed = False
        for node in self._nodes:
            mine = SENSED.get(node.node.use)
            needed = controls is None or mine is None or any(name.startswith(mine) for name in controls)
            if needed != node.needed:
                node.needed, changed = needed, True
                if needed:
                    node.begin_anew()
        return changed

    def state(self) -> tuple[Change, ...]:
        """How every control stands."""
        return tuple(change for node in self._nodes for change in node.reader.state())

    def read(self, now: Micros, ready: Set[int] | None = None) -> list[Timed]:
        """The reports that are waiting on all nodes, in the order of time. Raises SourceGone when it was unplugged."""
        found: list[Timed] = []
        try:
            for node in self._nodes:
                if ready is None or node.fd in ready:
                    found += node.read(now, self._listens)
        except OSError as error:
            raise self._gone(error) from error
        if len(found) > 1:
            found.sort(key=_time)  # at equal times pad, motion, touch pad: the order of the nodes is kept
        return found

    @property
    def dropped(self) -> int:
        """How often the kernel lost events because they were not read in time."""
        return sum(node.dropped for node in self._nodes)

    def _gone(self, error: OSError) -> SourceGone:
        if error.errno in (errno.ENODEV, errno.EBADF):
            return SourceGone(_("{name} was unplugged").format(name=self._info.name))
        return SourceGone(
            _("{name} can't be read any more: {strerror}").format(name=self._info.name, strerror=error.strerror)
        )

    def listen(self, on: bool) -> None:
        """Keep the events themselves too, for teaching."""
        self._listens = [] if on else None

    def heard(self) -> list[Raw]:
        """The events since this was asked last."""
        found, self._listens = self._listens or [], [] if self._listens is not None else None
        return found

    def grab(self, exclusive: bool) -> None:
        """Grab or ungrab every node, so that nothing of the controller reaches the game.

        Raises SourceError if another program has grabbed one.
        """
        for node in self._nodes:
            try:
                node.grab(exclusive)
            except OSError as error:
                if error.errno == errno.ENODEV:
                    raise SourceGone(_("{name} was unplugged").format(name=self._info.name)) from error
                raise SourceError(
                    _("{name} can't be hidden from the game: another program holds it. Close that program").format(
                        name=self._info.name
                    )
                ) from error

    def rumble(self, strength: float) -> None:
        """Rumble at a strength (0 to 1) for at most `LONGEST_RUMBLE_MS`; 0 ends it."""
        node = next((node for node in self._nodes if node.node.rumbles), None)
        if node is None:
            return
        with contextlib.suppress(OSError):
            if self._effect is not None:
                node.device.erase_effect(self._effect)
                self._effect = None
            if strength > 0:
                force = round(min(1.0, strength) * 0xFFFF)
                kind = evdev.ff.EffectType(ff_rumble_effect=evdev.ff.Rumble(force, force))
                replay = evdev.ff.Replay(LONGEST_RUMBLE_MS, 0)
                effect = evdev.ff.Effect(_FF_RUMBLE, -1, 0, evdev.ff.Trigger(0, 0), replay, kind)
                self._effect = node.device.upload_effect(effect)
                node.device.write(_EV_FF, self._effect, 1)

    def close(self) -> None:
        """Close every node; the kernel ends grabs and effects."""
        self.rumble(0.0)
        for node in self._nodes:
            node.close()
