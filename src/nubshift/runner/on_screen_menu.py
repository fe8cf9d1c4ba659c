"""The menu on the screen as the runner knows it: who works it, and what the controls mean (contract R19, need N61).

The app draws it and does what is chosen; without an app there is none. Whatever becomes of the app, the controls that
open the menu also end it.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence

from nubshift.events import Report
from nubshift.protocol.messages import MenuDoes, Reply
from nubshift.runner.held_together import HeldTogether
from nubshift.runner.menu_acts import MenuActs
from nubshift.runner.rack import Rack
from nubshift.runner.session import Session, earliest
from nubshift.units import Micros


class OnScreenMenu:
    """`there`: an app can show it. `seat` is whose controls are captured for it, empty while it is closed.

    Raises SinkError wherever controls are captured or given back.
    """

    def __init__(self, session: Session, rack: Rack, reply: Callable[[Reply], None]) -> None:
        self._session, self._rack, self._reply = session, rack, reply
        self.controls = HeldTogether()
        self.there = False
        self.seat = ""
        self._acts = MenuActs(())

    @property
    def next_deadline(self) -> Micros | None:
        """When `step` has something to do."""
        return earliest(self.controls.next_deadline, self._acts.next_deadline if self.seat else None)

    def saw(self, reports: Sequence[Report]) -> None:
        """Take in what was reported."""
        self.controls.saw(reports)
        if self.seat:
            for report in reports:
                if report.seat == self.seat:
                    self._tell(self._acts.take(report.changes, report.t))

    def step(self, now: Micros) -> bool:
        """Open or close the menu if its controls were held long enough; whether one of that happened."""
        seat = self.controls.fires(now)
        if seat and self.there:
            if self.seat:
                self.close(now)
            else:
                self._open(seat, now)
            return True
        if self.seat:
            self._tell(self._acts.repeat(now))
        return False

    def _tell(self, acts: Iterable[str]) -> None:
        for act in acts:
            self._reply(MenuDoes(act, self.seat))

    def _open(self, seat: str, now: Micros) -> None:
        self.seat = seat
        self._acts = MenuActs(self._rack.state_of(seat))
        self._session.capture(seat, now)
        self._tell(("open",))

    def close(self, now: Micros) -> None:
        """The controls are played with again, as they stand."""
        if self.seat:
            self._tell(("close",))
            seat, self.seat = self.seat, ""
            self._session.give_back(seat, self._rack.state_of(seat), now)
