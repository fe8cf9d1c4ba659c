"""The menu over the game, worked with the controller: with a real window manager and a game that has the focus (N61)."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import pytest
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QApplication

from nubshift.app.overlay.menu import GameMenu
from nubshift.app.overlay.window_pane import WindowPane
from nubshift.model import edits, variants
from nubshift.model.automatic import read_automatic
from nubshift.model.programs import SeenProgram
from nubshift.model.roles import MouseRole
from nubshift.model.writing import profile_text
from nubshift.protocol.messages import SetLive
from nubshift.protocol.paths import automatic_path, profile_folder
from standins.game import Game
from tests.app.hand import Hand
from tests.app.test_overlay import focused, lose_pane, lost_focus
from tests.support.profiles import made

PROFILE = made(
    {
        "base": {"left_trigger": ">aim", "south": "A", "dpad_down": "B", "right_stick": MouseRole()},
        "aim": {"south": "X"},
    }
)
for _name, _speed in (("Slow", 90.0), ("Quick", 360.0)):
    PROFILE = variants.saved_as(
        edits.with_feel(PROFILE, "base", "right_stick", speed=_speed), _name, "base", "right_stick"
    )


@pytest.fixture
def playing(start: Callable[..., Hand]) -> Iterator[tuple[Hand, Game]]:
    """The window behind a game that has the focus; beside the profile at play there is another one."""
    profile_folder().mkdir(parents=True, exist_ok=True)
    path = profile_folder() / "first.nubshift.json"
    path.write_bytes(profile_text(PROFILE))
    (profile_folder() / "other.nubshift.json").write_bytes(
        profile_text(made({"base": {"south": "Y"}}, game={"title": "Other"}))
    )
    hand = start(path, sink="xtest")
    game = Game(0, 0, 400, 300)
    hand.until(lambda: hand.link.status and not hand.link.status.withheld)
    yield hand, game
    game.close()


def menu_of(hand: Hand) -> GameMenu:
    return hand.window.during_play.menu.menu


def open_menu(hand: Hand) -> GameMenu:
    hand.steer("mode", 1)
    menu = menu_of(hand)
    hand.until(lambda: menu.is_open)
    hand.steer("mode", 0)
    return menu


def tap(hand: Hand, control: str) -> None:
    """One press of a control, done when the menu has followed it."""
    menu = menu_of(hand)
    seen: list[str] = []
    hand.link.menu_does.connect(lambda act, seat: seen.append(act))
    hand.steer(control, 1)
    hand.until(lambda: seen or not menu.is_open)
    hand.steer(control, 0)


def choose(hand: Hand, text: str) -> None:
    menu = menu_of(hand)
    texts = [row.text for row in menu.rows]
    while menu.page.at != texts.index(text):
        tap(hand, "dpad_down")
    tap(hand, "south")


def test_it_never_takes_the_focus_and_nothing_it_is_worked_with_reaches_the_game(playing: tuple[Hand, Game]) -> None:
    hand, game = playing
    window = hand.window.during_play.menu.window
    assert not window.is_up
    hand.steer("south", 1)
    hand.until(lambda: "A" in hand.window.live.held)
    menu = open_menu(hand)
    hand.until(lambda: "A" not in hand.window.live.held)
    assert window.is_up
    before = window.picture()
    hand.steer("south", 0)
    tap(hand, "dpad_down")
    assert menu.page.at == 1
    assert window.picture() != before
    tap(hand, "east")
    hand.until(lambda: not window.is_up)
    assert focused() == "A game that knows no gamepad"
    assert not lost_focus(game)
    assert set(game.words()) <= {"+38", "-38"}, "only the A from before it opened"
    hand.steer("south", 1)
    hand.until(lambda: "A" in hand.window.live.held)


def test_it_is_a_list_of_what_there_is_now(playing: tuple[Hand, Game]) -> None:
    hand, _ = playing
    menu = open_menu(hand)
    assert [(row.text, row.value) for row in menu.rows][:3] == [
        ("Profile", "Test"),
        ("Layer", "base"),
        ("Right stick: variant", "Quick"),
    ]
    assert [row.text for row in menu.rows][3:] == [
        "What everything does now",
        "Use this profile with…",
        "Sound on layer changes",
        "Release all keys",
        "Pause",
    ]


def test_a_layer_is_entered_and_told(playing: tuple[Hand, Game]) -> None:
    hand, _ = playing
    open_menu(hand)
    choose(hand, "Layer")
    choose(hand, "aim")
    hand.until(lambda: hand.window.live.layers == ("aim",))
    assert hand.window.during_play.overlay.told == "aim"
    assert hand.window.during_play.overlay.is_up
    menu = open_menu(hand)
    assert menu.rows[1].value == "aim"
    choose(hand, "Layer")
    choose(hand, "base")
    hand.until(lambda: hand.window.live.layers == ())


def test_a_variant_is_chosen_and_becomes_an_edit(playing: tuple[Hand, Game]) -> None:
    hand, _ = playing
    open_menu(hand)
    choose(hand, "Right stick: variant")
    choose(hand, "Slow")
    profile = hand.window.studio
    hand.until(lambda: (used := profile.profile.variant_in_use("base", "1", "right_stick")) and used.name == "Slow")
    assert open_menu(hand).rows[2].value == "Slow"


def test_another_profile_is_stayed_on_and_automatic_again(playing: tuple[Hand, Game]) -> None:
    hand, _ = playing
    open_menu(hand)
    choose(hand, "Profile")
    choose(hand, "Other")
    hand.until(lambda: hand.link.status and hand.link.status.kept == "other")
    hand.until(lambda: hand.link.status and hand.link.status.title == "Other")
    open_menu(hand)
    choose(hand, "Profile")
    assert [row.text for row in menu_of(hand).rows if row.ticked] == ["Other"]
    choose(hand, "Choose automatically")
    hand.until(lambda: hand.link.status and hand.link.status.kept is None)


def test_it_pauses_and_resumes_and_says_so(playing: tuple[Hand, Game]) -> None:
    hand, _ = playing
    open_menu(hand)
    choose(hand, "Pause")
    hand.until(lambda: hand.link.status and not hand.link.status.live)
    assert hand.window.during_play.overlay.told == "Paused"
    assert hand.window.during_play.overlay.is_up
    assert [row.text for row in open_menu(hand).rows][-1] == "Resume"
    choose(hand, "Resume")
    hand.until(lambda: hand.link.status and hand.link.status.live)


def test_it_says_what_everything_does_and_back_leads_out(playing: tuple[Hand, Game]) -> None:
    hand, _ = playing
    menu = open_menu(hand)
    choose(hand, "What everything does now")
    assert menu.page.everything
    hand.window.during_play.menu.window.picture()
    tap(hand, "east")
    assert menu.depth == 1
    choose(hand, "Sound on layer changes")
    assert hand.window.settings.now.layer_sounds
    assert menu.is_open


def test_the_game_in_front_learns_its_profile(playing: tuple[Hand, Game]) -> None:
    hand, _ = playing
    menu = open_menu(hand)
    choose(hand, "Use this profile with…")
    hand.until(lambda: menu.rows)
    assert menu.rows[0].text == "A game that knows no gamepad"
    tap(hand, "south")
    hand.until(lambda: not menu.is_open)
    (rule,) = read_automatic(automatic_path()).rules
    assert rule.profile == "first"


def test_its_controls_end_it_too_and_so_does_a_runner_that_is_gone(playing: tuple[Hand, Game]) -> None:
    hand, _ = playing
    menu = open_menu(hand)
    hand.steer("mode", 1)
    hand.until(lambda: not menu.is_open)
    hand.steer("mode", 0)
    menu = open_menu(hand)
    hand.link.lost.emit()
    assert not menu.is_open
    assert not hand.window.during_play.menu.window.is_up


def test_it_opens_while_paused_and_over_our_own_window(start: Callable[..., Hand]) -> None:
    profile_folder().mkdir(parents=True, exist_ok=True)
    path = profile_folder() / "first.nubshift.json"
    path.write_bytes(profile_text(PROFILE))
    hand = start(path)
    hand.link.send(SetLive(False))
    hand.until(lambda: hand.link.status and not hand.link.status.live)
    assert [row.text for row in open_menu(hand).rows] == [
        "Profile",
        "What everything does now",
        "Use this profile with…",
        "Sound on layer changes",
        "Release all keys",
        "Resume",
    ]


def test_without_a_window_the_desktop_says_what_is_marked(playing: tuple[Hand, Game]) -> None:
    hand, _ = playing
    window = hand.window.during_play.menu.window
    told: list[str] = []
    lose_pane(window)
    window._tell = told.append
    open_menu(hand)
    tap(hand, "dpad_down")
    assert told == ["Profile: Test", "Layer: base"]
    assert not window.is_up


@pytest.mark.parametrize("size", [(1920, 1080), (640, 300)])
def test_every_page_fits_its_panel(playing: tuple[Hand, Game], size: tuple[int, int]) -> None:
    hand, _ = playing
    window, menu = hand.window.during_play.menu.window, open_menu(hand)
    assert isinstance(window.pane, WindowPane)
    window.pane.resize(*size)
    for page in ("Layer", "Profile"):
        choose(hand, page)
        window.pane.resize(*size)
        assert window.pane.rect().toRectF().contains(window.rect)
        tap(hand, "dpad_left")
    assert menu.depth == 1
    assert QApplication.focusWindow() is None or QGuiApplication.focusWindow() is not window.pane.windowHandle()


def test_a_game_without_a_profile_is_offered_one_once(playing: tuple[Hand, Game]) -> None:
    hand, _ = playing
    fen = SeenProgram(77, path="/g/fen", title="Fen", full_screen=True)
    hand.link.game_seen.emit(fen)
    assert hand.window.during_play.overlay.told == "Fen has no profile."
    hand.choose(hand.window.notices, "Choose a profile…")
    menu = hand.window.during_play.offers.menu
    assert menu is not None
    next(action for action in menu.actions() if action.text() == "Other").trigger()
    menu.close()
    (rule,) = read_automatic(automatic_path()).rules_of("other")
    assert rule.fits(fen)
    hand.window.notices.clear()
    hand.link.game_seen.emit(fen)
    assert not hand.window.notices.isVisible()
