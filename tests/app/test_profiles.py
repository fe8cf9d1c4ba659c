"""The workspace Profiles: what each starts with, their order, and their history."""

from __future__ import annotations

import configparser
import os
import shutil
import signal
import subprocess
from collections.abc import Callable
from pathlib import Path

import pytest
from msgspec.structs import replace
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QApplication, QMenu, QPushButton, QWidget

from nubshift.app.profiles.fair_play_rows import FEW
from nubshift.app.profiles.launch_rows import LaunchRows
from nubshift.app.profiles.workspace import ProfilesWorkspace
from nubshift.app.widgets.fields import LineField
from nubshift.model import edits
from nubshift.model.automatic import Automatic, GameRule, read_automatic, write_automatic
from nubshift.model.fair_play import fair_play
from nubshift.model.programs import ProgramMatch
from nubshift.model.sends import Turbo
from nubshift.model.slots import Slot
from nubshift.model.store import ProfileFile
from nubshift.model.versions import versions_of
from nubshift.protocol.messages import Ask, Programs
from nubshift.protocol.paths import automatic_path, profile_folder
from standins.desktop import bring_to_front, window
from tests.app.hand import Hand
from tests.support.profiles import made, sends


@pytest.fixture
def shelf(start: Callable[..., Hand]) -> Hand:
    """The window at Profiles, with the demo."""
    hand = start()
    hand.click(hand.window.top.tabs.buttons["profiles"])
    hand.until(hand.window.pages.profiles.isVisible)
    return hand


def page(hand: Hand) -> ProfilesWorkspace:
    return hand.window.pages.profiles


def rules() -> Automatic:
    return read_automatic(automatic_path())


def seen_in_front(hand: Hand, title: str) -> bool:
    """Whether the runner has seen a window in front."""
    told: list[Programs] = []
    hand.link.programs_told.connect(told.append)
    hand.link.send(Ask("programs"))
    hand.until(lambda: told)
    hand.link.programs_told.disconnect(told.append)
    return any(seen.title == title for seen in told[-1].recent)


def restoring(view: QWidget) -> list[QPushButton]:
    """The buttons that restore a version, the newest first."""
    buttons = [b for b in view.findChildren(QPushButton) if b.accessibleName().startswith("Restore the version")]
    return [button for button in buttons if button.isVisible()]


def oldest(view: QWidget) -> QPushButton:
    """The button that restores the oldest version."""
    return restoring(view)[-1]


def look_at(hand: Hand, title: str) -> None:
    shelf = page(hand).list
    number = next(at for at, row in enumerate(shelf.rows) if row.title == title)
    hand.click(shelf, shelf.place(number).center().toPoint())
    hand.until(lambda: page(hand).page.title.accessibleName() == title)


def test_a_folder_that_was_emptied_shows_a_sentence_and_no_page_of_nothing(shelf: Hand) -> None:
    for path in profile_folder().glob("*.nubshift.json"):
        path.unlink()
    page(shelf).refresh()
    assert page(shelf).trouble.isVisible()
    assert page(shelf).trouble.text() == "Create a profile or import one."
    assert not page(shelf).page.isVisible()


def test_the_shelf_lists_and_filters_and_opens(shelf: Hand) -> None:
    assert [row.title for row in page(shelf).list.rows] == ["Ferrow Deep", "Quillgate", "Saltbarrow"]
    shelf.bot.keyClicks(page(shelf).search, "gate")
    assert [row.title for row in page(shelf).list.rows] == ["Quillgate"]
    shelf.bot.keyClicks(page(shelf).search, "x")
    assert "gatex" in page(shelf).list.nothing
    page(shelf).search.clear()
    look_at(shelf, "Saltbarrow")
    assert shelf.studio.profile.game.title == "Ferrow Deep"  # looked at, not opened
    shelf.choose(page(shelf), "Edit")
    assert shelf.studio.profile.game.title == "Saltbarrow"
    assert shelf.window.map.isVisible()


