"""The port behind which every way of sending stands, and the sink that paces and remembers what it holds."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Protocol

from nubshift.events import Button, Key, Light, Output, Pad, Rumble
from nubshift.model.keys import KEYS
from nubshift.model.profile import PadKind
from nubshift.model.sends import PAD_BUTTONS
from nubshift.units import TAP_US, Micros


class Channel(Protocol):
    """Something that puts events into the world at once. Raises SinkError when it can't any more."""

    @property
    def name(self) -> str:
        """Its short name: ``uinput``, ``xtest``, ``record``."""
        ...

    def prepare(self, pad: PadKind, points: bool) -> str:
        """Get ready for a profile with this kind of virtual pad, and points if it has any. Raises SinkError.

        Returns a sentence about what can't be done here, else nothing.
        """
        ...

    def write(self, outputs: Sequence[Output]) -> None:
        """Send these now, in this order."""
        ...

    def filenos(self) -> tuple[int, ...]:
        """Descriptors that become readable when a game has something to say to the virtual pad."""
        ...

    def hear(self, now: Micros) -> None:
        """Take in what a game says to the virtual pad, and answer it at once, since the game waits."""
        ...

    def rumble(self, now: Micros) -> float:
        """How strongly a game lets the virtual pad rumble now, 0 to 1."""
        ...

    @property
    def next_deadline(self) -> Micros | None:
        """When a rumble ends by itself."""
        ...

    def close(self) -> None:
        """Let go of everything and end."""
        ...


MODIFIERS = frozenset(name for name, info in KEYS.items() if info.group == "modifiers")


def held_code(output: Output) -> str | None:
    """The name under which an output is held in the world while its value is 1; None for what has no up."""
    match output:
        case Key(_, code) | Button(_, code):
            return code
        case Pad(_, code) if code in PAD_BUTTONS:
            return f"pad:{code}"
        case _:
            return None


class Sink:
    """A channel with a memory: it knows what it holds, sends nothing twice, and spaces what comes too close.

    Down and up of one key that arrive in one batch are sent a tap's length apart, since a game can't feel time that is
    already past (contract R1). What waits because of that is sent by `flush`. Rumble and light are not its business.
    """

    def __init__(self, channel: Channel) -> None:
        self._channel = channel
        self._held: dict[str, Key | Button | Pad] = {}
        self._axes: dict[str, float] = {}
        self._waiting: list[tuple[Micros, Output]] = []
        self._free_at: dict[str, Micros] = {}

    @property
    def name(self) -> str:
        """The channel's name."""
        return self._channel.name

    @property
    def held(self) -> tuple[str, ...]:
        """What is down in the world because of us, the newest last."""
        return tuple(self._held)

    @property
    def next_deadline(self) -> Micros | None:
        """When `flush` has something to send, or a rumble of the game ends; None for never."""
        ends = self._channel.next_deadline
        if not self._waiting:
            return ends
        return self._waiting[0][0] if ends is None else min(ends, self._waiting[0][0])

    def filenos(self) -> tuple[int, ...]:
        """Descriptors that become readable when a game has something to say."""
        return self._channel.filenos()

    def hear(self, now: Micros) -> None:
        """Take in what a game says to the virtual pad."""
        self._channel.hear(now)

    def rumble(self, now: Micros) -> float:
        """How strongly a game lets the virtual pad rumble now, 0 to 1."""
        return self._channel.rumble(now)

    def prepare(self, pad: PadKind, points: bool) -> str:
        """Get ready for a profile: the kind of virtual pad, and whether it puts the cursor on points.

        Returns a sentence about what this way of sending can't do of it, else nothing.
        """
        return self._channel.prepare(pad, points)

    def send(self, outputs: Iterable[Output], now: Micros) -> None:
        """Send one batch. Raises SinkError."""
        self.flush(now)
        ready: list[Output] = []
        fresh: set[str] = set()
        for output in outputs:
            code = held_code(output)
            if code is None:
                ready.append(output)
                continue
            due = max(self._free_at.get(code, now + TAP_US if code in fresh else now), self._after(output, now))
            if due > now:
                self._wait(code, due, output)
            else:
                ready.append(output)
                if output.value:  # type: ignore[union-attr]
                    fresh.add(code)
        self._write(ready)

    def _after(self, output: Output, now: Micros) -> Micros:
        """When a key may go down: not while a modifier that went up before it still waits, or it would count for it."""
        if not isinstance(output, Key) or not output.value:
            return now
        ups = (due for due, waits in self._waiting if isinstance(waits, Key) and waits.code in MODIFIERS)
        return max(ups, default=now)

    def _wait(self, code: str, due: Micros, output: Output) -> None:
        self._waiting.append((due, output))
        self._waiting.sort(key=lambda entry: entry[0])
        self._free_at[code] = due + TAP_US

    def flush(self, now: Micros) -> None:
        """Send what has waited long enough. Raises SinkError."""
        ready = []
        while self._waiting and self._waiting[0][0] <= now:
            ready.append(self._waiting.pop(0)[1])
        if ready:
            waiting = {held_code(output) for _, output in self._waiting}
            self._free_at = {code: due for code, due in self._free_at.items() if code in waiting}
            self._write(ready)

    def _write(self, outputs: Sequence[Output]) -> None:
        passed = [output for output in outputs if self._note(output)]
        if passed:
            self._channel.write(passed)

    def _note(self, output: Output) -> bool:
        """Keep account of what is down or pushed; False for what would be sent a second time, or not here."""
        match output:
            case Key() | Button() | Pad() if (code := held_code(output)) is not None:
                if not output.value:
                    return self._held.pop(code, None) is not None
                if code in self._held:
                    return False
                self._held[code] = output
            case Pad(_, code, value):
                self._axes[code] = value
            case Rumble() | Light():
                return False
            case _:
                pass
        return True

    def release_all(self, now: Micros) -> None:
        """Let go of everything at once, newest first, and forget what waits. Raises SinkError."""
        self._waiting.clear()
        self._free_at.clear()
        ups: list[Output] = [type(output)(now, output.code, 0) for output in reversed(self._held.values())]
        ups += [Pad(now, axis, 0.0) for axis, value in self._axes.items() if value]
        self._held.clear()
        self._axes.clear()
        if ups:
            self._channel.write(ups)

    def close(self) -> None:
        """End the channel, which lets go of everything."""
        self._channel.close()
