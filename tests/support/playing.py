"""An engine with a clock in the test's hand, and words for what comes out."""

from __future__ import annotations

from collections.abc import Iterable

from nubshift.engine.compile import compile_profile
from nubshift.engine.engine import Engine
from nubshift.events import Button, Change, Key, LayerChange, Motion, Output, Plugged, Report, Unplugged
from nubshift.model.profile import Profile


class Desk:
    """Feeds an engine; ``desk.at(1000, south=1)`` gives what it sends in words."""

    def __init__(self, profile: Profile) -> None:
        self.engine = Engine(compile_profile(profile))
        self.log: list[Output] = []

    def at(self, t: int, *, seat: str = "1", **values: float | tuple[float, float]) -> list[str]:
        return self.keep(self.engine.feed(Report(t, changes(values.items()), seat)))

    def plug(self, t: int, **values: float | tuple[float, float]) -> list[str]:
        return self.keep(self.engine.feed(Plugged(t, changes(values.items()))))

    def unplug(self, t: int) -> list[str]:
        return self.keep(self.engine.feed(Unplugged(t)))

    def to(self, t: int) -> list[str]:
        return self.keep(self.engine.advance(t))

    def stop(self, t: int) -> list[str]:
        return self.keep(self.engine.release_all(t))

    def resume(self, t: int) -> list[str]:
        return self.keep(self.engine.resume(t))

    def edit(self, t: int, profile: Profile) -> list[str]:
        return self.keep(self.engine.replace(compile_profile(profile), t))

    def keep(self, outputs: list[Output]) -> list[str]:
        self.log += outputs
        return words(outputs)


def changes(values: Iterable[tuple[str, float | tuple[float, float]]]) -> tuple[Change, ...]:
    return tuple((name, *v) if isinstance(v, tuple) else (name, v, 0.0) for name, v in values)


def words(outputs: Iterable[Output]) -> list[str]:
    """``+A`` down, ``-A`` up, ``>aim`` entered, ``<aim`` left, ``~3,-1`` moved."""
    found = []
    for output in outputs:
        match output:
            case Key(_, code, value) | Button(_, code, value):
                found.append(f"{'+' if value else '-'}{code}")
            case LayerChange(_, code, value):
                found.append(f"{'>' if value else '<'}{code}")
            case Motion(_, dx, dy):
                found.append(f"~{dx},{dy}")
    return found


def moved(outputs: Iterable[Output]) -> tuple[int, int]:
    """All motion together."""
    motions = [output for output in outputs if isinstance(output, Motion)]
    return sum(m.dx for m in motions), sum(m.dy for m in motions)
