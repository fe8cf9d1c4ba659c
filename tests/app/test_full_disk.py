"""A full disk and a read-only home: told, nothing is lost, and all is written once that is possible again."""

from __future__ import annotations

import errno
import os
from collections.abc import Callable, Iterator
from contextlib import contextmanager

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
from tests.app.conftest import Hand

TROUBLES = {errno.ENOSPC: "No space left on device", errno.EROFS: "Read-only file system"}


@contextmanager
def failing(number: int) -> Iterator[None]:
    """No file can be written."""

    def fails(*_unused: object, **_more: object) -> object:
        raise OSError(number, os.strerror(number))

    with pytest.MonkeyPatch.context() as patched:
        patched.setattr("nubshift.model.store.tempfile.mkstemp", fails)
        yield


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
