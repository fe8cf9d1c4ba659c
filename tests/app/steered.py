"""``python -m tests.app.steered PROFILE``: the app, hidden, its simulated controller moved by lines of its standard input.

A line is a control and where it goes, as ``left_stick 0 -1``. A runner serves one window, so that a test beside it can't
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

    def _read(self) -> None:
        for line in os.read(sys.stdin.fileno(), 4096).decode().splitlines():
            control, *where = line.split()
            self.link.send(Steer(control, *map(float, where)))


if __name__ == "__main__":
    with patch("nubshift.app.main.MainWindow", Steered):
        sys.exit(run(Path(sys.argv[1]), ["sim:moss"], "xtest", None, hidden=True))
