"""The controller in the seat that is shown: hands are those of its model, and words those of its print."""

from __future__ import annotations

from nubshift.app.client.link import Link
from nubshift.app.client.mirror import FIRST
from nubshift.app.document.selection import Selection
from nubshift.model.controller_info import ControllerInfo
from nubshift.model.sharing import owner_of, seat_info
from nubshift.model.stored_controllers import PartOf


class ControllerInUse:
    """What the runner says of it, for whoever needs to know."""

    def __init__(self, link: Link, selection: Selection) -> None:
        self._link, self._selection = link, selection

    @property
    def info(self) -> ControllerInfo | None:
        """The controller; of several that fill the seat, all of them together."""
        return seat_info(self._parts, self._infos) if self._link.status is not None else None

    def owner_of(self, control: str) -> ControllerInfo | None:
        """The one of them that has a control."""
        return owner_of(control, self._parts, self._infos)

    @property
    def is_simulated(self) -> bool:
        """Whether a simulated pad sits in the first seat."""
        return self._link.status is not None and self._link.status.controller.startswith("sim:")

    @property
    def is_playing(self) -> bool:
        """Whether that one plays by itself."""
        return self._link.status is not None and self._link.status.playing

    @property
    def _infos(self) -> dict[str, ControllerInfo]:
        return {info.id: info for info in self._link.status.controllers} if self._link.status is not None else {}

    @property
    def _parts(self) -> tuple[PartOf, ...]:
        """What fills the seat that is shown; of an empty one, the first."""
        fills = self._link.status.fills if self._link.status is not None else {}
        return fills.get(self._selection.seat) or fills.get(FIRST, ())
