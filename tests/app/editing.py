"""What tests of the editors share: an empty profile to edit, and hands that drag, arm and look."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QEvent, QPointF, Qt
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtWidgets import QApplication, QWidget

from nubshift.model import edits
from nubshift.model.profile import BASE, Binding, Command
from nubshift.model.slots import Slot
from tests.app.hand import Hand
from tests.support.profiles import made

EMPTY = made({"base": {}, "aim": {}}, commands=[Command("jump", "Jump", ("SPACE",)), Command("duck", "Duck", ("C",))])


def on(hand: Hand, control: str, part: str = "press", layer: str = BASE) -> Any:
    return edits.sends_of(hand.studio.profile, Slot(layer, control, part))


def binding(hand: Hand, control: str, layer: str = BASE) -> Binding:
    found = hand.studio.profile.layer(layer).binding(control)  # type: ignore[union-attr]
    assert found is not None
    return found


def drag(widget: QWidget, start: QPointF, end: QPointF) -> None:
    """Press, move in steps, let go: as a hand does with a handle."""
    left, none = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    kinds = [(QEvent.Type.MouseButtonPress, start)]
    kinds += [(QEvent.Type.MouseMove, start + (end - start) * step / 4) for step in range(1, 5)]
    kinds.append((QEvent.Type.MouseButtonRelease, end))
    for kind, at in kinds:
        QApplication.sendEvent(
            widget, QMouseEvent(kind, at, QPointF(widget.mapToGlobal(at.toPoint())), left, left, none)
        )


def key_into(hand: Hand, control: str, key: Qt.Key) -> None:
    hand.studio.selection.select(control)
    hand.studio.assigning.arm(hand.studio.selection.slot())
    hand.press(key)


def used_as(hand: Hand, control: str, word: str) -> Any:
    hand.studio.selection.select(control)
    hand.choose(hand.panel, word)
    hand.until(hand.panel.isVisible)
    hand.window.grab()
    return binding(hand, control).role
