"""Who holds what (contract R3): a key is down while at least one holder holds it; nothing is sent twice."""

from __future__ import annotations

from nubshift.events import Button, Key, Output
from nubshift.model.keys import is_button
from nubshift.units import Micros


class Holders:
    """Counts the holders of each key and mouse button and sends the first down and the last up."""

    def __init__(self) -> None:
        self._count: dict[str, int] = {}  # in the order in which each last went down

    @property
    def held(self) -> tuple[str, ...]:
        """What is down, the one that went down last at the end."""
        return tuple(self._count)

    def down(self, code: str, t: Micros, out: list[Output]) -> None:
        """One holder more."""
        count = self._count.get(code, 0)
        self._count[code] = count + 1
        if not count:
            out.append(Button(t, code, 1) if is_button(code) else Key(t, code, 1))

    def up(self, code: str, t: Micros, out: list[Output]) -> None:
        """One holder less. A code that nobody holds stays as it is."""
        count = self._count.get(code, 0)
        if count > 1:
            self._count[code] = count - 1
        elif count == 1:
            del self._count[code]
            out.append(Button(t, code, 0) if is_button(code) else Key(t, code, 0))

    def release_all(self, t: Micros, out: list[Output]) -> None:
        """Everything up, newest first, whoever holds it."""
        for code in reversed(self._count):
            out.append(Button(t, code, 0) if is_button(code) else Key(t, code, 0))
        self._count.clear()
