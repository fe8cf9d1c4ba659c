"""When edits are on disk, and what happens when another program changes the file."""

from __future__ import annotations

import errno
import os
import signal
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

import pytest
from msgspec.structs import replace
from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QApplication, QMessageBox

from nubshift.app.document.open_document import OUTSIDE, SAVE_AT_LATEST_MS, SAVE_MS
from nubshift.app.document.studio import Studio
from nubshift.app.main import first_profile
from nubshift.app.shell.rescue import CLOSE, STAY, TITLE, offer_rescued
from nubshift.model import edits
from nubshift.model.profile import Command, Profile
from nubshift.model.rescue import rescued
from nubshift.model.store import ProfileFile, read_profile
from nubshift.protocol.paths import profile_folder, rescue_folder
from standins.waiting import PATIENCE, wait_until
from tests.app.hand import Hand
from tests.support.profiles import made


def titled(title: str) -> Callable[[Profile], Profile]:
    return lambda profile: replace(profile, game=replace(profile.game, title=title))


def test_edits_without_a_pause_are_saved_a_second_after_the_first(hand: Hand) -> None:
    path = hand.studio.document.file.path
    before = path.read_bytes()
    assert SAVE_MS < 1000 >= SAVE_AT_LATEST_MS
    count = 0

    def edited_again() -> bool:
        """One more edit, sooner than the pause after which the last one is saved."""
        nonlocal count
        count += 1
        hand.studio.document.edit("Title", titled(f"Game {count}"))
        hand.bot.wait(SAVE_MS // 4)
        return path.read_bytes() != before

    hand.until(edited_again)
    assert read_profile(path).game.title.startswith("Game ")


def test_a_change_of_another_program_is_shown_when_it_happens_and_can_be_undone(hand: Hand) -> None:
    file = hand.studio.document.file
    other = ProfileFile(file.path)
    profile = other.read()
    mine = hand.studio.profile.game.title
    other.write(edits.with_feel(titled("Theirs")(profile), "base", "right_stick", speed=123.0))
    hand.until(lambda: hand.studio.profile.game.title == "Theirs")
    assert "Another program changed" in hand.window.notices.text
    assert hand.studio.document.history.undo_title == OUTSIDE
    hand.until(lambda: hand.window.playing.settled)
    hand.choose(hand.window.notices, "Undo")
    assert hand.studio.profile.game.title == mine
    assert hand.saved().game.title == mine
    assert not list(profile_folder().glob("*-found*"))


def test_what_is_written_by_ourselves_is_no_change_of_another_program(hand: Hand) -> None:
    for number in range(3):
        hand.studio.document.edit("Title", titled(f"Game {number}"))
        hand.saved()
        hand.bot.wait(300)
    assert OUTSIDE not in hand.studio.document.history.titles
    assert not hand.window.notices.isVisible()


def test_another_programs_rubbish_is_told_and_put_aside_with_the_next_edit(hand: Hand) -> None:
    path = hand.studio.document.file.path
    path.write_text("{rubbish")
    hand.until(lambda: "can't be read now" in hand.window.notices.text)
    title = hand.studio.profile.game.title
    hand.studio.document.edit("Title", titled("Mine"))
    assert hand.saved().game.title == "Mine" != title
    (aside,) = path.parent.glob("*-found*")
    assert aside.read_text() == "{rubbish"


def test_a_hang_up_saves_what_was_not_saved_yet(tmp_path: Path, own_home: Path) -> None:
    file = ProfileFile(profile_folder() / "p.nubshift.json")
    file.write(made({"base": {"south": "A"}}))
    code = (
        "import sys\n"
        "from nubshift.app.document import open_document\n"
        "open_document.SAVE_MS = open_document.SAVE_AT_LATEST_MS = 10_000_000\n"
        "from nubshift.app.document.studio import Studio\n"
        "from msgspec.structs import replace\n"
        "was = Studio.__init__\n"
        "def begin(self, *words):\n"
        "    was(self, *words)\n"
        "    self.document.edit('Title', lambda p: replace(p, game=replace(p.game, title='Unsaved')))\n"
        "    print('edited', flush=True)\n"
        "Studio.__init__ = begin\n"
        "from nubshift.cli.main import main\n"
        "sys.exit(main(sys.argv[1:]))\n"
    )
    words = [sys.executable, "-c", code, str(file.path), "--source", "sim:moss", "--sink", "record:/dev/null"]
    window = subprocess.Popen(
        words, stdout=subprocess.PIPE, text=True, env=os.environ | {"XDG_RUNTIME_DIR": str(tmp_path)}
    )
    assert window.stdout is not None
    assert window.stdout.readline() == "edited\n"
    wait_until((tmp_path / "nubshift" / "runner.sock").exists, "its runner is there, so the window is open")
    window.send_signal(signal.SIGHUP)
    assert window.wait(60) == 0
    window.stdout.close()
    assert read_profile(file.path).game.title == "Unsaved"


def spoil(folder: Path) -> Callable[[], None]:
    """Let nothing be written in a folder; returns what mends that."""
    folder.rename(folder.with_name("elsewhere"))
    folder.write_text("")

    def mend() -> None:
        folder.unlink()
        folder.with_name("elsewhere").rename(folder)

    return mend


def answer_box(text: str) -> list[str]:
    """Click the button of the next message box; what that says is in the list once it was there."""
    said: list[str] = []

    def click() -> None:
        box = QApplication.activeModalWidget()
        if not isinstance(box, QMessageBox):
            QTimer.singleShot(20, click)
            return
        said.append(box.text())
        next(button for button in box.buttons() if button.text() == text).click()

    QTimer.singleShot(0, click)
    return said


def test_closing_with_edits_that_can_not_be_saved_asks_first_and_the_next_start_offers_them(
    start: Callable[..., Hand],
) -> None:
    hand = start()
    mend = spoil(hand.studio.document.file.path.parent)
    hand.studio.document.edit("Title", titled("Unsaved"))
    hand.until(lambda: hand.studio.document.trouble)
    assert "a copy is in" in hand.window.notices.text
    said = answer_box(STAY)
    hand.window.close()
    assert hand.window.isVisible()
    assert "offers it at the next start" in said[0]
    answer_box(CLOSE)
    hand.window.close()
    assert not hand.window.isVisible()
    mend()
    again = start()
    assert again.studio.profile.game.title != "Unsaved"
    offer_rescued(rescue_folder(), profile_folder(), again.studio, again.window.notices)
    again.choose(again.window.notices, "Open the copy")
    assert again.saved().game.title == "Unsaved"
    assert again.studio.document.history.undo_title == TITLE
    assert not list(rescue_folder().iterdir())


def test_an_end_from_outside_asks_nothing_and_keeps_a_copy(start: Callable[..., Hand]) -> None:
    hand = start()
    spoil(hand.studio.document.file.path.parent)
    hand.studio.document.edit("Title", titled("Unsaved"))
    hand.window.end()
    assert not hand.window.isVisible()
    (copy,) = rescued(rescue_folder())
    assert copy.read().game.title == "Unsaved"
    assert copy.original == hand.studio.document.file.path


def test_told_to_end_before_its_loop_has_begun_it_ends(tmp_path: Path, own_home: Path) -> None:
    code = (
        "import os, signal, sys\n"
        "from nubshift.app.client.link import Link\n"
        "Link.open = lambda self: os.kill(os.getpid(), signal.SIGTERM)\n"
        "from nubshift.cli.main import main\n"
        "sys.exit(main(['--source', 'sim:moss', '--sink', 'record:/dev/null']))\n"
    )
    assert subprocess.run([sys.executable, "-c", code], timeout=PATIENCE, check=False).returncode == 0


def test_names_that_look_like_markup_are_shown_letter_by_letter(start: Callable[..., Hand], tmp_path: Path) -> None:
    from PyQt6.QtWidgets import QLabel, QWidget

    name = "<b>x</b><img src='file:///etc/passwd'><a href='http://x'>y</a>"
    profile = titled(name)(made({"base": {"south": "A"}, "aim": {}}))
    profile = replace(profile, layers=(profile.layers[0], replace(profile.layers[1], name=name)))
    profile = edits.with_command(profile, Command("x", name, ("Z",)))
    file = ProfileFile(tmp_path / "p.nubshift.json")
    file.write(profile)
    hand = start(file.path)
    hand.window.notices.tell("error", name)
    for workspace in hand.window.inside.workspaces:
        hand.window.show_workspace(workspace)
        hand.bot.wait(50)
        for label in hand.window.findChildren(QLabel):
            assert label.textFormat() == Qt.TextFormat.PlainText, label.text()
        for widget in hand.window.findChildren(QWidget):
            tip = widget.toolTip()
            assert tip.startswith("<qt>&lt;") or "<b>" not in tip, tip


def test_a_first_start_where_nothing_can_be_written_leaves_nothing_and_says_so(own_home: Path) -> None:
    (own_home / "full").write_text("")
    file, profile, troubles = first_profile(None, own_home / "full" / "profiles", "")
    assert "The demo could not be saved" in troubles[0]
    assert not Studio(file, profile).document.saved


def test_a_demo_that_could_not_be_copied_whole_is_not_there(own_home: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    def full(*_: object) -> None:
        raise OSError(errno.ENOSPC, "No space left on device")

    monkeypatch.setattr("nubshift.model.store.os.fsync", full)
    _, _, troubles = first_profile(None, own_home / "profiles", "")
    assert "No space left" in troubles[0]
    assert list((own_home / "profiles").iterdir()) == []


def test_told_to_close_twice_it_closes_once(start: Callable[..., Hand]) -> None:
    """By the player, and by the session that ends meanwhile."""
    hand = start()
    gone: list[int] = []
    hand.window.gone.connect(lambda: gone.append(1))
    hand.window.close()
    hand.window.show()
    hand.window.end()
    assert gone == [1]
