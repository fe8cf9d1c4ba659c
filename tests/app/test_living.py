"""The window alive: steering, feel, keeping, Live and Paused, both themes, trouble."""

from __future__ import annotations

import os
import signal
from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QApplication, QPushButton

from nubshift.app.editors.roles.role_panel import RolePanel
from nubshift.app.map.stick_tile import StickTile
from nubshift.app.painting.theme import DAY, DUSK, Theme
from nubshift.model.profile import BASE
from nubshift.protocol.messages import Play, Withhold
from tests.app.hand import Hand, at


def test_steering_with_the_mouse_on_the_round_marks(hand: Hand) -> None:
    tile = hand.tile("south")
    assert not isinstance(tile, StickTile)
    mark = tile.nub_centre().toPoint()  # type: ignore[attr-defined]
    hand.bot.mousePress(tile, Qt.MouseButton.LeftButton, pos=mark)
    hand.until(lambda: hand.live.held == ("SPACE",))
    hand.bot.mouseRelease(tile, Qt.MouseButton.LeftButton, pos=mark)
    hand.until(lambda: hand.live.held == ())
    stick = hand.tile("left_stick")
    assert isinstance(stick, StickTile)
    centre, radius = stick._plane()
    hand.bot.mousePress(stick, Qt.MouseButton.LeftButton, pos=centre.toPoint())
    hand.bot.mouseMove(stick, centre.toPoint() - QPoint(0, round(radius * 0.8)))
    hand.until(lambda: hand.live.held == ("W",))
    hand.bot.mouseRelease(stick, Qt.MouseButton.LeftButton)
    hand.until(lambda: hand.live.held == ())


