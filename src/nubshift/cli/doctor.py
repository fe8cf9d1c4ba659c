"""``nubshift doctor``: what works on this machine, and what to run to fix the rest."""

from __future__ import annotations

import argparse
import os

import msgspec

from nubshift.devices.discovery import UDEV_CONTROL, connected
from nubshift.devices.kernel import node_paths
from nubshift.errors import SinkError
from nubshift.runner.build import UINPUT, open_sink

RULE = 'KERNEL=="uinput", MODE="0660", TAG+="uaccess", OPTIONS+="static_node=uinput"'


class Finding(msgspec.Struct, frozen=True):
    """One thing looked at: whether it is `good`, what was found, and what to `run` if it is not."""

    what: str
    good: bool
    found: str
    run: str = ""


def arguments(parser: argparse.ArgumentParser) -> None:
    """The words of this command."""
    parser.add_argument("--json", action="store_true", help="one JSON object a finding")


def main(options: argparse.Namespace) -> int:
    """Print the findings; 1 if nothing could be sent or no controller read."""
    findings = [_sending(), _uinput(), _session(), _nodes(), _hotplug()]
    for finding in findings:
        if options.json:
            print(msgspec.json.encode(finding).decode())
        else:
            print(f"{'well ' if finding.good else 'look '} {finding.what}: {finding.found}")
            if finding.run:
                print(f"       run: {finding.run}")
    return 0 if findings[0].good else 1


def _sending() -> Finding:
    try:
        chosen = open_sink("auto")
    except SinkError as error:
        return Finding("sending", False, str(error).removesuffix(". Run: nubshift doctor"))
    chosen.sink.close()
    return Finding("sending", True, f"through {chosen.sink.name}: {chosen.reason}")


def _uinput() -> Finding:
    what = "virtual keyboard and mouse"
    if not os.path.exists(UINPUT):
        return Finding(what, False, f"there is no {UINPUT}; the kernel module is not loaded", "sudo modprobe uinput")
    if not os.access(UINPUT, os.W_OK):
        rule = "/etc/udev/rules.d/60-nubshift.rules"
        command = f"echo '{RULE}' | sudo tee {rule} && sudo udevadm control --reload && sudo udevadm trigger {UINPUT}"
        return Finding(what, False, f"{UINPUT} may not be written by you", command)
    return Finding(what, True, f"{UINPUT} can be used")


def _session() -> Finding:
    if os.environ.get("WAYLAND_DISPLAY"):
        text = "Wayland; without the virtual keyboard only programs that use X receive keys"
        return Finding("session", True, text)
    if os.environ.get("DISPLAY"):
        return Finding("session", True, "X")
    return Finding("session", False, "no screen: neither DISPLAY nor WAYLAND_DISPLAY is set")


def _nodes() -> Finding:
    paths = node_paths()
    closed = [path for path in paths if not os.access(path, os.R_OK)]
    found = connected()
    names = ", ".join(info.name for info in found) or "none connected"
    if found and not any(info.trouble for info in found):
        return Finding("controllers", True, names)
    if closed:
        text = f"{names}; {len(closed)} of {len(paths)} input nodes may not be read by you"
        return Finding("controllers", False, text, 'sudo usermod -aG input "$USER", then log in anew')
    return Finding("controllers", bool(found), names if paths else "none: the kernel shows no input nodes here")


def _hotplug() -> Finding:
    if os.path.exists(UDEV_CONTROL):
        return Finding("plugging in", True, "udev tells of controllers that come and go")
    return Finding("plugging in", True, "udev does not run; the kernel's own events are used and pads are known by "
                   "their capabilities")  # fmt: skip
