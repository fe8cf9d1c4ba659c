"""The card: everything a player's hands do is on it, on whole pages, in both formats and themes (N60)."""

from __future__ import annotations

import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from nubshift.app.card.content import Card, CardBlock, CardRow, card_of
from nubshift.app.card.page import HEIGHT, MARGIN, CardPages
from nubshift.app.painting.theme import DAY, DUSK, install_font
from nubshift.model.keys import label
from nubshift.model.profile import Profile
from nubshift.model.store import read_profile
from nubshift.protocol.paths import demo_folder
from tests.app.hand import Hand


def demos() -> list[Profile]:
    return [read_profile(path) for path in sorted(Path(demo_folder()).glob("*.nubshift.json"))]


def rows(card: Card) -> list[CardRow]:
    blocks = (*card.left, *card.right, *card.others, *card.layers)
    return [row for block in blocks for row in block.rows]


@pytest.mark.parametrize("profile", demos(), ids=lambda p: p.game.title)
def test_every_binding_of_the_first_seat_is_on_it(profile: Profile) -> None:
    card = card_of(profile)
    base = {row.control for block in (*card.left, *card.right, *card.others) for row in block.rows}
    wanted = {b.control for b in profile.layers[0].bindings if b.seat == "1" and b.sets}
    assert {control for control in wanted if control != "dpad"} <= base
    assert [block.title for block in card.layers] == [layer.name for layer in profile.layers[1:]]
    assert all(row.does and row.called for row in rows(card))


def test_rows_say_the_command_its_key_and_the_layer_how_it_is_entered() -> None:
    (profile,) = (p for p in demos() if p.game.title == "Ferrow Deep")
    card = card_of(profile)
    found = {row.control: row for block in (*card.left, *card.right) for row in block.rows}
    assert (found["right_bumper"].does, found["right_bumper"].keys) == ("Next tool", ("Q",))
    assert found["left_stick"].keys == ("W", "D", "S", "A")  # in the order of the words
    assert card.layers[0].about == "while left trigger is held"


@pytest.mark.parametrize("count", [0, 3, 60, 400])
def test_however_much_there_is_it_stays_on_its_pages(qtbot: QtBot, count: int) -> None:
    row = CardRow("south", "Lower face button", "Jump", ("SPACE",))
    layers = tuple(CardBlock(f"Layer {n}", (row,) * n, "by select") for n in (1, count, 7))
    pages = CardPages(Card("Long", "", (CardBlock("Left", (row,) * 5),), (), (), layers), "moss", DAY, label)
    shown = 0
    for page in pages.pages:
        for _x, y, block in page:
            assert y + pages._height(block) <= HEIGHT - MARGIN + 13
            shown += len(block.rows)
    assert shown == 5 + 1 + count + 7


def test_nothing_of_the_demo_is_cut_on_paper_and_a_full_hand_keeps_to_its_page(qapp: QApplication) -> None:
    install_font(qapp)
    for profile in demos():
        pages = CardPages(card_of(profile), "moss", DAY, label)
        said = [pages._said(row) for page in pages.pages for *_place, block in page for row in block.rows]
        assert not [text for one in said for text in (*one.does, *one.told) if "…" in text]
        assert max(len(one.does) for one in said) <= 2
    long = CardRow("south", "Lower face button", "Everything that can be done with one hand, and more", ("SPACE",))
    full = CardPages(Card("Long", "", (CardBlock("Left", (long,) * 16),), (), (), ()), "moss", DAY, label)
    ((_x, y, block),) = full.pages[0]
    assert y + full._height(block) <= HEIGHT - MARGIN + 13


@pytest.mark.parametrize("theme", [DAY, DUSK], ids=lambda theme: theme.name)
def test_a_picture_has_everything_drawn(qtbot: QtBot, theme: object) -> None:
    pages = CardPages(card_of(demos()[0]), "moss", theme, label)  # type: ignore[arg-type]
    image = pages.picture(0)
    colours = {image.pixelColor(x, y).name() for x in range(0, image.width(), 3) for y in range(0, image.height(), 3)}
    assert {DAY.surface.name() if theme is DAY else DUSK.surface.name()} <= colours
    assert len(colours) > 20


def test_by_command_line(tmp_path: Path) -> None:
    profile = demo_folder() / "quillgate.nubshift.json"

    def card(*words: str) -> subprocess.CompletedProcess[str]:
        return subprocess.run(
            [sys.executable, "-m", "nubshift", "card", str(profile), *words],
            capture_output=True,
            text=True,
            check=False,
        )

    for name in ("card.pdf", "card.png"):
        done = card("-o", str(tmp_path / name))
        assert done.returncode == 0, done.stderr
        assert str(tmp_path / name) in done.stdout
    assert (tmp_path / "card.pdf").read_bytes().startswith(b"%PDF")
    assert (tmp_path / "card.png").read_bytes().startswith(b"\x89PNG")
    assert "a .pdf or a .png" in card("-o", "card.gif").stderr
    assert "no such folder" in card("-o", str(tmp_path / "nowhere" / "card.pdf")).stderr


def test_from_the_window(start: Callable[..., Hand], tmp_path: Path) -> None:
    hand = start()
    hand.window.files.card_to(tmp_path / "mine")
    assert (tmp_path / "mine.pdf").exists()
    assert "mine.pdf" in hand.window.notices.text
    (tmp_path / "file").write_text("")
    hand.window.files.card_to(tmp_path / "file" / "mine.pdf")
    assert "could not be saved" in hand.window.notices.text
