"""The stop key where no X server tells of keys: by the desktop's global shortcuts, or by keyboards, with consent."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterator
from pathlib import Path

import evdev
import pytest
from evdev import ecodes

from nubshift.devices.discovery import Monitor, Plug
from nubshift.devices.keyboards import KeyboardsKey
from nubshift.events import VIRTUAL_PHYS
from nubshift.model.player_settings import PlayerSettings, write_settings
from nubshift.protocol.messages import Notice, Status, Use, Used
from nubshift.protocol.paths import settings_path
from nubshift.runner.stop_key import StopKey
from nubshift.surroundings.shortcuts import keysym
from standins.bus import StandIn, stand_in
from standins.client import Talk
from tests.support.profiles import made
from tests.support.runner_process import RunnerProcess


@pytest.fixture
def portal() -> Iterator[StandIn]:
    with stand_in("portal") as found:
        yield found


@pytest.fixture
def begin(tmp_path: Path) -> Iterator[Callable[..., Talk]]:
    """A runner in what it takes for a Wayland session."""
    ends: list[Callable[[], object]] = []

    def start(**places: str) -> Talk:
        write_settings(settings_path(), PlayerSettings(stop_key=("LEFTCTRL", "LEFTALT", "END")))
        socket = tmp_path / "s" / "runner.sock"
        words = ("-", "--socket", str(socket), "--source", "sim:moss", "--sink", f"record:{tmp_path / 'out'}")
        runner = RunnerProcess(*words, WAYLAND_DISPLAY="wayland-test", **places)
        talk = Talk(socket)
        talk.say(Use(made({"base": {"south": "A"}}), 1, switch=True))
        talk.wait(Used, edit=1)
        ends.extend((talk.close, runner.close))
        return talk

    yield start
    for end in ends:
        end()


def test_the_desktop_tells_of_it_and_it_pauses(portal: StandIn, begin: Callable[..., Talk]) -> None:
    talk = begin(DBUS_SESSION_BUS_ADDRESS=portal.address)
    portal.told("bound CTRL+ALT+End")
    talk.wait_newest(Status, lambda status: status.stop_key_by.startswith("Heard through the desktop"))
    portal.say("press")
    talk.wait_newest(Status, lambda status: not status.live)


def test_where_nothing_tells_of_keys_that_is_said(begin: Callable[..., Talk]) -> None:
    talk = begin(DBUS_SESSION_BUS_ADDRESS="")
    said = talk.wait(Notice, severity="warning").text
    assert "This desktop does not let Nub Shift hear the stop key Ctrl + Alt + End" in said


def test_keys_have_the_names_of_the_specification() -> None:
    assert [keysym(key) for key in ("A", "7", "F12", "PAGEUP", "END")] == ["a", "7", "F12", "Page_Up", "End"]


class Keyboard:
    """As evdev shows one; `events` are (code, value)."""

    def __init__(self, keys: tuple[int, ...], phys: str = "usb-1") -> None:
        self.keys, self.phys, self.closed = keys, phys, False
        self.events: list[tuple[int, int]] = []
        self.down: list[int] = []
        self.gone = False
        self.fd = os.pipe()[0]

    def active_keys(self) -> list[int]:
        if self.gone:
            raise OSError("No such device")
        return self.down

    def capabilities(self) -> dict[int, tuple[int, ...]]:
        return {ecodes.EV_KEY: self.keys}

    def read_one(self) -> object:
        if self.gone:
            raise OSError("No such device")
        if not self.events:
            return None
        code, value = self.events.pop(0)
        return evdev.InputEvent(0, 0, ecodes.EV_KEY, code, value)

    def close(self) -> None:
        self.closed = True


TYPING = (ecodes.KEY_A, ecodes.KEY_ENTER, ecodes.KEY_END, ecodes.KEY_LEFTCTRL, ecodes.KEY_RIGHTCTRL)
CTRL = ((ecodes.KEY_LEFTCTRL, ecodes.KEY_RIGHTCTRL),)


@pytest.fixture
def keyboards(monkeypatch: pytest.MonkeyPatch) -> dict[str, Keyboard]:
    """A keyboard, a mouse, and our own virtual keyboard."""
    found = {
        "keyboard": Keyboard(TYPING),
        "mouse": Keyboard((ecodes.BTN_LEFT,)),
        "ours": Keyboard(TYPING, VIRTUAL_PHYS),
    }
    monkeypatch.setattr(evdev, "list_devices", lambda: list(found))
    monkeypatch.setattr(evdev, "InputDevice", lambda path: found[path])
    return found


def test_a_keyboard_is_read_for_the_one_key_with_its_modifiers(
    keyboards: dict[str, Keyboard], monkeypatch: pytest.MonkeyPatch
) -> None:
    plugs: list[Plug] = []
    monkeypatch.setattr(Monitor, "read", lambda _: [plugs.pop(0) for _ in list(plugs)])
    key = KeyboardsKey(ecodes.KEY_END, CTRL)
    keyboard = keyboards["keyboard"]
    assert keyboards["mouse"].closed
    assert keyboards["ours"].closed, "what we send is no key of the player's"
    for events, heard in (
        ([(ecodes.KEY_END, 1), (ecodes.KEY_END, 0)], False),
        ([(ecodes.KEY_RIGHTCTRL, 1), (ecodes.KEY_A, 1), (ecodes.KEY_END, 1)], True),
        ([(ecodes.KEY_END, 2)], False),
        ([(ecodes.KEY_END, 0), (ecodes.KEY_RIGHTCTRL, 0), (ecodes.KEY_END, 1)], False),
    ):
        keyboard.events = events
        assert key.pressed() == heard
    keyboard.gone = True
    assert not key.pressed()
    assert keyboard.closed
    for _ in range(2):  # the second goes, and another one comes by its name, before anybody looks
        keyboards["another"] = other = Keyboard(TYPING, "usb-2")
        plugs += [Plug("another", False), Plug("another", True)]
        assert not key.pressed()
    keyboards["brief"] = brief = Keyboard(TYPING, "usb-3")
    brief.gone = True
    plugs.append(Plug("brief", True))
    assert not key.pressed()
    assert brief.closed, "one that is gone before it was read"
    other.events = [(ecodes.KEY_LEFTCTRL, 1), (ecodes.KEY_END, 1)]
    assert key.pressed(), "one that was plugged in later is read as well"
    key.close()
    assert other.closed
    with pytest.raises(OSError, match="no keyboard may be read"):
        KeyboardsKey(ecodes.KEY_F13, CTRL)


def test_on_a_keyboard_that_comes_with_the_key_down_it_is_heard_once(
    keyboards: dict[str, Keyboard], monkeypatch: pytest.MonkeyPatch
) -> None:
    plugs: list[Plug] = []
    monkeypatch.setattr(Monitor, "read", lambda _: [plugs.pop(0) for _ in list(plugs)])
    keyboards["keyboard"].down = [ecodes.KEY_LEFTCTRL, ecodes.KEY_END]  # a start by these keys is no wish to stop
    key = KeyboardsKey(ecodes.KEY_END, CTRL)
    assert not key.pressed()
    keyboards["keyboard"].events = [(ecodes.KEY_LEFTCTRL, 0), (ecodes.KEY_END, 0)]
    assert not key.pressed()
    for path, down, heard in (
        ("alone", [ecodes.KEY_END], False),
        ("other key", [ecodes.KEY_LEFTCTRL, ecodes.KEY_A], False),
        ("both", [ecodes.KEY_RIGHTCTRL, ecodes.KEY_END], True),
    ):
        keyboards[path] = came = Keyboard(TYPING, path)
        came.down = down
        plugs.append(Plug(path, True))
        assert key.pressed() == heard, path
        came.events = [(code, 0) for code in down]
        assert not key.pressed(), "it is told once"
    key.close()


def test_keyboards_are_read_only_with_consent(keyboards: dict[str, Keyboard], monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("WAYLAND_DISPLAY", "wayland-test")
    monkeypatch.delenv("DBUS_SESSION_BUS_ADDRESS", raising=False)
    key = StopKey()
    key.want(("LEFTCTRL", "END"))
    assert key.by == ""
    key.want(("LEFTCTRL", "END"), keyboards=True)
    assert key.by == "Heard by reading your keyboards."
    key.close()
