"""One suite for every way of sending; that of the kernel is asked in the virtual machine (`tools/kernel_path/play.py`)."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest

from nubshift.outputs.port import Channel
from nubshift.outputs.recorder import FileRecorder, Nowhere, Recorder
from nubshift.outputs.xtest import XTestChannel
from standins.port_users import check_channel

CHANNELS: dict[str, Callable[[Path], Channel]] = {
    "record": lambda _: Recorder(),
    "record to a file": lambda folder: FileRecorder(folder / "out"),
    "nowhere": lambda _: Nowhere(),
    "xtest": lambda folder: XTestChannel(folder=folder),
}


@pytest.mark.parametrize("name", CHANNELS)
def test_it_keeps_what_the_port_promises(name: str, tmp_path: Path, request: pytest.FixtureRequest) -> None:
    if name == "xtest":
        request.getfixturevalue(
            "game"
        )  # a click beside every window opens the menu of a window manager, which grabs all
    check_channel(CHANNELS[name](tmp_path))
