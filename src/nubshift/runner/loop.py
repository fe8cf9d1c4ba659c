"""The runner's loop: one thread that waits for controllers, time and the app, and never for anything else."""

from __future__ import annotations

import os
import select
import time
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

from nubshift.devices.player import read_script
from nubshift.devices.port import Source
from nubshift.errors import NubShiftError, ProtocolError, SinkError, SourceGone
from nubshift.events import Change
from nubshift.runner.build import NOWHERE, Chosen, nowhere, open_sink
from nubshift.runner.controllers import Controllers
from nubshift.runner.messages import (
    PROTOCOL,
    Choose,
    Controller,
    Hello,
    Live,
    Notice,
    Play,
    Quit,
    Refused,
    Reply,
    Request,
    Status,
    Steer,
    Stop,
    Use,
    Used,
    Watch,
    Welcome,
    Withhold,
)  # fmt: skip
from nubshift.runner.paths import demo_folder
from nubshift.runner.report import FIRST
from nubshift.runner.server import Client, Server
from nubshift.runner.session import Session, earliest
from nubshift.units import SECOND, Micros

SLEPT: Micros = SECOND // 4
"""If the machine's clock that counts sleep runs ahead by more than this between two turns, it was suspended."""


@dataclass(frozen=True)
class Settings:
    """How a runner is run.

    `wanted`: for each seat its sources, of which the first that can be had is used. `owned`: an app started it, and
    with nothing real to play it ends with that app.
    """

    wanted: dict[str, tuple[str, ...]]
    sink: str = "auto"
    owned: bool = False
    seconds: float | None = None


def monotonic() -> Micros:
    """µs of the clock that input events are stamped with (CLOCK_MONOTONIC)."""
    return time.monotonic_ns() // 1000


def _slept() -> Micros:
    """How long the machine has slept since it was started, in µs."""
    return (time.clock_gettime_ns(time.CLOCK_BOOTTIME) - time.monotonic_ns()) // 1000


def _has_input(source: Source, now: Micros, ready: set[int]) -> bool:
    due = source.next_deadline
    return source.fileno() in ready or (due is not None and due <= now)


