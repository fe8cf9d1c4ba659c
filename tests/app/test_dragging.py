"""A command dragged onto a control (docs/architecture.md)."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QMimeData, QPointF, Qt
from PyQt6.QtGui import QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import QApplication

from nubshift.app.document import subject
from nubshift.app.document.output_choices import with_new_belt
from nubshift.app.stage import COMMAND_MIME
from nubshift.model.edits import sends_of
from nubshift.model.part import Direction
from nubshift.model.profile import BASE
from nubshift.model.sends import SendCommand
from nubshift.model.slots import Slot, side
from tests.app.hand import Hand


@pytest.mark.parametrize(
    ("control", "where", "direction"),
    [("east", (0.5, 0.5), None), ("left_stick", (0.5, 0.25), "up"), ("left_stick", (0.95, 0.55), "right")],
)
def test_dropping_lets_the_control_send_it(
    hand: Hand, control: str, where: tuple[float, float], direction: Direction | None
) -> None:
    tile = hand.tile(control)
    data = QMimeData()
    data.setData(COMMAND_MIME, b"sing")
    at = QPointF(tile.width() * where[0], tile.height() * where[1])
    copy, left, none = Qt.DropAction.CopyAction, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    enter = QDragEnterEvent(at.toPoint(), copy, data, left, none)
    QApplication.sendEvent(tile, enter)
    assert enter.isAccepted()
    QApplication.sendEvent(tile, QDropEvent(at, copy, data, left, none))
    assert sends_of(hand.studio.profile, Slot(BASE, control, side(direction) if direction else "press")) == (
        SendCommand("sing"),
    )
    assert hand.studio.selection.control == control


def test_what_a_command_may_be_dropped_on_stays_open_while_it_is_taken_hold_of(hand: Hand) -> None:
    hand.studio.document.edit("Add belt", lambda profile: with_new_belt(profile)[0])
    belt = subject.belt(hand.studio.profile.belts[-1].id)
    hand.studio.selection.look_at(belt)
    viewport, at = hand.command("journal")
    hand.bot.mousePress(viewport, Qt.MouseButton.LeftButton, pos=at)
    assert hand.studio.selection.subject == belt
    hand.bot.mouseRelease(viewport, Qt.MouseButton.LeftButton, pos=at)
    assert hand.studio.selection.subject == subject.CONTROL
