"""Profiles that share their settings: changed in one place, the same but for what differs (N60)."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from PyQt6.QtWidgets import QMenu

from nubshift.app.document.sharing_keeper import SEEN
from nubshift.app.widgets.plain import Label
from nubshift.errors import StorageError
from nubshift.model import edits
from nubshift.model.slots import Slot
from nubshift.model.store import ProfileFile, read_profile
from nubshift.model.versions import versions_of
from nubshift.protocol.paths import profile_folder
from tests.app.hand import Hand
from tests.app.test_profiles import look_at, page
from tests.support.profiles import made, sends

SOUTH, EAST = Slot("base", "south"), Slot("base", "east")
FIRST = made({"base": {"south": "A", "east": "B"}}, game={"title": "Fen"})
LEFT = edits.with_sends(edits.with_game(FIRST, title="Fen, left hand"), EAST, sends("Z"))


@pytest.fixture
def pair(start: Callable[..., Hand]) -> Hand:
    """Two profiles of a game that differ in one button; the first is open."""
    folder = profile_folder()
    folder.mkdir(parents=True)
    for name, profile in (("fen", FIRST), ("fen-left", LEFT)):
        ProfileFile(folder / f"{name}.nubshift.json").write(profile)
    hand = start(folder / "fen.nubshift.json")
    hand.click(hand.window.top.tabs.buttons["profiles"])
    hand.until(hand.window.pages.profiles.isVisible)
    return hand


def file(name: str) -> ProfileFile:
    return ProfileFile(profile_folder() / f"{name}.nubshift.json")


def share(hand: Hand) -> None:
    """Let the one for the left hand share with the other, by the menu."""
    look_at(hand, "Fen, left hand")
    rows = page(hand).page.sharing
    hand.choose(rows, "Share with another profile…")
    menu = rows.menu
    assert isinstance(menu, QMenu)
    (action,) = [action for action in menu.actions() if action.text() == "Fen"]
    action.trigger()
    menu.close()
    hand.until(lambda: "The same as Fen, except for 1 thing." in rows.told.text())


def edit(hand: Hand, slot: Slot, key: str) -> None:
    document = hand.studio.document
    document.edit("Key", lambda profile: edits.with_sends(profile, slot, sends(key)))
    document.save()


def of(name: str, slot: Slot) -> object:
    return edits.sends_of(file(name).read(), slot)


def test_a_change_in_one_place_is_made_in_both_but_for_what_differs(pair: Hand) -> None:
    share(pair)
    rows = page(pair).page.sharing
    assert "Right face button, press: Z instead of B" in [label.text() for label in rows.findChildren(Label)]
    edit(pair, SOUTH, "Q")
    edit(pair, EAST, "R")
    assert of("fen-left", SOUTH) == sends("Q")
    assert of("fen-left", EAST) == sends("Z")
    assert file("fen-left").read().game.title == "Fen, left hand"
    assert versions_of(file("fen-left").path), "what was there before is in the history"
    look_at(pair, "Fen")
    assert "Changes made here are also made in Fen, left hand." in rows.told.text()


def test_undo_is_followed_too(pair: Hand) -> None:
    share(pair)
    edit(pair, SOUTH, "Q")
    pair.studio.document.undo()
    pair.studio.document.save()
    assert of("fen-left", SOUTH) == sends("A")


def test_what_is_changed_in_the_one_that_follows_is_its_own_from_then_on(pair: Hand) -> None:
    share(pair)
    pair.choose(page(pair), "Edit")
    edit(pair, SOUTH, "W")
    assert of("fen", SOUTH) == sends("A")
    pair.studio.document.open(file("fen").path)
    edit(pair, SOUTH, "Q")
    assert of("fen-left", SOUTH) == sends("W")


def test_once_it_is_stopped_nothing_follows(pair: Hand) -> None:
    share(pair)
    pair.choose(page(pair).page.sharing, "Stop sharing")
    edit(pair, SOUTH, "Q")
    assert of("fen-left", SOUTH) == sends("A")
    assert not list((profile_folder() / SEEN).iterdir())


def test_what_changed_while_nobody_looked_is_followed_at_the_next_start(pair: Hand, start: Callable[..., Hand]) -> None:
    share(pair)
    pair.window.close()
    there = file("fen")
    there.write(edits.with_sends(there.read(), SOUTH, sends("Q")))
    start(file("fen").path)
    assert of("fen-left", SOUTH) == sends("Q")


def test_what_can_not_be_written_is_told_and_followed_later(pair: Hand, monkeypatch: pytest.MonkeyPatch) -> None:
    share(pair)
    write = ProfileFile.write

    def full(self: ProfileFile, profile: object) -> object:
        if self.name == "fen-left":
            raise StorageError("No space left on device")
        return write(self, profile)  # type: ignore[arg-type]

    with monkeypatch.context() as patched:
        patched.setattr(ProfileFile, "write", full)
        edit(pair, SOUTH, "Q")
    assert "No space left on device" in pair.window.notices.text
    edit(pair, Slot("base", "north"), "N")
    assert of("fen-left", SOUTH) == sends("Q")
    assert of("fen-left", Slot("base", "north")) == sends("N")


def test_it_is_compared_with_the_one_it_shares_with(pair: Hand) -> None:
    share(pair)
    pair.choose(page(pair).page.sharing, "Compare…")
    pair.until(page(pair).compared.isVisible)
    assert page(pair).compared.counts[0].text() == "2 differences"
    assert read_profile(file("fen").path) == FIRST
