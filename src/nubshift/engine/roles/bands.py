"""Outputs by depth, and what is held while a stick is out (contract R15)."""

from __future__ import annotations

from functools import partial
from math import hypot

from nubshift.engine.act import Act
from nubshift.engine.context import Step
from nubshift.engine.owner import Owner
from nubshift.engine.program import BandEntry
from nubshift.engine.roles.port import Followed, Follower
from nubshift.engine.tuning import Tuning
from nubshift.feel.begun_depths import BegunDepths
from nubshift.model.parameters import BAND_HYSTERESIS
from nubshift.units import Micros


class BandsFollower(Follower):
    """Holds the band that the depth lies in, with those within that it adds to."""

    def __init__(self, bands: tuple[BandEntry, ...]) -> None:
        self._bands = bands
        self._depths = BegunDepths([(band.start, band.start - BAND_HYSTERESIS) for band in bands])
        self._since: dict[int, Micros] = {}

    def tune(self, tuned: Tuning) -> None:
        """Bands have their own edges."""

    def update(self, state: Followed, wanted: dict[Step, Owner]) -> None:
        """Hold what the depth wants; a band that waits is held once it has lasted."""
        depth = hypot(state.x, state.y) if state.present else 0.0
        context = state.context
        present = self._in_band(self._depths.step(depth) - 1)
        self._since = {index: self._since.get(index, context.t) for index in present}
        for index in present:
            band = self._bands[index]
            due = self._since[index] + band.wait
            if context.t >= due:
                wanted.update(dict.fromkeys(band.act.steps(context.layers.pad_form), band.act.owner))
            elif self._since[index] == context.t:
                context.timers.set(due, partial(context.touch, state.key), band.act.owner)

    def _in_band(self, level: int) -> list[int]:
        """The bands of a level (-1 for none), the innermost first."""
        found: list[int] = []
        while level >= 0:
            found.append(level)
            if not self._bands[level].adds:
                break
            level -= 1
        return found[::-1]

    def leave(self, state: Followed) -> None:
        """Nothing goes beyond steps."""

    def rest(self, state: Followed) -> None:
        """Nothing goes beyond steps."""


class OutFollower(Follower):
    """Holds something from the first value beyond the inner dead zone on."""

    def __init__(self, act: Act) -> None:
        self._act = act
        self._out = False
        self._inner = 0.0

    def tune(self, tuned: Tuning) -> None:
        """The dead zone counts."""
        self._inner = tuned.inner

    def update(self, state: Followed, wanted: dict[Step, Owner]) -> None:
        """Out, or not."""
        depth = hypot(state.x, state.y) if state.present else 0.0
        if self._out:
            self._out = depth > 0.0 and depth >= self._inner - BAND_HYSTERESIS
        else:
            self._out = depth > self._inner
        if self._out:
            wanted.update(dict.fromkeys(self._act.steps(state.context.layers.pad_form), self._act.owner))

    def leave(self, state: Followed) -> None:
        """Nothing goes beyond steps."""

    def rest(self, state: Followed) -> None:
        """Nothing goes beyond steps."""
