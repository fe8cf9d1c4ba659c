"""What sticks multiply their speed by: the holds of precision, and faster and slower."""

from __future__ import annotations

from nubshift.engine.revision import Revision

GAIN_LOW, GAIN_HIGH = 0.05, 20.0
"""How far "slower" and "faster" can go."""


class Speeds:
    """`factor` is what counts. `gain` is what "faster" and "slower" made of it; `revision` counts its changes."""

    def __init__(self, revision: Revision) -> None:
        self.gain = 1.0
        self.factor = 1.0
        self._revision = revision
        self._holds: list[tuple[object, float]] = []

    def change_gain(self, by: float) -> None:
        """Faster or slower from now on."""
        self.gain = min(GAIN_HIGH, max(GAIN_LOW, self.gain * by))
        self._count()

    def hold(self, share: float) -> object:
        """A hold of precision; returns the token that ends it."""
        token = object()
        self._holds.append((token, share))
        self._count()
        return token

    def end(self, token: object) -> None:
        """End a hold of precision."""
        self._holds = [hold for hold in self._holds if hold[0] is not token]
        self._count()

    def end_all(self) -> None:
        """End all holds of precision (R12)."""
        if self._holds:
            self._holds.clear()
            self._count()

    def _count(self) -> None:
        self.factor = self.gain
        for _, share in self._holds:
            self.factor *= share
        self._revision.count += 1
