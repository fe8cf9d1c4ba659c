"""The shipped rule gives whoever sits at the screen access to controllers.

There is no logind here; the file that it would write says that user 1000 sits there, and udev's own builtin does the rest.
"""

from __future__ import annotations

import os
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

from evdev import AbsInfo, UInput
from evdev import ecodes as e

import nubshift.outputs.xtest  # noqa: F401
from kernel_path.forked import command
from kernel_path.laboratory import made
from kernel_path.nodes import PAD, Runner, find, until
from nubshift.events import VIRTUAL_KEYBOARD, VIRTUAL_MOUSE
from nubshift.outputs.uinput import UinputChannel
from standins.laboratory.kinds import BYSTANDERS
from standins.uhid_pad import MotionPad

USER, OTHER = 1000, 1001
SIT_DOWN = ["udevadm", "trigger", "--action=change", "--subsystem-match=leds"]
"""What the installed service runs when the seat changes; there is no systemd here."""
SEAT = "IS_SEAT0=1\nCAN_GRAPHICAL=1\nACTIVE=c1\nACTIVE_UID=1000\nSESSIONS=c1\nUIDS=1000\n"


def may(path: str, mode: str = "rb", user: int = USER) -> bool:
    """Whether an ordinary user may open a node. Asked in a child, which is quick where everything is slow."""
    if (child := os.fork()) == 0:
        code = 1
        try:
            os.setgroups([])
            os.setgid(user)
            os.setuid(user)
            os.close(os.open(path, os.O_WRONLY if "w" in mode else os.O_RDONLY))
            code = 0
        finally:
            os._exit(code)
    return os.waitstatus_to_exitcode(os.waitpid(child, 0)[1]) == 0


def path_of(name: str) -> str:
    until(lambda: find(name) is not None, f"{name} is there")
    device = find(name)
    assert device is not None
    device.close()
    return str(device.path)


def doctor_says(text: str) -> Callable[[], bool]:
    """Whether the doctor says this to the ordinary user (who may not read our modules, so they are loaded before)."""

    def said() -> bool:
        done = command("doctor", user=USER)
        LAST[:] = [done.stdout, done.stderr]
        return text in done.stdout

    return said


LAST: list[str] = []
"""What the doctor said last, for when it is not what was waited for."""


def ordinary_runner() -> Runner:
    """A runner of the ordinary user; our modules are made readable for that, on the scratch layer of this machine."""
    for folder in (*Path(sys.executable).resolve().parents, *Path(__file__).resolve().parents):
        folder.chmod(folder.stat().st_mode | 0o055)
    return Runner("-", "--owned", "--socket", "/tmp/ordinary/r.sock", sink="auto", user=USER)


def main(_profile: str) -> None:
    try:
        prove()
    except SystemExit:
        print(*LAST)
        raise


def prove() -> None:
    Path("/run/systemd/seats").mkdir(parents=True, exist_ok=True)
    Path("/run/systemd/seats/seat0").write_text(SEAT)
    Path("/run/systemd/sessions").mkdir(parents=True, exist_ok=True)
    at_home = [made(kind) for kind in BYSTANDERS]
    motion = MotionPad()
    path_of(f"{motion.name} Touchpad")
    axes = [(axis, AbsInfo(0, -32768, 32767, 16, 128, 0)) for axis in (e.ABS_X, e.ABS_Y, e.ABS_RX, e.ABS_RY)]
    pad = UInput({e.EV_KEY: PAD[e.EV_KEY], e.EV_ABS: axes}, name="Proof Pad")
    nodes = [path_of("Proof Pad"), path_of(motion.name), path_of(f"{motion.name} Motion Sensors")]
    closed = [path_of(kind.name) for kind in BYSTANDERS]
    lights = [light for light in Path("/sys/class/leds").iterdir() if f"{motion.vendor:04X}" in str(light.resolve())]
    files = [file for light in lights for file in (*light.glob("brightness"), *light.glob("multi_intensity"))]
    assert len(files) > len(lights) > 1, lights
    assert not any(may(str(file), "wb") for file in files)
    assert not may(nodes[-1])  # udev's own rules open what it knows as a joystick, but not its motion
    assert not may("/dev/uinput", "wb")
    until(doctor_says("you have no permission to read all of it"), "the doctor sees that an ordinary user may not")
    print("proven: without the rule an ordinary user may read no motion, and the doctor says so", flush=True)
    playing = ordinary_runner()
    until(lambda: playing.times_found(motion.name) == 1, "an ordinary user's runner takes the pad")
    done = command("install-access", given="no\n")
    assert done.returncode == 1
    assert not Path("/etc/udev/rules.d/60-nubshift.rules").exists()
    print("proven: it asks, and does nothing without a yes", flush=True)
    done = command("install-access", given="y\n")
    assert done.returncode == 0, done.stdout + done.stderr
    until(lambda: all(may(node) for node in nodes), "the user may read pads and their motion")
    until(lambda: may("/dev/uinput", "wb"), "and make virtual devices")
    print("proven: with it, pads, their motion and uinput are open, for what was plugged in before too", flush=True)
    until(lambda: playing.times_found(motion.name) >= 2, "the runner takes its motion in by itself")
    print("proven: a runner that was at work goes on with the motion, without a restart", flush=True)
    playing.process.terminate()
    touch = path_of(f"{motion.name} Touchpad")
    until(lambda: may(touch), "the pad's own touch pad is open")
    assert not any(may(node) for node in closed), [node for node in closed if may(node)]
    print("proven: keyboard, mouse, touch pad, tablet, touch screen and the sensor in the lid stay closed", flush=True)
    channel = UinputChannel()
    typed = [path_of(VIRTUAL_KEYBOARD), path_of(VIRTUAL_MOUSE)]
    subprocess.run(["udevadm", "settle"], check=True)
    assert not any(may(node, user=user) for node in typed for user in (USER, OTHER))
    assert not any(Path(node).stat().st_mode & 0o007 for node in typed)
    channel.close()
    print("proven: what the virtual keyboard types can be read by no other user", flush=True)
    lights_are_whose_seat_it_is(files)
    until(doctor_says("well  controllers"), "the doctor is content")
    print("proven: the doctor says that all is well", flush=True)
    for device in (pad, *at_home):
        device.close()
    motion.close()


def lights_are_whose_seat_it_is(files: list[Path]) -> None:
    """With the rule, and somebody else sits down."""
    until(lambda: all(may(str(file), "wb") for file in files), "the user may set the lights")
    assert not any(may(str(file), "wb", OTHER) for file in files)
    assert not any(file.stat().st_mode & 0o022 for file in files)
    Path("/run/systemd/seats/seat0").write_text(SEAT.replace(str(USER), str(OTHER)))
    subprocess.run(SIT_DOWN, check=True)
    until(lambda: all(may(str(file), "wb", OTHER) for file in files), "whoever sits there next may set them")
    assert not any(may(str(file), "wb") for file in files)
    Path("/run/systemd/seats/seat0").write_text(SEAT)
    print("proven: the lights are for who sits at the screen, and for nobody else", flush=True)
