"""Profiles exchanged with a folder that others write to: nothing is overwritten, whatever happened on both sides."""

from __future__ import annotations

import itertools
from pathlib import Path

import pytest

from nubshift.model.exchange import Move, Synced, move, read_synced, write_synced

STATES = (None, "a", "b", "c")


@pytest.mark.parametrize(
    ("here", "there", "common", "gives", "expected"),
    [
        ("a", "a", None, False, "same"),
        ("a", "b", "a", False, "take"),
        ("b", "a", "a", False, "nothing"),
        ("b", "a", "a", True, "give"),
        ("b", "c", "a", True, "conflict"),
        ("a", "b", None, True, "conflict"),
        (None, "a", None, True, "offer"),
        (None, "a", "a", True, "nothing"),
        (None, "b", "a", True, "offer"),
        ("a", None, None, True, "give"),
        ("a", None, None, False, "nothing"),
        ("a", None, "a", True, "nothing"),
        ("b", None, "a", True, "give"),
    ],
)
def test_what_is_done(here: str | None, there: str | None, common: str | None, gives: bool, expected: Move) -> None:
    assert move(here, there, common, gives) == expected


def test_what_is_not_known_to_both_is_never_written_over() -> None:
    for here, there, common, gives in itertools.product(STATES, STATES, STATES, (False, True)):
        found = move(here, there, common, gives)
        if found == "take":
            assert here == common is not None
        if found == "give":
            assert there in (None, common)
            assert gives
        if here is None:
            assert found in ("nothing", "offer")


def test_what_was_common_is_stored(tmp_path: Path) -> None:
    path = tmp_path / "synced.json"
    assert read_synced(path) == Synced()
    write_synced(path, Synced(folder="/somewhere", common={"a.nubshift.json": "12"}))
    assert read_synced(path).common == {"a.nubshift.json": "12"}
