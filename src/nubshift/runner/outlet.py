"""The way out: which sink a session sends through; found again when lost, changed when a better one is there."""

from __future__ import annotations

from collections.abc import Callable

from nubshift.errors import SinkError
from nubshift.runner.build import NOWHERE, UINPUT_SINK, Chosen, nowhere, open_sink, uinput_trouble
from nubshift.runner.flat import ask_for_flat
from nubshift.runner.session import Session
from nubshift.texts import _
from nubshift.units import Micros


class Outlet:
    """Keeps a session's sink. `wanted` is as on the command line; `reason` says why it is the present one.

    `tell` receives (severity, sentence) for the player.
    """

    def __init__(self, session: Session, chosen: Chosen, wanted: str, tell: Callable[[str, str], None]) -> None:
        self._session = session
        self._wanted = wanted
        self._tell = tell
        self.reason = chosen.reason
        self._came()

    def lost(self, error: SinkError, now: Micros) -> None:
        """Nothing can be sent any more: pause, so that nobody believes it is."""
        self._tell("error", _("Paused: {error}.").format(error=error))
        self._session.sink.close()
        self._put(nowhere(str(error)))
        self._session.set_live(False, now)

    def find_again(self) -> None:
        """Before going live: if nothing could be sent until now, see whether it can be by now."""
        if self._session.sink.name == NOWHERE:
            try:
                self._put(open_sink(self._wanted))
            except SinkError as error:
                self._tell("error", f"{error}.")

    def find_better(self, now: Micros) -> None:
        """If the virtual keyboard can be had by now, it takes the place of the way through the X server."""
        if self._wanted != "auto" or self._session.sink.name == UINPUT_SINK or uinput_trouble():
            return
        try:
            better = open_sink(UINPUT_SINK)
        except SinkError:
            return
        self._session.stop(now)
        self._session.sink.close()
        self._put(better)

    def _put(self, chosen: Chosen) -> None:
        self._session.sink = chosen.sink
        self._session.prepare()
        self.reason = chosen.reason
        self._came()

    def _came(self) -> None:
        """The virtual mouse is new to the desktop."""
        if self._session.sink.name == UINPUT_SINK:
            ask_for_flat()
