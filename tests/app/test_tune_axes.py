"""Tune for lone axes: one that goes both ways, one that goes one way, one that does nothing."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtWidgets import QCheckBox

from nubshift.app.editors.number_row import NumberRow
from nubshift.app.tune.pull import PullPicture
from nubshift.model.roles import MouseRole
from nubshift.model.store import ProfileFile
from nubshift.protocol.messages import Steer
from tests.app.editing import drag
from tests.app.hand import Hand
from tests.app.hardware import info, taught, use
from tests.support.profiles import four, made


@pytest.fixture
def willow(start: Callable[..., Hand], tmp_path: Any) -> Hand:
    """The window at Tune, with a stick for the mouth: its holes are puffed into and sipped at."""
    file = ProfileFile(tmp_path / "breath.nubshift.json")
    file.write(made({"base": {"axis_1": four(), "axis_2": MouseRole()}}))
    hand = start(file.path)
    taught(hand, "willow")
    use(hand, "willow")
    hand.click(hand.window.top.tabs.buttons["tune"])
    hand.until(lambda: "axis_1" in hand.window.tune.controls.controls)
    return hand


def pull_of(hand: Hand, control: str) -> PullPicture:
    hand.window.tune.open(control)
    pull = hand.window.tune.pull
    hand.until(lambda: pull.isVisible() and pull.width() > 300)
    hand.window.grab()
    return pull


def test_both_sides_are_there_and_the_lower_one_is_dragged(willow: Hand) -> None:
    pull = pull_of(willow, "axis_1")
    y = pull.bar.center().y()
    assert pull.across(0.0) == pull.bar.center().x()
    drag(pull, QPointF(pull.across(-0.5), y), QPointF(pull.across(-0.8), y))
    assert willow.studio.profile.feel_in("base", "1", "axis_1").key_radius == pytest.approx(0.8, abs=0.01)
    assert "presses at 80" in pull.accessibleDescription()
    willow.until(lambda: willow.studio.document.saved)
    for value, held in ((-0.7, ()), (-0.95, ("A",)), (0.7, ()), (0.95, ("D",))):
        willow.steer("axis_1", value)
        willow.until(lambda: willow.live.held == held)
    willow.until(lambda: willow.window.tune.tuner.last.out == (1.0, 0.0))  # type: ignore[union-attr]


def test_puffing_beside_the_handles_puffs(willow: Hand) -> None:
    pull = pull_of(willow, "axis_1")
    at = QPointF(pull.across(-0.9), pull.bar.center().y()).toPoint()
    willow.bot.mousePress(pull, Qt.MouseButton.LeftButton, pos=at)
    willow.until(lambda: willow.live.held == ("A",))
    willow.bot.mouseRelease(pull, Qt.MouseButton.LeftButton, pos=at)
    willow.until(lambda: willow.live.held == ())


def test_only_what_counts_for_an_axis_is_offered(willow: Hand) -> None:
    def offered(control: str) -> set[str]:
        pull_of(willow, control)
        panel = willow.window.tune.panel
        assert panel is not None
        boxes = {box.text() for box in panel.findChildren(QCheckBox)}
        return boxes | {row.parameter.name for row in panel.findChildren(NumberRow)}

    assert offered("axis_1") == {"key_radius"}
    mouse = offered("axis_2")
    assert "Invert left and right" in mouse
    assert "Invert up and down" not in mouse
    assert "speed" in mouse
    assert "ratio" not in mouse


def test_where_nothing_begins_nothing_can_be_taken_hold_of(willow: Hand) -> None:
    pull = pull_of(willow, "axis_3")
    assert pull.thresholds == []
    assert info(willow, "willow").two_sided == ("axis_1", "axis_2", "axis_3")
    taught(willow, "reed")
    assert info(willow, "reed").two_sided == ()  # its bar and its neck go one way


def test_two_axes_are_joined_as_a_stick_and_taken_apart(willow: Hand) -> None:
    willow.click(willow.window.top.tabs.buttons["map"])
    willow.studio.selection.select("axis_3")
    willow.choose(willow.panel, "left hole")
    willow.until(lambda: "joined_stick_1" in willow.window.map.hands.tiles)
    assert willow.studio.selection.control == "joined_stick_1"
    willow.choose(willow.panel, "Letters")
    willow.link.send(Steer("axis_1", -0.9))
    willow.until(lambda: willow.live.held == ("W",))
    willow.until(lambda: willow.live.value("joined_stick_1")[1] < -0.8)
    willow.choose(willow.panel, "Swap axes")
    willow.until(lambda: willow.live.held == ("A",))
    willow.window.tune.open("joined_stick_1")
    willow.click(willow.window.top.tabs.buttons["tune"])
    willow.until(lambda: willow.window.tune.tuner.last is not None and willow.window.tune.tuner.last.raw[0] < -0.8)
    willow.click(willow.window.top.tabs.buttons["map"])
    willow.choose(willow.panel, "Separate")
    willow.until(lambda: "joined_stick_1" not in willow.window.map.hands.tiles)
    assert willow.saved().seats[0].joins == ()
