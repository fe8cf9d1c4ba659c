"""Everything around play, from all that tells of it here: one picture, made anew when something changed."""

from __future__ import annotations

import os
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Literal, TypeAlias

from msgspec.structs import replace

from nubshift.model.programs import SeenProgram
from nubshift.surroundings.port import SeenWindow, Surroundings, WindowSource
from nubshift.surroundings.process_events import ProcessEvents
from nubshift.surroundings.processes import PROC, Processes, family_of
from nubshift.surroundings.windows import process_of

if TYPE_CHECKING:
    from nubshift.surroundings.game_mode import GameMode

RECENT = 20
"""Programs that are remembered as having had the focus."""

Heard: TypeAlias = Literal["", "programs", "windows"]
"""What word came of, the most urgent: nothing, programs that began or ended, or windows."""


class LookAround:
    """Sees programs, and windows where a source tells of them: it is looked for again and again, since a session may
    start its window manager later than this, or another one."""

    def __init__(
        self, find_windows: Callable[[], WindowSource | None], events: ProcessEvents | None, proc: Path = PROC
    ) -> None:
        self._find_windows, self._events = find_windows, events
        self._windows = find_windows()
        self._proc = proc
        self._own = {os.getpid()}
        self._head = 0
        self._processes = Processes(proc)
        self._recent: tuple[SeenProgram, ...] = ()
        self._games: GameMode | None = None

    def filenos(self) -> tuple[int, ...]:
        """Readable when something may have changed."""
        windows = self._windows.filenos() if self._windows is not None else ()
        others = (source.fileno() for source in (self._events, self._games) if source is not None)
        return (*windows, *others)

    @property
    def lacks_windows(self) -> bool:
        """Whether nobody tells of windows: there may be no session yet, or no longer."""
        return self._windows is None

    def find_windows(self) -> bool:
        """Look for one who does; whether there is one now that was not there before."""
        if self._windows is not None:
            return False
        self._windows = self._find_windows()
        return self._windows is not None

    @property
    def hears_starts(self) -> bool:
        """Whether word comes of programs that start, so that they need not be looked for."""
        return self._events is not None

    def hear_games(self, games: GameMode) -> None:
        """See also what this tells of."""
        self._games = games

    def want(self, marks: frozenset[str], head: int) -> None:
        """See these variables of programs' environments too, and what descends from the process `head` (0: none)."""
        self._processes.want_marks(marks)
        self._head = head

    def heard(self) -> Heard:
        """Take in what came, and say what it is about."""
        found: Heard = ""
        if self._events is not None:
            others, lost = self._events.take()
            self._processes.again(others)
            found = "programs" if others or lost else ""
        if self._games is not None:
            try:
                found = "windows" if self._games.changed() else found
            except OSError:
                self._games.close()
                self._games = None
        if self._windows is not None:
            try:
                found = "windows" if self._windows.changed() else found
            except OSError:
                self._lost_windows()
                found = "windows"
        return found

    def _lost_windows(self) -> None:
        if self._windows is not None:
            self._windows.close()
        self._windows = None

    def look(self) -> Surroundings:
        """What is seen now."""
        programs = self._processes.look()
        windows: tuple[SeenWindow, ...] = ()
        front: SeenWindow | None = None
        if self._windows is not None:
            try:
                windows, front = self._windows.windows(), self._windows.front()
            except OSError:
                self._lost_windows()
        named = {program.pid: program for program in programs}
        with_window = [self._with_window(window, named) for window in windows]
        there = {program.pid for program in with_window}
        running = (*with_window, *(program for program in programs if program.pid not in there))
        in_front = self._with_window(front, named) if front is not None else None
        if in_front is not None and in_front.pid in self._own:
            in_front = None
        self._remember(in_front)
        sees = self._windows is not None and (in_front is not None or self._windows.sees_all)
        return Surroundings(
            front=in_front,
            sees_focus=sees,
            running=tuple(program for program in running if program.pid not in self._own),
            recent=self._recent,
            family=family_of(self._head, self._proc) if self._head else frozenset(),
            games=self._games.games if self._games is not None else frozenset(),
        )

    def _with_window(self, window: SeenWindow, named: dict[int, SeenProgram]) -> SeenProgram:
        pid = window.pid or process_of(window.group, named.values())
        program = named.get(pid) or SeenProgram(pid)
        return replace(program, group=window.group, title=window.title, full_screen=window.full_screen)

    def _remember(self, front: SeenProgram | None) -> None:
        if front is None or (self._recent and self._recent[0] == front):
            return
        others = [seen for seen in self._recent if (seen.pid, seen.group) != (front.pid, front.group)]
        self._recent = (front, *others)[:RECENT]

    def close(self) -> None:
        """See no more."""
        for source in (self._windows, self._events, self._games):
            if source is not None:
                source.close()
