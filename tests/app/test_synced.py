"""A synced folder: what changes there is taken in, what is new is shown first, and nothing is overwritten."""

from __future__ import annotations

import threading
from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt

from nubshift.app.document import synced_folder
from nubshift.app.document.synced_folder import PATIENCE_SECONDS, STILL_SECONDS, SyncedFolder
from nubshift.model import edits
from nubshift.model.profile import Profile
from nubshift.model.sends import SendText
from nubshift.model.slots import Slot
from nubshift.model.store import ProfileFile, read_profile
from nubshift.model.versions import versions_of
from nubshift.protocol.paths import profile_folder
from tests.app.hand import Hand
from tests.support.profiles import made, sends

pytestmark = pytest.mark.own_window

SOUTH = Slot("base", "south")


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    path = tmp_path / "shared"
    path.mkdir()
    return path


def synced(hand: Hand) -> SyncedFolder:
    return hand.window.stored.synced


def begin(hand: Hand, folder: Path, gives: bool = True) -> None:
    hand.window.settings.change(synced_folder=str(folder), synced_gives=gives)
    hand.until(lambda: not synced(hand).busy)


def exchange(hand: Hand) -> None:
    synced(hand).exchange()
    hand.until(lambda: not synced(hand).busy)


def with_key(profile: Profile, key: str) -> Profile:
    return edits.with_sends(profile, SOUTH, sends(key))


def write(path: Path, profile: Profile) -> None:
    """As another machine does."""
    file = ProfileFile(path)
    if path.exists():
        file.read()
    file.write(profile)


def later(hand: Hand) -> None:
    """Nobody has edited anything for a while."""
    clock = synced(hand)._clock
    synced(hand)._clock = lambda: clock() + 2 * STILL_SECONDS
    exchange(hand)


def test_ours_are_written_there_and_theirs_are_taken_in(hand: Hand, folder: Path) -> None:
    begin(hand, folder)
    assert sorted(path.name for path in folder.iterdir()) == sorted(p.name for p in profile_folder().glob("*.json"))
    there = folder / "quillgate.nubshift.json"
    write(there, with_key(read_profile(there), "F9"))
    here = profile_folder() / there.name
    before = here.read_bytes()
    hand.until(lambda: here.read_bytes() == there.read_bytes())
    assert [version.path.read_bytes() for version in versions_of(here)] == [before]
    assert "Quillgate was updated from" in hand.window.notices.text


def test_without_the_wish_nothing_is_written_there(hand: Hand, folder: Path) -> None:
    begin(hand, folder, gives=False)
    assert list(folder.iterdir()) == []


def test_the_open_one_is_taken_in_once_nobody_edits_it_and_that_can_be_undone(hand: Hand, folder: Path) -> None:
    begin(hand, folder)
    there = folder / hand.studio.document.file.path.name
    own = hand.studio.profile
    write(there, with_key(read_profile(there), "F9"))
    later(hand)
    hand.until(lambda: edits.sends_of(hand.studio.profile, SOUTH) == sends("F9"))
    hand.studio.document.undo()
    assert hand.studio.profile == own


def test_while_it_is_edited_it_waits(hand: Hand, folder: Path) -> None:
    begin(hand, folder)
    document = hand.studio.document
    there = folder / document.file.path.name
    now = synced(hand)._clock()
    synced(hand)._clock = lambda: now
    document.edit("Key", lambda profile: with_key(profile, "F8"))
    document.undo()
    hand.until(lambda: document.saved)
    write(there, with_key(read_profile(there), "F9"))
    exchange(hand)
    assert edits.sends_of(document.profile, SOUTH) != sends("F9")
    later(hand)
    hand.until(lambda: edits.sends_of(document.profile, SOUTH) == sends("F9"))


def test_what_changed_on_both_sides_is_compared_and_nothing_is_overwritten(hand: Hand, folder: Path) -> None:
    begin(hand, folder)
    document = hand.studio.document
    there = folder / document.file.path.name
    document.edit("Key", lambda profile: with_key(profile, "F8"))
    write(there, with_key(read_profile(there), "F9"))
    hand.until(lambda: document.saved)
    later(hand)
    assert "was changed here and in" in hand.window.notices.text
    assert edits.sends_of(read_profile(there), SOUTH) == sends("F9")
    assert edits.sends_of(document.profile, SOUTH) == sends("F8")
    hand.choose(hand.window.notices, "Compare")
    compared = hand.window.pages.profiles.compared
    hand.until(compared.isVisible)
    hand.choose(compared, "Done")
    hand.until(lambda: edits.sends_of(read_profile(there), SOUTH) == sends("F8"))  # seen, so ours counts


def test_what_is_new_is_shown_before_it_is_ours(hand: Hand, folder: Path) -> None:
    begin(hand, folder)
    write(folder / "fen.nubshift.json", made({"base": {"south": "A"}}, game={"title": "Fen"}))
    hand.until(lambda: "1 profile in" in hand.window.notices.text)
    assert not (profile_folder() / "fen.nubshift.json").exists()
    hand.choose(hand.window.notices, "Show")
    hand.until(hand.window.pages.profiles.incoming.isVisible)
    hand.choose(hand.window.pages.profiles.incoming, "Import")
    hand.until((profile_folder() / "fen.nubshift.json").exists)


