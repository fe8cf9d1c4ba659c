"""What a Wayland session is asked: who is there, what the doctor makes of it, how it takes the virtual mouse."""

from __future__ import annotations

import os
import socket
import threading
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import msgspec
import pytest

from nubshift.desktop.keymap import layouts_to_choose, session_keymap
from nubshift.desktop.sway import GET_INPUTS, HEAD, MAGIC, RUN_COMMAND, SwaySocket, layout_in_use
from nubshift.desktop.sway_mice import SwayMice
from nubshift.desktop.wayland.finding import compositor
from nubshift.desktop.xkb import keymap_of_names
from nubshift.events import VIRTUAL_KEYBOARD, VIRTUAL_MOUSE
from nubshift.outputs.keymap import layout_of
from nubshift.outputs.wayland_devices import WaylandDevices
from nubshift.protocol.findings import Finding
from nubshift.runner import flat
from nubshift.runner.session_findings import session_findings
from nubshift.surroundings.kwin_mice import KWinMice
from standins.bus import StandIn, stand_in
from standins.wayland_session import Compositor


def findings(environment: dict[str, str]) -> dict[str, Finding]:
    return {finding.what: finding for finding in session_findings(environment)}


def test_a_compositor_is_found_by_its_name_or_by_its_socket(wayland: Compositor, tmp_path: Path) -> None:
    assert compositor({"WAYLAND_DISPLAY": "wayland-1", "XDG_RUNTIME_DIR": str(wayland.folder)}) == wayland.address
    assert compositor({"XDG_RUNTIME_DIR": str(wayland.folder)}) == wayland.address, "also if nobody says its name"
    assert compositor({"XDG_RUNTIME_DIR": str(wayland.folder), "DISPLAY": ":0"}) == "", "this is a session of X"
    assert compositor({"WAYLAND_DISPLAY": "wayland-7", "XDG_RUNTIME_DIR": str(wayland.folder)}) == ""
    assert compositor({"XDG_RUNTIME_DIR": str(tmp_path)}) == ""
    assert compositor({"XDG_RUNTIME_DIR": str(tmp_path / "none")}) == ""
    wayland.end()
    assert compositor({"XDG_RUNTIME_DIR": str(wayland.folder)}) == "", "a socket where nobody listens is none"


def test_the_doctor_in_sway(wayland: Compositor) -> None:
    own = WaylandDevices(wayland.address)
    session = wayland.environment | {"SWAYSOCK": wayland.sway_socket, "XDG_CURRENT_DESKTOP": "sway"}
    found = findings(session)
    assert found["session"].found == "Wayland (sway)"
    assert found["active window"] == Finding("active window", "well", "reported by sway")
    assert found["shown over the game"].found.endswith("(layer shell)")
    assert found["keyboard layout"] == Finding("keyboard layout", "well", "English (US)")
    assert "Wayland compositor" in found["virtual keyboard and mouse"].means
    assert "no virtual mouse" in found["pointer acceleration"].found
    own.close()


def test_the_doctor_where_only_the_protocols_tell(wayland: Compositor) -> None:
    both = keymap_of_names("us,fr")
    own = WaylandDevices(wayland.address, both)
    session = wayland.environment | {"SWAYSOCK": str(wayland.folder / "nobody")}
    assert layouts_to_choose(session) == ("English (US)", "French")
    assert layouts_to_choose(session | {"SWAYSOCK": wayland.sway_socket}) == (), "sway says which"
    assert layouts_to_choose({"DISPLAY": os.environ["DISPLAY"], "XDG_RUNTIME_DIR": "/nowhere"}) == ()
    found = findings(session)
    assert found["active window"].state == "note"
    assert "prefer the window class" in found["active window"].means
    assert found["keyboard layout"].found == "English (US), the first of English (US) and French"
    assert "in Settings" in found["keyboard layout"].do
    assert "desktop's settings" in found["pointer acceleration"].do
    own.close()


def test_text_follows_the_layout_that_is_switched_to(wayland: Compositor) -> None:
    own = WaylandDevices(wayland.address, keymap_of_names("us,fr"))
    session = wayland.environment | {"SWAYSOCK": wayland.sway_socket}

    def typed(character: str) -> object:
        keymap = session_keymap(session)
        assert keymap is not None
        return layout_of(keymap)[character]

    assert typed("a") == (("A",),)
    wayland.tell("input", "*", "xkb_switch_layout", "1")
    assert typed("a") == (("Q",),)
    own.close()


