"""What sources without a device of the kernel have in common: nothing is open, and nobody else sees them."""

from __future__ import annotations

from collections.abc import Set

from nubshift.devices.port import Raw


class Simulation:
    """The parts of the port that need a device."""

    dropped = 0

    def filenos(self) -> tuple[int, ...]:
        """There is no descriptor."""
        return ()

    def need(self, controls: Set[str] | None) -> bool:
        """It has no descriptors."""
        return False

    def listen(self, on: bool) -> None:
        """It speaks in normal form, so there is nothing beneath to be heard."""

    def heard(self) -> list[Raw]:
        """Nothing."""
        return []

    def grab(self, exclusive: bool) -> None:
        """Nobody else sees it."""

    def rumble(self, strength: float) -> None:
        """It has nothing to rumble with."""

    def close(self) -> None:
        """Nothing is open."""