class Runner:
    """Reads, decides, sends. `say` receives (severity, sentence) for whoever looks at the terminal."""

    def __init__(
        self,
        session: Session,
        chosen: Chosen,
        settings: Settings,
        server: Server | None,
        say: Callable[[str, str], None],
    ) -> None:
        self._session = session
        self._reason = chosen.reason
        self._settings = settings
        self._server = server
        self._say = say
        self._told: tuple[object, ...] | None = None
        self._greeted = False
        self._over = False
        self._awake, self._wake = os.pipe()
        now = monotonic()
        self._asleep = _slept()
        self._end = now + round(settings.seconds * SECOND) if settings.seconds is not None else None
        self._seats: dict[str, Controllers] = {}
        for seat, wanted in settings.wanted.items():
            self._seats[seat] = Controllers(wanted, self._tell, now, partial(self._taken_beside, seat))
        self._controllers = self._seats[FIRST]
        for seat in self._seats:
            self._take_seat(now, seat)

    def _taken_beside(self, seat: str) -> set[str]:
        """The controllers in use in the other seats."""
        return {c.source.info.id for other, c in self._seats.items() if other != seat and c.source is not None}

    # The loop

    def run(self) -> None:
        """Run until told to end, or until the time given is over. Everything held is released, however it ends."""
        try:
            while not self._over:
                self._turn()
        finally:
            now = monotonic()
            for controllers in self._seats.values():
                controllers.close()
            try:
                self._session.close(now)
            except SinkError as error:
                self._say("error", str(error))
            if self._server is not None:
                self._server.close()

    def end(self) -> None:
        """End after this turn; may be called from a signal handler, which does not end a wait by itself."""
        self._over = True
        os.write(self._wake, b"!")

    def _turn(self) -> None:
        ready = self._wait()
        now = monotonic()
        try:
            self._input(ready, now)
            self._session.advance(now)
        except SinkError as error:
            self._lost_sink(error, now)
        if self._server is not None:
            self._serve(self._server, ready, now)
        for text in self._session.take_news():
            self._tell("warning", text)
        if self._end is not None and now >= self._end:
            self._over = True

    def _wait(self) -> set[int]:
        """Wait until something is to be done; returns the descriptors that are readable."""
        client = self._server.client if self._server else None
        parts = [part for c in self._seats.values() for part in (c.source, c.monitor) if part is not None]
        readers = [self._awake, *(node for part in parts if (node := part.fileno()) is not None)]
        if self._server is not None:
            readers.append(self._server.fileno())
        if client is not None:
            readers.append(client.fileno())
        writers = [client.fileno()] if client is not None and client.waiting else []
        tells = self._greeted and client is not None and not client.lags
        frame = self._session.reporter.next_deadline if tells else None
        sources = (controllers.next_deadline for controllers in self._seats.values())
        due = earliest(self._session.next_deadline, frame, self._end, *sources)
        timeout = None if due is None else max(0.0, (due - monotonic()) / SECOND)
        readable, _, _ = select.select(readers, writers, [], timeout)
        return set(readable)

    # Controllers

    def _input(self, ready: set[int], now: Micros) -> None:
        slept = _slept()
        if slept > self._asleep + SLEPT:
            self._session.stop(now)
        self._asleep = slept
        for seat, controllers in self._seats.items():
            self._seat_input(seat, controllers, ready, now)

    def _seat_input(self, seat: str, controllers: Controllers, ready: set[int], now: Micros) -> None:
        """What the controller of a seat said, and whether it came or went."""
        source, monitor = controllers.source, controllers.monitor
        why = ""
        try:
            reports = controllers.read(now) if source is not None and _has_input(source, now, ready) else []
            if reports:
                self._session.reports(reports, now, seat)
        except SourceGone as error:
            why = str(error)
            controllers.gone(now)
        if monitor is not None and monitor.fileno() in ready:
            controllers.hotplug(now)
        controllers.retry(now)
        if controllers.source is not source:
            if source is not None:
                self._session.unplugged(source.info.controls, now, seat)
                self._tell("warning", f"{why or f'{source.info.name} was unplugged'}. What it held was released.")
            self._take_seat(now, seat)

    def _take_seat(self, now: Micros, seat: str = FIRST) -> None:
        """Begin with the controller that is in use in a seat now, as it stands."""
        controllers = self._seats[seat]
        controllers.grab(self._session.live)
        source = controllers.source
        if source is not None:
            where = "" if seat == FIRST else f" in seat {seat}"
            self._say("info", f"the controller{where} is {source.info.name} ({source.info.id})")
            self._session.plugged(source.state(), now, seat)
            self._let_watch(seat, now)

    def _let_watch(self, seat: str, now: Micros) -> None:
        """A simulated pad reports its noise at rest, as hardware does, while one of its controls is watched."""
        pad, watched = self._seats[seat].simulated, self._session.reporter.watched
        if pad is not None:
            pad.watch(watched[1] if watched is not None and watched[0] == seat else "", now)

    def _lost_sink(self, error: SinkError, now: Micros) -> None:
        """Nothing can be sent any more: pause, so that nobody believes it is. Without a window, end."""
        self._tell("error", f"Paused: {error}.")
        self._session.sink.close()
        self._put_sink(nowhere(str(error)))
        self._session.set_live(False, now)
        self._over = self._over or not self._settings.owned

    def _find_sink_again(self) -> None:
        """Before going live: if nothing could be sent until now, see whether it can be by now."""
        if self._session.sink.name == NOWHERE:
            try:
                self._put_sink(open_sink(self._settings.sink))
            except SinkError as error:
                self._tell("error", f"{error}.")

    def _put_sink(self, chosen: Chosen) -> None:
        self._session.sink = chosen.sink
        self._session.prepare()
        self._reason = chosen.reason

    # The app

    def _serve(self, server: Server, ready: set[int], now: Micros) -> None:
        client = server.client
        if client is not None and client.fileno() in ready:
            try:
                requests = client.receive()
                if requests is None:
                    self._lost_app(now)
                for request in requests or ():
                    self._do(request, client, now)
            except ProtocolError as error:
                self._send(client, Refused(str(error)))
                self._lost_app(now)
            except SinkError as error:
                self._lost_sink(error, now)
        if server.fileno() in ready:
            server.accept()
        client = server.client
        if client is not None and self._greeted:
            self._tell_app(client, now)

    def _tell_app(self, client: Client, now: Micros) -> None:
        if client.waiting:
            client.flush()
        present = self._status_key()
        if present != self._told:
            self._told = present
            self._send(client, self._status())
        due = self._session.reporter.next_deadline
        if due is not None and due <= now and not client.lags:
            self._send(client, self._session.frame(now))

    def _send(self, client: Client, message: Reply) -> None:
        try:
            client.send(message)
        except ProtocolError as error:
            self._say("warning", f"The window was let go of: {error}.")
            self._lost_app(monotonic())

    def _status_key(self) -> tuple[object, ...]:
        """All that a status depends on, cheap to compare on every turn."""
        session, controllers, pad = self._session, self._controllers, self._controllers.simulated
        playing = pad is not None and pad.playing
        seats = tuple(c.source for c in self._seats.values())
        return session.live, session.withheld, seats, controllers.generation, session.sink, playing

    def _status(self) -> Status:
        source = self._controllers.source
        pad = self._controllers.simulated
        known = tuple(Controller(i.id, i.name, i.controls, i.simulated, i.trouble) for i in self._controllers.known)
        return Status(
            live=self._session.live,
            withheld=self._session.withheld,
            controller=source.info.id if source else "",
            controllers=known,
            playing=pad is not None and pad.playing,
            sink=self._session.sink.name,
            reason=self._reason,
            seats={seat: c.source.info.id for seat, c in self._seats.items() if seat != FIRST and c.source is not None},
        )

    def _lost_app(self, now: Micros) -> None:
        """The app is gone: nothing it caused goes on, and what is held is let go of once; real play goes on."""
        if self._server is not None:
            self._server.drop()
        self._session.watch("", FIRST)
        self._greeted, self._told = False, None
        source, pad = self._controllers.source, self._controllers.simulated
        if self._settings.owned and (source is None or source is pad):
            self._over = True
        try:
            if pad is not None and self._settings.owned:
                pad.watch("", now)
                pad.let_go(now)
                self._session.reports(pad.read(now), now)
            self._session.set_withheld(False, now)
            self._session.stop(now)
        except SinkError as error:
            self._lost_sink(error, now)

    def _do(self, request: Request, client: Client, now: Micros) -> None:
        """Do what the app asks. Raises SinkError."""
        if not self._greeted and not isinstance(request, Hello):
            raise ProtocolError("an app must greet first")
        match request:
            case Hello(protocol):
                self._greet(protocol, client)
            case Use(profile, edit, switch, others):
                if switch:
                    self._session.switch(profile, self._standing(), now, others)
                else:
                    self._session.edit(profile, now, others)
                self._send(client, Used(edit))
            case Live(on):
                if on:
                    self._find_sink_again()
                self._session.set_live(on, now)
                for controllers in self._seats.values():
                    controllers.grab(on)
            case Withhold(on):
                self._session.set_withheld(on, now)
            case Steer(control, x, y, seat):
                pad = self._seats[seat].simulated if seat in self._seats else None
                if pad is not None:
                    pad.steer(control, x, y, now)
                    self._session.reports(pad.read(now), now, seat)
            case Watch(control, seat):
                self._session.watch(control, seat)
                for other in self._seats:
                    self._let_watch(other, now)
            case Play(script):
                self._play(script, now)
            case Choose(controller, seat):
                self._choose(controller, seat, now)
            case Stop():
                self._session.stop(now)
            case Quit():
                self._over = True

    def _standing(self) -> dict[str, tuple[Change, ...]]:
        """How the controller of each seat stands."""
        return {seat: c.source.state() for seat, c in self._seats.items() if c.source is not None}

    def _greet(self, protocol: int, client: Client) -> None:
        if protocol != PROTOCOL:
            raise ProtocolError(f"this runner speaks version {PROTOCOL}, the window {protocol}. Start Nub Shift anew")
        self._greeted = True
        self._send(client, Welcome(PROTOCOL, os.getpid()))
        for seat, state in self._standing().items():
            self._session.reporter.saw(state, seat)
        self._session.reporter.again()

    def _play(self, script: str, now: Micros) -> None:
        pad = self._controllers.simulated
        if pad is None:
            return
        try:
            if script:
                pad.play(read_script(demo_folder() / f"{script}.player.json"), now)
            else:
                pad.let_go(now)
        except NubShiftError as error:
            self._tell("error", f"{error}.")
        self._session.reports(pad.read(now), now)

    def _choose(self, controller: str, seat: str, now: Micros) -> None:
        """Another controller in a seat, or none."""
        if seat not in self._seats:
            if not controller:
                return
            self._seats[seat] = Controllers((), self._tell, now, partial(self._taken_beside, seat))
        controllers = self._seats[seat]
        before = controllers.source
        if controller:
            controllers.choose(controller, now)
        elif seat != FIRST:
            controllers.close()
            del self._seats[seat]
        if controllers.source is not before:
            if before is not None:
                self._session.unplugged(before.info.controls, now, seat)
            if seat in self._seats:
                self._take_seat(now, seat)

    def _tell(self, severity: str, text: str) -> None:
        self._say(severity, text)
        client = self._server.client if self._server else None
        if client is not None and self._greeted:
            self._send(client, Notice(severity, text))
