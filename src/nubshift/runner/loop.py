"""The runner's loop: one thread that waits for controllers, time and the app, and never for anything else."""

from __future__ import annotations

import contextlib
import os
import select
import time
from collections.abc import Callable
from dataclasses import dataclass

from nubshift.devices.player import read_script
from nubshift.devices.simulated import SimulatedPad
from nubshift.errors import NubShiftError, ProtocolError, SinkError
from nubshift.events import Change
from nubshift.model.kept_controllers import PartOf
from nubshift.model.wiring import THING
from nubshift.protocol.checking import check_request
from nubshift.protocol.messages import (
    PROTOCOL,
    Choose,
    Edit,
    Fill,
    Hello,
    Notice,
    Play,
    Quit,
    Refused,
    Reply,
    Request,
    Reread,
    SetLive,
    Show,
    Status,
    Steer,
    Stop,
    Teach,
    Teaching,
    Use,
    Used,
    Watch,
    Welcome,
    Withhold,
)
from nubshift.protocol.paths import demo_folder
from nubshift.runner.build import Chosen
from nubshift.runner.compiling import Compiling
from nubshift.runner.effects import Effects
from nubshift.runner.frames import FIRST
from nubshift.runner.knowledge import read_knowledge
from nubshift.runner.lessons import Lessons
from nubshift.runner.outlet import Outlet
from nubshift.runner.rack import Rack
from nubshift.runner.server import Client, Server
from nubshift.runner.session import Session, earliest
from nubshift.runner.wellbeing import Wellbeing
from nubshift.texts import _, listed
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


