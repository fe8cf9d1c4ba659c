"""N13: while the window has the focus and the profile is live, nothing reaches it; another window gets everything.

Real X focus, with a window manager; the runner sends through XTEST and would operate the window if it could.
"""

from __future__ import annotations

import os
import signal
import subprocess
import sys
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from PyQt6.QtCore import QEvent, QObject
from PyQt6.QtWidgets import QApplication

from faults.kills import Keys
from nubshift.model.roles import MouseRole
from nubshift.protocol.messages import Use
from standins.game import Game
from standins.waiting import PATIENCE
from tests.app.hand import Hand
from tests.support.profiles import four, made

PROFILE = made({"base": {"south": "A", "east": "BTN_LEFT", "left_stick": four(), "right_stick": MouseRole()}})


class Ear(QObject):
    """Hears every key, button and motion that reaches the application."""

    HEARD = (QEvent.Type.KeyPress, QEvent.Type.KeyRelease, QEvent.Type.MouseButtonPress, QEvent.Type.MouseMove)

    def __init__(self, app: QApplication) -> None:
        super().__init__()
        self.heard: list[QEvent.Type] = []
        app.installEventFilter(self)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() in self.HEARD and event.spontaneous():
            self.heard.append(event.type())
        return False


@pytest.fixture
def ear(qapp: QApplication) -> Iterator[Ear]:
    found = Ear(qapp)
    yield found
    qapp.removeEventFilter(found)


def play_all(hand: Hand) -> None:
    """Press, click, walk and look."""
    for control in ("south", "east"):
        hand.steer(control, 1)
        hand.steer(control, 0)
    hand.steer("left_stick", 0, -1)
    hand.steer("right_stick", 1, 0)
    hand.until(lambda: hand.live.speed[0] > 0)
    hand.steer("left_stick", 0, 0)
    hand.steer("right_stick", 0, 0)
    hand.until(lambda: hand.live.held == ())


def use_own(hand: Hand) -> None:
    """Play the profile of these tests, and wait until it plays."""
    with hand.bot.waitSignal(
        hand.link.used, timeout=round(PATIENCE * 1000), check_params_cb=lambda used: used.edit == 99
    ):
        hand.link.send(Use(PROFILE, 99, switch=True))


def focus(hand: Hand, title: str) -> None:
    subprocess.run(["xdotool", "search", "--name", title, "windowfocus", "--sync"], check=True, capture_output=True)


def test_nothing_reaches_the_window_while_it_has_the_focus(
    start: Callable[..., Hand], ear: Ear, qapp: QApplication
) -> None:
    hand = start(sink="xtest")
    hand.until(lambda: hand.link.status and hand.link.status.withheld)
    use_own(hand)
    qapp.processEvents()
    ear.heard.clear()
    play_all(hand)
    assert not hand.live.real
    assert {bar.code for bar in hand.live.bars} >= {"A", "BTN_LEFT", "W"}
    qapp.processEvents()
    assert ear.heard == []


def test_another_window_with_the_focus_gets_it_and_loses_it_again(start: Callable[..., Hand]) -> None:
    hand = start(sink="xtest")
    use_own(hand)
    game = Game(0, 0, 300, 200)
    try:
        hand.until(lambda: hand.link.status and not hand.link.status.withheld)
        hand.steer("south", 1)
        game.wait(lambda: game.words() == ["+38"], "A goes down in the game")
        assert hand.live.real
        focus(hand, "Nub Shift")
        hand.until(lambda: hand.link.status and hand.link.status.withheld)
        hand.until(lambda: hand.live.held == ())  # what was held was released when the focus arrived
        assert game.words()[:1] == ["+38"]
        focus(hand, "A game that knows")
        hand.until(lambda: hand.link.status and not hand.link.status.withheld)
        hand.steer("south", 0)
        hand.steer("south", 1)
        game.wait(lambda: game.words().count("+38") == 2, "A goes down again")
        hand.steer("south", 0)
        game.wait(lambda: game.words()[-1] == "-38", "and up")
    finally:
        game.close()


def test_holding_the_button_sends_for_real(start: Callable[..., Hand]) -> None:
    hand = start(sink="xtest")
    hand.until(lambda: hand.link.status and hand.link.status.withheld and hand.window.now.through.isVisible())
    hand.window.now.through.pressed.emit()
    hand.until(lambda: hand.link.status and not hand.link.status.withheld)
    hand.steer("dpad_up", 1)
    hand.until(lambda: hand.live.held == ("L",) and hand.live.real)
    hand.steer("dpad_up", 0)
    hand.window.now.through.released.emit()
    hand.until(lambda: hand.link.status and hand.link.status.withheld)
    assert hand.studio.profile.command("lantern") is not None


def held_in_focus(game: Game) -> bool:
    """Whether W is down in the game, to which the focus is given back where another window has it."""
    if game.lost_focus():
        words = ["xdotool", "search", "--name", "A game that knows", "windowfocus", "--sync"]
        subprocess.run(words, check=False, capture_output=True, timeout=PATIENCE)
    return 25 in game.held()


def test_a_killed_window_leaves_nothing_held(game: Game, own_home: Path) -> None:
    """The whole program as a process, killed without a word while the pad it plays holds a key."""
    process = subprocess.Popen(
        [sys.executable, "-m", "nubshift", "--source", "sim:moss:ferrow-deep", "--sink", "xtest"],
        env=os.environ,
        stderr=subprocess.DEVNULL,
    )
    try:
        # a window that starts may take the focus more than once: the game takes it back each time
        game.wait(lambda: game.lost_focus() or "+25" in game.words(), "the window opens")
        game.wait(lambda: held_in_focus(game), "W is held in the game")
    finally:
        process.send_signal(signal.SIGKILL)
        process.wait()
    keys = Keys()
    game.wait(lambda: keys.down() == 0 and not game.held(), "everything goes up")
