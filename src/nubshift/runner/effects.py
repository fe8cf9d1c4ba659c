"""What controllers do for the player beside reporting: rumble, shine, and show which one they are (need N08)."""

from __future__ import annotations

from typing import assert_never

from nubshift.events import Light, Rumble
from nubshift.runner.rack import Rack
from nubshift.runner.rumbling import Rumbling
from nubshift.runner.session import Session, earliest
from nubshift.units import MILLISECOND, SECOND, Micros

SHOWN_FOR: Micros = SECOND * 6 // 10
"""How long a controller rumbles and shines to show which one it is."""


class Effects:
    """Brings what profile, game and window want to the controllers of a rack."""

    def __init__(self, rack: Rack, session: Session) -> None:
        self._rack, self._session = rack, session
        self._rumbling = Rumbling()
        self._shown: tuple[str, Micros] | None = None
        self._light = ""

    @property
    def next_deadline(self) -> Micros | None:
        """When something ends by itself."""
        return earliest(self._shown[1] if self._shown is not None else None, self._rumbling.next_deadline)

    def follow_profile(self) -> None:
        """Another profile, or an edit of it: its light."""
        light = self._session.profile.game.light
        if light != self._light:
            self._light = light
            for seat in self._rack.seats:
                self._rack.light(seat, light)

    def came(self, seat: str) -> None:
        """A controller took a seat: it shines as the profile says."""
        if self._light:
            self._rack.light(seat, self._light)

    def show(self, controller: str, colour: str, now: Micros) -> None:
        """Let a controller show which one it is, for a moment."""
        self._end_show()
        self._shown = (controller, now + SHOWN_FOR)
        self._let(controller, colour, 1.0)

    def _end_show(self) -> None:
        if self._shown is not None:
            self._let(self._shown[0], self._light, 0.0)
            self._shown = None

    def _let(self, controller: str, colour: str, strength: float) -> None:
        source = self._rack.source(controller)
        if source is not None:
            source.rumble(strength)
        for seat, parts in self._rack.seats.items():
            if any(part.controller == controller for part in parts):
                self._rack.light(seat, colour)

    def step(self, now: Micros) -> None:
        """Do what the session wants by now."""
        session, game = self._session, self._session.profile.game
        for effect in session.take_effects():
            match effect:
                case Rumble():
                    self._rumbling.take(effect, now)
                case Light(_, seat, value):
                    self._rack.light(seat, value)
                case never:
                    assert_never(never)
        if not session.real:
            self._rumbling.stop()
        wanted = session.sink.rumble(now) if session.real else 0.0
        changes = self._rumbling.changes(wanted, game.rumble, game.rumble_cap * MILLISECOND, now)
        for seat, strength in changes.items():
            self._rack.rumble(seat, strength)
        if self._shown is not None and self._shown[1] <= now:
            self._end_show()