class Runner:
    """Reads, decides, sends. `say` receives (severity, sentence) for whoever looks at the terminal."""

    def __init__(
        self,
        session: Session,
        chosen: Chosen,
        settings: Settings,
        server: Server | None,
        compiling: Compiling,
        say: Callable[[str, str], None],
    ) -> None:
        self._session = session
        self._settings = settings
        self._server = server
        self._say = say
        self._told: tuple[object, ...] | None = None
        self._greeted = False
        self._over = False
        self._awake, self._wake = os.pipe()
        os.set_blocking(self._wake, False)
        now = monotonic()
        self._compiling = compiling
        self._wellbeing = Wellbeing(now)
        self._due: Micros | None = None
        self._listens(False)
        self._asleep = _slept()
        self._end = now + round(settings.seconds * SECOND) if settings.seconds is not None else None
        knowledge = read_knowledge()
        self._rack = Rack(settings.wanted, self._tell, now, knowledge)
        self._lessons = Lessons(self._rack)
        self._effects = Effects(self._rack, session)
        for trouble in knowledge.troubles:
            self._tell("warning", trouble)
        self._seats_changed(now)
        self._effects.follow_profile()
        self._outlet = Outlet(session, chosen, settings.sink, self._tell)

    # The loop

    def run(self) -> None:
        """Run until told to end, or until the time given is over. Everything held is released, however it ends."""
        try:
            while not self._over:
                self._turn()
        finally:
            now = monotonic()
            self._compiling.close()
            self._rack.close()
            try:
                self._session.close(now)
            except SinkError as error:
                self._say("error", str(error))
            if self._server is not None:
                self._server.close()

    @property
    def unfilled(self) -> tuple[str, ...]:
        """What was asked for by name and never came."""
        return self._rack.unfilled

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
            self._input(ready, now)
            self._session.advance(now)
            if self._compiling.fileno() in ready:
                self._take_compiled(now)
        except SinkError as error:
            self._lost_sink(error, now)
        if self._server is not None:
            self._serve(self._server, ready, now)
        for text in self._session.take_news():
            self._tell("warning", text)
        if ready.intersection(self._session.sink.filenos()):
            self._session.sink.hear(now)
        self._effects.step(now)
        if self._end is not None and now >= self._end:
            self._over = True

    def _wait(self) -> set[int]:
        """Wait until something is to be done; returns the descriptors that are readable."""
        client = self._server.client if self._server else None
        readers = [
            self._awake,
            self._compiling.fileno(),
            *self._session.sink.filenos(),
            *(node for source in self._rack.sources for node in source.filenos()),
        ]
        monitor = self._rack.inventory.monitor
        if monitor is not None:
            readers.append(monitor.fileno())
        if self._server is not None:
            readers.append(self._server.fileno())
        if client is not None:
            readers.append(client.fileno())
        writers = [client.fileno()] if client is not None and client.waiting else []
        tells = self._greeted and client is not None and not client.lags
        frame = self._session.reporter.next_deadline if tells else None
        devices = earliest(self._rack.next_deadline, self._lessons.next_deadline)
        health = self._wellbeing.next_deadline if tells else None
        self._due = earliest(self._session.next_deadline, self._rack.next_report)
        due = earliest(self._due, frame, health, self._end, self._effects.next_deadline, devices)
        timeout = None if due is None else max(0.0, (due - monotonic()) / SECOND)
        readable, _writable, _broken = select.select(readers, writers, [], timeout)
        return set(readable)

    def _readable_by_now(self) -> set[int]:
        """The nodes of controllers that are readable by this moment: all are read before time goes on (R1)."""
        nodes = [node for source in self._rack.sources for node in source.filenos()]
        if len(nodes) < 2:
            return set()  # one node can't be late because of another
        readable, _writable, _broken = select.select(nodes, [], [], 0)
        return set(readable)

    def _take_compiled(self, now: Micros) -> None:
        """What the window asked for is ready to be played."""
        for ready in self._compiling.take():
            if ready.compiled is not None and ready.switch:
                self._session.switch(ready.compiled, self._standing(), now)
            elif ready.compiled is not None:
                self._session.edit(ready.compiled, now)
            self._rack.grab(self._hides, now)
            self._effects.follow_profile()
            self._reply(Used(ready.edit, ready.trouble))

    # Controllers

    def _input(self, ready: set[int], now: Micros) -> None:
        slept = _slept()
        if slept > self._asleep + SLEPT:
            self._session.stop(now)
        self._asleep = slept
        reports = self._rack.read(ready, now, self._lessons.controller)
        if reports:
            self._wellbeing.was_late(now - reports[0].t)
            self._session.take(reports, now)
        monitor = self._rack.inventory.monitor
        if monitor is not None and monitor.fileno() in ready:
            self._rack.hotplug(now)
        self._rack.follow_time(now)
        self._seats_changed(now)
        lesson = self._lessons.step(now)
        if lesson is not None:
            self._reply(lesson)
            if not self._lessons.controller:
                self._seats_changed(now)

    def _seats_changed(self, now: Micros) -> None:
        """Who left a seat lets go of what it held; who came begins as it stands."""
        for turn in self._rack.turnovers():
            if turn.left:
                controls = [control for info in turn.left for control in info.controls]
                self._session.unplugged(controls, now, turn.seat)
                staying = {info.id for info in turn.came}
                for info in turn.left:
                    if turn.why or info.id not in staying:
                        self._tell_left(info.name, turn.why)
            if turn.came:
                first = turn.seat == FIRST
                words = _("the controller is {names}") if first else _("the controller in seat {seat} is {names}")
                names = listed([f"{info.name} ({info.id})" for info in turn.came])
                self._say("info", words.format(names=names, seat=turn.seat))
                self._session.plugged(self._rack.state_of(turn.seat), now, turn.seat)
                self._let_watch(turn.seat, now)
                self._effects.came(turn.seat)
        self._rack.grab(self._hides, now)

    @property
    def _hides(self) -> bool:
        """Whether the controllers are kept from the game now."""
        return self._session.live and not self._session.profile.game.sees_controller

    def _tell_left(self, name: str, why: str) -> None:
        if why:
            self._tell("warning", _("{why}. Its keys were released.").format(why=why))

    def _let_watch(self, seat: str, now: Micros) -> None:
        """A simulated pad reports its noise at rest, as hardware does, while one of its controls is watched."""
        pad, watched = self._rack.simulated(seat), self._session.reporter.watched
        if pad is not None:
            pad.watch(watched[1] if watched is not None and watched[0] == seat else "", now)

    def _lost_sink(self, error: SinkError, now: Micros) -> None:
        """Nothing can be sent any more. Without a window, end."""
        self._outlet.lost(error, now)
        self._over = self._over or not self._settings.owned

    # The app

    def _serve(self, server: Server, ready: set[int], now: Micros) -> None:
        client = server.client
        if client is not None and client.fileno() in ready:
            try:
                for request in client.receive():
                    self._do(request, client, now)
                if client.gone:
                    self._lost_app(now)
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
        if self._wellbeing.next_deadline <= now:
            told = self._wellbeing.message(
                now, self._rack.reports, self._rack.dropped, self._session.counts, self._session.lost
            )
            if not client.lags:
                self._send(client, told)

    def _send(self, client: Client, message: Reply) -> None:
        try:
            client.send(message)
        except ProtocolError as error:
            self._say("warning", _("The window was disconnected: {error}.").format(error=error))
            self._lost_app(monotonic())

    def _status_key(self) -> tuple[object, ...]:
        """All that a status depends on, cheap to compare on every turn."""
        session, rack = self._session, self._rack
        pad = rack.simulated(FIRST)
        playing = isinstance(pad, SimulatedPad) and pad.playing
        return session.live, session.withheld, rack.generation, session.sink, playing

    def _status(self) -> Status:
        first, pad = self._rack.controller_of(FIRST), self._rack.simulated(FIRST)
        fills = self._rack.seats
        return Status(
            live=self._session.live,
            withheld=self._session.withheld,
            controller=first.id if first else "",
            controllers=self._rack.known,
            playing=isinstance(pad, SimulatedPad) and pad.playing,
            sink=self._session.sink.name,
            reason=self._outlet.reason,
            seats={seat: parts[0].controller for seat, parts in fills.items() if seat != FIRST},
            fills=fills,
            others=self._rack.inventory.others,
        )

    def _lost_app(self, now: Micros) -> None:
        """The app is gone: nothing it caused goes on, and what is held is let go of once; real play goes on."""
        if self._server is not None:
            self._server.drop()
        self._session.watch("", FIRST)
        self._greeted, self._told = False, None
        self._listens(False)
        self._lessons.end(now)
        self._rack.turnovers()
        first, pad = self._rack.controller_of(FIRST), self._rack.simulated(FIRST)
        if self._settings.owned and (first is None or first.simulated):
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
            raise ProtocolError(_("an app must greet first"))
        try:
            check_request(request)
        except ProtocolError as error:
            self._tell("error", _("The runner could not do what was asked: {error}.").format(error=error))
            return
        match request:
            case Hello(protocol):
                self._greet(protocol, client)
            case Use() | Edit():
                self._compiling.ask(request)
            case SetLive(on):
                if on:
                    self._outlet.find_again()
                self._session.set_live(on, now)
                self._rack.grab(self._hides, now)
            case Withhold(on):
                self._session.set_withheld(on, now)
            case Steer(control, x, y, seat):
                pad = self._rack.simulated(seat, control)
                if control.startswith(THING) and self._lessons.in_hand is not None:
                    pad = self._lessons.in_hand
                if pad is not None:
                    pad.steer(control, x, y, now)
                    self._input(set(), now)
            case Watch(control, seat):
                self._session.watch(control, seat)
                for other in self._rack.seats:
                    self._let_watch(other, now)
            case Play(script):
                self._play(script, now)
            case Choose(controller, seat):
                self._rack.fill(seat, (PartOf(controller),) if controller else (), now)
                self._seats_changed(now)
            case Fill(seat, parts):
                self._rack.fill(seat, parts, now)
                self._seats_changed(now)
            case Reread() | Teach() | Teaching() | Show():
                self._know(request, now)
            case Stop():
                self._session.stop(now, by_player=True)
            case Quit():
                self._over = True

    def _know(self, request: Reread | Teach | Teaching | Show, now: Micros) -> None:
        """What the app asks about knowing controllers, and telling them apart."""
        match request:
            case Reread():
                self._reread(now)
            case Teach(controller, shape):
                self._teach(controller, shape, now)
            case Teaching():
                self._lessons.act(request, now)
                self._seats_changed(now)
            case Show(controller, colour):
                self._effects.show(controller, colour, now)

    def _standing(self) -> dict[str, tuple[Change, ...]]:
        """How the controller of each seat stands."""
        return {seat: self._rack.state_of(seat) for seat in self._rack.seats}

    def _greet(self, protocol: int, client: Client) -> None:
        if protocol != PROTOCOL:
            raise ProtocolError(
                _("this runner speaks version {protocol}, the window {protocol_2}. Restart Nub Shift").format(
                    protocol=PROTOCOL, protocol_2=protocol
                )
            )
        self._greeted = True
        self._send(client, Welcome(PROTOCOL, os.getpid()))
        self._listens(True)
        for seat, state in self._standing().items():
            self._session.reporter.saw(state, seat)
        self._session.reporter.again()

    def _play(self, script: str, now: Micros) -> None:
        pad = self._rack.simulated(FIRST)
        if not isinstance(pad, SimulatedPad):
            return
        try:
            if script:
                pad.play(read_script(demo_folder() / f"{script}.player.json"), now)
            else:
                pad.let_go(now)
        except NubShiftError as error:
            self._tell("error", f"{error}.")
        self._session.reports(pad.read(now), now)

    def _reread(self, now: Micros) -> None:
        """What is kept of controllers has changed."""
        knowledge = read_knowledge()
        for trouble in knowledge.troubles:
            self._tell("warning", trouble)
        self._rack.relearn(knowledge, now)
        self._outlet.find_better(now)
        self._seats_changed(now)

    def _teach(self, controller: str, shape: str, now: Micros) -> None:
        """Begin a lesson; what the controller held is let go of."""
        if not self._lessons.begin(controller, shape, now):
            self._tell("warning", _("This controller can't be set up: it is not connected, or all of it is known."))
            return
        for seat, parts in self._rack.seats.items():
            if any(part.controller == controller for part in parts):
                resting = [(name, 0.0, 0.0) for name, _unused, _unused in self._rack.state_of(seat)]
                self._session.reports([(now, tuple(resting))], now, seat)

    def _listens(self, on: bool) -> None:
        """Whether there is a window that is told of play."""
        self._session.reporter.listen(on)

    def _reply(self, message: Reply) -> None:
        client = self._server.client if self._server else None
        if client is not None and self._greeted:
            self._send(client, message)

    def _tell(self, severity: str, text: str) -> None:
        self._say(severity, text)
        self._reply(Notice(severity, text))
