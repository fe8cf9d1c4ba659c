"""The controllers that are open: each with its calibration and its light, kept from the game or not."""

from __future__ import annotations

from collections.abc import Callable, ItemsView, Sequence, Set

from nubshift.devices.health import Lights
from nubshift.devices.kernel import EvdevSource
from nubshift.devices.port import Source
from nubshift.errors import NubShiftError
from nubshift.model.controller_info import ControllerInfo
from nubshift.runner.build import open_without_device
from nubshift.runner.grabbing import Grabbing
from nubshift.runner.inventory import Inventory
from nubshift.runner.opened import Opened
from nubshift.runner.stored import StoredControllers
from nubshift.runner.waiting import NOTHING
from nubshift.texts import _
from nubshift.units import Micros


def id_of(spec: str) -> str:
    """The id of the controller that a name of a source means: that of a simulated one is without its player."""
    kind, _unused, rest = spec.partition(":")
    return f"sim:{rest.partition(':')[0] or 'moss'}" if kind == "sim" else spec


class OpenControllers:
    """By id. `stored` is what is stored of single pieces. `tell` receives (severity, sentence) for the player."""

    def __init__(self, inventory: Inventory, stored: StoredControllers, tell: Callable[[str, str], None]) -> None:
        self._inventory = inventory
        self.stored = stored
        self._tell = tell
        self._opened: dict[str, Opened] = {}
        self._needed: Set[str] | None = None
        self._dark: set[str] = set()
        self.nodes: tuple[int, ...] = ()
        """The descriptors of all; they change only with what is open."""
        self.timed: tuple[tuple[str, Opened], ...] = ()
        """Those that have no descriptor to say when they report."""
        self._by_node: dict[int, tuple[str, Opened]] = {}
        self._only: tuple[str, Opened] | None = None
        """The one that is open, if there is just one and it has descriptors."""
        self.grabbing = Grabbing(tell)

    def __contains__(self, id_: str) -> bool:
        return id_ in self._opened

    def __getitem__(self, id_: str) -> Opened:
        return self._opened[id_]

    def items(self) -> ItemsView[str, Opened]:
        """All with their ids."""
        return self._opened.items()

    @property
    def infos(self) -> dict[str, ControllerInfo]:
        """What each is."""
        return {id_: opened.source.info for id_, opened in self._opened.items()}

    @property
    def reports(self) -> dict[str, int]:
        """How many reports came of each controller since it is open."""
        return {id_: opened.reports for id_, opened in self._opened.items()}

    @property
    def report_times(self) -> dict[str, Sequence[Micros]]:
        """When the last reports of each controller were."""
        return {id_: opened.times for id_, opened in self._opened.items()}

    @property
    def dropped(self) -> dict[str, int]:
        """How often the kernel lost events of each controller since it is open."""
        return {id_: opened.source.dropped for id_, opened in self._opened.items()}

    def open(self, spec: str, now: Micros) -> bool:
        """Open what a name of a source means, if it can be had and is not open yet; whether it is open now."""
        if spec in self._opened or id_of(spec) in self._opened:
            return True
        there = self._inventory
        try:
            if spec in there.devices:
                if there.is_awaited(there.devices[spec]):
                    return False
                source: Source = EvdevSource(
                    there.devices[spec], there.mapped[spec], there.infos[spec], there.hardware.opening
                )
            else:
                source = open_without_device(spec, now, self.stored.mappings)
        except NubShiftError as error:
            self._tell("error", f"{error}.")
            return False
        opened = self._opened[source.info.id] = Opened(source, Lights(source.info.lights))
        source.need(self._needed)
        self._changed()
        self._own(opened)
        self.grabbing.take(opened, now)
        return True

    def _changed(self) -> None:
        self._by_node = {node: pair for pair in self._opened.items() for node in pair[1].source.filenos()}
        self.nodes = tuple(self._by_node)
        self.timed = tuple(pair for pair in self._opened.items() if not pair[1].source.filenos())
        self._only = next(iter(self._opened.items())) if len(self._opened) == 1 and not self.timed else None

    def need(self, controls: Set[str] | None) -> None:
        """Read only what these controls need, from now on; None for everything."""
        self._needed = controls
        changed = False
        for opened in self._opened.values():
            changed = opened.source.need(controls) or changed
        if changed:
            self._changed()

    def due(self, ready: Set[int], now: Micros) -> list[tuple[str, Opened, Set[int]]]:
        """Those that have something to report: of the nodes that are `ready`, or because it is time."""
        if self._only is not None:  # as it is most of the time
            return [(*self._only, ready)] if ready else []
        nodes: dict[str, set[int]] = {}
        for node in ready:
            if node in self._by_node:
                nodes.setdefault(self._by_node[node][0], set()).add(node)
        found: list[tuple[str, Opened, Set[int]]] = [(id_, self._opened[id_], some) for id_, some in nodes.items()]
        for id_, opened in self.timed:
            due = opened.source.next_deadline
            if due is not None and due <= now:
                found.append((id_, opened, NOTHING))
        return found

    def close(self, id_: str) -> None:
        """Let go of one; its light is as it was found."""
        opened = self._opened.pop(id_, None)
        if opened is not None:
            opened.lights.give_back()
            opened.source.close()
            self._changed()

    def close_all_but(self, needed: set[str]) -> None:
        """Let go of all others."""
        for id_ in [id_ for id_ in self._opened if id_ not in needed]:
            self.close(id_)

    def relearn(self) -> None:
        """What is stored of single pieces has changed."""
        for opened in self._opened.values():
            self._own(opened)

    def _own(self, opened: Opened) -> None:
        """What is stored of a single piece: its calibration and its light."""
        own = self.stored.controllers.of(opened.source.info.key)
        opened.calibration = own.calibration
        if own.light:
            opened.lights.show(own.light)

    def grab(self, on: bool, now: Micros) -> None:
        """Keep the controllers in use from other programs, or give them back."""
        self.grabbing.want(on, self._opened.values(), now)

    def follow_time(self, now: Micros) -> None:
        """Look again at what could not be kept to ourselves yet."""
        self.grabbing.follow_time(self._opened.values(), now)

    def light(self, id_: str, colour: str) -> None:
        """Let one shine in a colour; an empty one gives the light back."""
        opened = self._opened[id_]
        if colour:
            self._show(opened, colour)
        elif self.stored.controllers.of(opened.source.info.key).light:
            self._own(opened)
        else:
            opened.lights.give_back()

    def _show(self, opened: Opened, colour: str) -> None:
        """Set the light; where there is one that we may not set, that is told once."""
        name = opened.source.info.name
        if not opened.lights.show(colour) and opened.lights.has_colour and name not in self._dark:
            self._dark.add(name)
            self._tell(
                "info",
                _("{name} has a light, but you have no permission to set it. The doctor tells what to do.").format(
                    name=name
                ),
            )
