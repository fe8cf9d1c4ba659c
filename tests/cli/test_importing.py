"""``nubshift import``: what a profile from elsewhere can do is said before it is taken in (need N60)."""

from __future__ import annotations

from pathlib import Path

import pytest

from nubshift.model.store import read_profile
from nubshift.model.versions import versions_of
from nubshift.model.writing import profile_text
from nubshift.protocol.paths import profile_folder
from tests.cli.test_commands import nubshift
from tests.support.profiles import made


@pytest.fixture
def files(own_home: Path, tmp_path: Path) -> tuple[Path, Path]:
    """One of the player's own, and another one of the same game from elsewhere."""
    own, other = profile_folder() / "mine.nubshift.json", tmp_path / "theirs.nubshift.json"
    own.parent.mkdir(parents=True)
    own.write_bytes(profile_text(made({"base": {"south": "A"}}, game={"title": "Saltbarrow"})))
    other.write_bytes(profile_text(made({"base": {"south": "B"}}, game={"title": "Saltbarrow"})))
    return own, other


def test_a_new_one_is_imported_and_what_it_can_do_is_said(own_home: Path, tmp_path: Path) -> None:
    path = tmp_path / "new.nubshift.json"
    path.write_bytes(profile_text(made({"base": {"south": "A"}}, game={"title": "Quillgate"})))
    done = nubshift("import", path)
    assert done.returncode == 0
    assert "Only presses keys and moves the mouse." in done.stdout
    assert read_profile(profile_folder() / "new.nubshift.json").game.title == "Quillgate"


def test_of_the_same_game_nothing_is_taken_in_until_it_is_said_how(files: tuple[Path, Path]) -> None:
    own, other = files
    before = own.read_bytes()
    done = nubshift("import", other)
    assert done.returncode == 1
    assert "Different from your Saltbarrow: 1 thing" in done.stdout
    assert nubshift("import", "--show", other).returncode == 0
    assert own.read_bytes() == before
    assert list(profile_folder().glob("*.json")) == [own]


def test_both_are_kept(files: tuple[Path, Path]) -> None:
    own, other = files
    before = own.read_bytes()
    assert nubshift("import", "--keep-both", other).returncode == 0
    assert own.read_bytes() == before
    assert read_profile(profile_folder() / "theirs.nubshift.json").game.title == "Saltbarrow 2"


def test_one_that_is_replaced_is_in_its_history(files: tuple[Path, Path]) -> None:
    own, other = files
    before = own.read_bytes()
    assert nubshift("import", "--replace", other).returncode == 0
    assert own.read_bytes() == other.read_bytes()
    assert [version.path.read_bytes() for version in versions_of(own)] == [before]
    again = nubshift("import", other)
    assert again.returncode == 0
    assert "the same as your Saltbarrow" in again.stdout


def test_a_hostile_file_is_refused_with_the_reason(own_home: Path, tmp_path: Path) -> None:
    path = tmp_path / "deep.nubshift.json"
    path.write_text("[" * 100_000)
    done = nubshift("import", path)
    assert done.returncode == 1
    assert str(path) in done.stderr
    assert "Traceback" not in done.stderr
