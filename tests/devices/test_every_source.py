"""One suite for every source of input; those of the kernel are asked in the virtual machine (`tools/kernel_path/play.py`)."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest

from nubshift.devices.device_mapping import KnownMappings
from nubshift.devices.port import Source
from nubshift.devices.simulated import PADS, open_simulated
from nubshift.devices.simulated_hardware import HARDWARE, SimulatedHardware
from nubshift.devices.take import TakeSource
from nubshift.protocol.paths import demo_folder
from standins.port_users import check_source

SOURCES: dict[str, Callable[[], Source]] = {
    **{f"sim:{name}": lambda name=name: open_simulated(name, 0, demo_folder()) for name in PADS},  # type: ignore[misc]
    **{f"sim:{name}": lambda name=name: SimulatedHardware(name, KnownMappings(), 0) for name in HARDWARE},  # type: ignore[misc]
    "take": lambda: TakeSource(Path(demo_folder() / "ferrow-deep.take"), 0),
    "sim, played": lambda: open_simulated("moss:ferrow-deep", 0, demo_folder()),
}


@pytest.mark.parametrize("name", SOURCES)
def test_it_keeps_what_the_port_promises(name: str) -> None:
    check_source(SOURCES[name]())
