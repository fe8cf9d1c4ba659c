"""A surface over the game at a scale that is no whole number, before a compositor that says all that it is told."""

from __future__ import annotations

import json
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QApplication

from nubshift.app.overlay.layer_pane import LayerPane
from nubshift.desktop.wayland.connection import Connection
from nubshift.desktop.wayland.layer import LayerSurface
from nubshift.desktop.wayland.protocols import LAYER_OVERLAY
from standins.waiting import PATIENCE, wait_until
from standins.wayland_session import Compositor

ROOT = Path(__file__).parents[2]


class Told:
    """The compositor, and what it was told so far."""

    def __init__(self, address: str) -> None:
        self.process = subprocess.Popen(
            [sys.executable, "-m", "standins.compositor", address, "180"],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            text=True,
            cwd=ROOT,
        )
        assert self.read() == ["ready"]

    def read(self) -> Any:
        assert self.process.stdout is not None
        return json.loads(self.process.stdout.readline())

    def until(self, what: str) -> list[Any]:
        """All that it is told, up to this."""
        found = [self.read()]
        while found[-1][0] != what:
            found.append(self.read())
        return found

    def end(self) -> None:
        self.process.communicate("", timeout=PATIENCE)


@pytest.fixture
def told(tmp_path: Path) -> Iterator[Told]:
    found = Told(str(tmp_path / "small"))
    yield found
    found.end()


def test_it_is_sharp_at_one_and_a_half_and_sends_only_what_changed(told: Told, tmp_path: Path) -> None:
    connection = Connection(str(tmp_path / "small"))
    due: list[None] = []
    layer = LayerSurface(connection, lambda: due.append(None))
    layer.up()
    asked = told.until("commit")
    assert ["layer", LAYER_OVERLAY] in asked
    assert ["set_keyboard_interactivity", 0] in asked, "it never has the keyboard"
    assert ["set_input_region"] in asked, "nor the pointer"
    assert (layer.size, layer.scale) == ((1280, 800), 1.5)
    first = layer.picture()
    assert first is not None
    assert (first.width, first.height) == (1920, 1200)
    layer.put(first, [(10, 10, 300, 200)])
    shown = told.until("commit")
    assert ["set_destination", 1280, 800] in shown
    assert ["damage_buffer", 0, 0, 1920, 1200] in shown, "of the first picture all is new"
    assert layer.waits

    def frame_shown() -> bool:
        connection.take()
        return not layer.waits

    wait_until(frame_shown, "it is shown")
    second = layer.picture()
    assert second is not None
    assert second is not first, "the compositor still reads the first"
    layer.put(second, [(40, 10, 300, 200)])
    changed = [entry[1:] for entry in told.until("commit") if entry[0] == "damage_buffer"]
    assert changed == [[10, 10, 300, 200], [40, 10, 300, 200]], "where something was, and where something is"
    wait_until(frame_shown, "it is shown too")
    assert layer.picture() is None, "both are in use: nothing is painted over what is being read"
    layer.down()
    gone = {entry[0] for entry in told.until("wl_surface gone")}
    assert {"zwlr_layer_surface_v1 gone", "wl_surface gone"} <= gone
    assert (layer.is_up, layer.size) == (False, (0, 0))
    assert due
    connection.close()


def test_a_pane_ends_although_its_compositor_is_gone(told: Told, tmp_path: Path, qapp: QApplication) -> None:
    parent = QObject()
    pane = LayerPane(lambda _painter: None, lambda: None, parent, str(tmp_path / "small"))
    pane.up()
    told.until("commit")
    assert pane.is_up
    told.process.kill()
    told.process.wait()
    pane.down()  # no error: a window that closes has more to do than this
    assert not pane.is_up
    pane.up()
    pane.end()


def test_where_nothing_may_stand_over_others_that_is_an_error(tmp_path: Path, wayland: Compositor) -> None:
    connection = Connection(wayland.address)
    connection.offers.pop("zwlr_layer_shell_v1")
    with pytest.raises(OSError, match="no surfaces over the others"):
        LayerSurface(connection, lambda: None)
    connection.close()
    with pytest.raises(OSError, match="no Wayland compositor answers"):
        Connection(str(tmp_path / "nobody"))
