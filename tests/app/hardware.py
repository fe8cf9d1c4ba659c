"""Simulated controllers of other shapes in a window test: taught before, and in a seat."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import Qt

from nubshift.app.controllers.chips import Chips
from nubshift.app.controllers.workspace import ControllersWorkspace
from nubshift.devices.simulated_hardware import HARDWARE
from nubshift.model.controller_setup import ControllerSetup
from nubshift.model.shapes import SHAPES
from nubshift.model.stored_controllers import PartOf
from nubshift.protocol.messages import Choose, Lesson, Status
from tests.app.hand import Hand


def taught(hand: Hand, name: str) -> None:
    """As if a model had been taught before."""
    hardware = HARDWARE[name]
    names = {c: n for c, n in SHAPES[hardware.shape].names.items() if c in hardware.controls}
    hand.window.controller_store.learn(
        ControllerSetup(hardware.model, hardware.raw_inputs, shape=hardware.shape, names=names)
    )
    hand.until(lambda: info(hand, name).how == "taught")


def info(hand: Hand, name: str) -> Any:
    assert hand.link.status is not None
    return next(c for c in hand.link.status.controllers if c.id == f"sim:{name}")


def use(hand: Hand, name: str, seat: str = "1") -> None:
    hand.link.send(Choose(f"sim:{name}", seat))
    hand.until(
        lambda: hand.link.status and hand.link.status.fills.get(seat, (PartOf(""),))[0].controller == f"sim:{name}"
    )


def controllers(hand: Hand) -> ControllersWorkspace:
    hand.click(hand.window.top.tabs.buttons["controllers"])
    hand.until(hand.window.pages.controllers.isVisible)
    return hand.window.pages.controllers


def press_chip(hand: Hand, chips: Chips, control: str, wait: int = 260) -> None:
    """Press a chip as a finger would, and let go."""
    at = chips.place(control).center().toPoint()
    hand.bot.mousePress(chips, Qt.MouseButton.LeftButton, pos=at)
    hand.bot.wait(wait)
    hand.bot.mouseRelease(chips, Qt.MouseButton.LeftButton, pos=at)


def lesson_of(workspace: ControllersWorkspace) -> Lesson:
    assert workspace.lesson.lesson is not None
    return workspace.lesson.lesson


def settled(hand: Hand) -> Status:
    """What the runner says once it has looked around: no word of its own comes after that by itself."""
    hand.until(lambda: hand.link.status is not None and hand.link.status.stop_key_by)
    assert hand.link.status is not None
    return hand.link.status
