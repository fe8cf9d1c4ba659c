"""The controllers of the laboratory as real nodes, made through uinput.

A node made so has no driver, so it is all that need none, each for itself: what every control sends, hidden from another
program, and pulled out while something is pressed.
"""

from __future__ import annotations

import time

from evdev import AbsInfo, UInput
from evdev import ecodes as e

from kernel_path.nodes import Reader, until
from nubshift.devices.device_mapping import KnownMappings, map_device
from nubshift.devices.discovery import devices, info_of
from nubshift.devices.kernel import EvdevSource
from nubshift.devices.nodes import Device
from nubshift.devices.sdl_table import LONGEST_WAIT, Table
from nubshift.errors import SourceGone
from nubshift.events import Change
from standins.laboratory.acting import play
from standins.laboratory.describing import Kind
from standins.laboratory.kinds import BYSTANDERS, KINDS, KNOWN
from standins.uhid_kinds import DescribedPad

ALONE = [kind for kind in KINDS if len(kind.nodes) == 1 and kind.driver in ("", "hid-generic") and kind.id != "counted"]
COUNTED = [kind for kind in KINDS if kind.id in ("counted", "numbered", "flight", "tabled")]


def made(kind: Kind) -> UInput:
    """A kind's only node."""
    (node,) = kind.nodes
    axes = [(code, AbsInfo(a.value, a.low, a.high, 0, 0, a.resolution)) for code, a in node.axes.items()]
    return UInput(
        {e.EV_KEY: list(node.keys), e.EV_ABS: axes},
        name=kind.name,
        vendor=kind.vendor,
        product=kind.product,
        version=kind.version,
        bustype=kind.bus,
        input_props=list(node.properties),
    )


def named(kind: Kind) -> Device:
    """Its device, when udev has judged it."""
    found: list[Device] = []

    def there() -> bool:
        found[:] = [d for d in devices() if d.main.name == kind.name and d.main.tagged is not None]
        return bool(found)

    until(there, f"{kind.name} is there")
    return found[0]


class Bench:
    """One kind, plugged in and read: a node of its own, or hardware that the kernel's own driver makes one of."""

    def __init__(self, kind: Kind, mappings: KnownMappings, pad: UInput | DescribedPad) -> None:
        self.pad = pad
        device = named(kind)
        found = map_device(device, mappings)
        assert found.how == kind.how, (kind.id, found)
        self.info = info_of(device, found)
        assert self.info.is_controller, kind.id
        self.source = EvdevSource(device, found, self.info)

    def events(self, _: int, *events: tuple[int, int, int]) -> dict[str, Change]:
        self.do(*events)
        said: dict[str, Change] = {}

        def heard() -> bool:
            said.update({change[0]: change for _, changes in self.read() for change in changes})
            return bool(said)

        until(heard, f"{events} arrive")
        return said

    def do(self, *events: tuple[int, int, int]) -> None:
        if isinstance(self.pad, DescribedPad):
            self.pad.report(*events)
            return
        for event in events:
            self.pad.write(*event)
        self.pad.syn()

    def read(self) -> list[tuple[int, tuple[Change, ...]]]:
        return self.source.read(time.monotonic_ns() // 1000)


def exercise(kind: Kind, bench: Bench) -> None:
    """Hidden from another program, everything that can be done on it; then it is pulled out with a button pressed."""
    other = Reader(kind.name)
    bench.source.grab(True)
    play(kind, bench.events)
    assert other.read() == [], (kind.id, other.seen)
    bench.do((e.EV_KEY, kind.nodes[0].keys[0], 1))
    bench.pad.close()
    gone: list[str] = []

    def read() -> list[str]:
        try:
            bench.read()
        except SourceGone as error:
            gone.append(str(error))
        return gone

    until(read, f"{kind.name} is gone")
    bench.source.close()


def main(_profile: str) -> None:
    table = Table()
    table.want()
    table.take(LONGEST_WAIT * 10)
    mappings = KnownMappings(KNOWN.taught, table=table.lines)
    for kind in ALONE:
        exercise(kind, Bench(kind, mappings, made(kind)))
    print(
        f"proven: {len(ALONE)} kinds say what is done to them, hidden from others, and go when pulled out", flush=True
    )
    for kind in COUNTED:
        pad = DescribedPad(kind)
        bench = Bench(kind, mappings, pad)
        pad.report()
        exercise(kind, bench)
    print(f"proven: {len(COUNTED)} kinds as the kernel's driver makes them of a report descriptor, too", flush=True)
    beside = [made(kind) for kind in BYSTANDERS]
    for kind in BYSTANDERS:
        assert not named(kind).is_controller, kind.id
    print(f"proven: {len(beside)} others are no controllers to it", flush=True)
