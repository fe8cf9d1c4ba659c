"""Which controllers are open, and what of each fills which seat (needs N01, N05)."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence, Set
from operator import attrgetter
from typing import Final

from nubshift.devices.discovery import Hardware
from nubshift.devices.kernel import EvdevSource
from nubshift.devices.port import Source
from nubshift.devices.simulated import PADS, SimulatedPad, pad_info
from nubshift.devices.simulated_hardware import HARDWARE, SimulatedHardware, hardware_info
from nubshift.engine.seating import Filling, Seating
from nubshift.errors import SourceGone
from nubshift.events import Change, Report
from nubshift.model.controller_info import ControllerInfo
from nubshift.model.stored_controllers import PartOf
from nubshift.records import Record
from nubshift.runner.inventory import Inventory
from nubshift.runner.open_controllers import OpenControllers, id_of
from nubshift.runner.session import earliest
from nubshift.runner.stored import StoredControllers
from nubshift.runner.wanted import AUTO, Wanted
from nubshift.texts import _
from nubshift.units import Micros

_time: Final = attrgetter("t")
Simulated = SimulatedPad | SimulatedHardware


class Turnover(Record, frozen=True):
    """What became of a seat: who left it, whether anybody is there now, and why in a sentence."""

    seat: str
    left: tuple[ControllerInfo, ...] = ()
    came: tuple[ControllerInfo, ...] = ()
    why: str = ""


def _simulated(stored: StoredControllers) -> list[ControllerInfo]:
    """Every simulated controller."""
    return [*(pad_info(name) for name in PADS), *(hardware_info(name, stored.mappings) for name in HARDWARE)]


class Rack:
    """All controllers. `wanted` has for each seat what may fill it, the first that can be had counts.

    ``auto`` stands for any real controller that is in no other seat, the one that has been there longest first. `tell`
    receives (severity, sentence) for the player. What changes in the seats is gathered until `turnovers` takes it.
    `opened` are all that are open, with what they reported so far.
    """

    def __init__(
        self,
        wanted: Mapping[str, Sequence[str]],
        tell: Callable[[str, str], None],
        now: Micros,
        stored: StoredControllers,
        hardware: Hardware | None = None,
    ) -> None:
        self.stored = stored
        self._settled = 0
        self._wanted = Wanted(wanted, stored.controllers.seats)
        self._later: list[Report] = []
        self._resting = False
        self._held_open: set[str] = set()
        self._fillings: dict[str, tuple[Filling, ...]] = {}
        self._seating = Seating(())
        self.turned: list[Turnover] = []
        """What `turnovers` has to tell."""
        self._ever: set[str] = set()
        self._was_open: dict[str, ControllerInfo] = {}
        simulated = [spec.startswith(("sim:", "take:")) for spec in self._wanted.specs]
        self.inventory = Inventory(not simulated or not all(simulated), stored, tell, now, hardware)
        self.opened = OpenControllers(self.inventory, stored, tell)
        self._settle(now)

    # What there is

    @property
    def known(self) -> tuple[ControllerInfo, ...]:
        """Every controller that could be chosen: real ones, then simulated ones where they were asked for."""
        wanted = any(spec.startswith("sim:") for spec in self._wanted.specs)
        return (*self.inventory.controllers, *(_simulated(self.stored) if wanted else ()))

    @property
    def unfilled(self) -> tuple[str, ...]:
        """The sources asked for by name in seats of which nothing ever could be had."""
        return self._wanted.unfilled(self._ever)

    @property
    def generation(self) -> int:
        """Counts the changes of what is known and of who is where."""
        return self.inventory.generation + self._settled

    def relearn(self, stored: StoredControllers, now: Micros) -> None:
        """What is kept of controllers has changed: read them all by it."""
        before = self.stored
        self.stored = stored
        self.inventory.map_device(stored)
        self.opened.stored = stored
        if before.mappings != stored.mappings:
            self.opened.close_all_but(set())
        self._settle(now, anew=before.mappings != stored.mappings)
        self.opened.relearn()

    # Who is where

    def controller_of(self, seat: str) -> ControllerInfo | None:
        """The first controller that fills a seat."""
        fillings = self._fillings.get(seat, ())
        return self.opened[fillings[0].device].source.info if fillings else None

    @property
    def seats(self) -> dict[str, tuple[PartOf, ...]]:
        """What fills each seat now; ids stand for the controllers."""
        return {
            seat: tuple(
                PartOf(f.device, tuple(sorted(f.controls)) if f.controls is not None else None, f.names, f.motion)
                for f in fillings
            )
            for seat, fillings in self._fillings.items()
        }

    def simulated(self, seat: str, control: str = "") -> Simulated | None:
        """The simulated controller in a seat: the one that has a control there, else the first."""
        found = [
            (filling, source)
            for filling in self._fillings.get(seat, ())
            if isinstance(source := self.opened[filling.device].source, SimulatedPad | SimulatedHardware)
        ]
        having = [source for filling, source in found if filling.has(control) and control in source.info.controls]
        return having[0] if having else found[0][1] if found else None

    def source(self, id_: str) -> Source | None:
        """The open source of a controller."""
        return self.opened[id_].source if id_ in self.opened else None

    def fill(self, seat: str, parts: tuple[PartOf, ...], now: Micros) -> None:
        """Let these fill a seat from now on, as long as they are there; none empties it (never the first one)."""
        self._wanted.fill(seat, parts)
        self._settle(now)

    def rest(self, on: bool, now: Micros) -> None:
        """Let go of all controllers, since it is another user's turn with them; or take them up again."""
        if on != self._resting:
            self._resting = on
            self._settle(now)

    def need(self, controls: Set[str] | None) -> None:
        """Read only what these controls need, from now on; None for everything."""
        self.opened.need(controls)

    def hold_open(self, id_: str, on: bool, now: Micros) -> None:
        """Keep a controller open for teaching, or no longer."""
        (self._held_open.add if on else self._held_open.discard)(id_)
        self._settle(now)

    def turnovers(self) -> list[Turnover]:
        """What became of the seats since this was asked last."""
        found, self.turned = self.turned, []
        return found

    def state_of(self, seat: str) -> tuple[Change, ...]:
        """How everything in a seat stands."""
        found: dict[str, Change] = {}
        for filling in self._fillings.get(seat, ()):
            opened = self.opened[filling.device]
            try:
                for change in filling.take(opened.corrected(opened.source.state())):
                    found[change[0]] = change
            except SourceGone:
                continue
        return tuple(found.values())

    def _settle(self, now: Micros, *, anew: bool = False) -> None:
        """Fill every seat with the first that is wanted and can be had, and open just what is needed."""
        self._settled += 1
        taken: set[str] = set()
        chosen: dict[str, tuple[Filling, ...]] = {}
        explicit = self._wanted.explicit()
        for seat, alternatives in () if self._resting else self._wanted.seats.items():
            for parts in alternatives:
                asked_for = self._ids(explicit) if parts[0].controller == AUTO else set()
                fillings = self._try(seat, parts, taken | asked_for, now)
                if fillings:
                    chosen[seat] = fillings
                    taken |= {filling.device for filling in fillings}
                    break
        for id_ in () if self._resting else self._held_open:
            self.opened.open(id_, now)
        before, self._fillings = self._fillings, chosen
        self._ever |= chosen.keys()
        infos = self.opened.infos
        self._seating = Seating(filling for fillings in chosen.values() for filling in fillings)
        for seat in dict.fromkeys([*before, *chosen]):
            old, new = before.get(seat, ()), chosen.get(seat, ())
            if old == new and not anew:
                continue
            gone = tuple(self._was_open[f.device] for f in old)
            self.turned.append(Turnover(seat, gone, tuple(infos[f.device] for f in new)))
        needed = {filling.device for fillings in chosen.values() for filling in fillings} | self._held_open
        self.opened.close_all_but(needed)
        self._was_open = infos
        for number, fillings in enumerate(chosen.values(), 1):
            for filling in fillings:
                self.opened[filling.device].lights.count(number)

    def _ids(self, specs: set[str]) -> set[str]:
        """The real controllers that other seats ask for by name."""
        return {id_ for id_, info in self.inventory.infos.items() if {info.id, info.key} & specs}

    def _try(self, seat: str, parts: tuple[PartOf, ...], taken: set[str], now: Micros) -> tuple[Filling, ...]:
        """Those of the parts that can be had."""
        found = []
        for part in parts:
            for id_ in self._wanted.candidates(seat, part, taken, self.inventory):
                if self.opened.open(id_, now):
                    real = id_ if id_ in self.opened else id_of(id_)
                    self._wanted.mean(seat, part.controller, self.opened[real].source.info.key)
                    controls = frozenset(part.controls) if part.controls is not None else None
                    found.append(Filling(seat, real, controls, part.names, part.motion))
                    break
        return tuple(found)

    # Reading

    @property
    def next_deadline(self) -> Micros | None:
        """When `read` or `follow_time` has something to do."""
        return earliest(self.inventory.next_deadline, self.opened.grabbing.next_deadline, self.next_report)

    @property
    def next_report(self) -> Micros | None:
        """When a source has something to report without a descriptor saying so."""
        due = self._later[0].t if self._later else None
        for _unused, opened in self.opened.timed:
            due = earliest(due, opened.source.next_deadline)
        return due

    def read(self, ready: Set[int], now: Micros, mute: str = "") -> list[Report]:
        """What was reported in all seats, in the order of time. Of the controller `mute`, being set up, nothing counts.

        Every node in `ready` is read until it would block, and what happened after `now`, while they were read, is kept
        for the next time: so no report is made late by another node's (R1).
        """
        found, self._later = self._later, []
        for id_, opened, nodes in self.opened.due(ready, now):
            try:
                reports = opened.source.read(now, nodes)
            except SourceGone as error:
                self._gone(id_, f"{error}", now)
                continue
            if id_ == mute:
                continue
            opened.reports += len(reports)
            for t, _changes in reports:
                opened.times.append(t)
            if opened.calibration:
                reports = [(t, opened.corrected(changes)) for t, changes in reports]
            found += self._seating.reports(id_, reports)
        if len(found) > 1:
            found.sort(key=_time)
        if found and found[-1].t > now:
            self._later = [report for report in found if report.t > now]
            found = found[: -len(self._later)]
        return found

    def _gone(self, id_: str, why: str, now: Micros) -> None:
        """A controller was pulled out: what it held is let go of, and the seats are filled with what there is."""
        self.opened.close(id_)
        self.inventory.forget(id_)
        place = len(self.turned)
        self._settle(now)
        self.turned[place:] = [
            Turnover(turn.seat, turn.left, turn.came, why) if any(i.id == id_ for i in turn.left) else turn
            for turn in self.turned[place:]
        ]

    def hotplug(self, now: Micros) -> None:
        """Take in what came and went."""
        monitor = self.inventory.monitor
        changes = monitor.read() if monitor is not None else []
        for change in changes:
            gone = self.inventory.take(change, now)
            if gone in self.opened:
                self._gone(gone, _("{name} was unplugged").format(name=self.opened[gone].source.info.name), now)
        if changes:
            self._grown(now)

    def _grown(self, now: Micros) -> None:
        """Read the devices anew; one in use that has more nodes now, or is better understood, is opened anew."""
        self.inventory.map_device()
        devices = self.inventory.devices
        changed = False
        for id_, opened in list(self.opened.items()):
            source = opened.source
            if isinstance(source, EvdevSource) and id_ in devices:
                ours = {(node.path, node.trouble) for node in source.device.nodes}
                there = {(node.path, node.trouble) for node in devices[id_].nodes}
                if there != ours or self.inventory.mapped[id_].inputs != source.mapping.inputs:
                    self.opened.close(id_)
                    changed = True
        self._settle(now, anew=changed)

    def follow_time(self, now: Micros) -> None:
        """Look again at what could not be opened or kept to ourselves yet, and at the batteries."""
        self.opened.follow_time(now)
        if self.inventory.retry(now):
            self._grown(now)
        self.inventory.look_at_batteries(now)

    # Grabbing, rumbling, light

    def grab(self, on: bool, now: Micros) -> None:
        """Keep the controllers in use from other programs, or give them back. Nothing is done where that is so."""
        self.opened.grab(on, now)

    def rumble(self, seat: str, strength: float) -> None:
        """Let what fills a seat rumble, or end it."""
        for filling in self._fillings.get(seat, ()):
            self.opened[filling.device].source.rumble(strength)

    def light(self, seat: str, colour: str) -> None:
        """Let what fills a seat shine in a colour; an empty one gives the light back."""
        for filling in self._fillings.get(seat, ()):
            self.opened.light(filling.device, colour)

    def close(self) -> None:
        """Let go of everything; lights are as they were found."""
        self.opened.close_all_but(set())
