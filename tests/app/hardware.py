"""Simulated controllers of other shapes in a window test: taught before, and in a seat."""

from __future__ import annotations

from typing import Any

from nubshift.devices.simulated_hardware import HARDWARE
from nubshift.model.controller_setup import ControllerSetup
from nubshift.model.shapes import SHAPES
from nubshift.model.stored_controllers import PartOf
from nubshift.protocol.messages import Choose
from tests.app.conftest import Hand


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
