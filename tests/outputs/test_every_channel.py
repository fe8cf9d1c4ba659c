"""One suite for every way of sending; that of the kernel is asked in the virtual machine (`tests/vm/inside.py`)."""

from __future__ import annotations

import os
from collections.abc import Callable
from pathlib import Path

import pytest

from nubshift.outputs.port import Channel
from nubshift.outputs.recorder import FileRecorder, Nowhere, Recorder
from nubshift.outputs.xtest import XTestChannel
from tests.support.ports import check_channel

CHANNELS: dict[str, Callable[[Path], Channel]] = {
    "record": lambda _: Recorder(),
    "record to a file": lambda folder: FileRecorder(folder / "out"),
    "nowhere": lambda _: Nowhere(),
    "xtest": lambda folder: XTestChannel(folder=folder),
}


@pytest.mark.parametrize("name", CHANNELS)
def test_it_keeps_what_the_port_promises(name: str, tmp_path: Path) -> None:
    if name == "xtest" and not os.environ.get("DISPLAY"):
        pytest.skip("no X server: Xvfb is not installed")
    check_channel(CHANNELS[name](tmp_path))
