"""The player's settings: on one page, in one file, in force at once; and starting at login."""

from __future__ import annotations

import configparser
import shutil
import subprocess
from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QScrollArea

from nubshift.app.shell import login
from nubshift.app.shell.settings_page import SettingsPage
from nubshift.model.player_settings import PlayerSettings, read_settings
from nubshift.protocol.messages import Steer
from nubshift.protocol.paths import settings_path, with_tilde
from tests.app.hand import Hand


@pytest.fixture
def open_page(start: Callable[..., Hand]) -> Hand:
    hand = start()
    hand.press(Qt.Key.Key_Comma, hand.window, Qt.KeyboardModifier.ControlModifier)
    hand.until(hand.window.pages.settings.isVisible)
    return hand


def page(hand: Hand) -> SettingsPage:
    return hand.window.pages.settings


def saved() -> PlayerSettings:
    return read_settings(settings_path())


def test_what_is_chosen_is_in_force_and_saved(open_page: Hand) -> None:
    open_page.choose(page(open_page), "Day")
    assert open_page.window.look.theme.name == "day"
    assert not page(open_page).text_size_later.isVisible()
    open_page.choose(page(open_page), "130")
    assert page(open_page).text_size_later.isVisible()
    open_page.choose(page(open_page), "20 s")
    assert open_page.studio.assigning.listening_seconds == 20
    page(open_page).sounds.click()
    assert open_page.window.during_play.sounds.on
    open_page.choose(page(open_page), "Quits")
    found = saved()
    assert found.text_size == 130
    assert (found.theme, found.listening_seconds, found.layer_sounds, found.closing) == ("day", 20, True, "quit")


def test_the_page_ends_where_its_last_row_does(open_page: Hand, qapp: QApplication) -> None:
    area = page(open_page).findChild(QScrollArea)
    assert area is not None
    inside, viewport = area.widget(), area.viewport()
    assert inside is not None
    assert viewport is not None
    for width in (1100, 1600, 1100):
        open_page.window.resize(width, 640)
        qapp.processEvents()
        lowest = page(open_page).login.mapTo(inside, page(open_page).login.rect().bottomLeft()).y()
        assert 0 < inside.height() - lowest < 60, width
        assert inside.height() > viewport.height()


def test_the_layout_is_chosen_where_the_desktop_does_not_tell(
    start: Callable[..., Hand], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("nubshift.app.shell.settings_page.layouts_to_choose", lambda: ("English (US)", "French"))
    hand = start()
    hand.window.show_workspace("settings")
    hand.until(page(hand).layout_in_use.isVisible)
    hand.choose(page(hand), "French")
    assert saved().layout_group == 1


def test_the_menu_and_the_page_say_the_same(open_page: Hand) -> None:
    open_page.window.run_action("overlay")
    assert not page(open_page).overlay.isChecked()
    assert not saved().overlay


def test_the_stop_key_is_typed_and_escape_leaves_it(open_page: Hand) -> None:
    button = page(open_page).stop_key
    before = saved().stop_key
    open_page.click(button)
    assert button.text() == "Press a key…"
    open_page.press(Qt.Key.Key_Escape, button)
    assert (button.isChecked(), saved().stop_key) == (False, before)
    open_page.click(button)
    subprocess.run(["xdotool", "key", "--clearmodifiers", "ctrl+F11"], check=True)
    open_page.until(lambda: saved().stop_key == ("LEFTCTRL", "F11"))
    assert "F11" in button.text()
    open_page.choose(page(open_page), "Clear")
    assert saved().stop_key == ()


def test_the_stop_controls_are_those_held_together(open_page: Hand) -> None:
    page(open_page).stop_controls.controls.click()
    for control, value in (("left_bumper", 1.0), ("right_bumper", 1.0), ("left_bumper", 0.0)):
        open_page.link.send(Steer(control, value))
        open_page.until(lambda control=control, value=value: open_page.live.depth(control) == value)
    assert saved().stop_controls == ("left_bumper", "right_bumper")
    assert not page(open_page).stop_controls.controls.isChecked()


def test_one_button_may_open_the_menu_over_the_game(open_page: Hand) -> None:
    page(open_page).menu_controls.controls.click()
    for value in (1.0, 0.0):
        open_page.link.send(Steer("left_bumper", value))
        open_page.until(lambda value=value: open_page.live.depth("left_bumper") == value)
    assert saved().menu_controls == ("left_bumper",)
    open_page.link.send(Steer("left_bumper", 1.0))  # the runner goes by it at once
    open_page.until(lambda: open_page.window.during_play.menu.menu.is_open)


def test_holding_the_present_controls_while_others_are_chosen_opens_nothing(open_page: Hand) -> None:
    done: list[str] = []
    open_page.link.menu_does.connect(lambda act, _seat: done.append(act))
    page(open_page).menu_controls.controls.click()
    open_page.link.send(Steer("mode", 1.0))
    open_page.until(lambda: done == ["open", "close"])
    assert not open_page.window.during_play.menu.menu.is_open
    open_page.link.send(Steer("mode", 0.0))
    open_page.until(lambda: not page(open_page).menu_controls.listens)
    assert saved().menu_controls == ("mode",)


def test_start_at_login_is_written_shown_and_removed(open_page: Hand, own_home: Path) -> None:
    entry = own_home / "set" / "autostart" / "nubshift.desktop"
    unit = own_home / "set" / "systemd" / "user" / "nubshift.service"
    open_page.choose(page(open_page), "Desktop autostart")
    assert with_tilde(entry) in page(open_page).login_files.text()
    parsed = configparser.ConfigParser(interpolation=None)
    parsed.read(entry)
    assert parsed["Desktop Entry"]["Exec"].endswith("--hidden")
    open_page.choose(page(open_page), "systemd user unit")
    assert not entry.exists()
    assert unit.exists()
    assert (unit.parent / "graphical-session.target.wants" / "nubshift.service").resolve() == unit
    open_page.choose(page(open_page), "No")
    assert not unit.exists()
    assert login.present() == "no"
    assert not page(open_page).login_files.isVisible()


@pytest.mark.skipif(shutil.which("systemd-analyze") is None, reason="systemd-analyze is not installed")
def test_the_unit_is_one_for_systemd(tmp_path: Path) -> None:
    unit = tmp_path / "nubshift.service"
    program = tmp_path / "with space" / "nubshift"
    program.parent.mkdir()
    program.write_text("#!/bin/sh\n")
    program.chmod(0o700)
    unit.write_text(login.systemd_unit([str(program), "--hidden"]))
    done = subprocess.run(["systemd-analyze", "verify", str(unit)], capture_output=True, text=True, check=False)
    told = [line for line in done.stderr.splitlines() if "nubshift.service" in line]
    assert not told, told


@pytest.mark.skipif(shutil.which("desktop-file-validate") is None, reason="desktop-file-utils is not installed")
def test_the_entry_is_one_for_desktops(tmp_path: Path) -> None:
    entry = tmp_path / "nubshift.desktop"
    entry.write_text(login.autostart_entry(["/opt/nub shift/nubshift", "--hidden", "100%"]))
    done = subprocess.run(["desktop-file-validate", str(entry)], capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stdout


def test_settings_that_can_not_be_read_are_told_and_put_aside(start: Callable[..., Hand]) -> None:
    settings_path().parent.mkdir(parents=True, exist_ok=True)
    settings_path().write_text('{"format": "nubshift-settings", "theme": 3}')
    hand = start()
    assert any("settings.json.aside-1" in text for text in hand.window.troubles())
    assert hand.window.settings.now == PlayerSettings()
