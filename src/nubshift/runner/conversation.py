"""What the runner and a window say to each other."""

from __future__ import annotations

import logging
import os
from collections.abc import Set
from typing import assert_never

from nubshift.errors import ProtocolError, SinkError
from nubshift.protocol.checking import check_request
from nubshift.protocol.messages import (
    PROTOCOL,
    Ask,
    Choose,
    CloseMenu,
    Edit,
    EnterLayer,
    Fill,
    GameSeen,
    Hello,
    Keep,
    Launch,
    Notice,
    Play,
    Quit,
    Refused,
    Reply,
    Request,
    Reread,
    SetLive,
    Show,
    Shown,
    Status,
    Steer,
    Stop,
    Teach,
    Teaching,
    Use,
    UseVariant,
    Watch,
    Welcome,
    Withhold,
)
from nubshift.runner.automatic import AutomaticProfile
from nubshift.runner.clock import monotonic
from nubshift.runner.commands import Commands
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
    """Serves one window at a time, and commands beside it. `owned`: a window started this runner; `until_alone`: it is
    over when the last of them is gone."""

    def __init__(self, server: Server | None, owned: bool, until_alone: bool = False) -> None:
        self._server = server
        self._owned, self._until_alone = owned, until_alone
        self._window: Client | None = None
        self.was_there = False
        """Whether a window has ever been there."""
        self._told: tuple[object, ...] | None = None
        self._over = False

    def begin(
        self, seated: Seated, outlet: Outlet, compiling: Compiling, automatic: AutomaticProfile, wellbeing: Wellbeing
    ) -> None:
        """What is talked about is there from now on."""
        self._seated, self._session, self._rack = seated, seated.session, seated.rack
        self._outlet, self._compiling, self._wellbeing = outlet, compiling, wellbeing
        self._automatic = automatic
        automatic.changed = self._another_plays
        automatic.seen_game = lambda game: self.reply(GameSeen(game))
        self._commands = Commands(seated.session, automatic, self._status, self._set_live, self.reply, wellbeing.latest)
        self._session.reporter.listen(False)

    @property
    def over(self) -> bool:
        """Whether there is nothing left to run for."""
        return self._over or self._commands.over

    # Waiting

    @property
    def readers(self) -> tuple[int, ...]:
        """The descriptors to be read."""
        if self._server is None:
            return ()
        return (self._server.fileno(), *(client.fileno() for client in self._server.clients))

    @property
    def writers(self) -> tuple[int, ...]:
        """The descriptors that something waits to be written to."""
        if self._server is None:
            return ()
        return tuple(client.fileno() for client in self._server.clients if client.waiting)

    @property
    def next_deadline(self) -> Micros | None:
        """When a frame or a message of health may go."""
        if self._window is None or self._window.lags:
            return None
        return earliest(self._session.reporter.next_deadline, self._wellbeing.next_deadline)

    # Saying

    def reply(self, message: Reply) -> None:
        """Say something to the window, if there is one."""
        if self._window is not None:
            self._send(self._window, message)

    def tell(self, severity: str, text: str) -> None:
        """A sentence for the player, on the terminal and in the window."""
        log.log(logging.getLevelNamesMapping()[severity.upper()], text)
        self.reply(Notice(severity, text))

    def _send(self, client: Client, message: Reply) -> None:
        try:
            client.send(message)
        except ProtocolError as error:
            log.warning(_("The window was disconnected: {error}.").format(error=error))
            self._lost(client, monotonic())

    def _tell_window(self, client: Client, now: Micros) -> None:
        present = self._status_key()
        if present != self._told:
            self._told = present
            self._send(client, self._status())
        due = self._session.reporter.next_deadline
        if due is not None and due <= now and not client.lags:
            self._send(client, self._session.frame(now))
        if self._wellbeing.next_deadline <= now:
            told = self._wellbeing.message(
                now,
                self._rack.opened.reports,
                self._rack.opened.report_times,
                self._rack.opened.dropped,
                self._session.counts,
                self._session.lost,
                self._session.left_out,
            )
            if not client.lags:
                self._send(client, told)

    def _status_key(self) -> tuple[object, ...]:
        """All that a status depends on, cheap to compare on every turn."""
        session, pad = self._session, self._seated.pad
        playing = pad is not None and pad.playing
        generations = self._rack.generation, self._automatic.generation
        return session.live, session.withheld, generations, session.sink, playing

    def _status(self) -> Status:
        first, pad = self._rack.controller_of(FIRST), self._seated.pad
        fills, automatic = self._rack.seats, self._automatic
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
            profile=automatic.playing,
            title=automatic.title,
            why=automatic.why,
            cause=automatic.choice.cause,
            waiting=automatic.choice.paused,
            kept=automatic.kept,
            launched=automatic.launched,
            stop_key_by=automatic.stop_key_by,
        )

    # Listening

    def serve(self, ready: Set[int], now: Micros) -> None:
        """Do what is asked, and tell the window what is new. Raises SinkError."""
        server = self._server
        if server is None:
            return
        for client in list(server.clients):
            if client.fileno() in ready:
                self._listen(client, now)
        if server.fileno() in ready:
            server.accept()
        for client in list(server.clients):
            if client.waiting:
                client.flush()
        if self._window is not None:
            self._tell_window(self._window, now)

    def _listen(self, client: Client, now: Micros) -> None:
        try:
            for request in client.receive():
                if client.role is None:
                    self._greet(request, client)
                elif client.role == "window":
                    self._do(request, now)
                else:
                    self._send(client, self._answer(request, client, now))
            if client.gone:
                self._lost(client, now)
        except ProtocolError as error:
            self._send(client, Refused(str(error)))
            self._lost(client, now)

    def _answer(self, request: Request, client: Client, now: Micros) -> Reply:
        check_request(request)
        return self._commands.do(request, client, now)

    def _lost(self, client: Client, now: Micros) -> None:
        """Somebody is gone, or let go of."""
        if self._server is not None:
            self._server.drop(client)
            self._over = self._over or (self._until_alone and not self._server.clients)
        try:
            self._commands.gone(client, now)
            if client is self._window:
                self._lost_window(now)
        except SinkError as error:
            self._outlet.lost(error, now)
            self._over = self._over or not self._owned

    def _lost_window(self, now: Micros) -> None:
        """The window is gone: nothing it caused goes on, and what is held is let go of once; real play goes on."""
        self._session.watch("", FIRST)
        self._window, self._told = None, None
        self._seated.menu.close(now)
        self._seated.menu.there = False
        self._seated.grab(now)
        self._session.reporter.listen(False)
        self._seated.lessons.end(now)
        self._rack.turnovers()
        first = self._rack.controller_of(FIRST)
        if self._owned and (first is None or first.simulated):
            self._over = True
        if self._owned:
            self._seated.let_go(now)
        self._automatic.edit_shown(False, now)
        self._session.stop(now)

    def _do(self, request: Request, now: Micros) -> None:
        try:
            check_request(request)
        except ProtocolError as error:
            self.tell("error", _("The runner could not do what was asked: {error}.").format(error=error))
            return
        match request:
            case Hello() | Launch():
                raise ProtocolError(_("a window can't ask that"))
            case Use() | Edit():
                self._compiling.ask(request)
            case SetLive(on):
                self._set_live(on, now)
            case Withhold(on):
                self._automatic.focus(on, now)
            case Shown(on):
                self._automatic.edit_shown(on, now)
            case Keep(profile):
                trouble = self._automatic.keep(profile, now)
                if trouble:
                    self.tell("error", f"{trouble[0].upper()}{trouble[1:]}.")
            case Ask():
                self.reply(self._commands.answer(request, now))
            case Watch(control, seat):
                self._seated.watch(control, seat, now)
            case Choose() | Fill() | Play() | Reread() | Show() | Steer() | Teach() | Teaching():
                self._seated.do(request, self._outlet, now)
                if isinstance(request, Reread):
                    self._automatic.reread()
                    self._automatic.look_again(now)
            case CloseMenu():
                self._seated.menu.close(now)
                self._seated.grab(now)
            case EnterLayer(layer):
                self._session.choose_layer(layer, now)
            case UseVariant(control, variant, seat):
                self._session.choose_variant((seat, control), variant, now)
            case Stop():
                self._session.stop(now, by_player=True)
            case Quit():
                self._over = True
            case never:
                assert_never(never)

    def _set_live(self, on: bool, now: Micros) -> None:
        if on:
            self._outlet.find_again()
        self._session.set_live(on, now)
        self._seated.grab(now)

    def _greet(self, request: Request, client: Client) -> None:
        if not isinstance(request, Hello):
            raise ProtocolError(_("an app must greet first"))
        if request.protocol != PROTOCOL:
            raise ProtocolError(
                _("this runner speaks version {protocol}, the window {other}. Restart Nub Shift").format(
                    protocol=PROTOCOL, other=request.protocol
                )
            )
        if request.role == "window" and self._window is not None:
            raise ProtocolError(_("Nub Shift is already open for this user."))
        client.role = request.role
        self._send(client, Welcome(PROTOCOL, os.getpid()))
        if request.role != "window":
            return
        self._window, self.was_there = client, True
        self._seated.menu.there = True
        now = monotonic()
        self._automatic.edit_shown(True, now)
        self._session.reporter.listen(True)
        self._wellbeing.begin_anew(now, self._rack.opened.reports)
        for seat, state in self._seated.standing().items():
            self._session.reporter.saw(state, seat)
        self._session.reporter.again()

    def _another_plays(self) -> None:
        """Another profile plays, or an edited one: the controllers follow it."""
        self._seated.grab(monotonic())
        self._seated.effects.follow_profile()

    def close(self) -> None:
        """Nobody is served any more."""
        if self._server is not None:
            self._server.close()
