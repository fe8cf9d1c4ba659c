"""The bench: belts as a strip with the present position, macros as a timeline with recording (N27, N31)."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import QEvent, QPointF, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QApplication

from nubshift.app.bench.bench import BeltPage, MacroPage
from nubshift.app.document import subject
from nubshift.app.shell.recording import Recording
from nubshift.model import edits
from nubshift.model.profile import BASE, Belt, BeltEntry, Command, Macro, MacroPress, MacroRelease, MacroTap, MacroWait
from nubshift.model.sends import SendBelt, SendCommand, SendMacro
from nubshift.model.slots import Slot
from nubshift.model.writing import profile_text
from standins.game import Game
from tests.app.editing import drag
from tests.app.hand import Hand, take_from_menu
from tests.support.profiles import made, sends

PROFILE = made(
    {"base": {"right_bumper": SendBelt("bar"), "left_bumper": SendBelt("bar", "back"), "north": SendMacro("dash")}},
    commands=[Command("mana", "Mana", ("1",)), Command("heal", "Heal", ("2",))],
    belts=(Belt("bar", "Hotbar", (BeltEntry(sends("/mana")), BeltEntry(sends("/heal")), BeltEntry(sends("3")))),),
    macros=(
        Macro(
            "dash",
            "Dash",
            (MacroPress(sends("W")), MacroWait(200), MacroTap(sends("SPACE"), 40), MacroRelease(sends("W"))),
        ),
    ),
)


@pytest.fixture
def hand(lend: Callable[..., Hand], tmp_path: Path) -> Hand:
    path = tmp_path / "bench.nubshift.json"
    path.write_bytes(profile_text(PROFILE))
    return lend(path)


def belt_page(hand: Hand) -> BeltPage:
    hand.click(*hand.command("belt:bar"))
    page = hand.window.map.bench.page
    assert isinstance(page, BeltPage)
    hand.until(page.isVisible)
    return page


def macro_page(hand: Hand) -> MacroPage:
    hand.click(*hand.command("macro:dash"))
    page = hand.window.map.bench.page
    assert isinstance(page, MacroPage)
    hand.until(page.isVisible)
    return page


def entries(hand: Hand) -> list[object]:
    return [entry.what for entry in hand.studio.profile.belts[0].entries]


def test_a_belt_is_filled_ordered_and_shortened_on_its_strip(hand: Hand) -> None:
    page = belt_page(hand)
    strip = page.picture
    hand.click(strip, strip.card(3).center().toPoint())  # the free place
    hand.press(Qt.Key.Key_4)
    assert entries(hand)[3] == sends("4")
    drag(strip, strip.card(3).center(), strip.card(1).center())
    assert entries(hand) == [sends("/mana"), sends("4"), sends("/heal"), sends("3")]
    hand.press(Qt.Key.Key_Right, strip, Qt.KeyboardModifier.AltModifier)
    assert entries(hand)[2] == sends("4")
    hand.press(Qt.Key.Key_Delete, strip, Qt.KeyboardModifier.ShiftModifier)
    assert entries(hand) == [sends("/mana"), sends("/heal"), sends("3")]
    hand.press(Qt.Key.Key_Left, strip)
    page.skip.click()
    assert [entry.skip for entry in hand.studio.profile.belts[0].entries].count(True) == 1
    hand.choose(page, "Stop")
    assert not hand.studio.profile.belts[0].wraps
    assert "Skip" not in strip.accessibleName()
    hand.window.grab()


def test_the_position_of_a_belt_is_live_and_buttons_share_it(hand: Hand) -> None:
    belt_page(hand)
    for control, at in (("right_bumper", 0), ("right_bumper", 1), ("left_bumper", 0)):
        hand.steer(control, 1)
        hand.until(lambda where=at: hand.live.belts.get("bar") == where)
        hand.steer(control, 0)
    hand.window.grab()
    hand.press(Qt.Key.Key_Escape, hand.window.map.bench.page.picture)  # type: ignore[union-attr]
    hand.until(lambda: hand.window.map.hands.isVisible())


def test_a_new_belt_from_the_menu_of_a_slot_is_one_step_and_opens(hand: Hand) -> None:
    hand.click(hand.tile("east"))
    hand.choose(hand.panel, "Other output…")
    take_from_menu(hand, "Belt", "New belt: next")
    assert hand.studio.selection.subject == subject.belt("belt-2")
    assert edits.sends_of(hand.studio.profile, Slot(BASE, "east")) == (SendBelt("belt-2"),)
    page = hand.window.map.bench.page
    assert page is not None
    hand.choose(page, "right face button (next)")
    assert (hand.studio.selection.subject, hand.studio.selection.control) == (subject.CONTROL, "east")
    hand.studio.document.undo()
    assert hand.studio.profile == PROFILE


def test_removing_a_belt_leads_back_to_the_hands(hand: Hand) -> None:
    page = belt_page(hand)
    hand.choose(page, "Delete belt")
    assert hand.studio.profile.belts == ()
    assert hand.studio.profile.layers[0].binding("right_bumper") is None
    hand.until(lambda: hand.window.map.hands.isVisible())
    hand.studio.document.undo()
    assert hand.studio.profile == PROFILE


def test_the_steps_of_a_macro_are_stretched_moved_added_and_taken_out(hand: Hand) -> None:
    page = macro_page(hand)
    line = page.picture
    edge = QPointF(line._lefts()[2] - 3, 20)
    drag(line, edge, edge + QPointF(48, 0))
    steps = hand.studio.profile.macros[0].steps
    assert isinstance(steps[1], MacroWait)
    assert steps[1].ms > 300
    hand.studio.document.undo()  # the drag is one step
    assert hand.studio.profile == PROFILE
    hand.click(line, line.place("steps[2].what").center().toPoint())
    hand.press(Qt.Key.Key_Left, line, Qt.KeyboardModifier.AltModifier)
    assert isinstance(hand.studio.profile.macros[0].steps[1], MacroTap)
    hand.press(Qt.Key.Key_Up, line, Qt.KeyboardModifier.AltModifier)
    assert hand.studio.profile.macros[0].steps[1].ms == 50  # type: ignore[union-attr]
    hand.choose(page, "Tap")
    hand.press(Qt.Key.Key_1)
    assert hand.studio.profile.macros[0].steps[2].what == (SendCommand("mana"),)  # type: ignore[union-attr]
    hand.press(Qt.Key.Key_Delete, line, Qt.KeyboardModifier.ShiftModifier)
    assert len(hand.studio.profile.macros[0].steps) == 4
    hand.choose(page, "While held")
    hand.choose(page, "Restart")
    macro = hand.studio.profile.macros[0]
    assert (macro.runs, macro.again) == ("while-held", "restart")
    hand.window.grab()


def test_recording_takes_every_key_and_nothing_else_hears_it(hand: Hand) -> None:
    page = macro_page(hand)
    hand.click(page.record)
    assert hand.window.recording.on
    before = hand.studio.profile
    target = hand.window.focusWidget() or hand.window
    for key, kind in (
        ("Z", QEvent.Type.KeyPress),
        ("1", QEvent.Type.KeyPress),
        ("1", QEvent.Type.KeyRelease),
        ("Z", QEvent.Type.KeyRelease),
    ):
        code = Qt.Key.Key_Z if key == "Z" else Qt.Key.Key_1
        with_ctrl = Qt.KeyboardModifier.ControlModifier  # which would undo, if it were not recorded
        QApplication.sendEvent(target, QKeyEvent(kind, code, with_ctrl, key))
    assert hand.studio.profile is before
    hand.click(page.record)
    kept, steps = before.macros[0].steps, hand.studio.profile.macros[0].steps
    assert steps[: page.picture.at] == kept[:1]  # what was there stays; the recording begins at the mark
    assert steps[-len(kept) + 1 :] == kept[1:]
    plain = [step for step in steps[1 : len(steps) - len(kept) + 1] if not isinstance(step, MacroWait)]
    assert [type(step) for step in plain] == [MacroPress, MacroTap, MacroRelease]
    assert plain[1].what == (SendCommand("mana"),)  # a key that a command has becomes the command
    assert hand.studio.document.history.undo_title == "Record, Dash"


def test_a_recording_keeps_its_times() -> None:
    recording = Recording()
    recording.start()
    for t, key, down in ((0, "A", True), (80_000, "A", False), (300_000, "B", True), (340_000, "B", False)):
        recording.take(key, down, t)
    recording.stop()
    steps = recording.steps(lambda key: sends(key)[0])
    assert steps == (MacroTap(sends("A"), 80), MacroWait(220), MacroTap(sends("B"), 40))


def test_the_game_gets_the_macro_that_was_drawn(start: Callable[..., Hand], tmp_path: Path) -> None:
    path = tmp_path / "bench.nubshift.json"
    path.write_bytes(profile_text(PROFILE))
    hand = start(path, sink="xtest")
    page = macro_page(hand)
    hand.click(page.picture, page.picture.place("steps[3].what").center().toPoint())
    hand.choose(page, "Tap")
    hand.press(Qt.Key.Key_K)
    game = Game(0, 0, 300, 200)
    try:
        hand.until(lambda: hand.link.status and not hand.link.status.withheld)
        hand.steer("north", 1)
        hand.steer("north", 0)
        game.wait(lambda: game.words()[-2:] == ["+45", "-45"], "K at the end")
        assert game.words() == ["+25", "+65", "-65", "-25", "+45", "-45"]
    finally:
        game.close()
