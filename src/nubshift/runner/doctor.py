"""What works on this machine and what does not: each thing's state, what follows from it, and the exact remedy.

Nothing is changed here, and nothing is opened that others would notice. The same findings stand in the window and on
the command line.
"""

from __future__ import annotations

import os
from collections.abc import Iterable, Mapping
from pathlib import Path

from nubshift.devices.discovery import UDEV_CONTROL, devices
from nubshift.devices.kernel import node_paths
from nubshift.devices.nodes import Device, NodeUse
from nubshift.protocol.findings import Finding
from nubshift.protocol.paths import runtime_trouble
from nubshift.runner.session_findings import INSTALL, session_findings
from nubshift.texts import _


def examine(environment: Mapping[str, str] | None = None) -> list[Finding]:
    """Every finding, in the order in which input passes through the machine."""
    env = os.environ if environment is None else environment
    there = devices()
    return [
        *_controllers(there),
        _coming_and_going(),
        *_holders(there),
        *_meeting_place(),
        *session_findings(env),
        _radio(),
    ]


def _meeting_place() -> list[Finding]:
    """Where window and runner meet; only told where they can't."""
    trouble = runtime_trouble()
    return (
        [Finding(_("window and runner"), "look", trouble, _("The window can't reach what plays."))] if trouble else []
    )


def _controllers(there: list[Device]) -> list[Finding]:
    """What is plugged in, and whether it may be read."""
    pads = [device for device in there if device.is_controller]
    closed = [d for d in pads if any(node.trouble for node in d.nodes if node.use is not NodeUse.OTHER)]
    if closed:
        names = ", ".join(device.main.name for device in closed)
        whole = any(device.main.trouble for device in closed)
        return [
            Finding(
                _("controllers"),
                "look",
                (
                    _("{names}: connected, but you have no permission to read it")
                    if whole
                    else _("{names}: connected, but you have no permission to read all of it")
                ).format(names=names),
                _("Nothing you press on it reaches Nub Shift.")
                if whole
                else _("Its buttons work, but its motion does not."),
                _(
                    "Install the access rule that ships with Nub Shift. It gives the person at the screen "
                    "access to game controllers, and to nothing else."
                ),
                INSTALL,
            )
        ]
    if pads:
        return [Finding(_("controllers"), "well", ", ".join(device.main.name for device in pads))]
    if not node_paths():
        return [
            Finding(
                _("controllers"),
                "note",
                _("the kernel shows no input devices here"),
                _("Only simulated controllers can be used."),
            )
        ]
    return [Finding(_("controllers"), "note", _("none connected"), _("Connect one, or pair a wireless one."))]


def _coming_and_going() -> Finding:
    if os.path.exists(UDEV_CONTROL):
        return Finding(_("connecting controllers"), "well", _("udev reports controllers"))
    return Finding(
        _("connecting controllers"),
        "note",
        _("udev is not running; the kernel's own events are used"),
        _("Controllers are recognised by their buttons and axes."),
    )


def holders(paths: Iterable[str], proc: Path = Path("/proc")) -> dict[str, list[str]]:
    """For each of these nodes the other programs that have it open, as ``name (process)``.

    Only programs of the same user can be seen, unless this runs with more rights.
    """
    wanted = {os.path.realpath(path): path for path in paths}
    found: dict[str, list[str]] = {}
    for process in sorted(proc.glob("[0-9]*")):
        if process.name == str(os.getpid()):
            continue
        try:
            links = list((process / "fd").iterdir())
            name = (process / "comm").read_text().strip()
            words = (process / "cmdline").read_bytes()
        except OSError:
            continue
        if b"nubshift" in words:
            continue
        for link in links:
            try:
                node = wanted.get(os.readlink(link))
            except OSError:
                continue
            if node is not None:
                entry = f"{name} ({process.name})"
                if entry not in found.setdefault(node, []):
                    found[node].append(entry)
    return found


def raw_nodes(device: Device) -> list[str]:
    """The raw HID nodes of a device, past which no grab reaches."""
    found = []
    for place in dict.fromkeys(node.place.partition("/input/")[0] for node in device.nodes if node.place):
        found += [f"/dev/{raw.name}" for raw in sorted(Path(place).glob("hidraw/hidraw*"))]
    return found


def _holders(there: list[Device]) -> list[Finding]:
    """Programs that have a controller open too; through its raw node they see it whatever is hidden."""
    found = []
    for device in there:
        if not device.is_controller:
            continue
        nodes, raw = [node.path for node in device.nodes], raw_nodes(device)
        held = holders([*nodes, *raw])
        past = sorted({name for node in raw for name in held.get(node, ())})
        beside = sorted({name for node in nodes for name in held.get(node, ())} - set(past))
        if past:
            found.append(
                Finding(
                    _("{name}, seen twice").format(name=device.main.name),
                    "look",
                    _("{past} reads its raw node").format(past=", ".join(past)),
                    _("That program still sees the controller, so every press counts twice."),
                    _("Turn off controller support in that program, or remove its access to the raw device:"),
                    f"sudo chmod 600 {' '.join(raw)}",
                )
            )
        if beside:
            found.append(
                Finding(
                    _("{name}, also open").format(name=device.main.name),
                    "note",
                    _("{beside} has it open").format(beside=", ".join(beside)),
                    _("While live the controller is hidden from it. While paused it gets everything."),
                )
            )
    return found


def _radio() -> Finding:
    what = _("wireless controllers")
    adapters = sorted(Path("/sys/class/bluetooth").glob("hci[0-9]*"))
    adapters = [adapter for adapter in adapters if ":" not in adapter.name]
    if not adapters:
        return Finding(
            what, "note", _("this machine has no Bluetooth radio"), _("Controllers with their own receiver work.")
        )
    return Finding(what, "well", _("there is a Bluetooth radio"))
