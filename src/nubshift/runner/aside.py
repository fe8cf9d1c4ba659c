"""Something looked at beside play, in a thread of its own, so that no report waits for it."""

from __future__ import annotations

import contextlib
import os
import threading


class Aside:
    """A thread and two pipes: `fileno` becomes readable when the thread has told something, and what waits on `_awake`
    in the thread wakes up when it is roused. `_lock` guards what both sides touch."""

    def __init__(self, name: str) -> None:
        self._lock = threading.Lock()
        self._awake, self._wake = os.pipe()
        self._told, self._tell = os.pipe()
        for end in (self._awake, self._wake, self._told, self._tell):
            os.set_blocking(end, False)
        self._over = self._started = False
        self._thread = threading.Thread(target=self._run, name=name, daemon=True)

    def begin(self) -> None:
        """Look from now on. The second time this does nothing."""
        if not self._started:
            self._started = True
            self._thread.start()

    def fileno(self) -> int:
        """Readable when something is new."""
        return self._told

    def close(self) -> None:
        """End the thread."""
        self._over = True
        if self._started:
            self._rouse()
            self._thread.join(5)
        for end in (self._awake, self._wake, self._told, self._tell):
            os.close(end)

    def _rouse(self) -> None:
        """Wake the thread."""
        _ring(self._wake)

    def _hush(self) -> None:
        """What was told is being taken."""
        _drain(self._told)

    # In the thread

    def _run(self) -> None:
        raise NotImplementedError

    def _rouse_loop(self) -> None:
        """Something is new."""
        _ring(self._tell)

    def _woken(self) -> None:
        """The thread is awake."""
        _drain(self._awake)


def _ring(end: int) -> None:
    with contextlib.suppress(BlockingIOError):
        os.write(end, b"!")


def _drain(end: int) -> None:
    with contextlib.suppress(BlockingIOError):
        while os.read(end, 64):
            pass
