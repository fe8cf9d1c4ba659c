"""An engine with a clock in the test's hand, and words for what comes out."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from nubshift.engine.compile import compile_profile
from nubshift.engine.engine import Engine
from nubshift.engine.owner import Caused, outputs_of
from nubshift.events import (
    NOTCH,
    Button,
    Captured,
    Change,
    Focus,
    Key,
    LayerChange,
    Light,
    Motion,
    Output,
    Pad,
    Plugged,
    Point,
    Report,
    Rumble,
    Unplugged,
    Wheel,
)
from nubshift.model.profile import Profile

Value = float | tuple[float, float]
MS = 1000


class Desk:
    """Feeds an engine; ``desk.at(1000, south=1)`` gives what it sends in words."""

    def __init__(self, profile: Profile, others: Mapping[str, Profile] | None = None) -> None:
        self.engine = Engine(compile_profile(profile, others))
        self.log: list[Output] = []

    def at(self, t: int, *, seat: str = "1", **values: Value) -> list[str]:
        return self.keep(self.engine.feed(Report(t, changes(values.items()), seat)))

    def plug(self, t: int, *, seat: str = "1", **values: Value) -> list[str]:
        return self.keep(self.engine.feed(Plugged(t, changes(values.items()), seat)))

    def unplug(self, t: int, seat: str = "1") -> list[str]:
        return self.keep(self.engine.feed(Unplugged(t, seat)))

    def focus(self, t: int, on: bool) -> list[str]:
        return self.keep(self.engine.feed(Focus(t, on)))

    def capture(self, t: int, seat: str = "1") -> list[str]:
        return self.keep(self.engine.feed(Captured(t, True, (), seat)))

    def give_back(self, t: int, *, seat: str = "1", **values: Value) -> list[str]:
        return self.keep(self.engine.feed(Captured(t, False, changes(values.items()), seat)))

    def to(self, t: int) -> list[str]:
        return self.keep(self.engine.advance(t))

    def timed(self, t: int) -> list[str]:
        """What is due until `t`, each with its time in ms: ``200 +A``."""
        outputs = outputs_of(self.engine.advance(t))
        self.log += outputs
        return with_times(outputs)

    def stop(self, t: int) -> list[str]:
        return self.keep(self.engine.release_all(t))

    def resume(self, t: int) -> list[str]:
        return self.keep(self.engine.resume(t))

    def edit(self, t: int, profile: Profile) -> list[str]:
        return self.keep(self.engine.replace(compile_profile(profile), t))

    def keep(self, sent: list[Caused]) -> list[str]:
        outputs = outputs_of(sent)
        self.log += outputs
        return words(outputs)

    def play(self, script: str) -> list[str]:
        """``"0 south 50 -south 300"``: press at 0 ms, release at 50, wait until 300. What is sent, with times in ms."""
        t = 0
        found: list[Output] = []
        for word in script.split():
            if word.lstrip("-").replace(".", "").isdigit():
                t = round(float(word) * MS)
                found += outputs_of(self.engine.advance(t))
            else:
                name, _, value = word.lstrip("-").partition("=")
                x = 0.0 if word.startswith("-") else float(value or 1)
                found += outputs_of(self.engine.feed(Report(t, ((name, x, 0.0),))))
        self.log += found
        return with_times(found)


def changes(values: Iterable[tuple[str, Value]]) -> tuple[Change, ...]:
    return tuple((name, *v) if isinstance(v, tuple) else (name, v, 0.0) for name, v in values)


def with_times(outputs: Iterable[Output]) -> list[str]:
    return [f"{output.t / MS:g} {word(output)}" for output in outputs]


def words(outputs: Iterable[Output]) -> list[str]:
    return [word(output) for output in outputs]


def word(output: Output) -> str:
    """``+A`` down, ``-A`` up, ``>aim`` entered, ``<aim`` left, ``~3,-1`` moved, ``wheel 0,1``, ``pad south 1``."""
    match output:
        case Key(_, code, value) | Button(_, code, value):
            return f"{'+' if value else '-'}{code}"
        case LayerChange(_, code, value):
            return f"{'>' if value else '<'}{code}"
        case Motion(_, dx, dy):
            return f"~{dx},{dy}"
        case Wheel(_, dx, dy):
            return f"wheel {dx / NOTCH:g},{dy / NOTCH:g}"
        case Pad(_, code, value):
            return f"pad {code} {value:g}"
        case Point(_, x, y, window):
            return f"point {x:g},{y:g}{' window' if window else ''}"
        case Rumble(_, code, value):
            return f"rumble {code} {value:g}"
        case Light(_, code, colour):
            return f"light {code} {colour}"


def moved(outputs: Iterable[Output]) -> tuple[int, int]:
    """All motion together."""
    motions = [output for output in outputs if isinstance(output, Motion)]
    return sum(m.dx for m in motions), sum(m.dy for m in motions)
