"""What an X session says of itself, asked of a real X server: who tells of windows, and how a mouse is taken (N45)."""

from __future__ import annotations

import os
from collections.abc import Iterator

import pytest

from nubshift.errors import SinkError
from nubshift.events import VIRTUAL_MOUSE
from nubshift.outputs.x11 import Desktop
from nubshift.runner import doctor, flat

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
    assert flat._ask(os.environ["DISPLAY"], MOUSE) == "flat"
    assert desktop.profile_of(MOUSE) == "flat"
    assert desktop.flatten(MOUSE) == "flat"  # and once more, which changes nothing


def test_a_mouse_that_never_comes_is_not_waited_for_long(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(flat, "EVERY", 0.0)
    assert flat._ask(os.environ["DISPLAY"], "no such mouse", tries=3) == "none"
    assert flat._ask(":987", MOUSE) == "none"
    assert flat.ask_for_flat({"DISPLAY": ":0", "WAYLAND_DISPLAY": "wayland-0"}) is None
    assert flat.ask_for_flat({}) is None


def test_the_doctor_says_how_the_mouse_is_taken(desktop: Desktop, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(doctor, "VIRTUAL_MOUSE", MOUSE)
    here = {"DISPLAY": os.environ["DISPLAY"]}
    take_as(desktop, ADAPTIVE)
    bent = doctor._pointer_profile(here)
    assert (bent.state, MOUSE in bent.run) == ("look", True)
    take_as(desktop, FLAT)
    assert doctor._pointer_profile(here).state == "well"
    monkeypatch.setattr(doctor, "VIRTUAL_MOUSE", VIRTUAL_MOUSE)
    assert "no virtual mouse" in doctor._pointer_profile(here).found
    assert "desktop's settings" in doctor._pointer_profile({"WAYLAND_DISPLAY": "wayland-0"}).do


def test_who_tells_which_window_has_the_keyboard() -> None:
    assert doctor._focus({"DISPLAY": ":987"}).state == "look"
    assert doctor._focus({}).state == "note"
    with pytest.raises(SinkError, match="can't be asked"):
        Desktop(":987")
