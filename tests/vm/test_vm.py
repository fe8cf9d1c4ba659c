"""The kernel path in a virtual machine with a real kernel: uinput, evdev, grab, unplugging, kill.

One boot with many checks. Skipped, with the reason, where the machine can't run it.
"""

from __future__ import annotations

import shutil
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest

from nubshift.model.profile import Seat
from nubshift.model.roles import GyroRole, MouseRole, Overlay, PadAxisRole, TilesRole
from nubshift.model.sends import SendPad, SendPoint, SendRumble, SendWheel
from nubshift.model.writing import profile_text
from tests.support.profiles import four, made, sends
from tests.support.wayland import why_no_compositor

VM_RUN = Path(__file__).parents[2] / "tools" / "vm-run"
LIMIT = 600


def reason_to_skip() -> str:
    if sys.platform != "linux" or not shutil.which("qemu-system-x86_64"):
        return "no qemu-system-x86_64: apt-get install qemu-system-x86 busybox-static cpio kmod"
    if subprocess.run([sys.executable, str(VM_RUN), "--has-kernel"], check=False).returncode:
        return "no kernel for it: apt-get update && tools/vm-run --get-kernel"
    return ""


def inside(script: str, profile: bytes, *flags: str) -> str:
    """What a script that ran in the virtual machine with a profile printed."""
    # under the repository, for /tmp of the guest is not the host's
    path = Path(__file__).parent / f"{Path(script).stem}.tmp.nubshift.json"
    path.write_bytes(profile)
    words = [sys.executable, str(VM_RUN), "--timeout", str(LIMIT), *flags, "--", sys.executable]
    try:
        done = subprocess.run(
            [*words, str(Path(__file__).parent / script), str(path)], capture_output=True, text=True, check=False
        )
    finally:
        path.unlink()
    print(done.stdout)
    assert done.stdout.rstrip().endswith("VM PASSED"), done.stdout + done.stderr
    assert done.returncode == 0
    return done.stdout


@pytest.fixture(autouse=True)
def machine() -> None:
    if reason := reason_to_skip():
        pytest.skip(reason)


@pytest.mark.vm
def test_the_kernel_path() -> None:
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
    said = inside("inside.py", profile_text(made({"base": controls}, game={"pad": "full"})))
    assert said.count("proven:") == 12


@pytest.mark.vm
def test_a_pad_of_the_kernels_own_driver() -> None:
    controls: dict[str, Any] = {"south": "A", "2:south": "B", "east": SendRumble(0.6, 800), "motion": GyroRole()}
    game = {"pad": "full", "light": "#7dd3b4", "rumble": 0.5, "rumble_cap": 500}
    profile = made({"base": controls}, game=game, seats=(Seat("1"), Seat("2")))
    said = inside("pads_inside.py", profile_text(profile))
    assert said.count("proven:") == 11


@pytest.mark.vm
def test_the_shipped_rule_gives_an_ordinary_user_access() -> None:
    said = inside("access_inside.py", b"{}", "--udev")
    assert said.count("proven:") == 7


@pytest.mark.vm
def test_turns_through_every_driver_with_motion() -> None:
    assert inside("frames_inside.py", b"{}").count("proven:") == 8


@pytest.mark.vm
def test_the_laboratory_as_real_nodes() -> None:
    assert inside("laboratory_inside.py", b"{}", "--udev").count("proven:") == 3


@pytest.mark.vm
def test_the_menu_and_the_stop_key_with_real_devices() -> None:
    said = inside("menu_inside.py", profile_text(made({"base": {"south": "A"}})))
    assert said.count("proven:") == 4


@pytest.mark.vm
def test_a_compositor_uinput_and_what_stands_over_the_game_together() -> None:
    if why := why_no_compositor() or ("" if shutil.which("seatd") else "seatd is not installed"):
        pytest.skip(f"no Wayland compositor: {why}")
    place = Overlay(0.5, 0.5, 0.4)
    tiles = TilesRole(tuple(sends(str(n)) if n != 5 else () for n in range(1, 10)), show=place)
    controls: dict[str, Any] = {
        "south": "A",
        "left_stick": tiles,
        "right_stick": MouseRole(),
        "right_bumper": SendPoint(0.25, 0.75),
    }
    assert inside("wayland_inside.py", profile_text(made({"base": controls})), "--udev").count("proven:") == 5
