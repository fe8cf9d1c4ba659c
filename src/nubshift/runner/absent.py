"""Whether the player is away, listened for in a thread of its own: a bus may be slow to answer."""

from __future__ import annotations

import os
import select

from nubshift.runner.aside import Aside

BUS_VARIABLES = ("DBUS_SYSTEM_BUS_ADDRESS", "DBUS_SESSION_BUS_ADDRESS")
SYSTEM_BUS = "/run/dbus/system_bus_socket"


class Absent(Aside):
    """Tells why the player is away."""

    def __init__(self) -> None:
        super().__init__("absent")
        self._reasons: frozenset[str] = frozenset()

    def begin(self) -> None:
        """Listen from now on, if there is a bus at all. The second time this does nothing."""
        there = os.path.exists(SYSTEM_BUS) or any(os.environ.get(name) for name in BUS_VARIABLES)
        if there:
            super().begin()

    def take(self) -> frozenset[str]:
        """Why the player is away; nothing while they are not."""
        with self._lock:
            self._hush()
            return self._reasons

    def released(self) -> None:
        """Everything is released: the machine may sleep."""
        self._rouse()

    # In the thread

    def _run(self) -> None:
        from nubshift.surroundings.absence import Absence

        try:
            absence = Absence()
        except OSError:
            return
        try:
            self._say(absence.take())  # with what was told while it began
            while not self._over and absence.filenos():
                ready, _unused, _unused = select.select((self._awake, *absence.filenos()), (), ())
                if self._awake in ready:
                    self._woken()
                    absence.released()
                self._say(absence.take())
        finally:
            absence.close()

    def _say(self, reasons: frozenset[str]) -> None:
        with self._lock:
            if reasons == self._reasons:
                return
            self._reasons = reasons
        self._rouse_loop()
