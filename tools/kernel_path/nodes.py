"""Devices of the kernel as another program has them: a pad that is played on, nodes that are read, and our own runner.

Time is emulated slowly in the virtual machine, so every wait is for a condition.
"""

from __future__ import annotations

import os
import select
import threading
import time
from collections.abc import Callable
from typing import Any

import evdev
from evdev import AbsInfo, InputDevice, UInput
from evdev import ecodes as e

from kernel_path.forked import Forked

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
