"""A full disk and a read-only home: told, nothing is lost, and all is written once that is possible again."""

from __future__ import annotations

import contextlib
import errno
import os
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest

from nubshift.app.document import saving_again
from nubshift.model import edits
from nubshift.model.automatic import read_automatic
from nubshift.model.player_settings import read_settings
from nubshift.model.programs import ProgramMatch
from nubshift.model.sends import SendKey
from nubshift.model.slots import Slot
from nubshift.model.store import read_profile
from nubshift.protocol.paths import automatic_path, settings_path
from tests.app.hand import Hand

TROUBLES = {errno.ENOSPC: "No space left on device", errno.EROFS: "Read-only file system"}


SMALL_DISK = "NUBSHIFT_TEST_DISK"
"""Names a file system of these tests' own, where there is one."""


@contextmanager
def failing(number: int) -> Iterator[None]:
    """No file can be written: on a file system of our own really, else as far as our code can tell."""
    disk = os.environ.get(SMALL_DISK)
    if disk is not None:
        with full(Path(disk)) if number == errno.ENOSPC else read_only(disk):
            yield
        return

    def fails(*_unused: object, **_more: object) -> object:
        raise OSError(number, os.strerror(number))

    with pytest.MonkeyPatch.context() as patched:
        patched.setattr("nubshift.model.store.tempfile.mkstemp", fails)
        yield


@contextmanager
def full(disk: Path) -> Iterator[None]:
    ballast = disk / "ballast"
    with ballast.open("wb", buffering=0) as file, contextlib.suppress(OSError):
        for size in (1 << 16, 1):
            with contextlib.suppress(OSError):
                while file.write(bytes(size)):
                    pass
    assert shutil.disk_usage(disk).free == 0
    yield
    ballast.unlink()


@contextmanager
def read_only(disk: str) -> Iterator[None]:
    subprocess.run(["mount", "-o", "remount,ro", disk], check=True)
    yield
    subprocess.run(["mount", "-o", "remount,rw", disk], check=True)


@pytest.fixture
def soon(monkeypatch: pytest.MonkeyPatch) -> None:
    """It is tried again after a moment."""
    monkeypatch.setattr(saving_again, "AGAIN_MS", 50)


@pytest.mark.parametrize("number", TROUBLES)
def test_what_can_not_be_written_holds_is_told_and_is_written_later(
    soon: None, start: Callable[..., Hand], number: int
) -> None:
    hand = start()
    window = hand.window
    rules, document = window.stored.rules, hand.studio.document
    with failing(number):
        rules.change(rules.now.with_match("quillgate", ProgramMatch(program="quill")))
        window.settings.change(closing="quit")
        document.edit("Key", lambda p: edits.with_sends(p, Slot("base", "mode"), (SendKey("F9"),)))
        assert not document.save()
        assert window.notices.text.count(TROUBLES[number]) >= 2
        assert rules.now.rules_of("quillgate")
        assert window.settings.now.closing == "quit"
    hand.until(lambda: read_automatic(automatic_path()).rules_of("quillgate"))
    hand.until(lambda: read_settings(settings_path()).closing == "quit")
    assert document.save()
    assert edits.sends_of(read_profile(document.file.path), Slot("base", "mode")) == (SendKey("F9"),)


def test_at_the_end_it_is_tried_once_more(start: Callable[..., Hand]) -> None:
    hand = start()
    with failing(errno.ENOSPC):
        hand.window.settings.change(closing="quit")
    hand.window.close()
    assert read_settings(settings_path()).closing == "quit"


def test_versions_and_sharing_that_can_not_be_written_are_told(start: Callable[..., Hand]) -> None:
    hand = start()
    sharing = hand.window.stored.sharing
    with failing(errno.ENOSPC):
        sharing.follow("quillgate", "saltbarrow")
        assert TROUBLES[errno.ENOSPC] in hand.window.notices.text
        assert sharing.now.follows == {}
    sharing.follow("quillgate", "saltbarrow")
    assert sharing.now.follows == {"quillgate": "saltbarrow"}


def test_a_command_line_import_on_a_full_disk_fails_with_the_reason(
    own_home: object, capsys: pytest.CaptureFixture[str]
) -> None:
    from nubshift.cli.main import main
    from nubshift.protocol.paths import demo_folder

    with failing(errno.ENOSPC):
        assert main(["import", str(demo_folder() / "quillgate.nubshift.json")]) == 1
    assert "No space left on device" in capsys.readouterr().err


@pytest.mark.skipif(SMALL_DISK in os.environ, reason="this is it")
def test_the_same_on_a_disk_that_is_really_full_and_one_that_is_really_read_only() -> None:
    """All of the above once more, on a file system of 16 MB, in a name space of its own."""
    here = ["unshare", "--mount", "--map-root-user"]
    small = 'mount -t tmpfs -o size=16m none "$0" && exec "$@"'
    with tempfile.TemporaryDirectory() as disk:  # the path of a socket in it has at most 107 letters
        if subprocess.run([*here, "sh", "-c", small, disk, "true"], check=False).returncode:
            pytest.skip("this machine lets nobody have a file system of their own")
        tests = [sys.executable, "-m", "pytest", "-p", "no:cacheprovider", f"--basetemp={disk}/t", __file__]
        done = subprocess.run(
            [*here, "sh", "-c", small, disk, *tests],
            env=os.environ | {SMALL_DISK: disk},
            capture_output=True,
            text=True,
            check=False,
        )
    assert done.returncode == 0, done.stdout + done.stderr
    assert "5 passed, 1 skipped" in done.stdout, done.stdout
