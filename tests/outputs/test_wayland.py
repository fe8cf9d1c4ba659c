"""Keys, buttons and motion through a Wayland compositor into a plain client, and that nothing is left down."""

from __future__ import annotations

import os
import select
import signal
from collections.abc import Iterator
from pathlib import Path

import pytest

from nubshift.desktop.keymap import session_keymap
from nubshift.desktop.xkb import keymap_of_names
from nubshift.errors import SinkError
from nubshift.events import Button, Key, Motion, Point, Wheel
from nubshift.model.writing import profile_text
from nubshift.outputs.keymap import layout_of
from nubshift.outputs.point_places import PointPlaces
from nubshift.outputs.port import Sink
from nubshift.outputs.wayland import WaylandChannel
from nubshift.outputs.wayland_devices import WaylandDevices
from standins.port_users import check_channel
from standins.waiting import PATIENCE, wait_until
from standins.wayland_session import Compositor, WaylandGame
from tests.outputs.test_xtest import take
from tests.support.profiles import four, made
from tests.support.runner_process import RunnerProcess


@pytest.fixture
def game(wayland: Compositor) -> Iterator[WaylandGame]:
    """It has the keyboard and the pointer of a session whose player has both."""
    own = WaylandDevices(wayland.address)
    found = WaylandGame(wayland)
    found.wait(lambda: told(found, "focus in") and told(found, "pointer in"), "it has the focus")
    yield found
    found.close()
    own.close()


def told(game: WaylandGame, event: str) -> list[dict[str, float]]:
    return [entry for entry in list(game.events) if entry["event"] == event]


def pointer(game: WaylandGame) -> tuple[float, float] | None:
    """Where in the game's window it is."""
    return next(((e["x"], e["y"]) for e in reversed(game.events) if e["event"] == "pointer"), None)


def test_it_keeps_what_the_port_promises(wayland: Compositor, tmp_path: Path) -> None:
    check_channel(WaylandChannel(wayland.address, tmp_path))


def test_keys_buttons_and_every_count_of_motion_arrive_in_order(wayland: Compositor, game: WaylandGame) -> None:
    sink = Sink(WaylandChannel(wayland.address))
    sink.send([Key(0, "LEFTSHIFT", 1), Key(0, "A", 1), Button(0, "BTN_RIGHT", 1)], 0)
    for index in range(100):
        sink.send([Motion(0, 2 if index % 2 else -1, 1)], 0)
    sink.send([Key(0, "A", 0), Button(0, "BTN_RIGHT", 0), Key(0, "LEFTSHIFT", 0)], 0)
    wanted = ["+50", "+38", "+b3", "-38", "-b3", "-50"]
    game.wait(lambda: game.words() == wanted, f"{wanted} arrive")
    game.wait(lambda: game.moved() == (50, 100), "the pointer moved by the sum of all counts")
    held = [entry["held"] for entry in told(game, "modifiers")]
    assert held[-2:] == [1, 0], "shift is a modifier while it is down"
    sink.close()


def test_the_wheel_turns_by_notches_and_by_parts_of_them(wayland: Compositor, game: WaylandGame) -> None:
    sink = Sink(WaylandChannel(wayland.address))
    sink.send([Wheel(0, 0, 120), Wheel(0, 0, -240), Wheel(0, 30, 0)], 0)
    turned = lambda: [(entry["axis"], entry["value"]) for entry in told(game, "wheel")]  # noqa: E731
    game.wait(lambda: sum(value for axis, value in turned() if axis == 0) == 15, "one notch down in all")
    game.wait(lambda: (1, 3.75) in turned(), "a quarter of one to the right")
    sink.close()


def test_a_point_is_where_it_was_asked_for(wayland: Compositor, game: WaylandGame) -> None:
    sink = Sink(WaylandChannel(wayland.address))
    sink.send([Point(0, 0.5, 0.25)], 0)
    game.wait(lambda: pointer(game) == pytest.approx((640, 200), abs=1), "it is there")
    sink.close()


def test_a_point_is_on_the_screen_that_the_game_is_on(wayland: Compositor, game: WaylandGame) -> None:
    wayland.tell("create_output")
    wayland.tell("output", "HEADLESS-2", "resolution", "1920x1080", "scale", "1.5")
    sink = Sink(WaylandChannel(wayland.address))
    wayland.tell("[app_id=gamery]", "move", "container", "to", "output", "HEADLESS-2")
    wayland.tell("focus", "output", "HEADLESS-2")
    game.wait(lambda: told(game, "shown")[-1]["width"] == 1280 and told(game, "shown")[-1]["height"] == 720, "it moved")
    sink.hear(0)

    def middle() -> bool:
        sink.hear(0)
        sink.send([Point(0, 0.25, 0.25), Point(0, 0.5, 0.5)], 0)
        return pointer(game) == pytest.approx((640, 360), abs=1)

    game.wait(middle, "the pointer is in its middle")
    sink.close()


