"""``nubshift devices``: what is connected and how it is understood."""

from __future__ import annotations

import argparse

import msgspec

from nubshift.devices.discovery import connected
from nubshift.devices.port import ControllerInfo
from nubshift.devices.simulated import PADS
from nubshift.model.controls import CONTROLS


def arguments(parser: argparse.ArgumentParser) -> None:
    """The words of this command."""
    parser.add_argument("--json", action="store_true", help="one JSON object a controller")


def main(options: argparse.Namespace) -> int:
    """Print every controller that could be used, the simulated ones at the end."""
    simulated = [ControllerInfo(f"sim:{m}", pad.name, pad.controls, simulated=True) for m, pad in PADS.items()]
    real = connected()
    if options.json:
        for info in (*real, *simulated):
            print(msgspec.json.encode(info).decode())
        return 0
    if not real:
        print("No controller is connected. (If one is, run: nubshift doctor)")
    for info in (*real, *simulated):
        print(f"{info.name}  ({info.id})")
        if info.trouble:
            print(f"    {info.trouble}")
        else:
            print("    " + ", ".join(CONTROLS[name].title for name in info.controls))
    return 0
