"""Runs inside the virtual machine: a virtual pad of the real kernel, the runner between, its keyboard and mouse read back.

Prints a line for each thing proven. Time is emulated slowly here, so every wait is for a condition.
"""

from __future__ import annotations

import os
import select
import signal
import threading
import time
from collections.abc import Callable
from typing import Any

import evdev
from evdev import AbsInfo, InputDevice, UInput
from evdev import ecodes as e

from nubshift.devices.kernel import EvdevSource
from nubshift.outputs.uinput import UinputChannel
from nubshift.runner.inventory import Inventory
from nubshift.runner.stored import StoredControllers
from tests.support.ports import check_channel, check_source
from tests.vm.forked import Forked

STICK, TRIGGER = AbsInfo(0, -32768, 32767, 0, 0, 0), AbsInfo(0, 0, 1023, 0, 0, 0)
PAD: Any = {
    e.EV_KEY: [e.BTN_SOUTH, e.BTN_EAST, e.BTN_NORTH, e.BTN_WEST, e.BTN_TL, e.BTN_TR, e.BTN_SELECT, e.BTN_START],
    e.EV_ABS: [
        (e.ABS_X, STICK),
        (e.ABS_Y, STICK),
        (e.ABS_RX, STICK),
        (e.ABS_RY, STICK),
        (e.ABS_Z, TRIGGER),
        (e.ABS_RZ, TRIGGER),
        (e.ABS_HAT0X, AbsInfo(0, -1, 1, 0, 0, 0)),
        (e.ABS_HAT0Y, AbsInfo(0, -1, 1, 0, 0, 0)),
    ],
}
PATIENCE = 600.0
READERS: list[Reader] = []


def until(condition: Callable[[], object], what: str) -> None:
    """Wait; on failure show what every reader has seen."""
    end = time.monotonic() + PATIENCE
    while not condition():
        if time.monotonic() > end:
            for reader in READERS:
                print(reader.device.name, reader.seen)
            raise SystemExit(f"VM FAILED: this did not happen: {what}")
        time.sleep(0.02)


def find(name: str) -> InputDevice[str] | None:
    for path in evdev.list_devices():
        try:
            device = InputDevice(path)
        except OSError:
            continue
        if device.name == name:
            return device
        device.close()
    return None


class Reader:
    """Another program that reads a node."""

    def __init__(self, name: str) -> None:
        until(lambda: find(name) is not None, f"{name} is there")
        device = find(name)
        assert device is not None
        self.device = device
        self.seen: list[tuple[int, int, int]] = []
        self.gone = False
        READERS.append(self)

    def read(self) -> list[tuple[int, int, int]]:
        try:
            while select.select([self.device.fd], [], [], 0)[0]:
                self.seen += [(v.type, v.code, v.value) for v in self.device.read() if v.type != e.EV_SYN]
        except OSError:
            self.gone = True
        return self.seen

    def keys(self) -> list[tuple[int, int]]:
        return [(code, value) for kind, code, value in self.read() if kind == e.EV_KEY]

    def moved(self) -> int:
        return sum(value for kind, code, value in self.read() if kind == e.EV_REL and code == e.REL_X)


class Runner:
    """``nubshift run``, and what it said."""

    def __init__(self, profile: str, *more: str, sink: str = "uinput", user: int | None = None) -> None:
        words = ["run", profile, "--source", "auto", "--sink", sink, *more]
        reading, writing = os.pipe()
        self.process = Forked(words, (0, 1, writing), user)
        os.close(writing)
        self.said: list[str] = []
        threading.Thread(target=self._read, args=(reading,), daemon=True).start()

    def _read(self, reading: int) -> None:
        with os.fdopen(reading) as lines:
            for line in lines:
                self.said.append(line)
                print(line, end="", flush=True)

    def times_found(self, name: str) -> int:
        return sum(f"the controller is {name}" in line for line in self.said)


def press(pad: UInput, code: int, value: int) -> None:
    pad.write(e.EV_KEY, code, value)
    pad.syn()