def test_places_for_the_kernels_pointer(wayland: Compositor, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("WAYLAND_DISPLAY", "nobody")
    places = PointPlaces()
    places.begin()
    assert (places.filenos(), places.place(0.5, 0.5)) == ((), (0.5, 0.5)), "without a compositor it is as it was"
    monkeypatch.setenv("WAYLAND_DISPLAY", wayland.address)
    wayland.tell("create_output")
    wayland.tell("output", "HEADLESS-2", "resolution", "1280x800")
    places.begin()
    game = WaylandGame(wayland)

    def in_its_middle() -> bool:
        places.hear()
        return places.place(0.5, 0.5) in (pytest.approx((0.25, 0.5), abs=0.01), pytest.approx((0.75, 0.5), abs=0.01))

    wait_until(in_its_middle, "of two screens beside each other, the middle of one")
    wayland.end()

    def lost() -> bool:
        places.hear()
        return not places.filenos()

    wait_until(lost, "the compositor is gone")
    assert places.place(0.5, 0.5) == (0.5, 0.5)
    game.close()


def test_text_comes_out_in_the_layout_that_is_in_use(wayland: Compositor, monkeypatch: pytest.MonkeyPatch) -> None:
    """By the keymap that the session gives every client, and by what sway says of its groups."""
    for name, value in (wayland.environment | {"SWAYSOCK": wayland.sway_socket}).items():
        monkeypatch.setenv(name, value)
    monkeypatch.delenv("DISPLAY")
    french = keymap_of_names("us,fr")
    assert french is not None
    french.group = 1
    own = WaylandDevices(wayland.address, french)
    keymap = session_keymap(group=1)
    assert keymap is not None
    assert (keymap.names, layout_of(keymap)["a"]) == (("English (US)", "French"), (("Q",),))
    own.close()


def test_closing_releases_what_is_held(wayland: Compositor, game: WaylandGame) -> None:
    sink = Sink(WaylandChannel(wayland.address))
    sink.send([Key(0, "A", 1), Button(0, "BTN_LEFT", 1)], 0)
    game.wait(lambda: sorted(game.words()) == ["+38", "+b1"], "both go down")
    sink.close()
    game.wait(lambda: sorted(game.words())[2:] == ["-38", "-b1"], "both go up")


def test_a_killed_runner_leaves_nothing_held(wayland: Compositor, game: WaylandGame, tmp_path: Path) -> None:
    profile = tmp_path / "p.nubshift.json"
    profile.write_bytes(profile_text(made({"base": {"south": ["LEFTSHIFT", "BTN_LEFT"], "left_stick": four()}})))
    source = take(tmp_path / "a.take", "0 south=1 left_stick=0,-1")
    runner = RunnerProcess(str(profile), "--source", f"take:{source}", "--sink", "wayland", **wayland.environment)
    game.wait(lambda: sorted(game.words()) == ["+25", "+50", "+b1"], "shift, the mouse button and W go down")
    runner.process.send_signal(signal.SIGKILL)
    game.wait(lambda: sorted(game.words())[3:] == ["-25", "-50", "-b1"], "all three go up")
    runner.close()


def test_a_killed_guard_is_replaced(wayland: Compositor, game: WaylandGame) -> None:
    channel = WaylandChannel(wayland.address)
    first = channel.guard_pid
    os.kill(first, signal.SIGKILL)

    def another() -> bool:
        select.select(channel.filenos(), [], [], PATIENCE)
        channel.hear(0)
        return channel.guard_pid != first

    wait_until(another, "another guard is there")
    channel.write([Button(0, "BTN_LEFT", 1)])
    channel.close()
    game.wait(lambda: game.words() == ["+b1", "-b1"], "the new guard lets go")


def test_a_compositor_that_is_gone_is_an_error(wayland: Compositor) -> None:
    channel = WaylandChannel(wayland.address)
    wayland.end()

    def gone() -> bool:
        try:
            channel.hear(0)
            channel.write([Key(0, "A", 1), Key(0, "A", 0)])
        except SinkError as error:
            return str(error) == "the Wayland compositor is gone"
        return False

    wait_until(gone, "it is told")
    channel.close()
    with pytest.raises(SinkError, match="no Wayland compositor answers"):
        WaylandChannel(wayland.address)
