"""The runner's loop: one thread that waits for controllers, time and the window, and never for anything else."""

from __future__ import annotations

import contextlib
import gc
import os
from typing import Final

from nubshift.devices.discovery import Hardware
from nubshift.errors import SinkError
from nubshift.records import Record
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
from nubshift.runner.urgency import Urging
from nubshift.runner.waiting import NOTHING, Waiting
from nubshift.runner.wellbeing import Wellbeing
from nubshift.units import MILLISECOND, SECOND, Micros

COLLECTED = 20_000, 20, 100
"""When Python looks for circles of garbage: play makes none, and a look takes as long as a report."""
AWAKE: Final = 10 * MILLISECOND
"""Whether the machine slept is not looked at more often than this."""
SLEPT: Final = SECOND // 4
"""If the machine's clock that counts sleep runs ahead by more than this between two turns, it was suspended."""


class Settings(Record, frozen=True):
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
        self,
        session: Session,
        chosen: Chosen,
        settings: Settings,
        server: Server | None,
        compiling: Compiling,
        urging: Urging | None = None,
    ) -> None:
        now = monotonic()
        self._session = session
        self._settings = settings
        self._over = self._told_to_end = False
        self._awake, self._wake = os.pipe()
        os.set_blocking(self._wake, False)
        self._waiting, self._at_once = Waiting(), Waiting()
        self._compiling = compiling
        self._wellbeing = Wellbeing(now, urging)
        self._nodes: frozenset[int] = NOTHING
        self._listed: tuple[int, ...] = ()
        self._followed: tuple[tuple[int, ...], tuple[int, ...]] = (), ()
        self._rest_at: Micros | None = now
        """When there may be something to do beside play."""
        self._asleep, self._looked = slept(now), now
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
        gc.freeze()  # what is there now stays; to look through it first would free next to nothing, and take 30 ms
        gc.set_threshold(*COLLECTED)
        try:
            while not (self._over or self._told_to_end):
                self.turn()
        finally:
            self.close()

    def close(self) -> None:
        """Release everything held, and let go of all there is."""
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
    def left_out(self) -> int:
        """Presses that were not sent, since the machine had stood still."""
        return self._session.left_out

    @property
    def unfilled(self) -> tuple[str, ...]:
        """What was asked for by name and never came."""
        return self._seated.rack.unfilled

    def end(self) -> None:
        """End after this turn; may be called from a signal handler, which does not end a wait by itself. It has a
        word of its own, since it may come while a turn is about to set the other."""
        self._told_to_end = True
        with contextlib.suppress(BlockingIOError):
            os.write(self._wake, b"!")

    def turn(self) -> None:
        """Wait, play what was reported, and see to all the rest when there may be something of it."""
        session, seated = self._session, self._seated
        due, reported = session.next_deadline, seated.rack.next_report
        if reported is not None and (due is None or reported < due):
            due = reported
        wake = due if self._rest_at is None or (due is not None and due < self._rest_at) else self._rest_at
        ready = self._waiting.wait(None if wake is None else max(0, wake - monotonic()) / SECOND)
        now = monotonic()
        listened = session.reporter.listened
        if listened and due is not None and now >= due:
            self._wellbeing.was_late(now - due)
        others = self._waiting.has_more or not ready <= self._nodes
        rest = others or (self._rest_at is not None and now >= self._rest_at)
        if len(self._nodes) > 1 and not self._nodes <= ready:  # all readable by now is read before time goes on (R1)
            nodes = self._at_once.wait(0)
            ready = ready | nodes if others else nodes
        try:
            if now >= self._looked + AWAKE:
                self._notice_sleep(now)
            first = seated.play(ready, now)
            if listened and first is not None:
                self._wellbeing.was_late(monotonic() - first)
            if first is None or session.sink.next_deadline is not None:
                session.advance(now)
            if rest or seated.has_news or session.has_news or seated.rack.opened.nodes is not self._listed:
                self._see_to_the_rest(ready, now)
            elif listened:
                self._rest_at = earliest(self._rest_at, seated.held_deadline, self._window.next_deadline)
            elif (held := seated.held_deadline) is not None:
                self._rest_at = earliest(self._rest_at, held)
        except SinkError as error:
            self._outlet.lost(error, now)
            self._over = self._over or not self._settings.owned  # nobody would see why nothing is sent
            self._rest_at = now
            self._follow()

    def _see_to_the_rest(self, ready: frozenset[int], now: Micros) -> None:
        """All that is not play: it may change what is waited for, and until when there is nothing of it to do."""
        self._rest_at = now  # should any of it fail
        self._seated.follow(ready, now)
        if self._compiling.fileno() in ready:
            self._automatic.take_compiled(self._window.reply, now)
        self._automatic.step(ready, now)
        self._window.serve(ready, now)
        if self._starter is not None:
            self._follow_starter(self._starter, ready)
        if ready.intersection(self._session.sink.filenos()):
            self._session.sink.hear(now)
        for text in self._session.take_news():
            self._window.tell("warning", text)
        self._seated.effects.step(now)
        if self._end is not None and now >= self._end:
            self._over = True
        self._over = self._over or self._window.over
        self._seated.follow_needs()
        self._follow()
        self._rest_at = earliest(
            self._window.next_deadline,
            self._end,
            self._seated.next_deadline,
            self._automatic.next_deadline,
            self._session.sink.rumble_deadline,
        )

    def _follow(self) -> None:
        """Wait for all that there is by now."""
        nodes = self._seated.rack.opened.nodes
        monitor = self._seated.rack.inventory.monitor
        readers = (
            self._awake,
            self._compiling.fileno(),
            *self._automatic.filenos(),
            *self._session.sink.filenos(),
            *(self._starter.filenos() if self._starter is not None else ()),
            *nodes,
            *((monitor.fileno(),) if monitor is not None else ()),
            *self._window.readers,
        )
        present = readers, self._window.writers
        if present != self._followed or nodes is not self._listed:
            self._followed = present
            self._waiting.follow(*present)
            self._at_once.follow(nodes, ())
            self._nodes, self._listed = frozenset(nodes), nodes

    def _follow_starter(self, starter: Starter, ready: frozenset[int]) -> None:
        """Until its window is there, the app that started this may end without a word."""
        if self._window.was_there:
            starter.close()
            self._starter = None
        elif starter.is_gone(ready):
            self._over = True

    def _notice_sleep(self, now: Micros) -> None:
        """The machine was suspended: what was held before is let go of."""
        self._looked = now
        asleep = slept(now)
        if asleep > self._asleep + SLEPT:
            self._session.stop(now)
        self._asleep = asleep
