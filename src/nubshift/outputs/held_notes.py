"""What is held in an X session, noted where it outlives the process that holds it.

The notes are a small file that is mapped into memory and locked. A runner and its guard share the lock; when both are
gone it is free, and whoever comes next finds what they left down.
"""

from __future__ import annotations

import contextlib
import fcntl
import mmap
import os
import re
from pathlib import Path

from nubshift.model.files import private_folder

KEYS, BUTTONS = 256, 32
SIZE = KEYS + BUTTONS
"""A byte for each X keycode and then one for each pointer button: 1 while held."""
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
        """The places whose key or button is down."""
        return [place for place, value in enumerate(self.memory[:]) if value]

    def clear(self) -> None:
        """Nothing is held any more."""
        self.memory[:] = bytes(SIZE)

    def close(self) -> None:
        """Let go of the memory and, as far as this process goes, of the lock."""
        self.memory.close()
        os.close(self.handle)


def open_notes(folder: Path | None, display: str) -> tuple[Notes, list[Notes]]:
    """Notes of one's own for an X session, and those that others left with something held.

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
        notes = _locked(path)
        if notes is None:
            continue
        if notes.held:
            left.append(notes)
        elif own is None:
            own = notes
        else:
            notes.close()
    return own or Notes(os.memfd_create("nubshift-held")), left


def _locked(path: Path) -> Notes | None:
    """The notes at `path`, if nobody else uses them."""
    try:
        private_folder(path.parent)
        handle = os.open(path, os.O_RDWR | os.O_CREAT | os.O_NOFOLLOW | os.O_CLOEXEC, 0o600)
    except OSError:
        return None
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        return Notes(handle)
    except OSError:
        with contextlib.suppress(OSError):
            os.close(handle)
        return None
