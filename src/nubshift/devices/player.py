"""Simulated players: scripts that move a simulated pad as hands would (docs/formats.md).

A script has tracks, one a control, of points in time. Sticks, triggers and motion go in straight lines from
point to point; buttons keep the value of the last point.
"""

from __future__ import annotations

from bisect import bisect_right
from pathlib import Path
from typing import Annotated, Literal

import msgspec

from nubshift.errors import StorageError, TakeError, did_you_mean
from nubshift.events import Change
from nubshift.model.controls import CONTROLS, Kind
from nubshift.model.files import JsonTrouble, parse_as, read_bytes
from nubshift.texts import _
from nubshift.units import MILLISECOND, SECOND, Micros

Value = Annotated[float, msgspec.Meta(ge=-1, le=1)]
Point = tuple[Annotated[float, msgspec.Meta(ge=0)], Value, Value]
"""Milliseconds from the start, x (or depth, or 1 for down), y."""


class Track(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What one control does."""

    control: str
    points: Annotated[tuple[Point, ...], msgspec.Meta(min_length=1)]


class Script(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A simulated player."""

    format: Literal["nubshift-player"]
    version: Literal[1]
    title: str
    seconds: Annotated[float, msgspec.Meta(gt=0, le=3600)]
    tracks: tuple[Track, ...]


def read_script(path: Path) -> Script:
    """The script in a file. Raises TakeError, which names the place."""
    try:
        script = parse_as(read_bytes(path), Script)
    except StorageError as error:
        raise TakeError(str(error)) from error
    except JsonTrouble as error:
        raise TakeError(f"{path}: {error}") from error
    for index, track in enumerate(script.tracks):
        if track.control not in CONTROLS:
            hint = did_you_mean(track.control, list(CONTROLS))
            raise TakeError(
                _('{path}: tracks[{index}]: there is no control "{control}".{hint}').format(
                    path=path, index=index, control=track.control, hint=hint
                )
            )
        times = [point[0] for point in track.points]
        if times != sorted(times):
            raise TakeError(_("{path}: tracks[{index}]: times must not fall").format(path=path, index=index))
    return script


class Player:
    """A script being played from `start` on (µs)."""

    def __init__(self, script: Script, start: Micros) -> None:
        self.script = script
        self.start = start
        self._tracks = [
            (track.control, [p[0] for p in track.points], track.points, CONTROLS[track.control].kind is Kind.BUTTON)
            for track in script.tracks
        ]

    @property
    def end(self) -> Micros:
        """When it is over."""
        return self.start + round(self.script.seconds * SECOND)

    def state(self, t: Micros) -> list[Change]:
        """How every control of the script stands at `t`."""
        ms = (t - self.start) / MILLISECOND
        return [(control, *_at(times, points, steps, ms)) for control, times, points, steps in self._tracks]


def _at(times: list[float], points: tuple[Point, ...], steps: bool, ms: float) -> tuple[float, float]:
    index = bisect_right(times, ms)
    if index == 0:
        return 0.0, 0.0
    _unused, x, y = points[index - 1]
    if steps or index == len(points):
        return x, y
    t0, t1 = times[index - 1], times[index]
    share = (ms - t0) / (t1 - t0)
    return x + share * (points[index][1] - x), y + share * (points[index][2] - y)
