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
from nubshift.errors import SinkError
from nubshift.events import VIRTUAL_MOUSE
from nubshift.outputs.x11 import Desktop
from nubshift.protocol.findings import Finding
from nubshift.protocol.paths import runtime_trouble
from nubshift.runner.build import UINPUT, uinput_trouble
from nubshift.runner.flat import is_x_session
from nubshift.texts import _

INSTALL = "nubshift install-access"
"""The command that installs the udev rule; it asks before it acts."""


def examine(environment: Mapping[str, str] | None = None) -> list[Finding]:
    """Every finding, in the order in which input passes through the machine."""
    env = os.environ if environment is None else environment
    there = devices()
    return [
        *_controllers(there),
        _coming_and_going(),
        *_holders(there),
        _virtual_devices(),
        *_meeting_place(),
        _session(env),
        _focus(env),
        _pointer_profile(env),
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


def _virtual_devices() -> Finding:
    what = _("virtual keyboard and mouse")
    if not os.path.exists(UINPUT):
        return Finding(
            what,
            "look",
            _("the kernel's module for them is not loaded"),
            _("Keys can only go through the X server, which some games do not listen to."),
            _("Load it now; the access rule loads it at every start."),
            "sudo modprobe uinput",
        )
    if uinput_trouble():
        return Finding(
            what,
            "look",
            _("you have no permission to write to {uinput}").format(uinput=UINPUT),
            _("Keys can only go through the X server, which some games do not listen to."),
            _("Install the access rule that ships with Nub Shift."),
            INSTALL,
        )
    return Finding(what, "well", _("available, and reach every program"))


def _session(env: Mapping[str, str]) -> Finding:
    if env.get("WAYLAND_DISPLAY"):
        if uinput_trouble():
            return Finding(
                _("session"),
                "look",
                _("Wayland"),
                _("Without the virtual keyboard only programs that use X get keys."),
                _("Fix the virtual keyboard above."),
            )
        return Finding(_("session"), "well", _("Wayland, with the virtual keyboard"))
    if env.get("DISPLAY"):
        return Finding(_("session"), "well", "X")
    return Finding(_("session"), "note", _("no screen"), _("Only the command line can be used here."))


def _focus(env: Mapping[str, str]) -> Finding:
    what = _("active window")
    if env.get("WAYLAND_DISPLAY"):
        return Finding(
            what,
            "note",
            _("Wayland does not tell programs about other windows"),
            _("Nub Shift knows when you are in its own window, but not which game is in front."),
        )
    if not env.get("DISPLAY"):
        return Finding(what, "note", _("there is no screen to watch"))
    try:
        desktop = Desktop(env["DISPLAY"])
    except SinkError:
        return Finding(
            what,
            "look",
            _("the X server can't be asked"),
            _("Nub Shift can't tell which window is in front."),
            _("Check DISPLAY."),
        )
    tells = desktop.tells_windows()
    desktop.close()
    if tells:
        return Finding(what, "well", _("reported by the window manager"))
    return Finding(
        what,
        "note",
        _("not reported by a window manager"),
        _("Your own window is known; which game is in front is not."),
    )


def _pointer_profile(env: Mapping[str, str]) -> Finding:
    """Whether the desktop bends the motion of the virtual mouse: with a flat profile a count is a count (N45)."""
    what = _("pointer acceleration")
    bends = _("In games that do not read the mouse raw, fast turns go further than slow ones.")
    if not is_x_session(env):
        ask = _("In the desktop's settings, set the mouse '{virtual_mouse}' to the flat profile.").format(
            virtual_mouse=VIRTUAL_MOUSE
        )
        return Finding(what, "note", _("has to be set in the desktop"), bends, ask)
    try:
        desktop = Desktop(env["DISPLAY"])
    except SinkError:
        return Finding(what, "note", _("the X server can't be asked"), bends)
    profile = desktop.profile_of(VIRTUAL_MOUSE)
    desktop.close()
    match profile:
        case "flat":
            return Finding(what, "well", _("flat"))
        case "bent":
            remedy = f"xinput set-prop 'pointer:{VIRTUAL_MOUSE}' 'libinput Accel Profile Enabled' 0, 1"
            found = _("the desktop accelerates the virtual mouse")
            return Finding(what, "look", found, bends, _("Set the flat profile:"), remedy)
        case "none":
            return Finding(
                what,
                "note",
                _("Nub Shift has no virtual mouse with that setting yet"),
                _("Nub Shift asks for the flat profile as soon as there is one."),
            )


def _radio() -> Finding:
    what = _("wireless controllers")
    adapters = sorted(Path("/sys/class/bluetooth").glob("hci[0-9]*"))
    adapters = [adapter for adapter in adapters if ":" not in adapter.name]
    if not adapters:
        return Finding(
            what, "note", _("this machine has no Bluetooth radio"), _("Controllers with their own receiver work.")
        )
    return Finding(what, "well", _("there is a Bluetooth radio"))
