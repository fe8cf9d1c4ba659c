"""The best way that this session has to see its windows, and why it is this one."""

from __future__ import annotations

import contextlib
import os
from collections.abc import Iterable, Mapping

from msgspec.structs import replace

from nubshift.desktop.sway import socket_of_sway
from nubshift.desktop.wayland.finding import compositor
from nubshift.model.programs import SeenProgram
from nubshift.surroundings.port import SeenWindow, WindowSource
from nubshift.texts import _


class WithProcesses:
    """Windows of a source that doesn't say whose they are, with the processes of those that are X windows too."""

    def __init__(self, windows: WindowSource, x_windows: WindowSource) -> None:
        self._windows, self._x_windows = windows, x_windows
        self.how, self.sees_all, self.names_processes = windows.how, windows.sees_all, False

    def filenos(self) -> tuple[int, ...]:
        """Readable when something may have changed."""
        return (*self._windows.filenos(), *self._x_windows.filenos())

    def changed(self) -> bool:
        """Take in what came. Raises OSError when either of them is gone."""
        there, in_x = self._windows.changed(), self._x_windows.changed()
        return there or in_x

    def windows(self) -> tuple[SeenWindow, ...]:
        """All of them."""
        named = self._named(self._x_windows.windows())
        return tuple(_with_process(window, named) for window in self._windows.windows())

    def front(self) -> SeenWindow | None:
        """The one with the focus."""
        front, in_x = self._windows.front(), self._x_windows.front()
        named = self._named(self._x_windows.windows()) | (self._named([in_x]) if in_x is not None else {})
        return _with_process(front, named) if front is not None else None

    @staticmethod
    def _named(windows: Iterable[SeenWindow]) -> dict[tuple[str, str], int]:
        return {(window.group, window.title): window.pid for window in windows}

    def close(self) -> None:
        """Let go of both."""
        self._windows.close()
        self._x_windows.close()


def _with_process(window: SeenWindow, named: Mapping[tuple[str, str], int]) -> SeenWindow:
    return window if window.pid else replace(window, pid=named.get((window.group, window.title), 0))


def process_of(group: str, programs: Iterable[SeenProgram]) -> int:
    """The process of a window of which only the application id is known: the one program that calls itself so, 0 if
    there is none or more than one."""
    wanted = group.lower()
    short = wanted.rpartition(".")[2]
    names = {wanted, short}
    found = [
        program.pid
        for program in programs
        if wanted in (program.app.lower(), program.app.lower().removesuffix(".desktop"))
        or program.path.rpartition("/")[2].lower() in names
        or program.windows_program.rpartition("\\")[2].lower() in names
    ]
    return found[0] if len(found) == 1 and wanted else 0


def find_windows(environment: Mapping[str, str] = os.environ) -> WindowSource | None:
    """The best source of windows; None where nobody tells of any."""
    in_x = _of_x(environment, sees_all=True)
    address = compositor(environment)
    if not address:
        return in_x
    with contextlib.suppress(OSError):
        if in_sway := socket_of_sway(environment):
            from nubshift.surroundings.sway_windows import SwayWindows

            found: WindowSource = SwayWindows(in_sway)
            if in_x is not None:
                in_x.close()
            return found
    with contextlib.suppress(OSError):
        if environment.get("DBUS_SESSION_BUS_ADDRESS"):
            from nubshift.surroundings.kwin_windows import KWinWindows

            in_kwin: WindowSource = KWinWindows()
            if in_x is not None:
                in_x.close()
            return in_kwin
    with contextlib.suppress(OSError):
        from nubshift.surroundings.toplevels import WaylandWindows

        listed: WindowSource = WaylandWindows(address)
        return listed if in_x is None else WithProcesses(listed, in_x)
    if in_x is not None:
        in_x.close()
    return _of_x(environment, sees_all=False)


def _of_x(environment: Mapping[str, str], *, sees_all: bool) -> WindowSource | None:
    if not environment.get("DISPLAY"):
        return None
    from nubshift.surroundings.x11 import XWindows

    try:
        return XWindows(environment["DISPLAY"], sees_all=sees_all)
    except OSError:
        return None


def why_focus_is_unseen(source: WindowSource | None) -> str:
    """What is lost where not every window is seen, as a sentence; empty where all are."""
    if source is None:
        return _("No program here tells which window is in front, so rules go by the programs that run.")
    if not source.sees_all:
        return _("Only windows of X programs are seen here; rules for others go by the programs that run.")
    return ""
