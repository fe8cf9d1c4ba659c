"""A program that reads every controller that is there, as a runner would, and prints what each says, a line of JSON a report.

First a line with what it found: for each controller its id, how it is understood, and its controls. It ends with its input.
"""

from __future__ import annotations

import select
import sys
import time

import msgspec

from nubshift.devices.device_mapping import map_device
from nubshift.devices.discovery import devices, info_of
from nubshift.devices.kernel import EvdevSource
from nubshift.devices.sdl_table import LONGEST_WAIT, Table
from nubshift.errors import SourceGone
from standins.laboratory.kinds import KNOWN


def say(value: object) -> None:
    print(msgspec.json.encode(value).decode(), flush=True)


def main() -> None:
    table = Table()
    table.want()
    table.take(LONGEST_WAIT)
    mappings = msgspec.structs.replace(KNOWN, table=table.lines)
    sources = {}
    for device in devices():
        found = map_device(device, mappings)
        info = info_of(device, found)
        if info.is_controller:
            sources[device.id] = EvdevSource(device, found, info)
    say([source.info for source in sources.values()])
    while True:
        watched = {fd: id_ for id_, source in sources.items() for fd in source.filenos()}
        ready = select.select([0, *watched], [], [])[0]
        if 0 in ready and not sys.stdin.readline():
            return
        for id_ in dict.fromkeys(watched[fd] for fd in ready if fd):
            try:
                for _, changes in sources[id_].read(time.monotonic_ns() // 1000):
                    say((id_, changes))
            except SourceGone as error:
                say((id_, str(error)))
                del sources[id_]


if __name__ == "__main__":
    main()
