"""What an X session says of itself, asked of a real X server: who tells of windows, and how a mouse is taken (N45)."""

from __future__ import annotations

import os
from collections.abc import Iterator

import pytest

from nubshift.errors import SinkError
from nubshift.events import VIRTUAL_MOUSE
from nubshift.outputs.x11 import Desktop
from nubshift.protocol.findings import Finding
from nubshift.runner import flat
from nubshift.runner import session_findings as findings
from nubshift.runner.session_findings import session_findings

NAME = b"libinput Accel Profile Enabled"
MOUSE = "Xvfb mouse"
ADAPTIVE, FLAT = bytes([1, 0, 0]), bytes([0, 1, 0])


@pytest.fixture
def desktop() -> Iterator[Desktop]:
    asked = Desktop()
    yield asked
    asked.close()


def take_as(desktop: Desktop, values: bytes) -> None:
    """As the desktop's own driver does when it takes in a mouse."""
    connection = desktop._connection
    atom = connection.core.InternAtom(False, len(NAME), NAME).reply().atom
    integer = connection.core.InternAtom(False, 7, b"INTEGER").reply().atom
    desktop._change(desktop._mouse(MOUSE), atom, integer, values)


def test_a_mouse_that_is_accelerated_is_asked_to_be_flat(desktop: Desktop) -> None:
    assert desktop.profile_of("no such mouse") == "none"
    take_as(desktop, ADAPTIVE)
    assert desktop.profile_of(MOUSE) == "bent"
    assert flat._ask({"DISPLAY": os.environ["DISPLAY"]}, MOUSE) == "flat"
    assert desktop.profile_of(MOUSE) == "flat"
    assert desktop.flatten(MOUSE) == "flat"  # and once more, which changes nothing


def test_a_mouse_that_never_comes_is_not_waited_for_long(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(flat, "EVERY", 0.0)
    assert flat._ask({"DISPLAY": os.environ["DISPLAY"]}, "no such mouse", tries=3) == "none"
    assert flat._ask({"DISPLAY": ":987"}, MOUSE) == "none"
    assert flat.ask_for_flat({"XDG_RUNTIME_DIR": "/nowhere"}) is None


def found(environment: dict[str, str], what: str) -> Finding:
    there = {finding.what: finding for finding in session_findings({"XDG_RUNTIME_DIR": "/nowhere"} | environment)}
    return there[what]


def test_the_doctor_says_how_the_mouse_is_taken(desktop: Desktop, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(findings, "VIRTUAL_MOUSE", MOUSE)
    here = {"DISPLAY": os.environ["DISPLAY"]}
    take_as(desktop, ADAPTIVE)
    bent = found(here, "pointer acceleration")
    assert (bent.state, MOUSE in bent.run) == ("look", True)
    take_as(desktop, FLAT)
    assert found(here, "pointer acceleration").state == "well"
    monkeypatch.setattr(findings, "VIRTUAL_MOUSE", VIRTUAL_MOUSE)
    assert "no virtual mouse" in found(here, "pointer acceleration").found


def test_where_nobody_can_be_asked_the_doctor_says_so() -> None:
    nobody = {"DISPLAY": ":987"}
    assert "desktop's settings" in found(nobody, "pointer acceleration").do
    assert found(nobody, "active window").found == "nobody reports it"
    assert "US keyboard" in found(nobody, "keyboard layout").means
    assert found({}, "session").found == "no screen"
    with pytest.raises(SinkError, match="can't be asked"):
        Desktop(":987")


def test_what_the_doctor_finds_in_a_session_of_x(window_manager: None) -> None:
    here = {"DISPLAY": os.environ["DISPLAY"], "XDG_CURRENT_DESKTOP": "Openbox:X"}
    assert found(here, "session").found == "X11 (Openbox)"
    assert found(here, "active window") == Finding("active window", "well", "reported by X11")
    assert found(here, "keyboard layout").state == "well"
    assert found(here, "shown over the game").state == "well"
