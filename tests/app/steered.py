"""``python -m tests.app.steered PROFILE SINK [shown]``: the app, its simulated controller moved by lines of its input.

A line is a control and where it goes, as ``left_stick 0 -1``, or ``where`` and the name of a command or a control, which is
answered by where on its screen that is. A runner serves one window, so that a test beside it can't
ask for this by itself.
"""

from __future__ import annotations

import os
import sys
from pathlib import Path
from typing import Any
from unittest.mock import patch

from PyQt6.QtCore import QSocketNotifier

from nubshift.app.main import run
from nubshift.app.window import MainWindow
from nubshift.protocol.messages import Steer


class Steered(MainWindow):
    """The window, worked from outside."""

    def __init__(self, *things: Any) -> None:
        super().__init__(*things)
        self._lines = QSocketNotifier(sys.stdin.fileno(), QSocketNotifier.Type.Read, self)
        self._lines.activated.connect(self._read)
        self._lines.setEnabled(False)
        self.link.status_changed.connect(lambda: self._lines.setEnabled(True))  # before that nobody would hear

    def _read(self) -> None:
        for line in os.read(sys.stdin.fileno(), 4096).decode().splitlines():
            control, *where = line.split()
            if control == "where":
                print(*self._place(where[0]), flush=True)
            else:
                self.link.send(Steer(control, *map(float, where)))

    def _place(self, name: str) -> tuple[int, int]:
        """The middle of a tile on the hands, or of a row of the key list, in the window, which fills its screen."""
        tile = self.map.hands.tiles.get(name)
        viewport = self.map.keys.view.viewport()
        widget = tile or viewport
        assert widget is not None
        at = widget.mapTo(self, tile.rect().center() if tile is not None else self.map.keys.view.place(name).center())
        return at.x(), at.y()


if __name__ == "__main__":
    with patch("nubshift.app.main.MainWindow", Steered):
        sys.exit(run(Path(sys.argv[1]), ["sim:moss"], sys.argv[2], None, hidden=sys.argv[3:] != ["shown"]))
