"""How late a key is after its button, over real nodes, beside a bare loop that reads the pad and writes a key; and what the
runner takes while nothing moves. A measurement, by hand."""

from __future__ import annotations

import os
import select
import signal
import time
from pathlib import Path
from typing import NoReturn

from evdev import InputDevice, UInput
from evdev import ecodes as e

from kernel_path.nodes import PAD, Reader, Runner, find, press, until

NAME = "Late Pad"
BARE = "Bare keyboard"
EVERY = 0.03
"""Seconds from one change of the button to the next."""
IDLE = 20.0


def main(profile: str, count: int) -> None:
    with UInput(PAD, name=NAME, vendor=0x1209, product=0xABD1) as pad:
        runner = Runner(profile)
        keyboard = Reader("Nub Shift keyboard")
        until(lambda: runner.times_found(NAME) == 1, "the runner uses the pad")
        _late(pad, keyboard.device, 20)
        ours = _late(pad, keyboard.device, count)
        idle = _idle(runner.process.pid)
        runner.process.terminate()
        runner.process.wait()
        until(lambda: find("Nub Shift keyboard") is None, "the runner is gone")
        child = os.fork()
        if child == 0:
            _bare()
        bare = Reader(BARE)
        _late(pad, bare.device, 20)
        floor = _late(pad, bare.device, count)
        os.kill(child, signal.SIGKILL)
        os.waitpid(child, 0)
    for name, place in (("median", len(ours) // 2), ("one in a hundred", -1 - len(ours) // 100)):
        print(
            f"measured: {name} {ours[place]:.0f} µs, bare loop {floor[place]:.0f} µs, {ours[place] / floor[place]:.1f} times"
        )
    print(f"measured: while nothing moves {idle:.2f} % of the processor")


def _late(pad: UInput, device: InputDevice[str], count: int) -> list[float]:
    """How late each of so many keys was, in µs, in their order."""
    late = []
    for number in range(count):
        time.sleep(EVERY)
        sent = time.monotonic()
        press(pad, e.BTN_SOUTH, 1 - number % 2)
        assert select.select([device.fd], [], [], 60)[0], "no key came"
        late.append((time.monotonic() - sent) * 1e6)
        list(device.read())
    return sorted(late)


def _idle(pid: int) -> float:
    """The share of the processor, in percent, that a process takes while nothing happens."""

    def spent() -> int:
        return int(Path(f"/proc/{pid}/schedstat").read_text().split()[0])

    time.sleep(3.0)
    before, began = spent(), time.monotonic_ns()
    time.sleep(IDLE)
    return 100 * (spent() - before) / (time.monotonic_ns() - began)


def _bare() -> NoReturn:
    pad = find(NAME)
    assert pad is not None
    pad.grab()
    with UInput({e.EV_KEY: [e.KEY_A]}, name=BARE) as keyboard:
        while True:
            select.select([pad.fd], [], [])
            for event in pad.read():
                if event.type == e.EV_KEY and event.code == e.BTN_SOUTH:
                    keyboard.write(e.EV_KEY, e.KEY_A, event.value)
                    keyboard.syn()
