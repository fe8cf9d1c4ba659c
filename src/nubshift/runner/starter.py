"""The app that started this runner, watched until it has spoken: without it nobody would ever end what it began."""

from __future__ import annotations

import os
from collections.abc import Set


class Starter:
    """`pid` is its process. Once it spoke it is known by its connection, and watched no more."""

    def __init__(self, pid: int) -> None:
        self._handle = -1
        self._is_gone = False
        try:
            self._handle = os.pidfd_open(pid)
        except ProcessLookupError:
            self._is_gone = True
        except OSError:  # the kernel has no such handles
            pass

    def filenos(self) -> tuple[int, ...]:
        """Readable when it ended."""
        return (self._handle,) if self._handle >= 0 else ()

    def is_gone(self, ready: Set[int]) -> bool:
        """Whether it ended before it said a word."""
        return self._is_gone or self._handle in ready

    def close(self) -> None:
        """Watch it no more."""
        if self._handle >= 0:
            os.close(self._handle)
