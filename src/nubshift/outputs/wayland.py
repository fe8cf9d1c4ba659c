"""The channel into a Wayland session, where uinput can't be used and the compositor lets programs press keys.

Games that read devices by themselves do not hear it; those that listen to their window do. Measured with sway 1.7: of a
program that is gone the compositor lets go of keys, not of buttons.
"""

from __future__ import annotations

from pathlib import Path

from nubshift.errors import SinkError
from nubshift.outputs.guarded import GuardedChannel
from nubshift.outputs.wayland_devices import WaylandDevices
from nubshift.texts import _
from nubshift.units import Micros


class WaylandChannel(GuardedChannel):
    """Sends keys, buttons and motion through the compositor at `address` (default: that of this session).

    Raises SinkError where there is none, or it lets no program do that.
    """

    name = "wayland"

    def __init__(self, address: str = "", folder: Path | None = None) -> None:
        devices = WaylandDevices(address)
        self._connection = devices.connection
        super().__init__(devices, ("wayland", self._connection.address), folder, self._connection.address)

    def filenos(self) -> tuple[int, ...]:
        """Where it is heard that the guard ended, or the compositor."""
        return (*super().filenos(), self._connection.fileno())

    def hear(self, now: Micros) -> None:
        """What the compositor tells every client; another guard where this one is gone. Raises SinkError when the
        compositor is gone."""
        super().hear(now)
        try:
            self._connection.take()
        except OSError as error:
            raise SinkError(_("the Wayland compositor is gone")) from error
