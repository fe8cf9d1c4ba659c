"""The runner killed at any moment of play through uinput, again and again.

The kernel takes the virtual devices away with the process that made them; whoever reads them sees what was held go up, or
the device itself go.
"""

from __future__ import annotations

import os
import signal
import threading
import time
from random import Random

from evdev import UInput
from evdev import ecodes as e

from kernel_path.nodes import PAD, Reader, Runner, find, press, until

BUTTONS = (e.BTN_SOUTH, e.BTN_EAST)
KEYS = (e.KEY_A, e.KEY_B)


def main(profile: str, count: int) -> None:
    random = Random(count)
    with UInput(PAD, name="Kill Pad", vendor=0x1209, product=0xABCF) as pad:
        for number in range(count):
            _kill(profile, pad, random, number)
    print(f"proven: killed {count} times in the middle of play, nothing was held after any of them")


def _kill(profile: str, pad: UInput, random: Random, number: int) -> None:
    runner = Runner(profile)
    keyboard, mouse = Reader("Nub Shift keyboard"), Reader("Nub Shift mouse")
    until(lambda: runner.times_found("Kill Pad") == 1, f"runner {number} uses the pad")
    for button in BUTTONS:
        press(pad, button, 1)
    until(lambda: {(code, 1) for code in KEYS} <= set(keyboard.keys()), f"both keys are down ({number})")
    over = threading.Event()

    def turn() -> None:
        while not over.is_set():
            pad.write(e.EV_ABS, e.ABS_RX, random.randrange(-32768, 32767))
            pad.syn()
            time.sleep(0.002)

    turning = threading.Thread(target=turn)
    turning.start()
    try:
        if number % 3:
            until(lambda: mouse.moved() != 0, f"the mouse moves ({number})")
        time.sleep(random.random() * 0.3)
        os.kill(runner.process.pid, signal.SIGKILL)
        runner.process.wait()
        held = lambda: [c for c in KEYS if keyboard.keys().count((c, 1)) > keyboard.keys().count((c, 0))]  # noqa: E731
        until(lambda: not held() or keyboard.gone, f"nothing is held after kill {number}")
        until(lambda: find("Nub Shift keyboard") is None, f"the virtual keyboard is gone after kill {number}")
    finally:
        over.set()
        turning.join()
    pad.write(e.EV_ABS, e.ABS_RX, 0)
    for button in BUTTONS:
        press(pad, button, 0)
    for reader in (keyboard, mouse):
        reader.device.close()
