"""A profile from elsewhere: shown first, then taken in, merged, or left (N60)."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from msgspec.structs import replace
from PyQt6.QtCore import QMimeData, QPoint, Qt, QUrl
from PyQt6.QtGui import QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import QApplication

from nubshift.app.profiles.import_page import ImportPage
from nubshift.model import edits
from nubshift.model.profile import Profile
from nubshift.model.sends import SendText
from nubshift.model.slots import Slot
from nubshift.model.store import ProfileFile, profile_names
from nubshift.protocol.messages import SetLive
from nubshift.protocol.paths import profile_folder
from tests.app.hand import Hand
from tests.support.profiles import made, sends


def titled(profile: Profile, title: str) -> Profile:
    return replace(profile, game=replace(profile.game, title=title))


def page(hand: Hand) -> ImportPage:
    return hand.window.pages.profiles.incoming


def texts(hand: Hand) -> str:
    from nubshift.app.widgets.plain import Label

    return " | ".join(label.text() for label in page(hand).findChildren(Label) if label.isVisible())


def drop(hand: Hand, path: Path) -> None:
    """Drop a file from a file manager on the window."""
    mime = QMimeData()
    mime.setUrls([QUrl.fromLocalFile(str(path))])
    left, none = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    at = QPoint(600, 400)
    QApplication.sendEvent(hand.window, QDragEnterEvent(at, Qt.DropAction.CopyAction, mime, left, none))
    QApplication.sendEvent(hand.window, QDropEvent(at.toPointF(), Qt.DropAction.CopyAction, mime, left, none))


@pytest.fixture
def foreign(tmp_path: Path) -> Path:
    path = tmp_path / "from-elsewhere.nubshift.json"
    ProfileFile(path).write(titled(made({"base": {"south": SendText("gg"), "left_grip_2": "A"}}), "Fen"))
    return path


def test_what_it_can_do_is_said_before_anything_is_in_use(hand: Hand, foreign: Path) -> None:
    before = hand.studio.profile
    drop(hand, foreign)
    hand.until(page(hand).isVisible)
    said = texts(hand)
    assert "Types text: “gg”" in said
    page(hand).show_controller(None)
    assert "No controller is connected" in texts(hand)
    hand.link.send(SetLive(False))
    hand.until(lambda: "Everything in it is on Moss pad." in texts(hand))  # with the next word of the runner
    hand.link.send(SetLive(True))
    assert "No profile can run programs" in said
    assert hand.studio.profile is before
    hand.choose(page(hand), "Cancel")
    assert not page(hand).isVisible()
    assert "from-elsewhere" not in profile_names(profile_folder())
    drop(hand, foreign)
    hand.until(page(hand).isVisible)
    hand.press(Qt.Key.Key_Escape, hand.window.pages.profiles.list)
    assert not page(hand).isVisible()
    drop(hand, foreign)
    hand.choose(page(hand), "Import")
    assert hand.studio.profile.game.title == "Fen"
    assert "from-elsewhere" in profile_names(profile_folder())


def test_one_of_the_same_game_is_merged_by_what_is_ticked(start: Callable[..., Hand], tmp_path: Path) -> None:
    mine = titled(made({"base": {"south": "A", "west": "B"}}), "Fen")
    own = ProfileFile(profile_folder() / "fen.nubshift.json")
    own.write(mine)
    theirs = edits.with_sends(
        edits.with_sends(mine, Slot("base", "south"), sends("X")), Slot("base", "west"), sends("Y")
    )
    path = tmp_path / "theirs.nubshift.json"
    ProfileFile(path).write(theirs)
    hand = start(own.path)
    hand.window.bring_in(path)
    hand.until(page(hand).isVisible)
    assert "Different from your Fen: 2 things" in texts(hand)
    box = next(box for box, one in page(hand).boxes if "X" in one.text)
    box.click()
    hand.choose(page(hand), "Merge what is ticked")
    assert edits.sends_of(hand.studio.profile, Slot("base", "south")) == sends("A")
    assert edits.sends_of(hand.studio.profile, Slot("base", "west")) == sends("Y")
    hand.studio.document.undo()
    assert hand.studio.profile == mine
    hand.window.bring_in(path)
    hand.choose(page(hand), "Replace mine")
    assert hand.studio.profile == theirs
    hand.window.bring_in(path)
    assert "the same as your Fen" in texts(hand)
    hand.choose(page(hand), "Keep both")
    assert hand.studio.profile.game.title == "Fen 2"


@pytest.mark.parametrize(
    "data",
    [
        b'{"format": "nubshift-profile", "version": 99}',
        b"[" * 100_000,
        b'{"format": "nubshift-profile", "version": 8, "game": {"title": "\\u0000"}, "game": {}}',
        b'{"format": "nubshift-profile", "version": ' + b"9" * 5000 + b"}",
        b"\xff\xfe not text",
    ],
)
def test_a_hostile_file_is_refused_with_the_reason(hand: Hand, tmp_path: Path, data: bytes) -> None:
    path = tmp_path / "bad.nubshift.json"
    path.write_bytes(data)
    hand.window.bring_in(path)
    assert "bad.nubshift.json" in hand.window.notices.text
    assert not page(hand).isVisible()


def test_a_file_of_a_hundred_megabytes_is_refused_unread(hand: Hand, tmp_path: Path) -> None:
    path = tmp_path / "huge.nubshift.json"
    with path.open("wb") as file:
        file.truncate(100_000_000)
    hand.window.bring_in(path)
    assert "100,000,000 bytes" in hand.window.notices.text
