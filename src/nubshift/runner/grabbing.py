"""Keeping controllers from the game: taken while nothing on them is down, tried again for as long as it is wanted."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from nubshift.errors import SourceError, SourceGone
from nubshift.runner.opened import Opened
from nubshift.texts import _
from nubshift.units import SECOND, Micros

GRAB_AGAIN: Micros = SECOND
"""How long after a controller could not be kept to ourselves that is tried again."""
GRAB_SOON: Micros = SECOND // 20
GRAB_AT_LAST: Micros = 3 * SECOND
"""A controller is taken from other programs while nothing on it is down, else they would never hear of the release. One
on which something stays down is taken after this long."""


class Grabbing:
    """`hides` says whether controllers are to be kept from other programs. `tell` receives (severity, sentence)."""

    def __init__(self, tell: Callable[[str, str], None]) -> None:
        self._tell = tell
        self.hides = False
        self.next_deadline: Micros | None = None

    def want(self, on: bool, all_: Iterable[Opened], now: Micros) -> None:
        """Keep the controllers in use from other programs, or give them back. Nothing is done where that is so."""
        self.hides = on
        for opened in all_:
            if opened.grabbed != on and not opened.refusal and opened.waiting is None:
                self.take(opened, now)
            elif not on:
                opened.waiting, opened.refusal = None, ""

    def follow_time(self, all_: Iterable[Opened], now: Micros) -> None:
        """Try those again that could not be taken yet."""
        if self.next_deadline is None or self.next_deadline > now:
            return
        self.next_deadline = None
        for opened in all_:
            if (opened.refusal or opened.waiting is not None) and self.hides:
                self.take(opened, now)

    def take(self, opened: Opened, now: Micros) -> None:
        """Told once for each cause; tried again for as long as it is wanted."""
        if self.hides and opened.is_down:
            opened.waiting = now if opened.waiting is None else opened.waiting
            if now - opened.waiting < GRAB_AT_LAST:
                self.next_deadline = now + GRAB_SOON
                return
            self._tell(
                "warning",
                _(
                    "{name} was hidden from the game while something on it was pressed. A program that was "
                    "reading it may see that as pressed until you press it again while paused."
                ).format(name=opened.source.info.name),
            )
        opened.waiting = None
        try:
            opened.source.grab(self.hides)
            opened.grabbed, opened.refusal = self.hides, ""
        except SourceGone:
            opened.refusal = ""
        except SourceError as error:
            if opened.refusal != str(error):
                self._tell("warning", f"{error}.")
            opened.refusal = str(error)
            self.next_deadline = now + GRAB_AGAIN
