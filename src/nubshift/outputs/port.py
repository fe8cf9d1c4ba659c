"""The port behind which every way of sending stands, and the sink that paces and remembers what it holds."""

from __future__ import annotations

from collections import deque
from collections.abc import Sequence
from typing import Final, Protocol, assert_never

from nubshift.events import Button, Key, LayerChange, Light, Motion, Output, Pad, Point, Rumble, Wheel
from nubshift.model.profile import PadKind
from nubshift.model.sends import PAD_BUTTONS
from nubshift.units import SECOND, TAP_US, Micros


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


def held_code(output: Output) -> str | None:
    """The name under which an output is held in the world while its value is 1; None for what has no up."""
    match output:
        case Key(_, code) | Button(_, code):
            return code
        case Pad(_, code) if code in PAD_BUTTONS:
            return f"pad:{code}"
        case Pad() | Motion() | LayerChange() | Wheel() | Point() | Rumble() | Light():
            return None
        case never:
            assert_never(never)


LONGEST_WAIT: Final = SECOND
"""µs for which a key may wait for another to be felt."""


class Sink:
    """A channel with a memory: it knows what it holds, sends nothing twice, and spaces what comes too close.

    Down and up of one key that arrive in one batch are sent a tap's length apart, since a game can't feel time that is
    already past (contract R1). What waits because of that is sent by `flush`, and no key or wheel behind it overtakes
    it; what arrived later keeps its own distance, so that the delay does not grow. Should something have waited for
    `LONGEST_WAIT` all the same, how everything ends is sent at once, and what came and went in between is left out.
    Motion, points and axes never wait. Rumble and light are not its business.
    """

    def __init__(self, channel: Channel) -> None:
        self._channel = channel
        self._held: dict[str, Key | Button | Pad] = {}
        self._axes: dict[str, float] = {}
        self._waiting: deque[tuple[str | None, Output, Micros]] = deque()
        """In order; each with the name it is held under, and when it arrived."""
        self._changed: dict[str, tuple[Micros, Micros]] = {}
        """Of those that wait: when each was sent last, and when what was sent had arrived."""
        self.next_deadline: Micros | None = None
        """When `flush` has something to send; None for never."""
        self.left_out = 0
        """Presses that were not sent, since something had waited for `LONGEST_WAIT`."""

    @property
    def name(self) -> str:
        """The channel's name."""
        return self._channel.name

    @property
    def held(self) -> tuple[str, ...]:
        """What is down in the world because of us, the newest last."""
        return tuple(self._held)

    @property
    def rumble_deadline(self) -> Micros | None:
        """When a rumble of the game ends; None for never."""
        return self._channel.next_deadline

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

    def send(self, outputs: Sequence[Output], now: Micros) -> None:
        """Send one batch. Raises SinkError."""
        if self.next_deadline is not None and self.next_deadline <= now:
            self.flush(now)
        if len(outputs) == 1 and type(outputs[0]) is Motion:  # most of what is sent; there is nothing to know of it
            self._channel.write(outputs)
            return
        ready: list[tuple[str | None, Output]] = []
        fresh: set[str] = set()
        for output in outputs:
            if type(output) is Motion:
                ready.append((None, output))
                continue
            code: str | None = held_code(output)
            if code is None and not isinstance(output, Wheel):
                ready.append((code, output))
            elif self._waiting or code in fresh:
                if code is not None and code in fresh:
                    self._changed.setdefault(code, (now, now))
                self._waiting.append((code, output, now))
            else:
                ready.append((code, output))
                if code is not None and output.value:  # type: ignore[union-attr]
                    fresh.add(code)
        if self._waiting and self.next_deadline is None:
            self.next_deadline = self._due()
        self._write(ready)

    def _due(self) -> Micros:
        """When the first of those that wait may go: a tap's length after its key changed last, or as long after that as
        it arrived after that; or at once."""
        code, _unused, arrived = self._waiting[0]
        changed = self._changed.get(code) if code is not None else None
        if changed is None:
            return 0
        sent, before = changed
        return sent + (min(arrived - before, TAP_US) if arrived > before else TAP_US)

    def flush(self, now: Micros) -> None:
        """Send what has waited long enough. Raises SinkError."""
        ready: list[tuple[str | None, Output]] = []
        if self._waiting and now - self._waiting[0][2] > LONGEST_WAIT:
            ready = self._how_it_ends()
        while self._waiting and self._due() <= now:
            code, output, arrived = self._waiting.popleft()
            ready.append((code, output))
            if code is not None:
                self._changed.pop(code, None)
                if any(other == code for other, _unused, _arrived in self._waiting):
                    self._changed[code] = now, arrived
        self.next_deadline = self._due() if self._waiting else None
        if ready:
            self._write(ready)

    def _how_it_ends(self) -> list[tuple[str | None, Output]]:
        """The last word of those that wait on each key, and every turn of the wheel; nothing waits after that."""
        last: dict[str | int, tuple[str | None, Output]] = {}
        for number, (code, output, _unused) in enumerate(self._waiting):
            before = last.pop(code or number, None)
            if before is not None and before[1].value:  # type: ignore[union-attr]
                self.left_out += 1
            last[code or number] = code, output
        self._waiting.clear()
        self._changed.clear()
        return list(last.values())

    def _write(self, outputs: Sequence[tuple[str | None, Output]]) -> None:
        """Send these, each with the name it is held under."""
        passed = [output for code, output in outputs if type(output) is Motion or self._note(code, output)]
        if passed:
            self._channel.write(passed)

    def _note(self, code: str | None, output: Output) -> bool:
        """Keep account of what is down or pushed; False for what would be sent a second time, or not here."""
        match output:
            case Key() | Button() | Pad() if code is not None:
                if not output.value:
                    return self._held.pop(code, None) is not None
                if code in self._held:
                    return False
                self._held[code] = output
            case Pad(_, axis, value):
                self._axes[axis] = value
            case Rumble() | Light():
                return False
            case Key() | Button() | Motion() | Wheel() | Point() | LayerChange():
                return True
            case never:
                assert_never(never)
        return True

    def release_all(self, now: Micros) -> None:
        """Let go of everything at once, newest first, and forget what waits. Raises SinkError."""
        self._waiting.clear()
        self._changed.clear()
        self.next_deadline = None
        ups: list[Output] = [type(output)(now, output.code, 0) for output in reversed(self._held.values())]
        ups += [Pad(now, axis, 0.0) for axis, value in self._axes.items() if value]
        self._held.clear()
        self._axes.clear()
        if ups:
            self._channel.write(ups)

    def close(self) -> None:
        """End the channel, which lets go of everything."""
        self._channel.close()
