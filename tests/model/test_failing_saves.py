"""Saving while the file system fails: whatever fails, and whenever, the old file or the new one is there whole."""

from __future__ import annotations

import errno
import os
import tempfile
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import Any

import pytest

from nubshift.errors import StorageError
from nubshift.model.store import ProfileFile, delete, recover, write_atomically
from tests.support.profiles import made

CALLS = (
    "open",
    "write",
    "fsync",
    "chmod",
    "replace",
    "unlink",
    "mkdir",
    "rename",
    "link",
    "close",
    "scandir",
    "listdir",
)
"""What of the system a save may ask for."""
OLD, NEW = made({"base": {"south": "A"}}), made({"base": {"south": "B"}})


@contextmanager
def failing(at: int, error: int) -> Iterator[list[str]]:
    """The call number `at` fails, and all later ones of its kind; tells which calls there were."""
    made_so_far: list[str] = []
    broken: set[str] = set()
    before: dict[tuple[Any, str], Any] = {}

    def wrapped(name: str, real: Callable[..., Any]) -> Callable[..., Any]:
        def call(*words: Any, **more: Any) -> Any:
            made_so_far.append(name)
            if len(made_so_far) - 1 == at:
                broken.add(name)
            if name in broken and name != "close":
                raise OSError(error, os.strerror(error))
            return real(*words, **more)

        return call

    for module, names in ((os, CALLS), (tempfile, ("mkstemp",))):
        for name in names:
            before[module, name] = getattr(module, name)
            setattr(module, name, wrapped(name, before[module, name]))
    try:
        yield made_so_far
    finally:
        for (module, name), real in before.items():
            setattr(module, name, real)


def every_point(act: Callable[[], object]) -> range:
    """One number for each call that it makes when nothing fails."""
    with failing(-1, 0) as calls:
        act()
    return range(len(calls))


@pytest.mark.parametrize("error", [errno.ENOSPC, errno.EIO, errno.EROFS, errno.EDQUOT])
def test_whatever_call_fails_the_file_is_the_old_one_or_the_new_one(error: int, tmp_path: Path) -> None:
    path = tmp_path / "deep.nubshift.json"
    points = every_point(lambda: write_atomically(path, b"first"))
    assert len(points) >= 5, "there is something that can fail"
    for at in points:
        path.write_bytes(b"old")
        failed = ""
        with failing(at, error) as calls:
            try:
                write_atomically(path, b"new")
            except StorageError as trouble:
                failed = str(trouble)
        assert path.read_bytes() in (b"old", b"new"), calls
        if not failed:
            assert path.read_bytes() == b"new", "nobody was told that it is not saved"
        else:
            assert os.strerror(error) in failed
        if "unlink" not in calls:  # what can't be removed can't be
            assert not list(tmp_path.glob(".*")), f"after {calls} something is left lying about"
        for left in tmp_path.glob(".*"):
            left.unlink()


@pytest.mark.parametrize("error", [errno.ENOSPC, errno.EIO])
def test_a_profile_is_never_lost_by_saving_deleting_or_bringing_back(error: int, tmp_path: Path) -> None:
    """Somewhere in the folder there is a profile that can be read, after each failure of each step."""
    steps: dict[str, Callable[[Path], object]] = {
        "save": lambda path: ProfileFile(path).write(NEW),
        "delete": delete,
        "bring back": lambda path: recover(delete(path)),
    }
    for name, step in steps.items():
        path = tmp_path / f"{name.replace(' ', '')}.nubshift.json"
        ProfileFile(path).write(OLD)
        for at in range(30):
            with failing(at, error), suppress(StorageError):  # anything else would be no sentence for a player
                step(path)
            there = [found for found in tmp_path.rglob(f"{path.name.partition('.')[0]}*") if found.is_file()]
            assert any(found.read_bytes().startswith(b"{") for found in there), (name, at)
            if not path.exists():
                ProfileFile(path).write(OLD)
