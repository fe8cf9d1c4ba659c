"""What commands ask of the runner that is at work: ``nubshift status``, ``pause``, ``use`` and their like."""

from __future__ import annotations

from collections.abc import Callable

from nubshift.errors import ProtocolError
from nubshift.protocol.messages import (
    Ask,
    Done,
    Ended,
    Health,
    Keep,
    Launch,
    Programs,
    Quit,
    Reply,
    Request,
    SetLive,
    Status,
    Stop,
)
from nubshift.runner.automatic import AutomaticProfile
from nubshift.runner.server import Client
from nubshift.runner.session import Session
from nubshift.texts import _
from nubshift.units import Micros


class Commands:
    """Answers commands. `status` tells what is live, `set_live` sends or pauses, `tell_window` reaches the window,
    `health` tells how play goes."""

    def __init__(
        self,
        session: Session,
        automatic: AutomaticProfile,
        status: Callable[[], Status],
        set_live: Callable[[bool, Micros], None],
        tell_window: Callable[[Reply], None],
        health: Callable[[Micros], Health],
    ) -> None:
        self._session, self._automatic = session, automatic
        self._status, self._set_live, self._tell_window, self._health = status, set_live, tell_window, health
        self._launcher: Client | None = None
        self.over = False

    def answer(self, request: Ask, now: Micros) -> Reply:
        """What a command or a window asks."""
        match request.what:
            case "status":
                return self._status()
            case "health":
                return self._health(now)
            case "programs":
                return programs(self._automatic)

    def do(self, request: Request, client: Client, now: Micros) -> Reply:
        """Do what was asked; the answer. Raises SinkError, and ProtocolError for what is no command's to ask."""
        match request:
            case Ask():
                return self.answer(request, now)
            case SetLive(on):
                self._set_live(on, now)
            case Stop():
                self._session.stop(now, by_player=True)
            case Keep(profile):
                return Done(self._automatic.keep(profile, now))
            case Launch(profile, pid):
                return Done(self._launch(profile, pid, client, now))
            case Quit():
                self.over = True
                self._tell_window(Ended())
            case _:
                raise ProtocolError(_("a command can't ask that"))
        return Done()

    def _launch(self, profile: str, pid: int, client: Client, now: Micros) -> str:
        if self._launcher is not None and self._launcher is not client:
            state = self._automatic.launched
            return _(
                "a game started with {name} is still running (process {pid}), and only one can be at a time"
            ).format(name=state.profile or "auto", pid=state.pid)
        self._launcher = client
        self._automatic.launch(profile, pid, now)
        return ""

    def gone(self, client: Client, now: Micros) -> None:
        """Somebody went: a game that it started has ended. Raises SinkError."""
        if client is self._launcher:
            self._launcher = None
            self._automatic.launch(None, 0, now)


def programs(automatic: AutomaticProfile) -> Programs:
    """What had the focus lately, and what runs."""
    around = automatic.around
    return Programs(around.recent, around.running, around.sees_focus)
