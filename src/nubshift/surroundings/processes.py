"""The programs of this user, as /proc tells of them.

Looked through at most once a second: one listing and one `stat` for each process; only what is new is read in full. A
program that has just been started is read again for a while, since it may still become another one (fork, then exec).
"""

from __future__ import annotations

import os
from collections.abc import Iterable
from pathlib import Path

from msgspec import Struct

from nubshift.model.programs import SeenProgram, app_of_cgroup, by_launcher, windows_program

PROC = Path("/proc")
YOUNG = 8
"""Looks for which a new process is read anew."""
SHARE = 16
"""Of the others, one in so many is read anew at each look."""
MOST_BYTES = 65_536
"""Of a command line or an environment."""


class _KnownProcess(Struct):
    stamp: tuple[int, int]
    looks: int = 0
    seen: SeenProgram | None = None


class Processes:
    """Knows the programs of one user. `proc` is where the kernel tells of them."""

    def __init__(self, proc: Path = PROC) -> None:
        self._proc = str(proc)
        self._uid = os.getuid()
        self._known: dict[int, _KnownProcess] = {}
        self._round = 0
        self._wanted: frozenset[str] = frozenset()

    def want_marks(self, names: frozenset[str]) -> None:
        """Keep these variables of environments too, beside those that launchers set. All others are forgotten at once:
        they are nobody's business, and may be secrets."""
        if names != self._wanted:
            self._wanted = names
            self._known.clear()

    def look(self) -> tuple[SeenProgram, ...]:
        """All programs now, the oldest first."""
        self._round = (self._round + 1) % SHARE
        pids = sorted(int(name) for name in os.listdir(self._proc) if name.isdecimal())
        there = set(pids)
        for pid in [pid for pid in self._known if pid not in there]:
            del self._known[pid]
        for pid in pids:
            self._look_at(pid)
        return tuple(found for pid in pids if pid in self._known and (found := self._known[pid].seen) is not None)

    def again(self, pids: Iterable[int]) -> None:
        """These have become other programs: read them at the next look."""
        for pid in pids:
            self._known.pop(pid, None)

    def of(self, pid: int) -> SeenProgram | None:
        """The program with this number, read now if it is new."""
        self._look_at(pid)
        known = self._known.get(pid)
        return known.seen if known is not None else None

    def _look_at(self, pid: int) -> None:
        known = self._known.get(pid)
        if known is not None and known.looks >= YOUNG and pid % SHARE != self._round:
            return
        try:
            about = os.stat(f"{self._proc}/{pid}")
        except OSError:
            self._known.pop(pid, None)
            return
        stamp = (about.st_uid, about.st_ctime_ns)
        if known is None or known.stamp != stamp:
            known = self._known[pid] = _KnownProcess(stamp)
        known.looks += 1
        if about.st_uid == self._uid:
            known.seen = self._read(pid, known.seen)

    def _read(self, pid: int, before: SeenProgram | None) -> SeenProgram | None:
        """None for a thread of the kernel, and for what is not there any more."""
        command = tuple(self._bytes(pid, "cmdline").rstrip(b"\0").decode(errors="replace").split("\0"))
        name = self._bytes(pid, "comm").decode(errors="replace").rstrip("\n")
        if before is not None and (before.command, before.name) == (command, name):
            return before
        if command == ("",):
            return None
        stat = self._bytes(pid, "stat").rpartition(b")")[2].split()
        environment = self._bytes(pid, "environ").rstrip(b"\0").decode(errors="replace").split("\0")
        try:
            path = os.readlink(f"{self._proc}/{pid}/exe").removesuffix(" (deleted)")
        except OSError:
            path = ""
        return SeenProgram(
            pid=pid,
            parent=int(stat[1]) if len(stat) > 1 else 0,
            path=path,
            name=name,
            command=command[:64],
            marks=tuple(m for m in environment if m.partition("=")[0] in self._wanted or by_launcher(m)),
            windows_program=windows_program(command[:4]),
            app=self._app(pid, environment),
        )

    def _app(self, pid: int, environment: list[str]) -> str:
        """The desktop application that it belongs to: by its sandbox, its cgroup, or the file it was started from."""
        for line in self._bytes(pid, "root/.flatpak-info").decode(errors="replace").splitlines():
            key, _unused, value = line.partition("=")
            if key.strip() == "name":
                return value.strip()
        for line in self._bytes(pid, "cgroup").decode(errors="replace").splitlines():
            app = app_of_cgroup(line.rpartition(":")[2])
            if app:
                return app
        launched = dict(
            mark.partition("=")[::2] for mark in environment if mark.startswith("GIO_LAUNCHED_DESKTOP_FILE")
        )
        if launched.get("GIO_LAUNCHED_DESKTOP_FILE_PID") == str(pid):
            return launched.get("GIO_LAUNCHED_DESKTOP_FILE", "").rpartition("/")[2].removesuffix(".desktop")
        return ""

    def _bytes(self, pid: int, what: str) -> bytes:
        try:
            with open(f"{self._proc}/{pid}/{what}", "rb", buffering=0) as file:
                return file.read(MOST_BYTES) or b""
        except OSError:
            return b""


def family_of(pid: int, proc: Path = PROC) -> frozenset[int]:
    """A process and all that descend from it."""
    parents: dict[int, int] = {}
    for name in os.listdir(proc):
        if name.isdecimal():
            try:
                text = (proc / name / "stat").read_text(errors="replace")
            except OSError:
                continue
            parents[int(name)] = int(text.rpartition(")")[2].split()[1])
    found, waiting = {pid}, [pid]
    while waiting:
        parent = waiting.pop()
        fresh = [child for child, of in parents.items() if of == parent and child not in found]
        found.update(fresh)
        waiting += fresh
    return frozenset(found)
