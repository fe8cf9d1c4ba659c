"""What is offered when controllers come: to join the halves of a pair, and to play on with one that is back (N05)."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from nubshift.app.controllers.store import ControllerStore
from nubshift.model.controller_info import ControllerInfo
from nubshift.model.sharing import other_half
from nubshift.model.stored_controllers import PartOf
from nubshift.protocol.messages import Status
from nubshift.texts import _, listed

Offer = Callable[[str, str, str, Callable[[], None]], None]


class Coming:
    """Follows who comes and goes. `offer` shows a sentence with a button: severity, text, label, what it does."""

    def __init__(self, store: ControllerStore, offer: Offer) -> None:
        self._store, self._offer = store, offer
        self._there: dict[str, ControllerInfo] = {}
        self._sat: dict[str, str] = {}
        self._pairs: set[frozenset[str]] = set()

    def follow(self, status: Status) -> None:
        """Another state of things."""
        there = {info.key: info for info in status.controllers if not info.trouble}
        by_id = {info.id: info for info in status.controllers}
        playing = {
            by_id[part.controller].key: seat
            for seat, parts in status.fills.items()
            for part in parts
            if part.controller in by_id
        }
        came = [info for key, info in there.items() if key not in self._there]
        self._there = there
        for info in came:
            if info.half:
                self._offer_pair(info, there, status)
            elif not info.simulated and info.key not in playing and info.key in self._sat:
                self._offer_seat(info, self._sat[info.key], status, by_id)
        self._sat |= playing

    def _offer_pair(self, info: ControllerInfo, there: dict[str, ControllerInfo], status: Status) -> None:
        other = other_half(info, there.values())
        if other is None or frozenset((info.key, other.key)) in self._pairs:
            return
        self._pairs.add(frozenset((info.key, other.key)))
        both = {info.id, other.id}
        if any(both <= {part.controller for part in parts} for parts in status.fills.values()):
            return
        seat = next((seat for seat, parts in status.fills.items() if {p.controller for p in parts} & both), "1")
        text = _("{name} and {name_2} are the two halves of one controller.").format(
            name=self._store.name(info), name_2=self._store.name(other)
        )
        self._offer("info", text, _("Join"), partial(self._store.join_pair, seat, info, other))

    def _offer_seat(self, info: ControllerInfo, seat: str, status: Status, by_id: dict[str, ControllerInfo]) -> None:
        parts = status.fills.get(seat, ())
        others = [self._store.name(by_id[part.controller]) for part in parts if part.controller in by_id]
        if not others:
            return
        name = self._store.name(info)
        text = _("{name} is connected again, but seat {seat} now uses {others}.").format(
            name=name, seat=seat, others=listed(others)
        )
        self._offer("info", text, f"Use {name}", partial(self._store.fill, seat, (PartOf(info.key),)))
