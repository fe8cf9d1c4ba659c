"""The whole app in a Wayland session: a native window, what stands over the game, and what reaches it."""

from __future__ import annotations

import os
import shutil
import signal
import subprocess
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from PyQt6.QtGui import QColor, QImage

from nubshift.app.painting.theme import DUSK
from nubshift.model import edits
from nubshift.model.automatic import Automatic, GameRule, write_automatic
from nubshift.model.keys import KEYS
from nubshift.model.player_settings import PlayerSettings, write_settings
from nubshift.model.programs import ProgramMatch
from nubshift.model.sends import Sends
from nubshift.model.slots import Slot
from nubshift.model.store import ProfileFile, read_profile
from nubshift.model.writing import profile_text
from nubshift.outputs.numbering import FIRST_KEYCODE
from nubshift.outputs.wayland_devices import WaylandDevices
from nubshift.protocol.paths import automatic_path, demo_folder, profile_folder, settings_path
from nubshift.runner.session_findings import session_findings
from standins.client import runner_pid, wait_playing
from standins.waiting import PATIENCE, wait_until
from standins.wayland_session import Compositor, WaylandGame, weston
from tests.app.program import APP, Process, begin, steered
from tests.app.test_overlay import PROFILE

GROUND = "#1b3040"
"""Of the game's window."""
SIXTH = (780, 440)
"""Within the tile to the right of the middle, and beside its key."""


@pytest.fixture
def session(wayland: Compositor, monkeypatch: pytest.MonkeyPatch) -> Iterator[Compositor]:
    """All that is started by the test is in it. Its player has a keyboard and a mouse."""
    for name, value in (wayland.environment | {"QT_QPA_PLATFORM": "wayland"}).items():
        monkeypatch.setenv(name, value)
    monkeypatch.delenv("DISPLAY")
    write_settings(settings_path(), PlayerSettings(theme="dusk"))
    own = WaylandDevices(wayland.address)
    yield wayland
    own.close()


@pytest.fixture
def seen(session: Compositor, tmp_path: Path) -> Callable[..., str]:
    """The colour of a place on the screen."""

    def at(x: int, y: int) -> str:
        session.picture(tmp_path / "screen.png")
        return QColor(QImage(str(tmp_path / "screen.png")).pixel(x, y)).name()

    return at


@pytest.fixture
def profile() -> Path:
    path = profile_folder() / "shown.nubshift.json"
    path.parent.mkdir(parents=True)
    path.write_bytes(profile_text(PROFILE))
    return path


def test_the_window_is_a_native_client_and_is_painted(
    app: list[Process], session: Compositor, seen: Callable[..., str]
) -> None:
    begin(app, sink="wayland")
    wait_until(lambda: seen(640, 20) == DUSK.surface.name(), "its top is there", 0.1)
    told = wait_playing()
    assert "you chose it" in told.reason


