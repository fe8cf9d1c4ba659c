"""Pairing through BlueZ's interface: a stand-in for it on a real bus, and the page that leads through it."""

from __future__ import annotations

import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest
from PyQt6.QtDBus import QDBusConnection
from PyQt6.QtWidgets import QLabel

from nubshift.app.controllers.radio import Radio
from nubshift.app.controllers.workspace import ControllersWorkspace
from tests.app.hand import Hand

pytestmark = pytest.mark.own_window

RADIO = Path(__file__).parents[2] / "standins" / "bluez.py"


@pytest.fixture
def address() -> Iterator[str]:
    """A bus of our own with the stand-in on it; where no bus can be started, these tests say so."""
    words = ["dbus-daemon", "--session", "--print-address", "--nofork"]
    daemon = subprocess.Popen(words, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True)
    assert daemon.stdout is not None
    yield daemon.stdout.readline().strip()
    daemon.kill()
    daemon.wait()
    daemon.stdout.close()


@pytest.fixture
def standin(address: str) -> Iterator[subprocess.Popen[str]]:
    process = subprocess.Popen(
        [sys.executable, str(RADIO), address], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True
    )
    assert process.stdout is not None
    assert process.stdout.readline() == "ready\n"
    yield process
    process.kill()
    process.wait()
    for pipe in (process.stdin, process.stdout):
        if pipe is not None:
            pipe.close()


def opened(hand: Hand, address: str) -> ControllersWorkspace:
    hand.click(hand.window.top.tabs.buttons["controllers"])
    workspace = hand.window.pages.controllers
    workspace.pairing.radio._given = QDBusConnection.connectToBus(address, "of this test")
    hand.click(workspace.pairing_tab)
    hand.until(workspace.pairing.isVisible)
    return workspace


@pytest.fixture(autouse=True)
def parted() -> Iterator[None]:
    yield
    QDBusConnection.disconnectFromBus("of this test")


def texts(workspace: ControllersWorkspace) -> list[str]:
    return [label.text() for label in workspace.pairing.findChildren(QLabel) if label.isVisible()]


def test_a_controller_that_blinks_is_paired_and_comes_back_by_itself(
    hand: Hand, address: str, standin: subprocess.Popen[str]
) -> None:
    workspace = opened(hand, address)
    page = workspace.pairing
    hand.until(lambda: "Fern pad" in texts(workspace))
    said = texts(workspace)
    assert (
        said.index("Controllers") < said.index("Fern pad") < said.index("Other devices near") < said.index("Tall lamp")
    )
    fern = next(near for near in page.radio.devices if near.name == "Fern pad")
    assert page.words(fern) == "can be paired"
    hand.choose(page, "Pair")
    hand.until(lambda: any("no driver for it" in text for text in texts(workspace)))  # paired, trusted, connected
    fern = next(near for near in page.radio.devices if near.name == "Fern pad")
    assert (fern.paired, fern.connected) == (True, True)
    hand.choose(page, "Forget")
    hand.until(lambda: all(near.name != "Fern pad" for near in page.radio.devices))


def test_one_that_stopped_blinking_says_what_to_do_and_is_tried_again(
    hand: Hand, address: str, standin: subprocess.Popen[str]
) -> None:
    workspace = opened(hand, address)
    page = workspace.pairing
    hand.until(lambda: "Moody pad" in texts(workspace))
    moody = next(near for near in page.radio.devices if near.name == "Moody pad")
    page.radio.pair(moody.path)
    hand.until(lambda: any("Make it blink again" in text for text in texts(workspace)))
    page.radio.pair(moody.path)
    hand.until(lambda: page.radio.doing == {} and any(near.connected for near in page.radio.devices))


def test_a_radio_that_is_switched_off_is_said(hand: Hand, address: str, standin: subprocess.Popen[str]) -> None:
    workspace = opened(hand, address)
    hand.until(lambda: workspace.pairing.radio.powered)
    assert standin.stdin is not None
    standin.stdin.write("off\n")
    standin.stdin.flush()
    hand.until(lambda: "is off" in workspace.pairing.trouble.text())


def test_without_the_desktops_service_it_is_said(hand: Hand, address: str) -> None:
    workspace = opened(hand, address)
    hand.until(lambda: "no radio" in workspace.pairing.trouble.text())


def test_without_a_bus_it_is_said(hand: Hand) -> None:
    radio = Radio(QDBusConnection("a bus that is not there"))
    radio.look()
    assert "no system bus" in radio.trouble
