"""What is held in an X session, noted where it outlives the process that holds it.

The notes are a small file that is mapped into memory and locked. A runner and its guard share the lock; when both are
gone it is free, and whoever comes next finds what they left down. Notes of a runner that is gone are seen to at once,
also while its guard has not come to it: releasing twice does no harm, and what was released stands in the notes no
more.
"""

from __future__ import annotations

import contextlib
import fcntl
import mmap
import os
import re
import struct
from pathlib import Path

from nubshift.model.files import private_folder

KEYS, BUTTONS = 256, 32
PLACES = KEYS + BUTTONS
"""A byte for each X keycode and then each pointer button: `DOWN`, `GOING_UP` for a moment after that, else 0."""
DOWN, GOING_UP = 1, 2
OWNER = struct.Struct("=QQQ")
"""After them the runner: the number of its process, when that began, in the kernel's ticks since its start, and what
names its connection to the session (0 for nothing)."""
SIZE = PLACES + OWNER.size
MOST = 8
"""Runners of one user in one X session that can be told apart."""


class Notes:
    """The notes of one runner. `handle` is the open file, to be passed on to the guard; `memory` its bytes."""

    def __init__(self, handle: int) -> None:
        self.handle = handle
        if os.fstat(handle).st_size != SIZE:
            os.ftruncate(handle, SIZE)
        self.memory = mmap.mmap(handle, SIZE)

    @property
    def held(self) -> list[int]:
        """The places whose key or button is down, or may be."""
        return [place for place, value in enumerate(self.memory[:PLACES]) if value]

    @property
    def down(self) -> int:
        """How many are surely down."""
        return self.memory[:PLACES].count(DOWN)

    def clear(self) -> None:
        """Nothing is held any more."""
        self.memory[:PLACES] = bytes(PLACES)

    def claim(self, client: int) -> None:
        """These are the notes of this process from now on, which is `client` to the session."""
        self.memory[PLACES:] = OWNER.pack(os.getpid(), _began(os.getpid()), client)

    @property
    def owner(self) -> tuple[int, int]:
        """The number of the runner's process, and what names its connection to the session."""
        pid, _began_at, client = OWNER.unpack(self.memory[PLACES:])
        return pid, client

    @property
    def is_orphaned(self) -> bool:
        """Whether the runner whose notes these are is gone."""
        pid, began, _client = OWNER.unpack(self.memory[PLACES:])
        return bool(_began(pid) != began)

    def close(self) -> None:
        """Let go of the memory and, as far as this process goes, of the lock."""
        self.memory.close()
        os.close(self.handle)


def open_notes(folder: Path | None, display: str, client: int) -> tuple[Notes, list[Notes]]:
    """Notes of one's own for an X session, to which one is `client`, and those that others left with something held.

    Without a `folder` that can be used they live in memory only, and nobody finds them.
    """
    own: Notes | None = None
    left: list[Notes] = []
    name = re.sub(r"[^A-Za-z0-9]+", "-", display).strip("-") or "none"
    for number in range(MOST if folder is not None else 0):
        assert folder is not None
        path = folder / f"held-{name}-{number}"
        if own is not None and not path.exists():
            continue
        notes, locked = _opened(path)
        if notes is None:
            continue
        if notes.held and (locked or notes.is_orphaned):
            left.append(notes)
        elif own is None and locked:
            own = notes
        else:
            notes.close()
    own = own or Notes(os.memfd_create("nubshift-held"))
    own.claim(client)
    return own, left


def _began(pid: int) -> int:
    """When a process began; 0 for one that is not there."""
    try:
        return int(Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()[19])
    except (OSError, ValueError, IndexError):
        return 0


def _opened(path: Path) -> tuple[Notes | None, bool]:
    """The notes at `path`, and whether they are ours to use: nobody else has them locked."""
    try:
        private_folder(path.parent)
        handle = os.open(path, os.O_RDWR | os.O_CREAT | os.O_NOFOLLOW | os.O_CLOEXEC, 0o600)
    except OSError:
        return None, False
    locked = True
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        locked = False
    try:
        return Notes(handle), locked
    except (OSError, ValueError):
        with contextlib.suppress(OSError):
            os.close(handle)
        return None, False
