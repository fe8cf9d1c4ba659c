"""Who holds what (contract R3): a key is down while at least one holder holds it; nothing is sent twice.

What sticks, bands and tiles change in one step is one change (`gathers`, `settle`): a key that they held before and
hold after is not touched, whichever of them holds it now.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Final

from nubshift.engine.outbox import Outbox
from nubshift.engine.owner import Owner
from nubshift.events import Button, Key, Output, Pad
from nubshift.model.keys import is_button
from nubshift.units import Micros

PAD_PREFIX: Final = "pad:"
"""Codes of the virtual pad's buttons begin with this, so that its `start` is never taken for a key."""


def _event(t: Micros, code: str, value: int) -> Output:
    if is_button(code):
        return Button(t, code, value)
    if code.startswith(PAD_PREFIX):
        return Pad(t, code.removeprefix(PAD_PREFIX), value)
    return Key(t, code, value)


class _Gathered:
    """What was done to one code since gathering began: how many held it before, and where it could be sent."""

    __slots__ = ("before", "down_at", "down_by", "up_at", "up_by")

    def __init__(self, before: int) -> None:
        self.before = before
        self.down_at = self.up_at = -1
        self.down_by: Owner | None = None
        self.up_by: Owner | None = None


class Holders:
    """Counts the holders of each key, mouse button and pad button, and sends the first down and the last up."""

    def __init__(self, outbox: Outbox) -> None:
        self._outbox = outbox
        self._count: dict[str, int] = {}  # in the order in which each last went down
        self._up_at: dict[str, Micros] = {}
        self._waiting: dict[str, list[Callable[[], object]]] = {}
        self.gathers = False
        """While set, keys go down and up without being sent, until `settle`."""
        self.gathered: dict[str, _Gathered] = {}
        self._direct = 0

    @property
    def held(self) -> tuple[str, ...]:
        """Keys and mouse buttons that are down, the one that went down last at the end."""
        return tuple(code for code in self._count if not code.startswith(PAD_PREFIX))

    @property
    def held_on_pad(self) -> tuple[str, ...]:
        """Buttons of the virtual pad that are down, the newest last."""
        return tuple(code.removeprefix(PAD_PREFIX) for code in self._count if code.startswith(PAD_PREFIX))

    def down(self, code: str, t: Micros, by: Owner) -> None:
        """One holder more."""
        if self._direct:
            self._settle_one(code, t)
        count = self._count.get(code, 0)
        if self.gathers and not self._direct:
            found = self.gathered.get(code)
            if found is None:
                found = self.gathered[code] = _Gathered(count)
            if not count and found.down_at < 0:
                found.down_at, found.down_by = self._outbox.hole(), by
        elif not count:
            self._outbox.add(_event(t, code, 1), by)
        self._count[code] = count + 1

    def up(self, code: str, t: Micros, by: Owner) -> None:
        """One holder less. A code that nobody holds stays as it is."""
        if self._direct:
            self._settle_one(code, t)
        count = self._count.get(code, 0)
        if not count:
            return
        if self.gathers and not self._direct:
            found = self.gathered.get(code)
            if found is None:
                found = self.gathered[code] = _Gathered(count)
            if count == 1:
                found.up_at, found.up_by = self._outbox.hole(), by
            self._count[code] = count - 1  # its place in the order is kept: it may be held again before this is over
        elif count > 1:
            self._count[code] = count - 1
        else:
            del self._count[code]
            self._outbox.add(_event(t, code, 0), by)
            self._gone_up(code, t)

    def is_down(self, code: str) -> bool:
        """Whether anybody holds it, or held it until this very change."""
        if not self.gathers:
            return code in self._count
        found = self.gathered.get(code)
        return bool(self._count.get(code)) or (found is not None and found.before > 0)

    def went_up_at(self, codes: Iterable[str], t: Micros) -> bool:
        """Whether one of these went up in this very microsecond and is up still."""
        for code in codes:
            if self._count.get(code):
                continue
            found = self.gathered.get(code)
            if self._up_at.get(code) == t or (found is not None and found.before > 0):
                return True
        return False

    def when_up(self, code: str, call: Callable[[], object]) -> None:
        """Do `call` once, as soon as nobody holds `code` any more."""
        self._waiting.setdefault(code, []).append(call)

    def release_all(self, t: Micros) -> None:
        """Everything up, newest first, whoever holds it; nobody waits any more."""
        self._waiting.clear()
        for code in reversed(self._count):
            self._outbox.add(_event(t, code, 0), None)
        self._count.clear()

    # One change of many

    def directly(self, on: bool) -> None:
        """While gathering: from here on (or no longer) something runs by itself, whose events are all sent."""
        self._direct += 1 if on else -1

    def begun_and_lost(self) -> list[tuple[str, Owner]]:
        """The keys that were begun and lost again since gathering began, and for whose sake."""
        return [
            (code, found.down_by)
            for code, found in self.gathered.items()
            if not found.before and not self._count.get(code) and found.down_by is not None
        ]

    def settle(self, t: Micros, rank: Callable[[Owner], tuple[int, ...]]) -> None:
        """Send the difference: what goes up, newest first, then what goes down, by the `rank` of whose sake it is."""
        self.gathers = False
        gathered, self.gathered = self.gathered, {}
        ups = [code for code in reversed(self._count) if not self._count[code] and gathered[code].before]
        for code in [code for code, found in gathered.items() if not self._count[code]]:
            del self._count[code]
        downs = [code for code, found in gathered.items() if not found.before and code in self._count]
        places = sorted(gathered[code].up_at for code in ups)
        for place, code in zip(places, ups, strict=True):
            self._outbox.fill(place, _event(t, code, 0), gathered[code].up_by, early=True)
        places = sorted(gathered[code].down_at for code in downs)
        if len(downs) > 1:
            downs.sort(key=lambda code: rank(gathered[code].down_by or Owner("", "", "")))
        for place, code in zip(places, downs, strict=True):
            self._outbox.fill(place, _event(t, code, 1), gathered[code].down_by)
            self._count[code] = self._count.pop(code)
        for code in ups:
            self._gone_up(code, t)

    def _settle_one(self, code: str, t: Micros) -> None:
        """Something that runs by itself is about to send this code: what was gathered of it is sent first."""
        found = self.gathered.pop(code, None)
        if found is None:
            return
        count = self._count.get(code, 0)
        if not count:
            self._count.pop(code, None)
            if found.before:
                self._outbox.fill(found.up_at, _event(t, code, 0), found.up_by)
                self._gone_up(code, t)
        elif not found.before:
            self._outbox.fill(found.down_at, _event(t, code, 1), found.down_by)

    def _gone_up(self, code: str, t: Micros) -> None:
        self._up_at[code] = t
        for call in self._waiting.pop(code, ()):
            call()
