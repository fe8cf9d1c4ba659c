"""The channel into an X session: XTEST. The X server keeps down what was pressed by a client that is gone."""

from __future__ import annotations

import os
from pathlib import Path

from nubshift.outputs.guarded import GuardedChannel
from nubshift.outputs.x11 import XTest


class XTestChannel(GuardedChannel):
    """Sends keys, buttons and motion to the X server of `display`. Raises SinkError."""

    name = "xtest"

    def __init__(self, display: str | None = None, folder: Path | None = None) -> None:
        super().__init__(XTest(display), ("xtest",), folder, display or os.environ.get("DISPLAY", ""))
