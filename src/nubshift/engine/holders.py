"""Who holds what (contract R3): a key is down while at least one holder holds it; nothing is sent twice."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from nubshift.events import Button, Key, Output, Pad
from nubshift.model.keys import is_button
from nubshift.units import Micros

PAD_PREFIX = "pad:"
"""Codes of the virtual pad's buttons begin with this, so that its `start` is never taken for a key."""


def _event(t: Micros, code: str, value: int) -> Output:
    if is_button(code):
        return Button(t, code, value)
    if code.startswith(PAD_PREFIX):
        return Pad(t, code.removeprefix(PAD_PREFIX), value)
    return Key(t, code, value)


class Holders:
    """Counts the holders of each key, mouse button and pad button, and sends the first down and the last up."""

    def __init__(self) -> None:
        self._count: dict[str, int] = {}  # in the order in which each last went down
        self._up_at: dict[str, Micros] = {}
        self._waiting: dict[str, Callable[[], object]] = {}

    @property
    def held(self) -> tuple[str, ...]:
        """Keys and mouse buttons that are down, the one that went down last at the end."""
        return tuple(code for code in self._count if not code.startswith(PAD_PREFIX))

    @property
    def held_on_pad(self) -> tuple[str, ...]:
        """Buttons of the virtual pad that are down, the newest last."""
        return tuple(code.removeprefix(PAD_PREFIX) for code in self._count if code.startswith(PAD_PREFIX))

    def down(self, code: str, t: Micros, out: list[Output]) -> None:
        """One holder more."""
        count = self._count.get(code, 0)
        self._count[code] = count + 1
        if not count:
            out.append(_event(t, code, 1))

    def up(self, code: str, t: Micros, out: list[Output]) -> None:
        """One holder less. A code that nobody holds stays as it is."""
        count = self._count.get(code, 0)
        if count > 1:
            self._count[code] = count - 1
        elif count == 1:
            del self._count[code]
            self._up_at[code] = t
            out.append(_event(t, code, 0))
            if self._waiting and (call := self._waiting.pop(code, None)) is not None:
                call()

    def is_down(self, code: str) -> bool:
        """Whether anybody holds it."""
        return code in self._count

    def went_up_at(self, codes: Iterable[str], t: Micros) -> bool:
        """Whether one of these went up in this very microsecond and is up still."""
        return any(self._up_at.get(code) == t and code not in self._count for code in codes)

    def when_up(self, code: str, call: Callable[[], object]) -> None:
        """Do `call` once, as soon as nobody holds `code` any more."""
        self._waiting[code] = call

    def release_all(self, t: Micros, out: list[Output]) -> None:
        """Everything up, newest first, whoever holds it; nobody waits any more."""
        self._waiting.clear()
        for code in reversed(self._count):
            out.append(_event(t, code, 0))
        self._count.clear()
