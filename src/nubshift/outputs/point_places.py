"""Where the kernel's absolute pointer has to go, so that a point is on the screen that the game is on."""

from __future__ import annotations

from typing import TYPE_CHECKING

from nubshift.desktop.wayland.finding import compositor

if TYPE_CHECKING:
    from nubshift.desktop.wayland.connection import Connection
    from nubshift.desktop.wayland.screens import Screens


class PointPlaces:
    """Asks the compositor of a Wayland session, while it is there; without one a point is a share of all screens."""

    def __init__(self) -> None:
        self._connection: Connection | None = None
        self._screens: Screens | None = None

    def begin(self) -> None:
        """From now on points are sent."""
        address = compositor() if self._connection is None else ""
        if not address:
            return
        from nubshift.desktop.wayland.connection import Connection
        from nubshift.desktop.wayland.screens import screens_of

        try:
            self._connection = Connection(address)
        except OSError:
            return
        self._screens = screens_of(self._connection)
        if self._screens is None:
            self.close()

    def filenos(self) -> tuple[int, ...]:
        """Readable when something about the screens is new."""
        return (self._connection.fileno(),) if self._connection is not None else ()

    def hear(self) -> None:
        """Take it in."""
        if self._connection is not None:
            try:
                self._connection.take()
            except OSError:
                self.close()

    def place(self, x: float, y: float) -> tuple[float, float]:
        """Where to go for a share of the screen."""
        return self._screens.place(x, y) if self._screens is not None else (x, y)

    def close(self) -> None:
        """Ask no more."""
        if self._connection is not None:
            self._connection.close()
        self._connection = self._screens = None
