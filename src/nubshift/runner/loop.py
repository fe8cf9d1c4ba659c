"""The runner's loop: one thread that waits for controllers, time and the window, and never for anything else."""

from __future__ import annotations

import contextlib
import os
from dataclasses import dataclass

from nubshift.devices.discovery import Hardware
from nubshift.errors import SinkError
from nubshift.runner.automatic import AutomaticProfile, Places
from nubshift.runner.build import Chosen
from nubshift.runner.clock import monotonic, slept
from nubshift.runner.compiling import Compiling
from nubshift.runner.conversation import Conversation
from nubshift.runner.outlet import Outlet
from nubshift.runner.seated import Seated
from nubshift.runner.server import Server
from nubshift.runner.session import Session, earliest
from nubshift.runner.starter import Starter
from nubshift.runner.waiting import Waiting
from nubshift.runner.wellbeing import Wellbeing
from nubshift.units import SECOND, Micros

SLEPT: Micros = SECOND // 4
"""If the machine's clock that counts sleep runs ahead by more than this between two turns, it was suspended."""


@dataclass(frozen=True)
class Settings:
    """How a runner is run.

    `wanted`: for each seat its sources, of which the first that can be had is used. `owned`: an app started it, and
    with nothing real to play it ends with that app. `places` are those of profiles and rules; `fixed`: it stays on the
    profile that it was started with; `until_alone`: it ends with the last of those who talked to it; `starter`: the
    process of the app that started it (0: not known). `hardware` is where controllers come from, None for the kernel.
    """

    wanted: dict[str, tuple[str, ...]]
    places: Places
    fixed: bool = True
    sink: str = "auto"
    owned: bool = False
    seconds: float | None = None
    until_alone: bool = False
    starter: int = 0
    hardware: Hardware | None = None


class Runner:
    """Reads, decides, sends. What there is to say goes to the log ``nubshift.runner``, and to the window."""

    def __init__(
        self, session: Session, chosen: Chosen, settings: Settings, server: Server | None, compiling: Compiling
    ) -> None:
        now = monotonic()
        self._session = session
        self._settings = settings
        self._over = False
        self._awake, self._wake = os.pipe()
        os.set_blocking(self._wake, False)
        self._waiting, self._at_once = Waiting(), Waiting()
        self._compiling = compiling
        self._wellbeing = Wellbeing(now)
        self._due: Micros | None = None
        self._asleep = slept()
        self._end = now + round(settings.seconds * SECOND) if settings.seconds is not None else None
        self._starter = Starter(settings.starter) if settings.starter else None
        self._window = Conversation(server, settings.owned, settings.until_alone)
        self._seated = Seated(session, settings.wanted, now, self._window.tell, self._window.reply, settings.hardware)
        self._outlet = Outlet(session, chosen, settings.sink, self._window.tell)
        self._automatic = AutomaticProfile(
            self._seated, compiling, settings.places, settings.fixed, self._window.tell, now
        )
        self._window.begin(self._seated, self._outlet, compiling, self._automatic, self._wellbeing)

    def run(self) -> None:
        """Run until told to end, or until the time given is over. Everything held is released, however it ends."""
        try:
            while not (self._over or self._window.over):
                self._turn()
        finally:
            now = monotonic()
            self._compiling.close()
            self._automatic.close()
            self._seated.rack.close()
            try:
                self._session.close(now)
            except SinkError as error:
                self._window.tell("error", str(error))
            self._window.close()

    @property
    def unfilled(self) -> tuple[str, ...]:
        """What was asked for by name and never came."""
        return self._seated.rack.unfilled

    def end(self) -> None:
        """End after this turn; may be called from a signal handler, which does not end a wait by itself."""
        self._over = True
        with contextlib.suppress(BlockingIOError):
            os.write(self._wake, b"!")

    def _turn(self) -> None:
        ready = self._wait()
        now = monotonic()
        if self._due is not None and now >= self._due:
            self._wellbeing.was_late(now - self._due)
        ready |= self._readable_by_now()
        try:
            self._notice_sleep(now)
            first = self._seated.read(ready, now)
            if first is not None:
                self._wellbeing.was_late(now - first)
            self._session.advance(now)
            if self._compiling.fileno() in ready:
                self._automatic.take_compiled(self._window.reply, now)
            self._automatic.step(ready, now)
            self._window.serve(ready, now)
            if self._starter is not None:
                self._follow_starter(self._starter, ready)
            if ready.intersection(self._session.sink.filenos()):
                self._session.sink.hear(now)
        except SinkError as error:
            self._outlet.lost(error, now)
            self._over = self._over or not self._settings.owned  # nobody would see why nothing is sent
        for text in self._session.take_news():
            self._window.tell("warning", text)
        self._seated.effects.step(now)
        if self._end is not None and now >= self._end:
            self._over = True

    def _follow_starter(self, starter: Starter, ready: set[int]) -> None:
        """Until its window is there, the app that started this may end without a word."""
        if self._window.was_there:
            starter.close()
            self._starter = None
        elif starter.is_gone(ready):
            self._over = True

    def _notice_sleep(self, now: Micros) -> None:
        """The machine was suspended: what was held before is let go of."""
        asleep = slept()
        if asleep > self._asleep + SLEPT:
            self._session.stop(now)
        self._asleep = asleep

    def _wait(self) -> set[int]:
        """Wait until something is to be done; returns the descriptors that are readable."""
        monitor = self._seated.rack.inventory.monitor
        readers = (
            self._awake,
            self._compiling.fileno(),
            *self._automatic.filenos(),
            *self._session.sink.filenos(),
            *(self._starter.filenos() if self._starter is not None else ()),
            *self._seated.rack.nodes,
            *((monitor.fileno(),) if monitor is not None else ()),
            *self._window.readers,
        )
        self._waiting.follow(readers, self._window.writers)
        self._due = earliest(self._session.next_deadline, self._seated.rack.next_report)
        due = earliest(
            self._due, self._window.next_deadline, self._end, self._seated.next_deadline, self._automatic.next_deadline
        )
        return self._waiting.wait(None if due is None else max(0.0, (due - monotonic()) / SECOND))

    def _readable_by_now(self) -> set[int]:
        """The nodes of controllers that are readable by this moment: all are read before time goes on (R1)."""
        nodes = self._seated.rack.nodes
        if len(nodes) < 2:
            return set()  # one node can't be late because of another
        self._at_once.follow(nodes, ())
        return self._at_once.wait(0)
