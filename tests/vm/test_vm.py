"""The kernel path in a virtual machine with a real kernel: uinput, evdev, grab, unplugging, kill.

Two boots, with udevd and without, for all that is asked for: starting takes longest there. Skipped, with the reason, where
the machine can't run it.
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import Any

import pytest

from nubshift.model.profile import Seat
from nubshift.model.roles import GyroRole, MouseRole, Overlay, PadAxisRole, TilesRole
from nubshift.model.sends import SendPad, SendPoint, SendRumble, SendWheel
from nubshift.model.writing import profile_text
from tests.support.profiles import four, made, sends
from tests.support.wayland import why_no_compositor
from tests.vm.guest import BEGINS, ENDS

VM_RUN = Path(__file__).parents[2] / "tools" / "vm-run"
NO_COMPOSITOR = why_no_compositor() or ("" if shutil.which("seatd") else "seatd is not installed")
LIMIT = 1500
"""Seconds for a machine; what waits in it gives up after 120."""
UDEV = ("laboratory_inside", "wayland_inside", "access_inside")
"""What needs udevd, in this order: the last one changes the system."""


def reason_to_skip() -> str:
    if sys.platform != "linux" or not shutil.which("qemu-system-x86_64"):
        return "no qemu-system-x86_64: apt-get install qemu-system-x86 busybox-static cpio kmod"
    if subprocess.run([sys.executable, str(VM_RUN), "--has-kernel"], check=False).returncode:
        return "no kernel for it: apt-get update && tools/vm-run --get-kernel"
    return ""


def kernel_path() -> bytes:
    controls: dict[str, Any] = {
        "south": "A",
        "east": "B",
        "dpad_up": "UP",
        "left_trigger": "BTN_LEFT",
        "left_stick": four(),
        "right_stick": MouseRole(),
        "north": SendWheel("up"),
        "left_bumper": SendPad("south"),
        "right_bumper": SendPoint(0.25, 0.75),
        "right_trigger": PadAxisRole("right_trigger"),
    }
    return profile_text(made({"base": controls}, game={"pad": "full"}))


def two_seats() -> bytes:
    controls: dict[str, Any] = {"south": "A", "2:south": "B", "east": SendRumble(0.6, 800), "motion": GyroRole()}
    game = {"pad": "full", "light": "#7dd3b4", "rumble": 0.5, "rumble_cap": 500}
    return profile_text(made({"base": controls}, game=game, seats=(Seat("1"), Seat("2"))))


def over_the_game() -> bytes:
    place = Overlay(0.5, 0.5, 0.4)
    tiles = TilesRole(tuple(sends(str(n)) if n != 5 else () for n in range(1, 10)), show=place)
    controls: dict[str, Any] = {
        "south": "A",
        "left_stick": tiles,
        "right_stick": MouseRole(),
        "right_bumper": SendPoint(0.25, 0.75),
    }
    return profile_text(made({"base": controls}))


PROFILES: dict[str, Callable[[], bytes]] = {
    "inside": kernel_path,
    "pads_inside": two_seats,
    "kills_inside": kernel_path,
    "endurance_inside": kernel_path,
    "menu_inside": lambda: profile_text(made({"base": {"south": "A"}})),
    "wayland_inside": over_the_game,
}
"""What a script plays."""


KILLS = int(os.environ.get("VM_KILLS", "3"))
SECONDS = int(os.environ.get("VM_SECONDS", "20"))
"""How often it is killed, and for how long it plays on end. The long form, by command:
``VM_KILLS=50 VM_SECONDS=480 ./test -s tests/vm -k "killed or play_on"``."""


class Machines:
    """The virtual machines of this run, each started when the first of its scripts is asked for."""

    def __init__(self, scripts: Iterable[str]) -> None:
        self._scripts = [script for script in dict.fromkeys(scripts) if script not in UDEV]
        self._with_udev = [script for script in UDEV if script in scripts]
        self._said: dict[str, str] = {}

    def proven(self, script: str) -> int:
        """How many things a script proved, to its end."""
        if script not in self._said:
            self._run(self._with_udev if script in UDEV else self._scripts, script in UDEV)
        said = self._said[script]
        print(said)
        assert f"{ENDS} {script} 0" in said, said
        return said.count("proven:")

    def _run(self, scripts: list[str], udev: bool) -> None:
        # under the repository, for /tmp of the guest is not the host's
        paths = {script: Path(__file__).parent / f"{_name(script)}.tmp.nubshift.json" for script in scripts}
        words = [
            sys.executable,
            str(VM_RUN),
            "--timeout",
            str(LIMIT + 20 * KILLS + 2 * SECONDS),
            *(["--udev"] if udev else []),
            "--",
        ]
        words += [sys.executable, "-m", "tests.vm.guest", *(f"{script}={path}" for script, path in paths.items())]
        for script, path in paths.items():
            path.write_bytes(PROFILES.get(_name(script), lambda: b"{}")())
        try:
            done = subprocess.run(words, capture_output=True, text=True, check=False)
        finally:
            for path in paths.values():
                path.unlink()
        for script in scripts:
            _, _, behind = done.stdout.partition(f"{BEGINS} {script}\n")
            self._said[script] = behind.partition(BEGINS)[0] or done.stdout + done.stderr


def _name(script: str) -> str:
    """Of its module, without the amount."""
    return script.partition(":")[0]


@pytest.fixture(scope="module")
def machines(request: pytest.FixtureRequest) -> Machines:
    if reason := reason_to_skip():
        pytest.skip(reason)
    marks = [item.get_closest_marker("vm") for item in request.session.items]
    scripts = [mark.args[0] for mark in marks if mark is not None]
    return Machines([script for script in scripts if script != "wayland_inside" or not NO_COMPOSITOR])


@pytest.mark.vm("inside")
def test_the_kernel_path(machines: Machines) -> None:
    assert machines.proven("inside") == 12


@pytest.mark.vm("pads_inside")
def test_a_pad_of_the_kernels_own_driver(machines: Machines) -> None:
    assert machines.proven("pads_inside") == 11


@pytest.mark.vm("frames_inside")
def test_turns_through_every_driver_with_motion(machines: Machines) -> None:
    assert machines.proven("frames_inside") == 8


@pytest.mark.vm("menu_inside")
def test_the_menu_and_the_stop_key_with_real_devices(machines: Machines) -> None:
    assert machines.proven("menu_inside") == 4


@pytest.mark.vm(f"kills_inside:{KILLS}")
def test_killed_at_any_moment_it_holds_nothing(machines: Machines) -> None:
    assert machines.proven(f"kills_inside:{KILLS}") == 1


@pytest.mark.vm(f"endurance_inside:{SECONDS}")
def test_play_on_end_through_real_nodes(machines: Machines) -> None:
    assert machines.proven(f"endurance_inside:{SECONDS}") == 2


@pytest.mark.vm("laboratory_inside")
def test_the_laboratory_as_real_nodes(machines: Machines) -> None:
    assert machines.proven("laboratory_inside") == 3


@pytest.mark.vm("wayland_inside")
@pytest.mark.skipif(bool(NO_COMPOSITOR), reason=f"no Wayland compositor: {NO_COMPOSITOR}")
def test_a_compositor_uinput_and_what_stands_over_the_game_together(machines: Machines) -> None:
    assert machines.proven("wayland_inside") == 5


@pytest.mark.vm("access_inside")
def test_the_shipped_rule_gives_an_ordinary_user_access(machines: Machines) -> None:
    assert machines.proven("access_inside") == 8