def beyond_keys(pad: UInput, mouse: Reader) -> None:
    """The wheel, the pointer and the virtual pad, as other programs see them."""
    mouse.read()
    mouse.seen.clear()
    press(pad, e.BTN_NORTH, 1)
    press(pad, e.BTN_NORTH, 0)

    def turned() -> list[tuple[int, int]]:
        return [(code, value) for _, code, value in mouse.read() if code in (e.REL_WHEEL_HI_RES, e.REL_WHEEL)]

    until(lambda: turned() == [(e.REL_WHEEL_HI_RES, 120), (e.REL_WHEEL, 1)], "a notch arrives")
    print("proven: a notch of the wheel, fine and whole")

    virtual = Reader("Nub Shift pad")
    assert virtual.device.info.bustype == e.BUS_VIRTUAL
    press(pad, e.BTN_TL, 1)
    pad.write(e.EV_ABS, e.ABS_RZ, 1023)
    pad.syn()
    press(pad, e.BTN_TL, 0)
    wanted = [(e.EV_KEY, e.BTN_SOUTH, 1), (e.EV_ABS, e.ABS_RZ, 1023), (e.EV_KEY, e.BTN_SOUTH, 0)]
    until(lambda: virtual.read() == wanted, f"{wanted} arrive on the virtual pad")
    print("proven: button and axis of the virtual pad")

    pointer = Reader("Nub Shift pointer")
    press(pad, e.BTN_TR, 1)
    press(pad, e.BTN_TR, 0)
    wanted = [(e.EV_ABS, e.ABS_X, 16384), (e.EV_ABS, e.ABS_Y, 49151)]
    until(lambda: pointer.read() == wanted, f"{wanted} arrive on the pointer")
    print("proven: the cursor on a point of the screen")


def ports() -> None:
    """What every channel and every source promises, of those of the kernel."""
    check_channel(UinputChannel())
    print("proven: the channel of the kernel keeps what the port promises")
    with UInput(PAD, name="Port Pad", vendor=0x1209, product=0xABCE):
        until(lambda: find("Port Pad") is not None, "the pad is there")
        there = Inventory(True, StoredControllers(), print, 0)
        (id_,) = (id_ for id_, info in there.infos.items() if info.name == "Port Pad")
        check_source(EvdevSource(there.devices[id_], there.mapped[id_], there.infos[id_]))
    print("proven: a source of the kernel keeps what the port promises")


def main(profile: str) -> None:
    ports()
    pad = UInput(PAD, name="Proof Pad", vendor=0x1209, product=0xABCD)
    other = Reader("Proof Pad")
    runner = Runner(profile)
    keyboard, mouse = Reader("Nub Shift keyboard"), Reader("Nub Shift mouse")

    def arrives(*wanted: tuple[int, int]) -> None:
        until(lambda: sorted(keyboard.keys() + mouse.keys()) == sorted(wanted), f"{wanted} arrive")
        keyboard.seen.clear()
        mouse.seen.clear()

    until(lambda: runner.times_found("Proof Pad") == 1, "the runner uses the pad")
    press(pad, e.BTN_SOUTH, 1)
    press(pad, e.BTN_SOUTH, 0)
    arrives((e.KEY_A, 1), (e.KEY_A, 0))
    print("proven: pad of the kernel -> runner -> virtual keyboard")

    other.read()
    other.seen.clear()
    pad.write(e.EV_ABS, e.ABS_X, 30000)
    pad.write(e.EV_ABS, e.ABS_Y, -30000)
    pad.write(e.EV_ABS, e.ABS_HAT0Y, -1)
    pad.write(e.EV_ABS, e.ABS_Z, 1023)
    pad.syn()
    arrives((e.KEY_UP, 1), (e.BTN_LEFT, 1), (e.KEY_W, 1), (e.KEY_D, 1))
    print("proven: d-pad, trigger on the virtual mouse, diagonal of a stick")
    assert other.read() == [], other.seen
    print("proven: another reader of the pad sees nothing (grabbed)")

    pad.write(e.EV_ABS, e.ABS_RX, 32767)
    pad.syn()
    until(lambda: mouse.moved() > 200, "the virtual mouse moves")
    pad.write(e.EV_ABS, e.ABS_RX, 0)
    pad.syn()
    print("proven: counts of the virtual mouse")

    beyond_keys(pad, mouse)
    mouse.seen.clear()
    pad.close()
    arrives((e.KEY_UP, 0), (e.BTN_LEFT, 0), (e.KEY_W, 0), (e.KEY_D, 0))
    print("proven: unplugged mid-press, everything is released")

    pad = UInput(PAD, name="Proof Pad", vendor=0x1209, product=0xABCD)
    until(lambda: runner.times_found("Proof Pad") == 2, "the runner uses the pad again")
    press(pad, e.BTN_EAST, 1)
    arrives((e.KEY_B, 1))
    print("proven: plugged in again, found without udev, played on")

    runner.process.send_signal(signal.SIGKILL)
    runner.process.wait()
    until(lambda: keyboard.keys().count((e.KEY_B, 0)) or keyboard.gone, "B is released")
    until(lambda: find("Nub Shift keyboard") is None, "the virtual keyboard is gone")
    print("proven: killed, the kernel removes the virtual devices and what they held")
