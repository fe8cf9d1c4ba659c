"""The windows of a Wayland session, where the compositor lists them (wlr-foreign-toplevel-management-unstable-v1).

It tells titles, application ids and which one has the focus; whose process a window is, nobody is told.
"""

from __future__ import annotations

import struct
from typing import Any

from msgspec import Struct

from nubshift.desktop.wayland.connection import Connection
from nubshift.desktop.wayland.protocols import ACTIVATED, FULL_SCREEN, ToplevelManager
from nubshift.surroundings.port import SeenWindow
from nubshift.texts import _


class _Toplevel(Struct):
    """A window as it is being told of; `done` once all of its first words came."""

    handle: Any
    number: int
    title: str = ""
    group: str = ""
    states: frozenset[int] = frozenset()
    done: bool = False

    def seen(self) -> SeenWindow:
        return SeenWindow(self.number, 0, self.group, self.title[:200], FULL_SCREEN in self.states)


class WaylandWindows:
    """Looks at the windows of the compositor at `address`. Raises OSError where it is not there or lists none."""

    how, sees_all, names_processes = _("the compositor's list of windows"), True, False

    def __init__(self, address: str = "") -> None:
        self._connection = Connection(address)
        self._there: dict[int, _Toplevel] = {}
        self._made = 0
        self._changed = False
        try:
            self._manager = self._connection.bind(ToplevelManager)
            self._manager.dispatcher["toplevel"] = self._opened
            self._connection.roundtrip()
            self._connection.roundtrip()
        except OSError:
            self._connection.close()
            raise

    def filenos(self) -> tuple[int, ...]:
        """Readable when something may have changed."""
        return (self._connection.fileno(),)

    def _opened(self, _manager: Any, handle: Any) -> None:
        self._made += 1
        found = _Toplevel(self._connection.own(handle), self._made)
        self._there[found.number] = found
        hear = handle.dispatcher
        hear["title"] = lambda _it, title: setattr(found, "title", title)
        hear["app_id"] = lambda _it, group: setattr(found, "group", group)
        hear["state"] = lambda _it, states: setattr(found, "states", _numbers(states))
        hear["done"] = lambda _it: self._told(found)
        hear["closed"] = lambda _it: self._closed(found)

    def _told(self, found: _Toplevel) -> None:
        found.done = True
        self._changed = True

    def _closed(self, found: _Toplevel) -> None:
        del self._there[found.number]
        found.handle.destroy()
        self._changed = True

    def changed(self) -> bool:
        """Take in what came; whether a window came, went, got another title or the focus. Raises OSError."""
        self._connection.take()
        found, self._changed = self._changed, False
        return found

    def windows(self) -> tuple[SeenWindow, ...]:
        """All of them."""
        return tuple(one.seen() for one in self._there.values() if one.done)

    def front(self) -> SeenWindow | None:
        """The one with the focus."""
        return next((one.seen() for one in self._there.values() if one.done and ACTIVATED in one.states), None)

    def close(self) -> None:
        """End the connection."""
        self._connection.close()


def _numbers(states: bytes) -> frozenset[int]:
    return frozenset(struct.unpack(f"={len(states) // 4}I", states))
