"""The kernel path in a virtual machine with a real kernel: uinput, evdev, grab, unplugging, kill (PLATFORM).

One boot with many checks. Skipped, with the reason, where the machine can't run it.
"""

from __future__ import annotations

import shutil
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest

from nubshift.model.roles import MouseRole, PadAxisRole
from nubshift.model.sends import SendPad, SendPoint, SendWheel
from nubshift.model.writing import profile_text
from tests.support.profiles import four, made

VM_RUN = Path(__file__).parents[2] / "tools" / "vm-run"
LIMIT = 600


def reason_to_skip() -> str:
    if sys.platform != "linux" or not shutil.which("qemu-system-x86_64"):
        return "no qemu-system-x86_64: apt-get install qemu-system-x86 busybox-static cpio kmod"
    if subprocess.run([sys.executable, str(VM_RUN), "--has-kernel"], check=False).returncode:
        return "no kernel for it: apt-get update && tools/vm-run --get-kernel"
    return ""


@pytest.mark.vm
def test_the_kernel_path(tmp_path: Path) -> None:
    if reason := reason_to_skip():
        pytest.skip(reason)
    # under the repository, for /tmp of the guest is not the host's
    profile = Path(__file__).parent / "profile.tmp.nubshift.json"
    controls: dict[str, Any] = {"south": "A", "east": "B", "dpad_up": "UP", "left_trigger": "BTN_LEFT", "left_stick": four(),
                "right_stick": MouseRole(), "north": SendWheel("up"), "left_bumper": SendPad("south"),
                "right_bumper": SendPoint(0.25, 0.75), "right_trigger": PadAxisRole("right_trigger")}  # fmt: skip
    profile.write_bytes(profile_text(made({"base": controls}, game={"pad": "full"})))
    inside = Path(__file__).parent / "inside.py"
    try:
        done = subprocess.run(
            [sys.executable, str(VM_RUN), "--timeout", str(LIMIT), "--", sys.executable, str(inside), str(profile)],
            capture_output=True, text=True, check=False,
        )  # fmt: skip
    finally:
        profile.unlink()
    print(done.stdout)
    assert done.stdout.count("proven:") == 10, done.stdout + done.stderr
    assert done.stdout.rstrip().endswith("VM PASSED")
    assert done.returncode == 0
