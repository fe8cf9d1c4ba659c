"""What the runner and a window say to each other."""

from __future__ import annotations

import logging
import os
from typing import assert_never

from nubshift.errors import ProtocolError, SinkError
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
from nubshift.runner.clock import monotonic
from nubshift.runner.compiling import Compiling
from nubshift.runner.frames import FIRST
from nubshift.runner.outlet import Outlet
from nubshift.runner.seated import Seated
from nubshift.runner.server import Client, Server
from nubshift.runner.session import earliest
from nubshift.runner.wellbeing import Wellbeing
from nubshift.texts import _
from nubshift.units import Micros

log = logging.getLogger(__name__)


class Conversation:
    """Serves one window at a time. `owned`: it started this runner; `over`: there is nothing left to run for."""

    def __init__(self, server: Server | None, owned: bool) -> None:
        self._server = server
        self._owned = owned
        self._told: tuple[object, ...] | None = None
        self._greeted = False
        self.over = False

    def begin(self, seated: Seated, outlet: Outlet, compiling: Compiling, wellbeing: Wellbeing) -> None:
        """What is talked about is there from now on."""
        self._seated, self._session, self._rack = seated, seated.session, seated.rack
        self._outlet, self._compiling, self._wellbeing = outlet, compiling, wellbeing
        self._session.reporter.listen(False)

    # Waiting

    @property
    def client(self) -> Client | None:
        """The window, while one is connected."""
        return self._server.client if self._server is not None else None

    @property
    def readers(self) -> tuple[int, ...]:
        """The descriptors to be read."""
        if self._server is None:
            return ()
        client = self._server.client
        return (self._server.fileno(), *((client.fileno(),) if client is not None else ()))

    @property
    def writers(self) -> tuple[int, ...]:
        """The descriptors that something waits to be written to."""
        client = self.client
        return (client.fileno(),) if client is not None and client.waiting else ()

    @property
    def next_deadline(self) -> Micros | None:
        """When a frame or a message of health may go."""
        client = self.client
        if not self._greeted or client is None or client.lags:
            return None
        return earliest(self._session.reporter.next_deadline, self._wellbeing.next_deadline)

    # Saying

    def reply(self, message: Reply) -> None:
        """Say something to the window, if there is one."""
        client = self.client
        if client is not None and self._greeted:
            self._send(client, message)

    def tell(self, severity: str, text: str) -> None:
        """A sentence for the player, on the terminal and in the window."""
        log.log(logging.getLevelNamesMapping()[severity.upper()], text)
        self.reply(Notice(severity, text))

    def _send(self, client: Client, message: Reply) -> None:
        try:
            client.send(message)
        except ProtocolError as error:
            log.warning(_("The window was disconnected: {error}.").format(error=error))
            self._lost_window(monotonic())

    def _tell_window(self, client: Client, now: Micros) -> None:
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

    def _status_key(self) -> tuple[object, ...]:
        """All that a status depends on, cheap to compare on every turn."""
        session, pad = self._session, self._seated.pad
        playing = pad is not None and pad.playing
        return session.live, session.withheld, self._rack.generation, session.sink, playing

    def _status(self) -> Status:
        first, pad = self._rack.controller_of(FIRST), self._seated.pad
        fills = self._rack.seats
        return Status(
            live=self._session.live,
            withheld=self._session.withheld,
            controller=first.id if first else "",
            controllers=self._rack.known,
            playing=pad is not None and pad.playing,
            sink=self._session.sink.name,
            reason=self._outlet.reason,
            seats={seat: parts[0].controller for seat, parts in fills.items() if seat != FIRST},
            fills=fills,
            others=self._rack.inventory.others,
        )

    # Listening

    def serve(self, ready: set[int], now: Micros) -> None:
        """Do what the window asks, and tell it what is new. Raises SinkError."""
        server = self._server
        if server is None:
            return
        client = server.client
        if client is not None and client.fileno() in ready:
            try:
                for request in client.receive():
                    self._do(request, client, now)
                if client.gone:
                    self._lost_window(now)
            except ProtocolError as error:
                self._send(client, Refused(str(error)))
                self._lost_window(now)
        if server.fileno() in ready:
            server.accept()
        client = server.client
        if client is not None and self._greeted:
            self._tell_window(client, now)

    def _lost_window(self, now: Micros) -> None:
        """The window is gone: nothing it caused goes on, and what is held is let go of once; real play goes on."""
        if self._server is not None:
            self._server.drop()
        self._session.watch("", FIRST)
        self._greeted, self._told = False, None
        self._session.reporter.listen(False)
        self._seated.lessons.end(now)
        self._rack.turnovers()
        first = self._rack.controller_of(FIRST)
        if self._owned and (first is None or first.simulated):
            self.over = True
        try:
            if self._owned:
                self._seated.let_go(now)
            self._session.set_withheld(False, now)
            self._session.stop(now)
        except SinkError as error:
            self._outlet.lost(error, now)
            self.over = self.over or not self._owned

    def _do(self, request: Request, client: Client, now: Micros) -> None:
        if not self._greeted and not isinstance(request, Hello):
            raise ProtocolError(_("an app must greet first"))
        try:
            check_request(request)
        except ProtocolError as error:
            self.tell("error", _("The runner could not do what was asked: {error}.").format(error=error))
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
                self._seated.grab(now)
            case Withhold(on):
                self._session.set_withheld(on, now)
            case Watch(control, seat):
                self._seated.watch(control, seat, now)
            case Choose() | Fill() | Play() | Reread() | Show() | Steer() | Teach() | Teaching():
                self._seated.do(request, self._outlet, now)
            case Stop():
                self._session.stop(now, by_player=True)
            case Quit():
                self.over = True
            case never:
                assert_never(never)

    def _greet(self, protocol: int, client: Client) -> None:
        if protocol != PROTOCOL:
            raise ProtocolError(
                _("this runner speaks version {protocol}, the window {other}. Restart Nub Shift").format(
                    protocol=PROTOCOL, other=protocol
                )
            )
        self._greeted = True
        self._send(client, Welcome(PROTOCOL, os.getpid()))
        self._session.reporter.listen(True)
        for seat, state in self._seated.standing().items():
            self._session.reporter.saw(state, seat)
        self._session.reporter.again()

    def take_compiled(self, now: Micros) -> None:
        """What the window asked for is ready to be played. Raises SinkError."""
        for ready in self._compiling.take():
            if ready.compiled is not None and ready.switch:
                self._session.switch(ready.compiled, self._seated.standing(), now)
            elif ready.compiled is not None:
                self._session.edit(ready.compiled, now)
            self._seated.grab(now)
            self._seated.effects.follow_profile()
            self.reply(Used(ready.edit, ready.trouble))

    def close(self) -> None:
        """No window is served any more."""
        if self._server is not None:
            self._server.close()
