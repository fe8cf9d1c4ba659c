"""Windows of a Wayland session: by sway itself, by the compositor's list, and X programs among them."""

from __future__ import annotations

import os
import subprocess
import sys
from collections.abc import Callable, Iterator

import pytest

from nubshift.model.programs import SeenProgram
from nubshift.surroundings.look import LookAround
from nubshift.surroundings.port import WindowSource
from nubshift.surroundings.windows import find_windows, process_of, why_focus_is_unseen
from standins.game import TOOLS
from standins.waiting import wait_until
from standins.wayland_session import Compositor, WaylandGame


def of_sway(session: Compositor) -> dict[str, str]:
    return session.environment | {"SWAYSOCK": session.sway_socket}


def by_the_list(session: Compositor) -> dict[str, str]:
    """As in a session of a compositor that isn't sway."""
    return session.environment | {"SWAYSOCK": str(session.folder / "nobody")}


@pytest.fixture
def source(request: pytest.FixtureRequest, wayland: Compositor) -> Iterator[WindowSource]:
    found = find_windows(request.param(wayland))
    assert found is not None
    yield found
    found.close()


def in_front(source: WindowSource) -> tuple[str, str] | None:
    source.changed()
    front = source.front()
    return (front.group, front.title) if front is not None else None


@pytest.mark.parametrize("source", [of_sway, by_the_list], indirect=True)
def test_focus_moves_and_is_seen(source: WindowSource, wayland: Compositor) -> None:
    assert in_front(source) is None
    fen = WaylandGame(wayland, "fen", "The fen at night", "window")
    wait_until(lambda: in_front(source) == ("fen", "The fen at night"), "the first window is in front")
    pond = WaylandGame(wayland, "pond", "A pond")
    wait_until(lambda: in_front(source) == ("pond", "A pond"), "the second one is")
    wait_until(lambda: {w.group: w.full_screen for w in source.windows()} == {"fen": False, "pond": True}, "both are")
    wayland.tell("[app_id=pond]", "fullscreen", "disable")
    wayland.tell("[app_id=fen]", "focus")
    wait_until(lambda: in_front(source) == ("fen", "The fen at night"), "the first one is again")
    fen.close()
    wait_until(lambda: (source.changed(), [w.group for w in source.windows()])[1] == ["pond"], "one is left")
    pond.close()
    wait_until(lambda: in_front(source) is None, "none is")
    assert (source.sees_all, why_focus_is_unseen(source)) == (True, "")


@pytest.mark.parametrize("source", [of_sway, by_the_list], indirect=True)
def test_a_compositor_that_is_gone_is_an_error(source: WindowSource, wayland: Compositor) -> None:
    wayland.end()

    def gone() -> bool:
        try:
            source.changed()
        except OSError:
            return True
        return False

    wait_until(gone, "it is told")


@pytest.mark.parametrize("environment", [of_sway, by_the_list])
def test_an_x_program_is_seen_with_its_process(
    wayland: Compositor, environment: Callable[[Compositor], dict[str, str]]
) -> None:
    session = environment(wayland) | {"DISPLAY": wayland.display}
    command = [sys.executable, str(TOOLS / "some_window.py"), "Web", "A page"]
    with subprocess.Popen(command, env=os.environ | session, stdout=subprocess.DEVNULL) as program:
        source = find_windows(session)
        assert source is not None

        def seen() -> bool:
            source.changed()
            front = source.front()
            return front is not None and (front.group, front.pid) == ("Web", program.pid)

        wait_until(seen, "it is in front, by its process")
        source.close()
        program.kill()


def test_found_again_after_a_restart(wayland: Compositor, monkeypatch: pytest.MonkeyPatch) -> None:
    around = LookAround(lambda: find_windows(of_sway(wayland)), None)

    def front() -> SeenProgram | None:
        around.heard()
        around.find_windows()
        return around.look().front

    game = WaylandGame(wayland, "fen")
    wait_until(lambda: (seen := front()) is not None and seen.pid == game.pid, "it is seen, by its process")
    wayland.restart()
    game.close()
    wait_until(lambda: front() is None, "it is lost")
    again = WaylandGame(wayland, "fen")
    wait_until(lambda: (seen := front()) is not None and seen.pid == again.pid, "another one is seen")
    again.close()
    around.close()


def test_x_programs_alone_are_half_of_what_is_there() -> None:
    assert why_focus_is_unseen(None).startswith("No program here tells which window is in front")


@pytest.mark.parametrize(
    ("group", "pid"),
    [
        ("ferrowdeep", 1),
        ("org.example.Ferrowdeep", 1),
        ("org.example.Saltbarrow", 2),
        ("Deep.exe", 3),
        ("twice", 0),
        ("nobody", 0),
        ("", 0),
    ],
)
def test_a_window_of_which_only_the_id_is_known_is_that_program_that_calls_itself_so(group: str, pid: int) -> None:
    programs = (
        SeenProgram(1, path="/opt/ferrow/ferrowdeep"),
        SeenProgram(2, path="/app/bin/start", app="org.example.Saltbarrow"),
        SeenProgram(3, path="/usr/bin/loader", windows_program="C:\\games\\deep.exe"),
        SeenProgram(4, path="/usr/bin/twice"),
        SeenProgram(5, path="/usr/bin/twice"),
    )
    assert process_of(group, programs) == pid
