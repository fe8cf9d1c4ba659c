"""Play through real nodes for as long as is asked for, at the highest rate of reports that loses nothing there in all that
time. Every press becomes one key, nothing is left down, and the runner's memory stays as it is. What is lost at a higher rate
is said, and has to have been counted by the kernel or the runner.

Says its memory as it goes on: ``memory: SECOND MB``.
"""

from __future__ import annotations

import math
import os
import tempfile
import time
from pathlib import Path

from evdev import UInput
from evdev import ecodes as e

from kernel_path.nodes import PAD, Reader, Runner, until
from nubshift.protocol.messages import Health
from standins.client import Talk

RATES = (500, 250, 125, 60, 30)
"""Reports a second."""
TRIED = 4.0
"""Seconds for which each is tried."""
PRESSED = 40
"""Reports from one turn of the button to the next."""
SETTLED = 20.0
GROWTH = 2.0
"""MB."""
LATEST = 30.0
"""Seconds until the last key has come, where time is emulated slowly."""


class Player:
    """Moves both sticks, and turns a button on and off, so many times a second."""

    def __init__(self, pad: UInput, keyboard: Reader, mouse: Reader) -> None:
        self._pad, self._keyboard, self._mouse = pad, keyboard, mouse
        self._down = 0
        self.presses = 0
        self.late = 0
        self.reports = 0

    def play(self, rate: int, seconds: float) -> None:
        """Play; `late` is how many reports could not be written in time."""
        begin = due = time.monotonic()
        while (now := time.monotonic()) < begin + seconds:
            self.reports += 1
            for code, turn in ((e.ABS_X, 2.1), (e.ABS_Y, 3.3), (e.ABS_RX, 1.3), (e.ABS_RY, 5.1)):
                self._pad.write(e.EV_ABS, code, round(24_000 * math.sin((now - begin) * turn)) + self.reports % 7)
            if self.reports % PRESSED == 0:
                self._turn()
            self._pad.syn()
            self.hear()
            due += 1 / rate
            self.late += due < time.monotonic()
            time.sleep(max(0.0, due - time.monotonic()))

    def _turn(self) -> None:
        self._down = 1 - self._down
        self.presses += self._down
        self._pad.write(e.EV_KEY, e.BTN_EAST, self._down)

    def rest(self) -> None:
        """Hands off."""
        for code in (e.ABS_X, e.ABS_Y, e.ABS_RX, e.ABS_RY):
            self._pad.write(e.EV_ABS, code, 0)
        if self._down:
            self._turn()
        self._pad.syn()

    def hear(self) -> None:
        """Take in what arrives; motion is not kept."""
        self._keyboard.read()
        self._mouse.read()
        self._mouse.seen.clear()

    def told(self, value: int) -> int:
        """How often the key of the button went down (1) or up (0)."""
        return self._keyboard.seen.count((e.EV_KEY, e.KEY_B, value))

    @property
    def held(self) -> list[int]:
        """What is down, as the kernel has it."""
        self.hear()
        return list(self._keyboard.device.active_keys())

    @property
    def exact(self) -> bool:
        """Whether each press became one key."""
        self.hear()
        return self.told(1) == self.told(0) == self.presses


def main(profile: str, seconds: int) -> None:
    socket = Path(tempfile.mkdtemp()) / "s" / "runner.sock"
    with UInput(PAD, name="Long Pad", vendor=0x1209, product=0xABD0) as pad:
        runner = Runner(profile, "--socket", str(socket))
        keyboard, mouse = Reader("Nub Shift keyboard"), Reader("Nub Shift mouse")
        until(lambda: runner.times_found("Long Pad") == 1, "the runner uses the pad")
        for rate in RATES:
            if _loses_nothing(pad, keyboard, mouse, rate):
                samples, lost = _play_on(pad, keyboard, mouse, rate, seconds, runner.process.pid)
                if not lost:
                    break
                _explain(lost, rate, socket)
        else:
            raise AssertionError("presses are lost at every rate")
        settled = samples[int(SETTLED // 10) :] or samples
        assert max(settled) - settled[0] <= GROWTH, samples
        print(f"proven: memory is {settled[0]:.1f} MB and stays within {max(settled) - settled[0]:.2f} MB of it")
        runner.process.terminate()
        assert runner.process.wait() == 0


def _play_on(
    pad: UInput, keyboard: Reader, mouse: Reader, rate: int, seconds: int, pid: int
) -> tuple[list[float], int]:
    """The runner's memory in MB every ten seconds, and how many presses became no key. Nothing may be down at the end."""
    player = Player(pad, keyboard, mouse)
    keyboard.read()
    keyboard.seen.clear()
    samples: list[float] = []
    begin = time.monotonic()
    while (now := time.monotonic()) < begin + seconds:
        player.play(rate, min(10.0, begin + seconds - now))
        samples.append(_memory(pid))
        print(f"memory: {time.monotonic() - begin:.0f} {samples[-1]:.2f}", flush=True)
    player.rest()
    end = time.monotonic() + LATEST
    while not player.exact and time.monotonic() < end:
        time.sleep(0.05)
    until(lambda: not player.held, f"all keys go up: {player.held}")
    assert player.told(1) == player.told(0), f"{player.told(1)} downs and {player.told(0)} ups"
    if player.exact:
        print(
            f"proven: {player.presses} presses in {player.reports} reports, {rate} a second, for {seconds} s: as many keys"
        )
    return samples, player.presses - player.told(1)


def _explain(lost: int, rate: int, socket: Path) -> None:
    """Presses that became no key were dropped by the kernel or left out by the runner, and counted."""
    talk = Talk(socket)
    health = talk.wait(Health)
    talk.close()
    dropped = sum(health.dropped.values())
    print(
        f"{rate} a second: {lost} presses lost; the kernel dropped events {dropped} times, the runner left {health.left_out} out",
        flush=True,
    )
    assert dropped or lost <= health.left_out, "presses were lost that nobody has counted"


def _loses_nothing(pad: UInput, keyboard: Reader, mouse: Reader, rate: int) -> bool:
    """Whether reports can be written at this rate, and each press arrives."""
    keyboard.read()
    keyboard.seen.clear()
    player = Player(pad, keyboard, mouse)
    player.play(rate, TRIED)
    player.rest()
    end = time.monotonic() + 5.0
    while not player.exact and time.monotonic() < end:
        time.sleep(0.05)
    good = player.exact and player.late < player.reports / 50
    print(
        f"{rate} a second: {player.reports} reports, {player.late} late, {'exact' if player.exact else 'lost'}",
        flush=True,
    )
    return good


def _memory(pid: int) -> float:
    return int(Path(f"/proc/{pid}/statm").read_text().split()[1]) * os.sysconf("SC_PAGESIZE") / 1e6
