"""Which control every report is told of. Only one can be watched, and workspaces take turns at asking."""

from __future__ import annotations

from PyQt6.QtCore import QObject

from nubshift.app.client.link import Link
from nubshift.protocol.messages import Watch


class Watching(QObject):
    """The newest wish counts; a wish that is taken back leaves the one before it."""

    def __init__(self, link: Link) -> None:
        super().__init__(link)
        self._link = link
        self._wishes: dict[object, tuple[str, str]] = {}
        self._told: tuple[str, str] | None = None
        link.connected.connect(self._again)

    def want(self, who: object, control: str, seat: str) -> None:
        """`who` wants every report of a control of a seat; an empty one takes the wish back."""
        self._wishes.pop(who, None)
        if control:
            self._wishes[who] = control, seat
        self._tell()

    def _again(self) -> None:
        """Another runner knows nothing of it."""
        self._told = None
        self._tell()

    def _tell(self) -> None:
        present = next(reversed(self._wishes.values()), ("", "1"))
        if present != self._told and self._link.send(Watch(*present)):
            self._told = present
