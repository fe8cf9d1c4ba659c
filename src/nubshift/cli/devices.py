"""``nubshift devices``: what is connected and how it is understood."""

from __future__ import annotations

import argparse
import sys

import msgspec

from nubshift.devices.discovery import connected
from nubshift.devices.simulated import PADS, pad_info
from nubshift.devices.simulated_hardware import HARDWARE, hardware_info
from nubshift.model.controls import CONTROLS
from nubshift.runner.stored import read_stored
from nubshift.texts import _

READ = {
    "taught": _("your setup"),
    "corrected": _("by the kernel's conventions for gamepads, with a correction"),
    "conventions": _("by the kernel's conventions for gamepads"),
    "line": _("mapping line"),
    "table": _("by the mapping line in SDL's built-in list"),
    "guess": _("a guess"),
    "built-in": "simulated",
}
"""How a controller is understood, in words."""


def arguments(parser: argparse.ArgumentParser) -> None:
    """The words of this command."""
    parser.add_argument("--json", action="store_true", help=_("one JSON object a controller"))


def main(options: argparse.Namespace) -> int:
    """Print every controller that could be used, the simulated ones at the end."""
    stored = read_stored()
    for trouble in stored.troubles:
        print(f"nubshift devices: {trouble}", file=sys.stderr)
    simulated = [*map(pad_info, PADS), *(hardware_info(name, stored.mappings) for name in HARDWARE)]
    real = connected(stored.mappings, stored.controllers.brought_in)
    if options.json:
        for info in (*real, *simulated):
            print(msgspec.json.encode(info).decode())
        return 0
    if not real:
        print(_("No controller is connected. (If one is, run: nubshift doctor)"))
    for info in (*real, *simulated):
        print(f"{info.name}  ({info.id})")
        if info.trouble:
            print(f"    {info.trouble}")
        else:
            print(
                f"    {READ[info.how]}"
                + (_("; battery {battery}").format(battery=info.battery) if info.battery else "")
            )
            print("    " + ", ".join(info.names.get(name, CONTROLS[name].title) for name in info.controls))
            if info.correction:
                print(f"    corrected: {info.correction}")
            for doubt in info.uncertain:
                print(f"    ? {doubt}")
    return 0