def test_one_that_can_do_more_than_before_is_looked_at_first(hand: Hand, folder: Path) -> None:
    begin(hand, folder)
    there = folder / "quillgate.nubshift.json"
    write(there, edits.with_sends(read_profile(there), SOUTH, (SendText("hello"),)))
    hand.until(lambda: "was changed here and in" in hand.window.notices.text)
    assert edits.sends_of(read_profile(profile_folder() / there.name), SOUTH) != (SendText("hello"),)


@pytest.mark.parametrize("content", ["[" * 50_000, "", "{}", "\x00\x01"])
def test_a_hostile_file_is_told_once_and_changes_nothing(hand: Hand, folder: Path, content: str) -> None:
    begin(hand, folder)
    there = folder / "quillgate.nubshift.json"
    before = (profile_folder() / there.name).read_bytes()
    there.write_text(content)
    hand.until(lambda: "quillgate.nubshift.json" in hand.window.notices.text)
    assert (profile_folder() / there.name).read_bytes() == before
    assert there.read_text() == content
    hand.window.notices.clear()
    exchange(hand)
    assert "quillgate" not in hand.window.notices.text


def test_a_link_and_a_huge_file_there_are_refused(hand: Hand, folder: Path, tmp_path: Path) -> None:
    huge = folder / "huge.nubshift.json"
    with huge.open("wb") as file:
        file.truncate(100_000_000)
    (folder / "link.nubshift.json").symlink_to("/dev/zero")
    begin(hand, folder, gives=False)
    assert "huge.nubshift.json" in hand.window.notices.text
    assert "link.nubshift.json" in hand.window.notices.text


def test_a_folder_that_is_gone_is_said_and_one_is_chosen_in_settings(
    hand: Hand, folder: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    begin(hand, folder / "gone")
    assert "is not there" in hand.window.notices.text
    monkeypatch.setattr("nubshift.app.shell.settings_page.QFileDialog.getExistingDirectory", lambda *_: str(folder))
    hand.press(Qt.Key.Key_Comma, modifier=Qt.KeyboardModifier.ControlModifier)
    hand.until(hand.window.pages.settings.isVisible)
    hand.choose(hand.window.pages.settings, "Choose folder…")
    assert hand.window.settings.now.synced_folder == str(folder)
    hand.until(lambda: list(folder.iterdir()))


def test_deleted_here_it_stays_there_and_is_not_offered(start: Callable[..., Hand], folder: Path) -> None:
    hand = start()
    begin(hand, folder)
    hand.window.notices.clear()
    (profile_folder() / "quillgate.nubshift.json").unlink()
    exchange(hand)
    assert (folder / "quillgate.nubshift.json").exists()
    assert "new" not in hand.window.notices.text


def test_a_folder_that_does_not_answer_keeps_nobody_waiting(
    hand: Hand, folder: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    answers = threading.Event()
    look = synced_folder._look_into
    monkeypatch.setattr(synced_folder, "_look_into", lambda path: answers.wait() and look(path))
    hand.window.settings.change(synced_folder=str(folder), synced_gives=True)
    document = hand.studio.document
    document.edit("Key", lambda profile: with_key(profile, "F8"))
    hand.until(lambda: document.saved)
    now = synced(hand)._clock()
    synced(hand)._clock = lambda: now + PATIENCE_SECONDS
    synced(hand).exchange()
    assert "is not responding" in hand.window.notices.text
    answers.set()
    hand.until(lambda: (folder / document.file.path.name).exists())
    assert edits.sends_of(read_profile(folder / document.file.path.name), SOUTH) == sends("F8")


def test_another_folder_is_looked_at_although_the_one_before_does_not_answer(
    hand: Hand, folder: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    answers = threading.Event()
    look = synced_folder._look_into
    monkeypatch.setattr(
        synced_folder, "_look_into", lambda path: look(path) if path == folder or answers.wait() else None
    )
    hand.window.settings.change(synced_folder=str(folder.parent / "far"), synced_gives=True)
    begin(hand, folder)
    assert list(folder.iterdir())
    answers.set()
    for thread in threading.enumerate():
        if thread.name == "files":
            thread.join()


def test_what_somebody_else_writes_there_meanwhile_is_not_overwritten(
    hand: Hand, folder: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    begin(hand, folder)
    there = folder / hand.studio.document.file.path.name
    give = synced_folder._give

    def after_another(gifts: list[synced_folder._Gift]) -> object:
        write(there, with_key(read_profile(there), "F9"))
        return give(gifts)

    monkeypatch.setattr(synced_folder, "_give", after_another)
    hand.studio.document.edit("Key", lambda profile: with_key(profile, "F8"))
    hand.until(lambda: hand.studio.document.saved)
    later(hand)
    assert edits.sends_of(read_profile(there), SOUTH) == sends("F9")
    later(hand)
    hand.until(lambda: "was changed here and in" in hand.window.notices.text)
