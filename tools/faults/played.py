"""The whole runner by a played clock, in this process: pipes in place of the kernel's nodes and of its virtual devices, and
waiting that takes no time."""

from __future__ import annotations

import gc
import os
import select
import tempfile
import time
from collections import Counter
from collections.abc import Callable
from contextlib import ExitStack
from types import TracebackType
from unittest import mock

from nubshift.cli.bench_runner import made_runner
from nubshift.devices.codes import EV_KEY, EV_SYN
from nubshift.devices.kernel import EVENT
from nubshift.events import VIRTUAL_KEYBOARD, VIRTUAL_MOUSE
from nubshift.model.profile import Profile
from nubshift.runner import loop
from nubshift.runner.waiting import Waiting

PAD, MOTION = 0, 1
"""Nodes of the controller."""
AT_ONCE = 2730 * EVENT.size
"""Bytes of whole events that are read at once: what a pipe holds."""
BEGIN = 1_000_000_000
"""µs of the clock when play begins."""


def packed(events: list[tuple[int, int, int]], now: int) -> bytes:
    """A report of these, stamped with `now` µs."""
    return b"".join(EVENT.pack(now // 1_000_000, now % 1_000_000, *event) for event in (*events, (EV_SYN, 0, 0)))


class Heard:
    """What the virtual keyboard and mouse were told."""

    def __init__(self) -> None:
        self.downs: Counter[int] = Counter()
        self.ups: Counter[int] = Counter()
        self.moves = 0
        self.faults: list[str] = []

    def take(self, data: bytes) -> None:
        """Count what was written."""
        for _s, _us, kind, code, value in EVENT.iter_unpack(data):
            if kind == EV_KEY:
                if bool(value) == (self.downs[code] > self.ups[code]):
                    self.faults.append(f"key {code} was told {value} twice")
                (self.downs if value else self.ups)[code] += 1
            elif kind != EV_SYN:
                self.moves += 1

    @property
    def held(self) -> list[int]:
        """What is down."""
        return [code for code in self.downs if self.downs[code] != self.ups[code]]


class PlayedRunner:
    """What it sends is in `heard`. `act` is the player: called when it is due, it says in how many µs it is again."""

    def __init__(self, profile: Profile, heard: Heard, act: Callable[[PlayedRunner], int]) -> None:
        self.now, self.due = BEGIN, BEGIN + 1000
        self._profile, self._heard, self._act = profile, heard, act
        self._context = ExitStack()
        self._nodes = [os.pipe() for _unused in range(2)]
        self._answers = [os.pipe() for _unused in range(2)]

    def __enter__(self) -> PlayedRunner:
        played = self

        class Played(Waiting):
            """Goes on at once to what is due, be it the runner's or the player's."""

            def wait(self, seconds: float | None) -> frozenset[int]:
                ready = super().wait(0)
                if ready or self.has_more or seconds == 0:
                    return ready
                played.pass_time(seconds)
                return super().wait(0)

        enter = self._context.enter_context
        folder = enter(tempfile.TemporaryDirectory())
        enter(mock.patch.dict(os.environ, {"HOME": folder, "XDG_RUNTIME_DIR": folder}))
        enter(mock.patch.object(time, "monotonic_ns", self._ns))
        enter(mock.patch.object(loop, "Waiting", Played))
        written = {VIRTUAL_KEYBOARD: self._answers[0][1], VIRTUAL_MOUSE: self._answers[1][1]}
        self._runner = made_runner(self._profile, [out for out, _unused in self._nodes], written)
        for _unused, into in self._nodes:
            os.set_blocking(into, False)
        gc.freeze()
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        try:
            self._runner.close()
            self._hear()
        finally:
            gc.unfreeze()
            self._context.close()
            for descriptor in (fd for pair in (*self._nodes, *self._answers) for fd in pair):
                os.close(descriptor)

    def _ns(self) -> int:
        """As `time.monotonic_ns`."""
        return self.now * 1000

    @property
    def passed(self) -> int:
        """µs since the begin."""
        return self.now - BEGIN

    def pass_time(self, seconds: float | None) -> None:
        """The clock goes on by so much, or to what the player does next."""
        wanted = self.due if seconds is None else self.now + max(1, round(seconds * 1e6))
        self.now = max(self.now, min(wanted, self.due))
        if self.now >= self.due:
            self.due = self.now + max(1, self._act(self))

    def report(self, data: bytes, node: int = PAD) -> bool:
        """A node of the controller says this; whether there was room for it."""
        try:
            return os.write(self._nodes[node][1], data) == len(data)
        except BlockingIOError:
            return False

    @property
    def left_out(self) -> int:
        """Presses that it did not send, since time had stood still."""
        return self._runner.left_out

    def turn(self) -> None:
        """One turn of the runner's loop."""
        self._runner.turn()
        self._hear()

    def _hear(self) -> None:
        for out in select.select([out for out, _unused in self._answers], [], [], 0)[0]:
            self._heard.take(os.read(out, AT_ONCE))
