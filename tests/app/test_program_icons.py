"""The icons of running programs, found by their desktop entries."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from PyQt6.QtGui import QColor, QIcon, QImage

from nubshift.app.profiles import desktop_icons
from nubshift.app.profiles.desktop_icons import icon_of
from nubshift.model.programs import SeenProgram


@pytest.fixture
def red(qapp: object, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[None]:
    """A game with a desktop entry and a red icon, beside an entry that is broken."""
    picture = QImage(32, 32, QImage.Format.Format_RGB32)
    picture.fill(QColor("red"))
    picture.save(str(tmp_path / "fen.png"))
    entries = tmp_path / "share" / "applications"
    entries.mkdir(parents=True)
    (entries / "org.example.Fen.desktop").write_text(
        f"[Desktop Entry]\nName=Fen\nExec=/opt/fen/fen-bin --now\nStartupWMClass=FenWindow\nIcon={tmp_path / 'fen.png'}\n"
    )
    (entries / "broken.desktop").write_bytes(b"\xff\xfe[no")
    monkeypatch.setenv("XDG_DATA_DIRS", str(tmp_path / "share"))
    desktop_icons._entries.cache_clear()
    yield
    desktop_icons._entries.cache_clear()


def is_red(icon: QIcon) -> bool:
    return icon.pixmap(16, 16).toImage().pixelColor(8, 8) == QColor("red") if not icon.isNull() else False


@pytest.mark.parametrize(
    "seen",
    [
        SeenProgram(1, app="org.example.Fen"),
        SeenProgram(1, group="FenWindow"),
        SeenProgram(1, path="/opt/fen/fen-bin", name="fen-bin"),
    ],
)
def test_an_icon_is_found_by_application_class_and_program(red: None, seen: SeenProgram) -> None:
    assert is_red(icon_of(seen))


def test_others_have_a_plain_one(red: None) -> None:
    assert not is_red(icon_of(SeenProgram(1, path="/opt/other", name="other")))