def test_a_program_is_typed_and_the_rule_is_saved_and_removed(shelf: Hand) -> None:
    look_at(shelf, "Saltbarrow")
    shelf.choose(page(shelf), "Type a program…")
    field = page(shelf).page.matches.findChildren(LineField)[-1]
    shelf.until(field.hasFocus)
    shelf.bot.keyClicks(field, "barrow*")
    shelf.press(Qt.Key.Key_Return, field)
    assert rules().rules == (GameRule("saltbarrow", (ProgramMatch(program="barrow*"),)),)
    shelf.click(page(shelf).page.background, QPoint(8, page(shelf).page.background.height() // 2))
    assert rules().rules[0].background == "play"
    shelf.choose(page(shelf).page.matches, "×")
    assert rules().rules == ()


def test_the_profiles_own_program_is_one_click_away(shelf: Hand) -> None:
    shelf.choose(page(shelf), "Start it with ferrowdeep")
    assert rules().rules == (GameRule("ferrow-deep", (ProgramMatch(program="ferrowdeep"),)),)
    assert not page(shelf).page.suggestion.isVisible()


def test_a_rule_is_learned_from_the_windows_that_had_the_focus(shelf: Hand) -> None:
    with window("Saltgame", "The salt works") as salt:
        bring_to_front(salt)
        shelf.until(lambda: seen_in_front(shelf, "The salt works"))
        bring_to_front(str(int(shelf.window.winId())))
        shelf.until(lambda: shelf.window.isActiveWindow())
        look_at(shelf, "Saltbarrow")
        shelf.choose(page(shelf), "Pick a running program…")
        shelf.until(lambda: page(shelf).menu is not None)
        menu = page(shelf).menu
        assert isinstance(menu, QMenu)
        entry = next(a for a in menu.actions() if a.text() == "The salt works")
        entry.trigger()
        menu.close()
        (rule,) = rules().rules
        assert rule.profile == "saltbarrow"
        bring_to_front(salt)
        shelf.until(lambda: shelf.link.status is not None and shelf.link.status.profile == "saltbarrow")
        shelf.until(lambda: shelf.window.at_play.profile.game.title == "Saltbarrow")
        assert not shelf.window.at_play.edited
    shelf.until(lambda: shelf.window.at_play.edited)


def test_the_order_is_changed_by_keys_and_the_first_rule_counts(start: Callable[..., Hand]) -> None:
    write_automatic(
        automatic_path(),
        Automatic(rules=tuple(GameRule(n, (ProgramMatch(program="x"),)) for n in ("quillgate", "saltbarrow"))),
    )
    hand = start()
    hand.window.show_workspace("profiles")
    order = page(hand).side.order
    order.setFocus()
    order.setCurrentRow(1)
    hand.press(Qt.Key.Key_Up, order, Qt.KeyboardModifier.AltModifier)
    assert [rule.profile for rule in rules().rules] == ["saltbarrow", "quillgate"]
    fallback = page(hand).side.fallback
    fallback.setFocus()
    hand.bot.keyClick(fallback, Qt.Key.Key_Down)
    hand.bot.keyClick(fallback, Qt.Key.Key_Return)
    fallback.activated.emit(fallback.currentIndex())
    assert rules().fallback == "ferrow-deep"


def test_staying_on_a_profile_is_said_everywhere_and_ends_by_choice(shelf: Hand) -> None:
    look_at(shelf, "Quillgate")
    shelf.choose(page(shelf), "Stay on this profile")
    shelf.until(lambda: shelf.link.status is not None and shelf.link.status.kept == "quillgate")
    shelf.until(page(shelf).page.stay.isChecked)
    shelf.click(shelf.window.top.why)
    menu = QApplication.activePopupWidget()
    assert isinstance(menu, QMenu)
    ticked = [action.text() for action in menu.actions() if action.isChecked()]
    menu.actions()[0].trigger()
    menu.close()
    shelf.until(lambda: shelf.link.status is not None and shelf.link.status.kept is None)
    assert ticked == ["Stay on Quillgate"]
    shelf.until(lambda: not page(shelf).page.stay.isChecked())


def test_history_says_what_changed_and_restores_a_part_and_the_whole(shelf: Hand) -> None:
    studio = shelf.studio
    before = studio.profile
    studio.document.edit("one", lambda p: edits.with_sends(p, Slot("base", "west"), sends("F9")))
    studio.document.edit("two", lambda p: edits.with_feel(p, "base", "right_stick", inner=0.33))
    shelf.saved()
    view = page(shelf).page.history
    shelf.until(lambda: "Details" in [b.text() for b in view.findChildren(QPushButton)])
    shelf.choose(view, "Details")
    shelf.choose(view, "Restore this")  # the first: what the button sent
    assert edits.sends_of(studio.profile, Slot("base", "west")) == edits.sends_of(before, Slot("base", "west"))
    assert studio.profile.layers[0].feel_of("right_stick").inner == 0.33  # type: ignore[union-attr]
    shelf.saved()
    shelf.until(lambda: restoring(view))  # the rows are made anew
    shelf.click(oldest(view))
    assert studio.profile == before
    studio.document.undo()
    assert studio.profile != before


def test_a_version_is_kept_for_each_session_and_none_for_looking(start: Callable[..., Hand], tmp_path: Path) -> None:
    path = profile_folder() / "mine.nubshift.json"
    ProfileFile(path).write(made({"base": {"south": "A"}}))
    hand = start(path)
    hand.until(lambda: len(versions_of(path)) == 1)
    hand.studio.document.edit("x", lambda p: edits.with_sends(p, Slot("base", "west"), sends("B")))
    hand.saved()
    hand.studio.document.edit("y", lambda p: edits.with_sends(p, Slot("base", "east"), sends("C")))
    hand.saved()
    assert len(versions_of(path)) == 2  # as it was opened, and this session
    assert versions_of(path)[0].read() == hand.studio.profile


def test_a_profile_that_can_not_be_read_is_listed_with_the_reason(start: Callable[..., Hand]) -> None:
    folder = profile_folder()
    folder.mkdir(parents=True)
    ProfileFile(folder / "good.nubshift.json").write(made({"base": {"south": "A"}}))
    (folder / "bad.nubshift.json").write_text("{")
    hand = start(folder / "good.nubshift.json")
    hand.window.show_workspace("profiles")
    look = page(hand).list
    number = next(at for at, row in enumerate(look.rows) if row.trouble)
    hand.click(look, look.place(number).center().toPoint())
    hand.until(lambda: page(hand).trouble.isVisible())
    assert "bad.nubshift.json" in page(hand).trouble.text()
    hand.click(look, QPoint(20, 5))


def test_play_is_counted_only_while_it_is_sent(shelf: Hand) -> None:
    clock = shelf.window.stored.clock
    assert clock.times.of("ferrow-deep").seconds == 0  # our own window is in front
    with window("Notes", "Notes") as notes:
        bring_to_front(notes)
        shelf.until(lambda: shelf.link.status is not None and not shelf.link.status.withheld)
        bring_to_front(str(int(shelf.window.winId())))
        shelf.until(lambda: shelf.link.status is not None and shelf.link.status.withheld)
    played = clock.times.of("ferrow-deep")
    assert played.seconds > 0
    assert played.last_time is not None
    assert played.controllers == ()  # a simulated one is none


def test_two_profiles_are_compared_and_a_difference_copied(start: Callable[..., Hand]) -> None:
    one = made({"base": {"south": "A", "west": "B"}})
    for name, profile in (("one", one), ("two", edits.with_sends(one, Slot("base", "south"), sends("X")))):
        ProfileFile(profile_folder() / f"{name}.nubshift.json").write(
            replace(profile, game=replace(profile.game, title=name))
        )
    hand = start(profile_folder() / "one.nubshift.json")
    hand.window.show_workspace("profiles")
    hand.choose(page(hand), "Compare…")
    menu = QApplication.activePopupWidget()
    assert isinstance(menu, QMenu)
    menu.actions()[0].trigger()
    menu.close()
    compared = page(hand).compared
    hand.until(compared.isVisible)
    assert [count.text() for count in compared.counts] == ["2 differences", "2 differences"]
    to_two = next(
        b for b in compared.findChildren(QPushButton) if b.accessibleName().startswith("Copy to two: Lower face")
    )
    hand.click(to_two)
    assert hand.studio.profile.game.title == "two"  # the one that was changed is the one that is edited
    assert edits.sends_of(hand.studio.profile, Slot("base", "south")) == sends("A")
    hand.until(lambda: compared.counts[0].text() == "1 difference")
    hand.choose(compared, "Done")
    hand.until(page(hand).page.isVisible)


def type_command(shelf: Hand, text: str) -> LaunchRows:
    launch = page(shelf).page.launch
    shelf.click(launch.command)
    launch.command.selectAll()
    shelf.bot.keyClicks(launch.command, text)
    shelf.press(Qt.Key.Key_Return, launch.command)
    return launch


def test_a_game_is_started_from_the_shelf_with_its_profile(shelf: Hand) -> None:
    look_at(shelf, "Saltbarrow")
    assert not page(shelf).page.launch.start.isEnabled()
    launch = type_command(shelf, "sleep '3000'")
    assert rules().commands == {"saltbarrow": "sleep '3000'"}
    shelf.click(launch.start)
    shelf.until(lambda: shelf.link.status and shelf.link.status.launched.profile == "saltbarrow")
    assert shelf.link.status is not None
    shelf.until(lambda: launch.start.text() == "Running")
    assert not launch.start.isEnabled()
    os.kill(shelf.link.status.launched.pid, signal.SIGTERM)
    shelf.until(lambda: launch.start.text() == "Start game")
    assert launch.start.isEnabled()


@pytest.mark.parametrize(
    ("command", "said"),
    [("no-such-game --fast", "There is no program no-such-game"), ("sleep 'x", "a quote is not closed")],
)
def test_a_command_that_can_not_be_run_is_said(shelf: Hand, command: str, said: str) -> None:
    launch = type_command(shelf, command)
    shelf.click(launch.start)
    assert said in shelf.window.notices.text


def test_a_game_stands_in_the_application_menu(shelf: Hand, own_home: Path) -> None:
    launch = type_command(shelf, "sleep 'a b' 100%")
    shelf.click(launch.in_menu, QPoint(8, launch.in_menu.height() // 2))
    (entry,) = own_home.rglob("nubshift-ferrow-deep.desktop")
    parsed = configparser.ConfigParser(interpolation=None)
    parsed.read(entry)
    assert parsed["Desktop Entry"]["Name"] == "Ferrow Deep"
    assert parsed["Desktop Entry"]["Exec"].endswith('play ferrow-deep -- sleep "a b" 100%%')
    if shutil.which("desktop-file-validate"):
        assert not subprocess.run(["desktop-file-validate", str(entry)], capture_output=True, check=True).stdout
    type_command(shelf, "sleep 7")
    parsed.read(entry)
    assert parsed["Desktop Entry"]["Exec"].endswith("-- sleep 7")
    shelf.click(launch.in_menu, QPoint(8, launch.in_menu.height() // 2))
    assert not entry.exists()


def test_the_fair_play_report_and_its_policy(shelf: Hand) -> None:
    look_at(shelf, "Ferrow Deep")
    rows = page(shelf).page.fair_play
    report = fair_play(shelf.studio.profile)
    assert rows.told.text().startswith(f"{len(report)} places send more than one plain press")
    assert rows.found.count() == FEW
    shelf.choose(rows, f"Show {len(report) - FEW} more")
    assert rows.found.count() == len(report)
    shelf.choose(rows, "Show fewer")
    shelf.click(rows.policy, QPoint(8, rows.policy.height() // 2))
    assert shelf.studio.profile.habits.one_to_one
    before = shelf.studio.profile
    turbo = (Turbo(sends("A")),)
    shelf.studio.document.edit("Turbo", lambda p: edits.with_sends(p, Slot("base", "mode"), turbo))
    assert shelf.studio.profile is before
    assert "You can turn that off under Fair play in Profiles" in shelf.window.notices.text


def test_a_new_title_is_in_the_reason_too(shelf: Hand) -> None:
    shelf.studio.document.edit("Rename", lambda p: edits.with_game(p, title="Deeper"))
    shelf.until(lambda: shelf.link.status and "Deeper" in shelf.link.status.why)
    shelf.until(lambda: page(shelf).list.rows[0].title == "Deeper")


def test_a_version_is_compared_and_only_copied_from(shelf: Hand) -> None:
    document = shelf.studio.document
    before = edits.sends_of(document.profile, Slot("base", "mode"))
    document.edit("Key", lambda p: edits.with_sends(p, Slot("base", "mode"), sends("F9")))
    document.save()
    version = versions_of(document.file.path)[-1]
    old = version.path.read_bytes()
    shelf.choose(page(shelf).page.history, "Compare…")
    compared = page(shelf).compared
    shelf.until(compared.isVisible)

    def copies() -> list[QPushButton]:
        return [b for b in compared.findChildren(QPushButton) if b.text() == "Copy" and b.isVisible()]

    shelf.until(lambda: len(copies()) == 1)
    shelf.click(copies()[0])
    assert edits.sends_of(document.profile, Slot("base", "mode")) == before
    assert version.path.read_bytes() == old
