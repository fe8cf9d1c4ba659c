"""The rumble that a game sends to the virtual pad: its effects, and how strongly they rumble now (N08)."""

from __future__ import annotations

from nubshift.units import MILLISECOND, Micros

FULL = 0xFFFF
"""The kernel's largest magnitude and gain."""
FOREVER = 0
"""As the length of an effect: until it is stopped."""
_MOTORS = (1.0, 0.7)
"""How much of the whole the strong and the light motor are felt to make."""


class Feedback:
    """Follows the effects of one virtual pad. Lengths are in ms, strengths from 0 to 1."""

    def __init__(self) -> None:
        self._effects: dict[int, tuple[float, int]] = {}
        self._playing: dict[int, Micros | None] = {}
        self._gain = 1.0

    def upload(self, effect: int, strong: int, weak: int, length: int) -> None:
        """The game made an effect, or changed one."""
        strength = max(share * magnitude / FULL for share, magnitude in zip(_MOTORS, (strong, weak), strict=True))
        self._effects[effect] = (strength, length)

    def erase(self, effect: int) -> None:
        """The game forgot an effect."""
        self._effects.pop(effect, None)
        self._playing.pop(effect, None)

    def play(self, effect: int, times: int, now: Micros) -> None:
        """The game began an effect so many times over, or stopped it (0)."""
        if times <= 0 or effect not in self._effects:
            self._playing.pop(effect, None)
            return
        length = self._effects[effect][1]
        self._playing[effect] = None if length == FOREVER else now + length * times * MILLISECOND

    def gain(self, value: int) -> None:
        """The game set how strong everything is."""
        self._gain = max(0.0, min(1.0, value / FULL))

    def strength(self, now: Micros) -> float:
        """How strongly it rumbles now; what is over is forgotten."""
        over = [effect for effect, end in self._playing.items() if end is not None and end <= now]
        for effect in over:
            del self._playing[effect]
        return self._gain * max((self._effects[effect][0] for effect in self._playing), default=0.0)

    @property
    def next_deadline(self) -> Micros | None:
        """When something ends by itself."""
        return min((end for end in self._playing.values() if end is not None), default=None)


class Capped:
    """A rumble scaled, and no pulse of it longer than a cap; anything stronger begins a new pulse."""

    def __init__(self) -> None:
        self._wanted = 0.0
        self._since: Micros = 0
        self._over = False

    def felt(self, wanted: float, share: float, cap: Micros, now: Micros) -> float:
        """What reaches the hand of a rumble that is wanted now. Lengths in µs."""
        if wanted > self._wanted or not wanted:
            self._since, self._over = now, False
        self._wanted = wanted
        if wanted and now - self._since >= cap:
            self._over = True
        return 0.0 if self._over else min(1.0, wanted * share)

    def ends(self, cap: Micros) -> Micros | None:
        """When the present pulse is cut off."""
        return self._since + cap if self._wanted and not self._over else None
