"""Setting a controller up by pressing what is asked for, with the mouse or without."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from PyQt6.QtCore import Qt

from nubshift.devices.simulated_hardware import HARDWARE
from nubshift.model.controller_setup import read_setups
from nubshift.protocol.messages import Steer
from nubshift.protocol.paths import setups_folder
from tests.app.hand import Hand
from tests.app.hardware import controllers, info, lesson_of, press_chip, use

pytestmark = pytest.mark.own_window


def test_a_controller_is_taught_by_pressing_what_is_asked_for(hand: Hand) -> None:
    workspace = controllers(hand)
    workspace.choose("sim:quarry")
    hand.choose(workspace.detail, "Set up controls…")
    hand.choose(workspace.lesson, "Arcade stick")
    hand.until(lambda: workspace.lesson.lesson is not None and lesson_of(workspace).phase == "ask")
    page = workspace.lesson
    while lesson_of(workspace).phase == "ask":
        asked = lesson_of(workspace).control
        if asked in HARDWARE["quarry"].controls:
            press_chip(hand, page.raw_inputs, asked)
        else:
            hand.choose(page, "It has none")
        hand.until(lambda: page.lesson is None or lesson_of(workspace).control != asked)
    assert lesson_of(workspace).phase == "review"
    at = page.raw_inputs.place("south").center().toPoint()
    hand.bot.mousePress(page.raw_inputs, Qt.MouseButton.LeftButton, pos=at)
    hand.until(lambda: page.taught.depths == {"south": 1.0})
    hand.bot.mouseRelease(page.raw_inputs, Qt.MouseButton.LeftButton, pos=at)
    hand.choose(page, "Save")
    hand.until(lambda: info(hand, "quarry").how == "taught")
    assert workspace.pages.currentWidget() is workspace.detail
    setup = read_setups(setups_folder())[0][HARDWARE["quarry"].model]
    assert set(setup.controls) == set(HARDWARE["quarry"].controls)
    hand.choose(workspace.detail, "Delete setup")
    hand.until(lambda: info(hand, "quarry").how == "guess")


def test_a_wrong_press_says_so_and_back_asks_again(hand: Hand) -> None:
    workspace = controllers(hand)
    workspace.choose("sim:reed")
    workspace.teach()
    workspace.lesson.begin("guitar")
    page = workspace.lesson
    hand.until(lambda: page.lesson is not None and lesson_of(workspace).phase == "ask")
    press_chip(hand, page.raw_inputs, "button_1")
    hand.until(lambda: lesson_of(workspace).control == "button_2")
    press_chip(hand, page.raw_inputs, "button_1")
    hand.until(lambda: "already fret 1" in page.remark.text())
    assert lesson_of(workspace).control == "button_2"
    hand.choose(page, "Back")
    hand.until(lambda: lesson_of(workspace).control == "button_1")
    hand.choose(page, "Stop")
    assert workspace.pages.currentWidget() is workspace.detail
    assert info(hand, "reed").how == "guess"


def test_an_untaught_controller_is_taught_with_no_hand_on_the_mouse(hand: Hand) -> None:
    """Held in the workspace it asks for its lesson, its buttons choose the shape, and holding takes it."""
    workspace = controllers(hand)
    use(hand, "quarry")

    def hold(control: str, until: Callable[[], object]) -> None:
        hand.link.send(Steer(control, 1.0))
        hand.until(until)
        hand.link.send(Steer(control, 0.0))
        hand.until(lambda: hand.live.depth(control) == 0.0)

    hold("button_1", lambda: workspace.lesson.info is not None)
    assert workspace.lesson.shapes["pad"].isChecked()
    hold("button_2", lambda: hand.live.depth("button_2") == 1.0)
    hand.until(lambda: workspace.lesson.shapes["arcade"].isChecked())
    hold("button_2", lambda: workspace.lesson.lesson is not None)
    assert lesson_of(workspace).shape == "arcade"


def test_leaving_the_workspace_ends_a_lesson(hand: Hand) -> None:
    workspace = controllers(hand)
    workspace.choose("sim:tern")
    workspace.teach()
    workspace.lesson.begin("remote")
    hand.until(lambda: workspace.lesson.lesson is not None)
    hand.click(hand.window.top.tabs.buttons["map"])
    assert workspace.lesson.lesson is None
    controllers(hand)
    assert workspace.pages.currentWidget() is workspace.detail
