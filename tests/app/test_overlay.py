"""What is shown over the game: it never takes the focus, with a real window manager at work (N28, N32, N33, N38)."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QGuiApplication, QPainter, QPainterPath
from pytestqt.qtbot import QtBot

from nubshift.app.overlay.over_game import OverGame
from nubshift.app.overlay.window import notify
from nubshift.app.overlay.window_pane import WindowPane
from nubshift.app.overlay.x_pane import XPane
from nubshift.app.shell.sounds import ENTER_HZ, LEAVE_HZ, write_tone
from nubshift.model import edits
from nubshift.model.roles import BoardRole, MenuEntry, MenuRole, Overlay, TilesRole
from nubshift.model.sends import ShowAll
from nubshift.model.writing import profile_text
from nubshift.outputs.x11 import XTest
from standins.game import Game
from standins.waiting import PATIENCE
from tests.app.hand import Hand, take_from_menu
from tests.support.profiles import made, sends

PLACE = Overlay(0.5, 0.5, 0.4)
PROFILE = made(
    {
        "base": {
            "left_trigger": ">aim",
            "right_stick": MenuRole((MenuEntry(sends("1")), MenuEntry(sends("2"))), show=PLACE),
            "left_stick": TilesRole(tuple(sends(str(n)) if n != 5 else () for n in range(1, 10)), show=PLACE),
            "mode": ShowAll(),
            "left_grip": ">write",
        },
        "aim": {"south": "A"},
        "write": {"left_stick": BoardRole((("a", "b"), ("SPACE", "c")), by="south", show=PLACE)},
    }
)


@pytest.fixture
def playing(start: Callable[..., Hand], tmp_path: Path) -> Iterator[tuple[Hand, Game]]:
    """The window behind a game that has the focus."""
    path = tmp_path / "shown.nubshift.json"
    path.write_bytes(profile_text(PROFILE))
    hand = start(path, sink="xtest")
    game = Game(0, 0, 400, 300)
    hand.until(lambda: hand.link.status and not hand.link.status.withheld)
    yield hand, game
    game.close()


def focused() -> str:
    found = subprocess.run(["xdotool", "getwindowfocus", "getwindowname"], capture_output=True, text=True, check=False)
    return found.stdout.strip()


def lose_pane(over_game: OverGame) -> None:
    """As in a session that lets nothing stand over the game."""
    assert over_game.pane is not None
    over_game.pane.end()
    over_game.pane = None


def lost_focus(game: Game) -> bool:
    return any(event["event"] == "focus out" for event in game.events)


def test_a_layer_is_told_over_the_game_and_the_game_keeps_the_focus(playing: tuple[Hand, Game]) -> None:
    hand, game = playing
    overlay = hand.window.during_play.overlay
    assert not overlay.is_up
    hand.steer("left_trigger", 1)
    hand.until(lambda: overlay.is_up)
    assert overlay.told == "aim"
    overlay.picture()
    hand.steer("left_trigger", 0)
    hand.until(lambda: overlay.told == "base")
    hand.until(lambda: not overlay.is_up)  # a moment later it is gone
    assert focused() == "A game that knows no gamepad"
    assert not lost_focus(game)
    assert hand.link.status is not None
    assert not hand.link.status.withheld


@pytest.mark.parametrize(
    ("control", "x", "y", "use"), [("right_stick", 0, -1, "menu"), ("left_stick", 0.9, 0, "tiles")]
)
def test_tiles_and_menus_are_shown_while_in_use(
    playing: tuple[Hand, Game], control: str, x: float, y: float, use: str
) -> None:
    hand, game = playing
    overlay = hand.window.during_play.overlay
    hand.steer(control, x, y)
    hand.until(lambda: overlay.is_up and use in [s.use for s in overlay.surfaces])
    before = overlay.picture()
    cell = next(s.cell for s in overlay.surfaces if s.use == use)
    assert cell >= 0
    hand.steer(control, -x, -y)
    hand.until(lambda: next(s.cell for s in overlay.surfaces if s.use == use) != cell)
    assert overlay.picture() != before
    assert not lost_focus(game)
    assert isinstance(overlay.pane, WindowPane)
    flags = overlay.pane.windowFlags()
    assert flags & Qt.WindowType.WindowDoesNotAcceptFocus
    assert flags & Qt.WindowType.WindowTransparentForInput


def test_it_hides_no_more_of_the_game_than_it_draws(playing: tuple[Hand, Game]) -> None:
    """Nothing blends windows here: where the overlay draws nothing, the game must be seen all the same."""
    hand, _ = playing
    subprocess.run(["xdotool", "search", "--name", "A game that knows", "windowraise"], check=True, capture_output=True)
    screen = QGuiApplication.primaryScreen()
    assert screen is not None

    def seen(*places: tuple[int, int]) -> set[str]:
        picture = screen.grabWindow().toImage()
        return {picture.pixelColor(x, y).name() for x, y in places}

    corners = ((12, 60), (380, 60), (12, 250), (380, 250))
    hand.until(lambda: len(seen(*corners)) == 1)  # the game's window, which is of one colour
    before, middle = seen(*corners), seen((540, 400))
    hand.steer("left_stick", 0.9, 0)
    hand.until(lambda: seen((540, 400)) != middle)  # the overlay is there
    assert seen(*corners) == before


def test_a_window_of_the_x_server_beside_a_wayland_session(qtbot: QtBot, game: Game, tmp_path: Path) -> None:
    """It is seen where something is drawn, hides nothing else, and takes neither click nor focus."""

    def draw(painter: QPainter) -> None:
        painter.fillRect(100, 100, 300, 200, QColor("#ff0000"))

    pane = XPane(os.environ["DISPLAY"], draw, QGuiApplication.instance())
    screen = QGuiApplication.primaryScreen()
    assert screen is not None

    def seen(x: int, y: int) -> str:
        return screen.grabWindow().toImage().pixelColor(x, y).name()

    outline = QPainterPath()
    outline.addRect(100, 100, 300, 200)
    before = seen(500, 400)
    pane.up()
    pane.shape(outline)
    pane.paint_soon()
    qtbot.waitUntil(lambda: seen(250, 200) == "#ff0000" and seen(395, 295) == "#ff0000", timeout=PATIENCE * 1000)
    assert seen(500, 400) == before
    devices = XTest()
    devices.place(250 / 1280, 200 / 1024, False)
    devices.button(1, True)
    devices.button(1, False)
    devices.flush()
    game.wait(lambda: game.words() == ["+b1", "-b1"], "a click goes through it")
    assert not game.lost_focus()
    pane.down()
    qtbot.waitUntil(lambda: seen(250, 200) == before, timeout=PATIENCE * 1000)
    pane.end()
    devices.close()


def test_the_typing_board_types_into_the_game(playing: tuple[Hand, Game]) -> None:
    hand, game = playing
    overlay = hand.window.during_play.overlay
    hand.steer("left_grip", 1)
    hand.until(lambda: overlay.is_up and "board" in [s.use for s in overlay.surfaces])
    overlay.picture()
    hand.steer("left_stick", 1, 0)
    hand.until(lambda: next(s.cell for s in overlay.surfaces if s.use == "board") == 1)
    hand.steer("south", 1)
    game.wait(lambda: game.words() == ["+56", "-56"], "b is typed")
    assert not lost_focus(game)


def test_what_everything_does_now_while_it_is_held(playing: tuple[Hand, Game]) -> None:
    hand, _ = playing
    overlay = hand.window.during_play.overlay
    hand.steer("mode", 1)
    hand.until(lambda: [s.use for s in overlay.surfaces if s.use == "all"] == ["all"] and overlay.is_up)
    overlay.picture()
    hand.steer("mode", 0)
    hand.until(lambda: "all" not in [s.use for s in overlay.surfaces])


def test_the_menu_ends_it_although_its_button_stays_down(playing: tuple[Hand, Game]) -> None:
    hand, _ = playing
    overlay, menu = hand.window.during_play.overlay, hand.window.during_play.menu.menu
    hand.steer("mode", 1)
    hand.until(lambda: overlay.is_up)
    hand.until(lambda: menu.is_open)
    hand.until(lambda: not overlay.is_up)


def test_it_can_be_switched_off_and_shows_nothing_over_the_window_itself(playing: tuple[Hand, Game]) -> None:
    hand, _ = playing
    hand.window.actions_table.run("overlay")
    hand.steer("mode", 1)
    hand.until(lambda: any(s.use == "all" for s in hand.live.surfaces))
    assert not hand.window.during_play.overlay.is_up
    assert not hand.window.actions_table.action("overlay").isChecked()


def test_a_sound_with_each_layer_if_wanted(playing: tuple[Hand, Game], monkeypatch: pytest.MonkeyPatch) -> None:
    hand, _ = playing
    heard: list[float] = []
    monkeypatch.setattr(hand.window.during_play.sounds, "play", heard.append)
    hand.steer("left_trigger", 1)
    hand.until(lambda: hand.live.layers == ("aim",))
    assert heard == []
    hand.window.actions_table.run("sound")
    hand.steer("left_trigger", 0)
    hand.until(lambda: heard == [LEAVE_HZ])
    hand.steer("left_trigger", 1)
    hand.until(lambda: heard == [LEAVE_HZ, ENTER_HZ])


def test_the_sound_is_a_wave_file(tmp_path: Path) -> None:
    import wave

    write_tone(tmp_path / "tone.wav", ENTER_HZ)
    with wave.open(str(tmp_path / "tone.wav")) as file:
        assert file.getnframes() > 1000
        assert max(file.readframes(file.getnframes())) > 0


def test_without_a_window_the_desktop_is_told(hand: Hand, monkeypatch: pytest.MonkeyPatch) -> None:
    told: list[tuple[str, int]] = []

    def desktop(text: str, replaces: int) -> int:
        told.append((text, replaces))
        return 7

    monkeypatch.setattr("nubshift.app.overlay.window.notify", desktop)
    overlay = hand.window.during_play.overlay
    lose_pane(overlay)
    overlay.tell("Aim")
    overlay.tell("Base")
    assert told == [("Aim", 0), ("Base", 7)]
    assert not overlay.is_up


def test_a_layer_change_is_told_to_the_desktop_on_a_real_bus(own_home: Path) -> None:
    """The second note takes the place of the first, so that changes do not pile up."""
    script = Path(__file__).parents[2] / "standins" / "notifier.py"
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    environment.pop("DBUS_SESSION_BUS_ADDRESS", None)
    done = subprocess.run(
        ["dbus-run-session", "--", sys.executable, str(script)],
        env=environment,
        text=True,
        capture_output=True,
        timeout=PATIENCE,
        check=True,
    )
    told = [json.loads(line) for line in done.stdout.splitlines() if line.startswith("[")]
    assert [(words[0], words[2]) for words in told] == [("Nub Shift", "Aim"), ("Nub Shift", "Base")]
    assert told[1][1] == 41


def test_a_desktop_without_notifications_is_no_trouble() -> None:
    assert notify("Aim", 0) >= 0


@pytest.mark.parametrize("way", ["while held", "toggle"])
def test_a_button_shows_the_keyboard_without_a_layer_made_by_hand(playing: tuple[Hand, Game], way: str) -> None:
    hand, game = playing
    hand.studio.document.edit("no keyboard yet", lambda profile: edits.without_layer(profile, "write"))
    hand.click(hand.tile("right_bumper"))
    hand.choose(hand.panel, "Other output…")
    take_from_menu(hand, "On-screen keyboard", f"On-screen keyboard, {way}")
    assert [layer.name for layer in hand.studio.profile.layers] == ["base", "aim", "Keyboard"]
    hand.steer("right_bumper", 1)
    if way == "toggle":
        hand.steer("right_bumper", 0)
    hand.until(lambda: "board" in [surface.use for surface in hand.window.during_play.overlay.surfaces])
    hand.steer("south", 1)
    hand.until(lambda: "+24" in game.words())  # Q, the first of its keys
    hand.studio.document.undo()  # the button and the layer are one step
    assert len(hand.studio.profile.layers) == 2
