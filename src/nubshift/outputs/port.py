"""The port behind which every way of sending stands, and the sink that paces and remembers what it holds."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Protocol

from nubshift.events import Button, Key, LayerChange, Motion, Output
from nubshift.units import TAP_US, Micros


class Channel(Protocol):
    """Something that puts events into the world at once. Raises SinkError when it can't any more."""

    @property
    def name(self) -> str:
        """Its short name: ``uinput``, ``xtest``, ``record``."""
        ...

    def write(self, outputs: Sequence[Output]) -> None:
        """Send these now, in this order."""
        ...

    def close(self) -> None:
        """Let go of everything and end."""
        ...


class Sink:
    """A channel with a memory: it knows what it holds, sends nothing twice, and spaces what comes too close.

    Down and up of one key that arrive in one batch are sent a tap's length apart, since a game can't feel time that is
    already past (contract R1). What waits because of that is sent by `flush`.
    """

    def __init__(self, channel: Channel) -> None:
        self._channel = channel
        self._held: dict[str, type[Key] | type[Button]] = {}
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
        """When `flush` has something to send, or None."""
        return self._waiting[0][0] if self._waiting else None

    def send(self, outputs: Iterable[Output], now: Micros) -> None:
        """Send one batch. Raises SinkError."""
        self.flush(now)
        ready: list[Output] = []
        fresh: set[str] = set()
        for output in outputs:
            if isinstance(output, Motion | LayerChange):
                ready.append(output)
                continue
            code = output.code
            due = self._free_at.get(code, now + TAP_US if code in fresh else now)
            if due > now:
                self._wait(due, output)
            else:
                ready.append(output)
                if output.value:
                    fresh.add(code)
        self._write(ready)

    def _wait(self, due: Micros, output: Key | Button) -> None:
        self._waiting.append((due, output))
        self._waiting.sort(key=lambda entry: entry[0])
        self._free_at[output.code] = due + TAP_US

    def flush(self, now: Micros) -> None:
        """Send what has waited long enough. Raises SinkError."""
        ready = []
        while self._waiting and self._waiting[0][0] <= now:
            ready.append(self._waiting.pop(0)[1])
        if ready:
            waiting = {output.code for _, output in self._waiting if isinstance(output, Key | Button)}
            self._free_at = {code: due for code, due in self._free_at.items() if code in waiting}
            self._write(ready)

    def _write(self, outputs: Sequence[Output]) -> None:
        passed = [output for output in outputs if self._note(output)]
        if passed:
            self._channel.write(passed)

    def _note(self, output: Output) -> bool:
        """Keep account of what is down; False for what would be sent a second time."""
        if isinstance(output, Motion | LayerChange):
            return True
        if output.value:
            if output.code in self._held:
                return False
            self._held[output.code] = type(output)
            return True
        return self._held.pop(output.code, None) is not None

    def release_all(self, now: Micros) -> None:
        """Let go of everything at once, newest first, and forget what waits. Raises SinkError."""
        self._waiting.clear()
        self._free_at.clear()
        ups = [kind(now, code, 0) for code, kind in reversed(self._held.items())]
        self._held.clear()
        if ups:
            self._channel.write(ups)

    def close(self) -> None:
        """End the channel, which lets go of everything."""
        self._channel.close()
