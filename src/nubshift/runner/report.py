"""What the app is told of play: gathered between frames, told 60 times a second at most."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from nubshift.events import Button, Change, Key, Motion, Output, Pad, Surface, Wheel
from nubshift.model.sends import PAD_BUTTONS
from nubshift.runner.messages import Frame
from nubshift.units import SECOND, Micros

FRAME_EVERY: Micros = SECOND // 60

FIRST = "1"
"""The first seat, which every profile has."""


class Reporter:
    """Gathers what changed since the last frame."""

    def __init__(self) -> None:
        self._begin()
        self._last: Micros = 0

    def _begin(self) -> None:
        self._seats: dict[str, dict[str, tuple[float, float]]] = {}
        self._sent: list[tuple[int, str, int]] = []
        self._dx = self._dy = 0
        self._wheel_x = self._wheel_y = 0
        self._news = False

    def saw(self, changes: Iterable[Change], seat: str = FIRST) -> None:
        """The controller of a seat reported."""
        controls = self._seats.setdefault(seat, {})
        for name, x, y in changes:
            controls[name] = (x, y)
        self._news = True

    def did(self, outputs: Sequence[Output]) -> None:
        """The engine sent, or would have."""
        for output in outputs:
            match output:
                case Key(t, code, value) | Button(t, code, value):
                    self._sent.append((t, code, value))
                case Pad(t, code, value) if code in PAD_BUTTONS:
                    self._sent.append((t, f"pad:{code}", int(value)))
                case Motion(_, dx, dy):
                    self._dx += dx
                    self._dy += dy
                case Wheel(_, dx, dy):
                    self._wheel_x += dx
                    self._wheel_y += dy
                case _:
                    pass
        self._news = self._news or bool(outputs)

    @property
    def next_deadline(self) -> Micros | None:
        """When the next frame may go, if there is news."""
        return self._last + FRAME_EVERY if self._news else None

    def frame(
        self,
        now: Micros,
        real: bool,
        held: tuple[str, ...],
        layers: tuple[str, ...],
        axes: dict[str, float],
        surfaces: tuple[Surface, ...],
        belts: dict[str, int],
    ) -> Frame:
        """The frame for `now`; gathering begins anew."""
        frame = Frame(
            t=now,
            real=real,
            controls=self._seats.pop(FIRST, {}),
            held=held,
            layers=layers,
            sent=tuple(self._sent),
            dx=self._dx,
            dy=self._dy,
            wheel=(self._wheel_x, self._wheel_y),
            axes=axes,
            surfaces=surfaces,
            seats=self._seats,
            belts=belts,
        )
        self._begin()
        self._last = now
        return frame

    def again(self) -> None:
        """Tell the next frame even if nothing else happens."""
        self._news = True
