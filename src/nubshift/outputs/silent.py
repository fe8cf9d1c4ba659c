"""What channels without a virtual pad have in common: no game says anything to them."""

from __future__ import annotations

from nubshift.units import Micros


class Silent:
    """The parts of the port that belong to the virtual pad."""

    def filenos(self) -> tuple[int, ...]:
        """There is nothing to be heard."""
        return ()

    def hear(self, now: Micros) -> None:
        """Nobody speaks."""

    def rumble(self, now: Micros) -> float:
        """Nothing rumbles."""
        return 0.0

    @property
    def next_deadline(self) -> Micros | None:
        """Nothing ends by itself."""
        return None
