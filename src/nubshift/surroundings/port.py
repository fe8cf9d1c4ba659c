"""What every way of looking around tells."""

from __future__ import annotations

from typing import Protocol

import msgspec

from nubshift.model.programs import SeenProgram


class Surroundings(msgspec.Struct, frozen=True):
    """What is seen now. `front` is the program whose window has the focus, None where none has it or none can be told;
    `sees_focus` says which of the two. `running` has the programs of this user, one for each window of those that have
    any. `recent` are those that had the focus, the newest first. `family` are the processes of a game that was started
    with its profile. `games` are the processes that a service of the system knows as games."""

    front: SeenProgram | None = None
    sees_focus: bool = False
    running: tuple[SeenProgram, ...] = ()
    recent: tuple[SeenProgram, ...] = ()
    family: frozenset[int] = frozenset()
    games: frozenset[int] = frozenset()


class SeenWindow(msgspec.Struct, frozen=True):
    """A window: `pid` of its program (0 where nobody says), its class and title, and whether it fills the screen."""

    handle: int
    pid: int = 0
    group: str = ""
    title: str = ""
    full_screen: bool = False


class WindowSource(Protocol):
    """Tells which windows there are, and which has the focus. `how` it does, in a part of a sentence; `sees_all`: also
    those of programs that are no X programs; `names_processes`: it says whose each is."""

    how: str
    sees_all: bool
    names_processes: bool

    def filenos(self) -> tuple[int, ...]:
        """Readable when something may have changed."""

    def changed(self) -> bool:
        """Take in what came; whether anything that is told here is another one. Raises OSError when it is gone."""

    def windows(self) -> tuple[SeenWindow, ...]:
        """All windows that a taskbar would show."""

    def front(self) -> SeenWindow | None:
        """The one that has the focus."""

    def close(self) -> None:
        """Let go of it."""
