"""Several profiles: the switcher on the profile's name (N10, N60), and the key list of one (N11, N12)."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtCore import QCoreApplication, QEvent, QMimeData, QModelIndex, Qt
from PyQt6.QtWidgets import QApplication, QFileDialog, QLabel, QMenu

from nubshift.app.document import subject
from nubshift.app.document.shelf import AS_IT_IS, BEGINNINGS, Shelf, ShelfEntry, begun
from nubshift.app.shell.tray import Tray, TrayWays
from nubshift.app.stage import COMMAND_MIME
from nubshift.model import edits
from nubshift.model.profile import BASE, SUFFIX
from nubshift.model.rules import problems_of
from nubshift.model.sends import SendCommand, SendPad
from nubshift.model.slots import Slot
from nubshift.model.store import profile_names, read_profile
from nubshift.model.writing import profile_text
from standins.game import Game
from tests.app.hand import Hand, choose_in
from tests.support.profiles import made

CTRL = Qt.KeyboardModifier.ControlModifier


def menu(hand: Hand) -> QMenu:
    hand.window.actions_table.refresh()
    return hand.window._profiles.menu()


def choose(hand: Hand, *path: str) -> None:
    choose_in(menu(hand), *path)


def test_the_three_games_are_there_and_one_goes_from_one_to_the_other(hand: Hand) -> None:
    titles = [a.text() for a in menu(hand).actions()[:3]]
    assert titles == ["Ferrow Deep", "Quillgate", "Saltbarrow"]
    choose(hand, "Saltbarrow")
    assert hand.studio.profile.game.title == "Saltbarrow"
    assert hand.window.windowTitle().startswith("Saltbarrow")
    hand.until(lambda: "key Z" not in hand.tile("left_bumper").accessibleName())


def test_the_tray_reads_the_profiles_when_somebody_looks(hand: Hand, monkeypatch: pytest.MonkeyPatch) -> None:
    reads: list[object] = []
    entries = Shelf.entries

    def read(shelf: Shelf) -> list[ShelfEntry]:
        reads.append(shelf)
        return entries(shelf)

    monkeypatch.setattr(Shelf, "entries", read)
    kept: list[str | None] = []
    ways = TrayWays(list, print, list, kept.append, list)
    tray = Tray(hand.window.look, Shelf(hand.studio, hand.window.shelf.folder), ways, hand.window)
    try:
        assert "Quit" in [action.text() for action in tray.menu.actions()]
        assert reads == [], "a start would wait for it"
        for _ in range(2):
            tray.menu.aboutToShow.emit()
            assert [action.text() for action in tray.menu.actions()].count("Profile in use") == 1
            QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
            assert len(tray.menu.findChildren(QMenu)) == 1, "older ones would stay in memory"
        choose_in(tray.menu, "Profile in use", "Stay on Quillgate")
        assert kept == ["quillgate"]
    finally:
        tray.close()


def test_duplicate_delete_and_take_back(hand: Hand) -> None:
    folder = hand.studio.document.file.path.parent
    choose(hand, "Duplicate profile")
    assert hand.studio.profile.game.title == "Ferrow Deep copy"
    assert "ferrow-deep-copy" in profile_names(folder)
    choose(hand, "Delete profile")
    assert "ferrow-deep-copy" not in profile_names(folder)
    assert hand.studio.profile.game.title == "Ferrow Deep"
    assert "You can restore it" in hand.window.notices.text
    choose(hand, "Restore a deleted profile", "ferrow deep copy")
    assert hand.studio.profile.game.title == "Ferrow Deep copy"
    assert "ferrow-deep-copy" in profile_names(folder)


def test_deleting_the_last_one_leaves_an_empty_profile(hand: Hand) -> None:
    for _ in range(3):
        choose(hand, "Delete profile")
    assert hand.studio.profile.game.title == "Untitled"
    assert len(menu(hand).actions()[-1].menu().actions()) == 3  # type: ignore[union-attr]


def test_a_new_profile_begins_with_what_was_chosen(hand: Hand) -> None:
    hand.press(Qt.Key.Key_N, hand.window, CTRL)
    sheet = hand.window.beginning
    hand.until(sheet.isVisible)
    hand.bot.keyClicks(sheet.title, "Brask")
    hand.press(Qt.Key.Key_Down, sheet.title)
    hand.press(Qt.Key.Key_Return, sheet.title)
    assert hand.studio.profile.game.title == "Brask"
    assert hand.studio.profile.command("jump").keys == ("SPACE",)  # type: ignore[union-attr]
    assert read_profile(hand.studio.document.file.path) == hand.studio.profile


@pytest.mark.parametrize("beginning", BEGINNINGS)
def test_every_beginning_is_a_valid_profile(beginning: str) -> None:
    profile = begun("Brask", "rust", beginning)
    assert list(problems_of(profile)) == []
    assert bool(profile.commands) == (beginning not in ("nothing", AS_IT_IS))
    if beginning == AS_IT_IS:
        assert edits.sends_of(profile, Slot(BASE, "south")) == (SendPad("south"),)
        assert profile.game.pad == "full"


def test_in_and_out_as_one_file_and_what_it_can_do_is_said(
    hand: Hand, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    choose(hand, "Quillgate")
    out = tmp_path / "given"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(out), ""))
    choose(hand, "Export profile…")
    given_away = tmp_path / f"given{SUFFIX}"
    assert read_profile(given_away) == hand.studio.profile
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(given_away), ""))
    choose(hand, "Import profile…")
    incoming = hand.window.pages.profiles.incoming
    hand.until(incoming.isVisible)
    said = [label.text() for label in incoming.findChildren(QLabel)]
    assert any("Types text: “at the gate”" in text for text in said)
    hand.choose(incoming, "Keep both")
    assert hand.studio.document.file.name == "given"
    given_away.write_text("{]")
    choose(hand, "Import profile…")
    assert hand.studio.document.file.name == "given"
    assert "line 1, column 2" in hand.window.notices.text


def test_going_to_another_profile_leaves_no_key_held(start: object, tmp_path: Path) -> None:
    for name, key in (("one", "A"), ("two", "B")):
        (tmp_path / f"{name}{SUFFIX}").write_bytes(profile_text(made({"base": {"south": key}})))
    hand: Hand = start(tmp_path / f"one{SUFFIX}", sink="xtest")  # type: ignore[operator]
    game = Game(0, 0, 300, 200)
    try:
        hand.until(lambda: hand.link.status and not hand.link.status.withheld)
        hand.steer("south", 1)
        game.wait(lambda: game.words() == ["+38"], "A is held")
        hand.studio.document.open(tmp_path / f"two{SUFFIX}")
        game.wait(lambda: game.words() == ["+38", "-38"], "A goes up with its profile")
        hand.steer("south", 0)
        hand.steer("south", 1)
        game.wait(lambda: game.words()[-1] == "+56", "B of the other one")
    finally:
        game.close()


# The key list


def order(hand: Hand) -> list[tuple[str, str]]:
    return [(c.name, c.group) for c in hand.studio.profile.commands][:4]


def test_commands_are_put_in_another_order_by_drag_and_by_key(hand: Hand) -> None:
    model, view = hand.window.map.keys.model, hand.window.map.keys.view
    assert [name for name, _ in order(hand)] == ["Forward", "Left", "Back", "Right"]
    data = QMimeData()
    data.setData(COMMAND_MIME, b"right")
    at = model.row_of("left")
    model.dropMimeData(data, Qt.DropAction.MoveAction, at, 0, QModelIndex())
    assert [name for name, _ in order(hand)] == ["Forward", "Right", "Left", "Back"]
    hand.click(*hand.command("right"))
    hand.press(Qt.Key.Key_Down, view, Qt.KeyboardModifier.AltModifier)
    assert [name for name, _ in order(hand)] == ["Forward", "Left", "Right", "Back"]
    assert view.present is not None
    assert view.present.id == "right"
    data.setData(COMMAND_MIME, b"lantern")
    model.dropMimeData(data, Qt.DropAction.MoveAction, model.row_of("left"), 0, QModelIndex())
    assert ("Lantern", "Move") in order(hand)
    hand.studio.document.undo(3)
    assert [name for name, _ in order(hand)] == ["Forward", "Left", "Back", "Right"]


def test_groups_and_names_are_changed_from_the_menu(hand: Hand) -> None:
    menus = hand.window.map.menus
    menus.rename_group("Dig")
    hand.answer("Mine")
    assert {c.group for c in hand.studio.profile.commands} == {"Move", "Mine", "Carry", "Camp"}
    menus.rename_command("lantern")
    hand.answer("Lamp")
    assert "Lamp" in hand.tile("dpad_up").accessibleName()
    menus.group_command("lantern")
    hand.answer("Camp")
    assert hand.studio.profile.command("lantern").group == "Camp"  # type: ignore[union-attr]


def test_a_key_changed_once_changes_everywhere(hand: Hand) -> None:
    hand.studio.selection.look_at(subject.command("hop"))
    hand.choose(hand.panel, "Press its key…")
    hand.press(Qt.Key.Key_G)
    assert "key G" in hand.tile("south").accessibleName()
    hand.studio.selection.show_layer("climb")
    assert "key G" in hand.tile("south").accessibleName()


def test_warnings_stand_in_place(hand: Hand) -> None:
    keys = hand.window.map.keys
    assert "no control sends “Sing”" in keys.model.warnings["sing"].lower() or "sing" in keys.model.warnings
    hand.studio.selection.look_at(subject.command("sing"))
    hand.choose(hand.panel, "Press its key…")
    hand.press(Qt.Key.Key_Space)
    assert "same key as “Hop”" in keys.model.warnings["sing"]
    assert "2 share a key" in keys.missing.text()
    index = keys.model.index(keys.model.row_of("hop"))
    assert "It has the same key as “Sing”" in index.data(Qt.ItemDataRole.ToolTipRole)
    assert "same key" in index.data(Qt.ItemDataRole.AccessibleTextRole)
    hand.window.grab()


def test_a_file_with_keys_in_any_of_its_forms(hand: Hand, tmp_path: Path) -> None:
    for name, text in (
        ("a.csv", "Talk,Greet,T\nTalk,Wave,V\n"),
        ("b.tsv", "Bow\tY\n"),
        ("c.txt", "[Sit]\nRest a bit = K\n"),
    ):
        (tmp_path / name).write_text(text)
        hand.window.files.add_keys_from(tmp_path / name)
    profile = hand.studio.profile
    assert [(c.name, c.keys, c.group) for c in profile.commands if c.name in ("Greet", "Bow", "Rest a bit")] == [
        ("Greet", ("T",), "Talk"),
        ("Bow", ("Y",), "Talk"),
        ("Rest a bit", ("K",), "Sit"),
    ]
    hand.window.files.add_keys_from(tmp_path / "none.txt")
    assert "can't be read" in hand.window.notices.text


def test_the_finder_finds_controls_commands_keys_layers_settings_and_parts(hand: Hand) -> None:
    choose(hand, "Saltbarrow")
    finder = hand.window.searching.finder
    for words, done in (
        ("right stick", lambda: hand.studio.selection.control == "right_stick"),
        ("order", lambda: hand.studio.selection.control in ("south", "right_stick")),
        ("works layer", lambda: hand.studio.selection.layer == "works"),
        ("buildings belt", lambda: hand.studio.selection.subject == subject.belt("buildings")),
        ("sweep", lambda: hand.studio.selection.subject == subject.macro("sweep")),
        ("dead zone right", lambda: hand.studio.selection.control == "right_stick"),
        ("press is a hold", lambda: hand.studio.selection.subject == subject.PROFILE),
        ("Key, sent by", lambda: True),
    ):
        hand.window.search()
        hand.bot.keyClicks(finder.field, words)
        assert finder._shown, words
        hand.press(Qt.Key.Key_Return, finder.field)
        assert done(), words


def test_a_command_on_a_belt_leads_to_the_buttons_that_step_it(hand: Hand) -> None:
    choose(hand, "Saltbarrow")
    slots = {slot.control for slot in hand.window.map.keys.model.slots["windmill"]}
    assert slots == {"right_bumper", "left_bumper", "right_stick_click"}
    assert edits.sends_of(hand.studio.profile, Slot(BASE, "west")) == (SendCommand("build"),)
    assert QApplication.activePopupWidget() is None
