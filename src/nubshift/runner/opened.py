"""A controller in use: its source, its lights, whether other programs see it, and its calibration."""

from __future__ import annotations

from collections import deque
from collections.abc import Mapping
from functools import partial

from msgspec import Struct, field

from nubshift.devices.health import Lights
from nubshift.devices.port import Source
from nubshift.errors import SourceGone
from nubshift.events import Change
from nubshift.model.controls import BUTTON_LIKE, CONTROLS
from nubshift.model.stored_controllers import Calibration
from nubshift.units import Micros

MOST_TIMES = 1024
"""Enough for half a second of the quickest there are."""
DOWN_AT = 0.3
"""Depth from which a trigger counts as pressed; a button is 1."""


class Opened(Struct):
    """A source in use, with its lights and what is known of its single piece.

    `reports` counts them, and `times` has when the last of them were. `grabbed` says whether it is kept from other
    programs, `refusal` why it can't be, and `waiting` since when that waits for its buttons to be released.
    """

    source: Source
    lights: Lights
    reports: int = 0
    times: deque[Micros] = field(default_factory=partial(deque, maxlen=MOST_TIMES))
    grabbed: bool = False
    refusal: str = ""
    waiting: Micros | None = None
    calibration: Mapping[str, Calibration] = {}

    @property
    def is_down(self) -> bool:
        """Whether something on it is pressed, as far as it says."""
        try:
            state = self.source.state()
        except SourceGone:
            return False
        return any(x >= DOWN_AT for name, x, _ in state if name in CONTROLS and CONTROLS[name].kind in BUTTON_LIKE)

    def corrected(self, changes: tuple[Change, ...]) -> tuple[Change, ...]:
        """The changes by its calibration; the same ones where there is none."""
        if not self.calibration:
            return changes
        found = []
        for name, x, y in changes:
            known = self.calibration.get(name)
            found.append((name, *known.applied(x, y)) if known is not None else (name, x, y))
        return tuple(found)
