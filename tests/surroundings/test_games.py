"""Signs that a program is a game: it fills the screen, or GameMode knows it (N61)."""

from __future__ import annotations

from collections.abc import Iterator

import pytest

from nubshift.surroundings.game_mode import GameMode
from nubshift.surroundings.x11 import XWindows
from standins.bus import StandIn, stand_in
from standins.desktop import window
from standins.waiting import wait_until


@pytest.fixture
def service(monkeypatch: pytest.MonkeyPatch) -> Iterator[StandIn]:
    with stand_in("game_mode") as found:
        monkeypatch.setenv("DBUS_SESSION_BUS_ADDRESS", found.address)
        yield found


def say(service: StandIn, line: str) -> None:
    service.say(line)
    service.told("told")


def test_games_that_are_registered_are_known(service: StandIn) -> None:
    say(service, "+41")
    games = GameMode()
    assert games.games == {41}
    say(service, "+42")
    wait_until(games.changed, "the second is told of")
    assert games.games == {41, 42}
    say(service, "-41")
    wait_until(games.changed, "the end of the first is told of")
    assert games.games == {42}
    games.close()


def test_a_bus_that_ends_is_an_error_and_where_the_service_is_not_nothing_is_known(service: StandIn) -> None:
    service.process.kill()
    service.process.wait()
    games = GameMode()
    assert games.games == frozenset()
    service.bus.kill()
    service.bus.wait()
    with pytest.raises(OSError, match="the bus is gone"):
        games.changed()
    games.close()


def test_a_window_that_fills_the_screen_is_seen_so(window_manager: None) -> None:
    windows = XWindows()
    with window("Fen", "The fen", full_screen=True), window("Web", "A page"):
        wait_until(
            lambda: {seen.group: seen.full_screen for seen in windows.windows()} == {"Fen": True, "Web": False},
            "both are seen",
        )
    windows.close()
