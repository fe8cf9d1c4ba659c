"""Whether the player is away, listened for in a thread of its own: a bus may be slow to answer."""

from __future__ import annotations

import contextlib
import os
import select
import threading

BUS_VARIABLES = ("DBUS_SYSTEM_BUS_ADDRESS", "DBUS_SESSION_BUS_ADDRESS")
SYSTEM_BUS = "/run/dbus/system_bus_socket"


class Absent:
    """Tells why the player is away. `fileno` becomes readable when `take` has something new."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._reasons: frozenset[str] = frozenset()
        self._awake, self._wake = os.pipe()
        self._told, self._tell = os.pipe()
        for end in (self._awake, self._wake, self._told, self._tell):
            os.set_blocking(end, False)
        self._over = self._started = False
        self._thread = threading.Thread(target=self._run, name="absent", daemon=True)

    def begin(self) -> None:
        """Listen from now on, if there is a bus at all. The second time this does nothing."""
        there = os.path.exists(SYSTEM_BUS) or any(os.environ.get(name) for name in BUS_VARIABLES)
        if not self._started and there:
            self._started = True
            self._thread.start()

    def fileno(self) -> int:
        """Readable when something is new."""
        return self._told

    def take(self) -> frozenset[str]:
        """Why the player is away; nothing while they are not."""
        with self._lock:
            with contextlib.suppress(BlockingIOError):
                while os.read(self._told, 64):
                    pass
            return self._reasons

    def released(self) -> None:
        """Everything is released: the machine may sleep."""
        self._rouse()

    def _rouse(self) -> None:
        with contextlib.suppress(BlockingIOError):
            os.write(self._wake, b"!")

    def close(self) -> None:
        """End the thread."""
        self._over = True
        if self._started:
            self._rouse()
            self._thread.join(5)
        for end in (self._awake, self._wake, self._told, self._tell):
            os.close(end)

    # In the thread

    def _run(self) -> None:
        from nubshift.surroundings.absence import Absence

        try:
            absence = Absence()
        except OSError:
            return
        try:
            self._say(absence.reasons)
            while not self._over and absence.filenos():
                ready, _unused, _unused = select.select((self._awake, *absence.filenos()), (), ())
                if self._awake in ready:
                    with contextlib.suppress(BlockingIOError):
                        os.read(self._awake, 64)
                    absence.released()
                self._say(absence.take())
        finally:
            absence.close()

    def _say(self, reasons: frozenset[str]) -> None:
        with self._lock:
            if reasons == self._reasons:
                return
            self._reasons = reasons
        with contextlib.suppress(BlockingIOError):
            os.write(self._tell, b"!")