def test_started_where_nobody_says_which_session_it_is(
    app: list[Process], session: Compositor, seen: Callable[..., str], own_home: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """As by systemd at login; without a screen it ends with an error, and the unit tries again."""
    for name in ("WAYLAND_DISPLAY", "QT_QPA_PLATFORM", "XDG_SESSION_TYPE"):
        monkeypatch.delenv(name, raising=False)
    early = subprocess.run([*APP, "--hidden"], capture_output=True, text=True, check=False)
    assert (early.returncode, "there is no screen here" in early.stderr) == (1, True)
    (own_home / "run" / "wayland-1").symlink_to(session.address)
    begin(app)
    wait_until(lambda: seen(640, 20) == DUSK.surface.name(), "its top is there", 0.1)


class Mouse:
    """A hand at the mouse and the keyboard of the session."""

    def __init__(self, session: Compositor) -> None:
        self.devices = WaylandDevices(session.address)

    def move(self, x: float, y: float) -> None:
        self.devices.place(x / 1280, y / 800, False)
        self.devices.sync()

    def drag(self, start: tuple[int, int], end: tuple[int, int]) -> None:
        self.move(*start)
        self.devices.button(1, True)
        self.devices.sync()
        for step in range(1, 21):
            self.move(*(a + (b - a) * step / 20 for a, b in zip(start, end, strict=True)))
            time.sleep(0.01)  # the toolkit takes what comes at once for one motion
        self.devices.button(1, False)
        self.devices.sync()

    def click(self, at: tuple[int, int]) -> None:
        self.move(*at)
        for down in (True, False):
            self.devices.button(1, down)
            self.devices.sync()

    def keys(self, *names: str) -> None:
        """All of them down, then up again."""
        for down in (True, False):
            for name in names if down else reversed(names):
                self.devices.key(KEYS[name].code + FIRST_KEYCODE, down)
        self.devices.sync()


def test_the_window_is_worked_by_mouse_and_keys(
    app: list[Process], session: Compositor, seen: Callable[..., str]
) -> None:
    """A command is dragged onto a button, and taken back by Ctrl+Z; what a control sends is copied to another."""
    write_settings(settings_path(), PlayerSettings(theme="dusk", stop_key=()))  # nothing is told above the hands
    profile = profile_folder() / "own.nubshift.json"
    profile.parent.mkdir(parents=True)
    ProfileFile(profile).write(read_profile(demo_folder() / "ferrow-deep.nubshift.json"))
    steered(app, profile, "wayland", "shown")
    hand = Mouse(session)
    wait_until(lambda: seen(640, 20) == DUSK.surface.name(), "the window is there", 0.1)

    def where(name: str) -> tuple[int, int]:
        process = app[-1]
        assert process.stdin is not None
        assert process.stdout is not None
        process.stdin.write(f"where {name}\n")
        process.stdin.flush()
        x, y = map(int, process.stdout.readline().split())
        return x, y

    def sent() -> Sends:
        return edits.sends_of(read_profile(profile), Slot("base", "right_bumper"))

    before = sent()
    hand.drag(where("crouch"), where("right_bumper"))
    wait_until(lambda: sent() != before, "the command is on the button", 0.05)
    hand.keys("LEFTCTRL", "Z")
    wait_until(lambda: sent() == before, "it is taken back", 0.05)
    south = edits.sends_of(read_profile(profile), Slot("base", "south"))
    hand.click(where("south"))
    hand.keys("LEFTCTRL", "C")
    hand.click(where("right_bumper"))
    hand.keys("LEFTCTRL", "V")
    wait_until(lambda: sent() == south != before, "it was copied from one control to another", 0.05)
    hand.devices.close()


def test_tiles_stand_over_a_game_that_fills_the_screen_and_take_nothing_of_it(
    app: list[Process], session: Compositor, profile: Path, seen: Callable[..., str]
) -> None:
    steer = steered(app, profile, "wayland")
    game = WaylandGame(session)
    game.wait(lambda: any(e["event"] == "focus in" for e in game.events), "the game has the focus")
    wait_until(lambda: seen(*SIXTH) == GROUND, "nothing stands over it")
    steer("left_stick 0.9 0")
    wait_until(lambda: seen(*SIXTH) != GROUND, "the tiles do", 0.05)
    game.wait(lambda: game.words() == ["+15"], "what they send is the game's")
    mouse = WaylandDevices(session.address)
    mouse.place(710 / 1280, 370 / 800, False)  # within it, and not where its colour is looked at
    mouse.button(1, True)
    mouse.button(1, False)
    mouse.sync()
    game.wait(lambda: game.words()[-2:] == ["+b1", "-b1"], "a click goes through them")
    assert not game.lost_focus()
    steer("left_stick 0 0")
    wait_until(lambda: seen(*SIXTH) == GROUND, "they are gone", 0.05)
    mouse.close()
    game.close()


def test_it_is_painted_at_the_scale_of_the_output(
    app: list[Process], session: Compositor, profile: Path, seen: Callable[..., str]
) -> None:
    session.tell("output", "HEADLESS-1", "scale", "2")
    steer = steered(app, profile, "wayland")
    game = WaylandGame(session)
    steer("left_stick 0.9 0")
    wait_until(lambda: seen(*SIXTH) not in (GROUND, "#000000"), "the tiles are where they should be", 0.05)
    assert seen(40, 400) == GROUND
    game.close()


def test_the_menu_is_worked_and_the_game_hears_nothing_of_it(
    app: list[Process], session: Compositor, profile: Path, seen: Callable[..., str]
) -> None:
    write_settings(settings_path(), PlayerSettings(theme="dusk", menu_controls=("mode",), menu_hold=0))
    steer = steered(app, profile, "wayland")
    game = WaylandGame(session)
    game.wait(lambda: any(e["event"] == "focus in" for e in game.events), "the game has the focus")
    steer("mode 1")
    wait_until(lambda: seen(70, 291) == DUSK.input.name(), "its first row is marked", 0.05)
    steer("mode 0")
    steer("left_stick 0.9 0")
    wait_until(lambda: seen(70, 328) != seen(70, 291), "it opened the page", 0.05)
    assert seen(*SIXTH) == GROUND, "tiles are not shown while their stick works the menu"
    steer("left_stick 0 0")
    steer("east 1")
    steer("east 0")
    steer("east 1")
    wait_until(lambda: seen(70, 291) == GROUND, "it is closed", 0.05)
    assert game.words() == []
    assert not game.lost_focus()
    game.close()


def test_a_game_in_focus_has_its_profile_and_loses_it(
    app: list[Process], session: Compositor, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("SWAYSOCK", str(session.folder / "nobody"))
    rule = GameRule("saltbarrow", (ProgramMatch(window_class="fen"),))
    write_automatic(automatic_path(), Automatic(rules=(rule,)))
    begin(app, "--hidden", sink="wayland")
    game = WaylandGame(session, "fen", "The fen")
    wait_playing("saltbarrow")
    game.close()
    wait_until(lambda: (told := wait_playing()) is not None and told.profile != "saltbarrow", "it left with its game")


def test_killed_with_a_key_held_nothing_stays_down(app: list[Process], session: Compositor, profile: Path) -> None:
    steer = steered(app, profile, "wayland")
    game = WaylandGame(session)
    game.wait(lambda: any(e["event"] == "focus in" for e in game.events), "the game has the focus")
    steer("left_stick 0.9 0")
    game.wait(lambda: game.words() == ["+15"], "6 is down")
    os.kill(runner_pid(), signal.SIGKILL)
    game.wait(lambda: game.words() == ["+15", "-15"], "it is let go")
    game.close()


def test_in_a_compositor_that_offers_nothing_of_all_that(
    app: list[Process], profile: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The window is there, the profile plays, and the doctor says what is lost."""
    if shutil.which("weston") is None:
        pytest.skip("weston is not installed")
    with weston() as address:
        for name, value in {"WAYLAND_DISPLAY": address, "QT_QPA_PLATFORM": "wayland"}.items():
            monkeypatch.setenv(name, value)
        monkeypatch.delenv("DISPLAY")
        steer = steered(app, profile, "record:/dev/null", "shown")
        steer("left_trigger 1")  # a layer, which is told to the desktop's notifications: nobody listens
        steer("left_stick 0.9 0")
        steer("mode 1")
        said = [f"{one.what}: {one.found}. {one.means}" for one in session_findings(os.environ)]
        assert "session: Wayland. " in said
        assert any(line.startswith("shown over the game: the compositor has no layer shell. Tiles") for line in said)
        assert any(line.startswith("active window: nobody reports it. No program here tells") for line in said)
        assert wait_playing().profile == "shown"
        app[-1].terminate()
        assert app[-1].wait(PATIENCE) == 0
