"""``nubshift install-access``: the udev rule that gives whoever sits at the screen access to controllers.

Shows what it would do and asks; then runs it with the rights of the administrator.
"""

from __future__ import annotations

import argparse
import os
import shutil
import subprocess
import sys
from importlib.resources import as_file, files
from pathlib import Path

from nubshift.texts import _

FILES = {
    "60-nubshift.rules": "/etc/udev/rules.d/60-nubshift.rules",
    "60-nubshift.conf": "/etc/modules-load.d/60-nubshift.conf",
    "nubshift-lights.path": "/etc/systemd/system/nubshift-lights.path",
    "nubshift-lights.service": "/etc/systemd/system/nubshift-lights.service",
}
"""What is installed, and where."""
WATCH = "nubshift-lights.path"
LOAD = ["modprobe", "uinput"]


def arguments(parser: argparse.ArgumentParser) -> None:
    """The words of this command."""
    parser.add_argument("--yes", action="store_true", help=_("do not ask"))
    parser.add_argument("--show", action="store_true", help=_("only print the rule and what would be run"))
    parser.add_argument("--remove", action="store_true", help=_("remove the rule"))
    parser.add_argument(
        "--root", metavar="DIR", type=Path, default=Path("/"), help=_("install below here, for packaging")
    )


def main(options: argparse.Namespace) -> int:
    """Ask, then act; 0 when everything was done."""
    with as_file(files("nubshift") / "data") as data:
        steps = _removal(options.root) if options.remove else _installation(data, options.root)
        for name in FILES if not options.remove else ():
            print((data / name).read_text())
        print(_("This will be run") + ("" if os.geteuid() == 0 else _(", as the administrator")) + ":")
        for step in steps:
            print(f"    {' '.join(step)}")
        if options.show:
            return 0
        if not options.yes and not _agrees():
            print(_("Nothing was changed."))
            return 1
        return _run(steps, options.root == Path("/"))


def _installation(data: Path, root: Path) -> list[list[str]]:
    steps = [["install", "-D", "-m", "0644", str(data / name), str(root / place[1:])] for name, place in FILES.items()]
    return steps + (_take_effect() if root == Path("/") else [])


def _removal(root: Path) -> list[list[str]]:
    gone = [["rm", "-f", *(str(root / place[1:]) for place in FILES.values())]]
    if root != Path("/"):
        return gone
    return [*([["systemctl", "disable", "--now", WATCH]] if _has_systemd() else []), *gone, *_take_effect(False)]


def _has_systemd() -> bool:
    return os.path.isdir("/run/systemd/system")


def _take_effect(load: bool = True) -> list[list[str]]:
    """Let it count at once, for what is plugged in already too."""
    steps = [LOAD] if load else []
    if _has_systemd():
        steps += [["systemctl", "daemon-reload"], *([["systemctl", "enable", "--now", WATCH]] if load else [])]
    watched = [f"--subsystem-match={subsystem}" for subsystem in ("input", "misc", "leds")]
    return [*steps, ["udevadm", "control", "--reload"], ["udevadm", "trigger", "--action=change", *watched]]


def _agrees() -> bool:
    try:
        return input("Go on? [y/N] ").strip().lower() in ("y", "yes")
    except EOFError:
        return False


def _run(steps: list[list[str]], of_system: bool) -> int:
    before = [] if os.geteuid() == 0 or not of_system else ["sudo"]
    if before and shutil.which("sudo") is None:
        print(_("There is no sudo here. Run the lines above as the administrator."), file=sys.stderr)
        return 1
    for step in steps:
        try:
            failed = subprocess.run([*before, *step], check=False).returncode != 0
        except OSError as error:
            print(f"{step[0]}: {error.strerror}", file=sys.stderr)
            failed = True
        if failed and step == LOAD:
            print(_("The module uinput could not be loaded. It will be at the next start."), file=sys.stderr)
        elif failed:
            print(_("This failed: {step}. Nothing after it was run.").format(step=" ".join(step)), file=sys.stderr)
            return 1
    print(_("Done. Nub Shift continues by itself; there is no need to restart it."))
    return 0