class SwayStandIn:
    """Answers as sway does, about a mouse and a keyboard; what it is commanded stands in `commands`."""

    def __init__(self, path: Path) -> None:
        self.inputs: list[dict[str, Any]] = [
            {"name": "Mouse", "type": "pointer", "identifier": "1:1:Mouse", "libinput": {"accel_profile": "adaptive"}},
            {
                "name": VIRTUAL_MOUSE,
                "type": "pointer",
                "identifier": "0:1:Nub_Shift_mouse",
                "libinput": {"accel_profile": "adaptive"},
            },
            {"name": "Keyboard", "type": "keyboard", "xkb_active_layout_index": 0},
            {"name": VIRTUAL_KEYBOARD, "type": "keyboard", "xkb_active_layout_index": 1},
        ]
        self.commands: list[str] = []
        self._there = socket.socket(socket.AF_UNIX)
        self._there.bind(str(path))
        self._there.listen()
        self._answering = threading.Thread(target=self._run, daemon=True)
        self._answering.start()

    def _run(self) -> None:
        while True:
            try:
                asked, _unused = self._there.accept()
            except OSError:
                return
            with asked:
                while len(head := asked.recv(HEAD.size, socket.MSG_WAITALL)) == HEAD.size:
                    _magic, length, kind = HEAD.unpack(head)
                    self._answer(asked, kind, asked.recv(length, socket.MSG_WAITALL) if length else b"")

    def _answer(self, asked: socket.socket, kind: int, body: bytes) -> None:
        said: object = self.inputs
        if kind == RUN_COMMAND:
            self.commands.append(body.decode())
            self.inputs[1]["libinput"] = {"accel_profile": "flat"}
            said = [{"success": True}]
        elif kind != GET_INPUTS:
            said = "nonsense"
        text = msgspec.json.encode(said)
        asked.sendall(HEAD.pack(MAGIC, len(text), kind) + text)

    def close(self) -> None:
        self._there.shutdown(socket.SHUT_RDWR)
        self._there.close()
        self._answering.join()


@pytest.fixture
def sway(tmp_path: Path) -> Iterator[tuple[SwayStandIn, str]]:
    found = SwayStandIn(tmp_path / "sway")
    yield found, str(tmp_path / "sway")
    found.close()


def test_sway_is_asked_for_the_virtual_mouse_alone(sway: tuple[SwayStandIn, str]) -> None:
    there, path = sway
    mice = SwayMice(path)
    assert (mice.profile_of("no such mouse"), mice.profile_of(VIRTUAL_MOUSE)) == ("none", "bent")
    assert mice.command(VIRTUAL_MOUSE) == """swaymsg 'input "0:1:Nub_Shift_mouse" accel_profile flat'"""
    assert mice.flatten(VIRTUAL_MOUSE) == "flat"
    assert there.commands == ['input "0:1:Nub_Shift_mouse" accel_profile flat']
    assert (mice.flatten(VIRTUAL_MOUSE), len(there.commands)) == ("flat", 1), "once more changes nothing"
    mice.close()


def test_the_layout_in_use_is_that_of_the_virtual_keyboard(sway: tuple[SwayStandIn, str]) -> None:
    _there, path = sway
    assert layout_in_use({"SWAYSOCK": path}, VIRTUAL_KEYBOARD) == 1
    assert layout_in_use({"SWAYSOCK": path}, "no such keyboard") == 0
    assert layout_in_use({"SWAYSOCK": f"{path}-none"}) is None


def test_a_socket_that_talks_nonsense_is_an_error(tmp_path: Path) -> None:
    here, there = socket.socketpair()
    asking = SwaySocket.__new__(SwaySocket)
    asking._there, asking._came = here, bytearray()
    there.sendall(b"HTTP/1.1 400 Bad Request\r\n\r\n")
    with pytest.raises(OSError, match="not of sway"):
        asking.events()
    there.close()
    with pytest.raises(OSError, match=r"not of sway|gone"):
        asking.events()
    asking.close()


@pytest.fixture
def kwin(monkeypatch: pytest.MonkeyPatch) -> Iterator[StandIn]:
    with stand_in("kwin") as found:
        monkeypatch.setenv("DBUS_SESSION_BUS_ADDRESS", found.address)
        yield found


def test_kwin_is_asked_for_the_virtual_mouse_alone(kwin: StandIn) -> None:
    mice = KWinMice()
    assert (mice.profile_of("no such mouse"), mice.profile_of(VIRTUAL_MOUSE)) == ("none", "bent")
    assert mice.flatten(VIRTUAL_MOUSE) == "flat"
    kwin.told("event9 flat")
    assert mice.profile_of("Mouse") == "bent"
    assert "/event9 " in mice.command(VIRTUAL_MOUSE)
    mice.close()


def test_where_nobody_takes_in_mice_nobody_is_asked(wayland: Compositor, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(flat, "EVERY", 0.0)
    here = wayland.environment | {"SWAYSOCK": str(wayland.folder / "nobody")}
    assert flat._ask(here, tries=2) == "none"
    with stand_in("game_mode") as bus:
        monkeypatch.setenv("DBUS_SESSION_BUS_ADDRESS", bus.address)
        with pytest.raises(OSError, match="no KWin"):
            KWinMice()
    assert os.environ["DBUS_SESSION_BUS_ADDRESS"]
