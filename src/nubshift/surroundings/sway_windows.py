"""The windows of a session of sway, which tells also whose process each is (sway-ipc(7))."""

from __future__ import annotations

import contextlib
from collections.abc import Iterator
from typing import Any

from nubshift.desktop.sway import GET_TREE, SwaySocket
from nubshift.surroundings.port import SeenWindow
from nubshift.texts import _


class SwayWindows:
    """Looks at the windows of the sway that listens at `path`. Raises OSError where none does."""

    how, sees_all, names_processes = _("sway"), True, True

    def __init__(self, path: str) -> None:
        self._told = SwaySocket(path)
        try:
            self._told.subscribe("window", "workspace")
            self._asked = SwaySocket(path)
        except OSError:
            self._told.close()
            raise
        self._views: tuple[dict[str, Any], ...] | None = None

    def filenos(self) -> tuple[int, ...]:
        """Readable when something may have changed."""
        return (self._told.fileno(),)

    def changed(self) -> bool:
        """Take in what came; whether it was about windows. Raises OSError when sway is gone."""
        found = bool(self._told.events())
        if found:
            self._views = None
        return found

    def _look(self) -> tuple[dict[str, Any], ...]:
        if self._views is None:
            self._views = tuple(_views(self._asked.ask(GET_TREE)))
        return self._views

    def windows(self) -> tuple[SeenWindow, ...]:
        """All of them."""
        return tuple(map(_seen, self._look()))

    def front(self) -> SeenWindow | None:
        """The one with the focus."""
        return next((_seen(view) for view in self._look() if view.get("focused")), None)

    def close(self) -> None:
        """End the connections."""
        for one in (self._told, self._asked):
            with contextlib.suppress(OSError):
                one.close()


def _views(node: dict[str, Any]) -> Iterator[dict[str, Any]]:
    if node.get("pid") and not node.get("nodes"):
        yield node
    for inner in (*node.get("nodes", ()), *node.get("floating_nodes", ())):
        yield from _views(inner)


def _seen(view: dict[str, Any]) -> SeenWindow:
    x_window = view.get("window_properties") or {}
    group = view.get("app_id") or x_window.get("class") or ""
    title = str(view.get("name") or "")[:200]
    return SeenWindow(int(view["id"]), int(view["pid"]), group, title, bool(view.get("fullscreen_mode")))
