"""The controllers in their seats, at a profile that plays: what they report, who comes and goes, and lessons."""

from __future__ import annotations

import logging
from collections.abc import Callable, Set
from typing import assert_never

from nubshift.devices.discovery import Hardware
from nubshift.devices.player import read_script
from nubshift.devices.simulated import SimulatedPad
from nubshift.engine.program import Program
from nubshift.errors import NubShiftError
from nubshift.events import Change
from nubshift.model.controller_setup import RAW_INPUT
from nubshift.model.stored_controllers import PartOf
from nubshift.protocol.messages import Choose, Fill, Play, Reply, Reread, Show, Steer, Teach, Teaching
from nubshift.protocol.paths import demo_folder
from nubshift.runner.effects import Effects
from nubshift.runner.frames import FIRST
from nubshift.runner.held_together import HeldTogether
from nubshift.runner.lessons import Lessons
from nubshift.runner.on_screen_menu import OnScreenMenu
from nubshift.runner.outlet import Outlet
from nubshift.runner.rack import Rack
from nubshift.runner.session import Session, earliest
from nubshift.runner.stored import read_stored
from nubshift.runner.waiting import NOTHING
from nubshift.texts import _, listed
from nubshift.units import Micros

log = logging.getLogger(__name__)


class Seated:
    """Joins the rack of controllers and a session.

    `tell` receives (severity, sentence) for the player, `reply` what a window is told. Raises SinkError wherever
    something is sent.
    """

    def __init__(
        self,
        session: Session,
        wanted: dict[str, tuple[str, ...]],
        now: Micros,
        tell: Callable[[str, str], None],
        reply: Callable[[Reply], None],
        hardware: Hardware | None = None,
    ) -> None:
        stored = read_stored()
        self.session = session
        self.rack = Rack(wanted, tell, now, stored, hardware)
        self.lessons = Lessons(self.rack)
        self.effects = Effects(self.rack, session)
        self._tell, self._reply = tell, reply
        self.away: frozenset[str] = frozenset()
        self._needs: tuple[Program | None, frozenset[str]] = None, frozenset()
        self.stop_controls = HeldTogether()
        self.menu = OnScreenMenu(session, self.rack, reply)
        for trouble in stored.troubles:
            tell("warning", trouble)
        self.follow_seats(now)
        self.effects.follow_profile()

    @property
    def next_deadline(self) -> Micros | None:
        """When a controller, a lesson or an effect has something to do."""
        parts = (self.rack, self.lessons, self.effects, self.stop_controls, self.menu)
        return earliest(*(part.next_deadline for part in parts))

    @property
    def hides(self) -> bool:
        """Whether the controllers are kept from the game now."""
        return bool(self.menu.seat) or (
            self.session.live and not self.away and not self.session.profile.game.sees_controller
        )

    @property
    def pad(self) -> SimulatedPad | None:
        """The simulated pad in the first seat, if one sits there."""
        pad = self.rack.simulated(FIRST)
        return pad if isinstance(pad, SimulatedPad) else None

    def standing(self) -> dict[str, tuple[Change, ...]]:
        """How the controller of each seat stands."""
        return {seat: self.rack.state_of(seat) for seat in self.rack.seats}

    def be_away(self, away: frozenset[str], now: Micros) -> None:
        """The player is away, for these reasons, or back: the controllers are given back meanwhile, and let go of while
        it is another user's turn. Raises SinkError."""
        self.away = away
        self.menu.close(now)
        self.rack.rest("inactive" in away, now)
        self.follow_seats(now)

    # Reports

    def play(self, ready: Set[int], now: Micros) -> Micros | None:
        """Read what is readable, and play it; returns when the first of it was reported, None for nothing."""
        reports = self.rack.read(ready, now, self.lessons.controller)
        if not reports:
            return None
        if self.stop_controls.controls:
            self.stop_controls.saw(reports)
        if self.menu.controls.controls or self.menu.seat:
            self.menu.saw(reports)
        self.session.take(reports, now)
        return reports[0].t

    @property
    def has_news(self) -> bool:
        """Whether `follow` has something to do at once."""
        return bool(self.rack.turned or self.menu.seat or self.lessons.controller)

    @property
    def held_deadline(self) -> Micros | None:
        """When controls will have been held together for long enough."""
        if not (self.stop_controls.since or self.menu.seat or self.menu.controls.since):
            return None
        return earliest(self.stop_controls.next_deadline, self.menu.next_deadline)

    def follow(self, ready: Set[int], now: Micros) -> None:
        """All that is not play: who comes and goes, the menu, lessons."""
        monitor = self.rack.inventory.monitor
        if monitor is not None and monitor.fileno() in ready:
            self.rack.hotplug(now)
        if self.menu.step(now):
            self.grab(now)
        self.rack.follow_time(now)
        self.follow_seats(now)
        lesson = self.lessons.step(now)
        if lesson is not None:
            self._reply(lesson)
            if not self.lessons.controller:
                self.follow_seats(now)

    def follow_needs(self) -> None:
        """Sensors that nobody asks for are not read: no binding, no window that shows them, nothing held together."""
        everything = self.session.reporter.listened or bool(self.lessons.controller)
        program = None if everything else self.session.played.program
        held = self.stop_controls.controls | self.menu.controls.controls
        if program is not self._needs[0] or held != self._needs[1]:
            self._needs = program, held
            self.rack.need(program.controls_used() | held if program is not None else None)

    def follow_seats(self, now: Micros) -> None:
        """Who left a seat lets go of what it held; who came begins as it stands."""
        for turn in self.rack.turnovers():
            if turn.seat == self.menu.seat:
                self.menu.close(now)
            for held in (self.stop_controls, self.menu.controls):
                held.forget(turn.seat)
            if turn.left:
                controls = [control for info in turn.left for control in info.controls]
                self.session.unplugged(controls, now, turn.seat)
                if turn.why:
                    self._tell("warning", _("{why}. Its keys were released.").format(why=turn.why))
            if turn.came:
                first = turn.seat == FIRST
                words = _("the controller is {names}") if first else _("the controller in seat {seat} is {names}")
                names = listed([f"{info.name} ({info.id})" for info in turn.came])
                log.info(words.format(names=names, seat=turn.seat))
                self.session.plugged(self.rack.state_of(turn.seat), now, turn.seat)
                self._let_watch(turn.seat, now)
                self.effects.came(turn.seat)
        self.grab(now)

    def grab(self, now: Micros) -> None:
        """Keep the controllers from the game, or give them back, as the profile wants it now."""
        self.rack.grab(self.hides, now)

    # What a window asks

    def watch(self, control: str, seat: str, now: Micros) -> None:
        """Tell every report of a control from now on."""
        self.session.watch(control, seat)
        for other in self.rack.seats:
            self._let_watch(other, now)

    def _let_watch(self, seat: str, now: Micros) -> None:
        """A simulated pad reports its noise at rest, as hardware does, while one of its controls is watched."""
        pad, watched = self.rack.simulated(seat), self.session.reporter.watched
        if pad is not None:
            pad.watch(watched[1] if watched is not None and watched[0] == seat else "", now)

    def do(
        self, request: Choose | Fill | Play | Reread | Show | Steer | Teach | Teaching, outlet: Outlet, now: Micros
    ) -> None:
        """Do what a window asks of the controllers."""
        match request:
            case Choose(controller, seat):
                self._fill(seat, (PartOf(controller),) if controller else (), now)
            case Fill(seat, parts):
                self._fill(seat, parts, now)
            case Steer(control, x, y, seat):
                pad = self.rack.simulated(seat, control)
                if control.startswith(RAW_INPUT) and self.lessons.in_hand is not None:
                    pad = self.lessons.in_hand
                if pad is not None:
                    pad.steer(control, x, y, now)
                    self.play(NOTHING, now)
                    self.follow(NOTHING, now)
            case Play(script):
                self._play(script, now)
            case Reread():
                self._reread(outlet, now)
            case Teach(controller, shape):
                self._teach(controller, shape, now)
            case Teaching():
                self.lessons.act(request, now)
                self.follow_seats(now)
            case Show(controller, colour):
                self.effects.show(controller, colour, now)
            case never:
                assert_never(never)

    def _fill(self, seat: str, parts: tuple[PartOf, ...], now: Micros) -> None:
        self.rack.fill(seat, parts, now)
        self.follow_seats(now)

    def _play(self, script: str, now: Micros) -> None:
        pad = self.pad
        if pad is None:
            return
        try:
            if script:
                pad.play(read_script(demo_folder() / f"{script}.player.json"), now)
            else:
                pad.let_go(now)
        except NubShiftError as error:
            self._tell("error", f"{error}.")
        self.session.reports(pad.read(now), now)

    def _reread(self, outlet: Outlet, now: Micros) -> None:
        """What is stored of controllers has changed."""
        stored = read_stored()
        for trouble in stored.troubles:
            self._tell("warning", trouble)
        self.rack.relearn(stored, now)
        outlet.find_better(now)
        self.follow_seats(now)

    def _teach(self, controller: str, shape: str, now: Micros) -> None:
        """Begin a lesson; what the controller held is let go of."""
        if not self.lessons.begin(controller, shape, now):
            self._tell("warning", _("This controller can't be set up: it is not connected, or all of it is known."))
            return
        for seat, parts in self.rack.seats.items():
            if any(part.controller == controller for part in parts):
                resting = [(name, 0.0, 0.0) for name, _unused, _unused in self.rack.state_of(seat)]
                self.session.reports([(now, tuple(resting))], now, seat)

    def let_go(self, now: Micros) -> None:
        """The window is gone: what it steered is at rest."""
        pad = self.rack.simulated(FIRST)
        if pad is not None:
            pad.watch("", now)
            pad.let_go(now)
            self.session.reports(pad.read(now), now)