def test_steering_with_the_keyboard(hand: Hand) -> None:
    tile = hand.tile("south")
    hand.click(tile, at(tile.width() - 6, tile.height() - 6))
    hand.bot.keyPress(tile, Qt.Key.Key_Space)
    hand.until(lambda: hand.live.held == ("SPACE",))
    hand.bot.keyRelease(tile, Qt.Key.Key_Space)
    hand.until(lambda: hand.live.held == ())
    stick = hand.tile("left_stick")
    hand.bot.keyPress(stick, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    hand.until(lambda: "D" in hand.live.held)
    hand.bot.keyRelease(stick, Qt.Key.Key_Right)
    hand.until(lambda: hand.live.held == ())


def test_dragging_a_slider_is_live_and_one_step(hand: Hand) -> None:
    hand.click(hand.tile("right_stick"))
    panel = hand.window.map.inspector.panel
    assert isinstance(panel, RolePanel)
    slider = panel.rows["speed"].slider
    middle = slider.height() // 2
    hand.bot.mousePress(slider, Qt.MouseButton.LeftButton, pos=QPoint(40, middle))
    for x in range(40, 160, 10):
        hand.bot.mouseMove(slider, QPoint(x, middle))
    hand.bot.mouseRelease(slider, Qt.MouseButton.LeftButton, pos=QPoint(160, middle))
    speed = hand.studio.profile.layers[0].feel_of("right_stick").speed  # type: ignore[union-attr]
    assert speed is not None
    assert speed != 210
    assert panel.rows["speed"].field.text().startswith(f"{speed:,.0f}".replace(",", "\u202f"))
    hand.studio.document.undo()
    assert hand.studio.document.history.undo_title == ""
    assert hand.studio.profile.layers[0].feel_of("right_stick").speed == 210  # type: ignore[union-attr]


def test_a_number_can_be_typed_and_nonsense_is_put_back(hand: Hand) -> None:
    hand.click(hand.tile("right_stick"))
    panel = hand.window.map.inspector.panel
    assert isinstance(panel, RolePanel)
    field = panel.rows["inner"].field
    for text, value in (("12", 0.12), ("12,5 %", 0.125), ("lots", 0.125), ("900", 0.9)):
        field.selectAll()
        hand.bot.keyClicks(field, text)
        hand.press(Qt.Key.Key_Return, field)
        assert hand.studio.profile.layers[0].feel_of("right_stick").inner == pytest.approx(value)  # type: ignore[union-attr]
    assert field.text() == "90\u202f%"


def test_a_contradiction_is_refused_in_a_sentence(hand: Hand) -> None:
    hand.click(hand.tile("right_stick"))
    panel = hand.window.map.inspector.panel
    assert isinstance(panel, RolePanel)
    panel.rows["outer"].changed.emit(0.1)
    panel.rows["inner"].changed.emit(0.5)
    assert "must end before" in hand.window.notices.text


@pytest.mark.own_window
def test_live_and_paused(hand: Hand) -> None:
    hand.link.send(Withhold(False))
    switch = hand.window.top.switch
    hand.steer("south", 1)
    hand.until(lambda: hand.live.held == ("SPACE",))
    hand.click(switch, QPoint(switch.width() - 10, 10))
    hand.until(lambda: switch.accessibleName() == "Paused" and hand.live.held == ())
    assert hand.window.now.held.mode == "Paused"
    hand.press(Qt.Key.Key_Space, switch)
    hand.until(lambda: switch.accessibleName() == "Live")


@pytest.mark.own_window
def test_edits_are_kept_by_themselves_and_at_closing(hand: Hand) -> None:
    before = hand.saved()
    hand.click(hand.tile("east"))
    hand.click(hand.tile("east"))
    hand.press(Qt.Key.Key_Delete, hand.tile("east"))
    assert "Saving" in hand.window.top.title.state_text
    hand.window.close()
    assert hand.studio.document.saved
    assert hand.saved() != before
    assert hand.saved().layers[0].binding("east") is None


def test_a_full_disk_is_told_and_the_edit_is_not_lost(hand: Hand, monkeypatch: pytest.MonkeyPatch) -> None:
    def full(*_: object) -> None:
        raise OSError(28, "No space left on device")

    with monkeypatch.context() as broken:
        broken.setattr("os.fsync", full)
        hand.click(hand.tile("east"))
        hand.press(Qt.Key.Key_Delete, hand.tile("east"))
        hand.until(lambda: "No space left" in hand.window.notices.text)
        assert "Not saved" in hand.window.top.title.state_text
    assert hand.studio.document.save()
    assert hand.saved().layers[0].binding("east") is None


@pytest.mark.own_window
def test_a_killed_runner_is_started_anew_and_said_so(hand: Hand) -> None:
    hand.steer("south", 1)
    hand.until(lambda: hand.live.held == ("SPACE",))
    pid = hand.link.runner_pid
    os.kill(pid, signal.SIGKILL)
    hand.until(lambda: hand.live.held == ())
    hand.until(lambda: hand.link.ready and hand.link.runner_pid not in (0, pid))
    assert "stopped unexpectedly" in hand.window.notices.text
    hand.until(lambda: hand.link.status is not None)
    hand.steer("east", 1)
    hand.until(lambda: hand.live.held == ("TAB",))


def test_a_profile_that_cannot_be_used_is_named_and_left(start: Callable[..., Hand], tmp_path: Path) -> None:
    bad = tmp_path / "bad.nubshift.json"
    bad.write_text('{"format": "nubshift-profile", "version": 1}')
    hand = start(bad)
    assert "bad.nubshift.json" in hand.window.notices.text
    assert "game" in hand.window.notices.text
    assert hand.studio.profile.game.title == "Ferrow Deep"
    assert bad.read_text() == '{"format": "nubshift-profile", "version": 1}'
    assert not hand.studio.document.open(bad)


def test_the_player_runs_by_in_the_now_strip(hand: Hand) -> None:
    seen: set[str] = set()

    def run_by() -> bool:
        """Whether all of it was seen by now; what a busy machine passed over comes again."""
        assert hand.link.status is not None
        if not hand.link.status.playing:
            hand.link.send(Play("ferrow-deep"))
        seen.update(bar.code for bar in hand.live.bars)
        seen.update(["turning"] if hand.live.speed[0] > 100 else [])
        return {"W", "LEFTSHIFT", "turning"} <= seen

    hand.until(run_by)
    assert hand.window.name_of("W") == "Forward"


def test_a_new_profile_and_back(hand: Hand) -> None:
    first = hand.studio.document.file.path
    hand.press(Qt.Key.Key_N, hand.window, Qt.KeyboardModifier.ControlModifier)
    sheet = hand.window.beginning
    hand.until(sheet.isVisible)
    hand.bot.keyClicks(sheet.title, "Lantern Row")
    hand.press(Qt.Key.Key_Return, sheet.title)
    assert hand.studio.profile.game.title == "Lantern Row"
    assert hand.studio.document.file.path.name == "lantern-row.nubshift.json"
    assert "Unassigned" in hand.tile("south").accessibleName()
    assert hand.studio.document.open(first)
    assert "Hop" in hand.tile("south").accessibleName()


def test_finder_goes_anywhere(hand: Hand) -> None:
    hand.press(Qt.Key.Key_K, hand.window, Qt.KeyboardModifier.ControlModifier)
    finder = hand.window.searching.finder
    hand.until(finder.isVisible)
    hand.bot.keyClicks(finder.field, "grip lower")
    hand.press(Qt.Key.Key_Return, finder.field)
    assert hand.studio.selection.control in ("left_grip_2", "right_grip_2")
    hand.window.search()
    hand.bot.keyClicks(finder.field, "climb")
    hand.press(Qt.Key.Key_Down, finder.field)
    hand.press(Qt.Key.Key_Up, finder.field)
    finder.hide()


def test_everything_says_what_it_is(hand: Hand) -> None:
    for tile in hand.window.map.hands.tiles.values():
        assert tile.accessibleName()
        assert tile.focusPolicy() == Qt.FocusPolicy.StrongFocus
    for button in hand.window.findChildren(QPushButton):
        assert not button.isVisible() or button.accessibleName() or button.text()


def luminance(colour: QColor) -> float:
    def part(value: float) -> float:
        return value / 12.92 if value <= 0.03928 else ((value + 0.055) / 1.055) ** 2.4

    return 0.2126 * part(colour.redF()) + 0.7152 * part(colour.greenF()) + 0.0722 * part(colour.blueF())


@pytest.mark.parametrize("theme", [DUSK, DAY], ids=lambda theme: theme.name)
def test_contrast(theme: Theme) -> None:
    pairs = [
        (ink, ground) for ink in (theme.ink, theme.quiet) for ground in (theme.ground, theme.surface, theme.raised)
    ]
    pairs += [(theme.on_input, theme.input), (theme.on_output, theme.output), (theme.on_cap, theme.cap)]
    pairs += [(theme.input, theme.surface), (theme.output, theme.surface)]
    for ink, ground in pairs:
        light, dark = sorted((luminance(ink), luminance(ground)), reverse=True)
        assert (light + 0.05) / (dark + 0.05) >= 4.5, (ink.name(), ground.name())


@pytest.mark.own_window
def test_both_themes_repaint_everything(hand: Hand, qapp: QApplication) -> None:
    dusk = hand.window.grab().toImage()
    hand.window.look.want("day")
    qapp.processEvents()
    day = hand.window.grab().toImage()
    for x, y in ((5, 5), (300, 300), (1200, 400), (20, 780)):
        assert dusk.pixelColor(x, y).lightnessF() < 0.4
        assert day.pixelColor(x, y).lightnessF() > 0.6
    assert hand.studio.selection.layer == BASE
