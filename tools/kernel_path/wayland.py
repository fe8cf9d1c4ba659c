"""A Wayland compositor that takes in the kernel's devices, and the whole app in it."""

from __future__ import annotations

import os
import pwd
import signal
import subprocess
import sys
import tempfile
from pathlib import Path

from evdev import UInput
from evdev import ecodes as e
from PyQt6.QtGui import QColor, QImage

from kernel_path.nodes import PAD, press
from nubshift.desktop.sway_mice import SwayMice
from nubshift.events import VIRTUAL_MOUSE
from nubshift.protocol.paths import profile_folder
from standins import waiting
from standins.client import runner_pid, wait_playing
from standins.waiting import wait_until
from standins.wayland_session import USER, Compositor, WaylandGame, compositor

waiting.PATIENCE = 600.0  # time is emulated slowly here
GROUND, SIXTH = "#1b3040", (780, 440)


def seen(session: Compositor, folder: Path) -> str:
    """The colour of a place within the tile to the right of the middle."""
    session.picture(folder / "screen.png")
    return QColor(QImage(str(folder / "screen.png")).pixel(*SIXTH)).name()


def main(profile: str) -> None:
    folder = Path(tempfile.mkdtemp())
    group = subprocess.run(["id", "-gn", USER], capture_output=True, text=True, check=True).stdout.strip()
    assert pwd.getpwnam(USER)
    subprocess.Popen(["seatd", "-g", group], env=os.environ | {"SEATD_VTBOUND": "0"}, stderr=subprocess.DEVNULL)
    wait_until(lambda: Path("/run/seatd.sock").exists(), "seatd is at work")
    inputs = {"WLR_BACKENDS": "headless,libinput", "LIBSEAT_BACKEND": "seatd", "SEATD_SOCK": "/run/seatd.sock"}
    with compositor(environment=inputs) as session:
        for name in ("XDG_DATA_HOME", "XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_RUNTIME_DIR"):
            (folder / name).mkdir(mode=0o700)
            os.environ[name] = str(folder / name)
        os.environ |= session.environment | {"SWAYSOCK": session.sway_socket, "QT_QPA_PLATFORM": "wayland"}
        os.environ.pop("DISPLAY", None)
        profile_folder().mkdir(parents=True)
        own = profile_folder() / "own.nubshift.json"
        own.write_bytes(Path(profile).read_bytes())
        pad = UInput(PAD, name="Proof Pad")
        app = subprocess.Popen([sys.executable, "-m", "nubshift", str(own), "--hidden"])
        wait_playing("own")
        game = WaylandGame(session)
        game.wait(lambda: any(one["event"] == "focus in" for one in game.events), "the game has the focus")
        press(pad, e.BTN_SOUTH, 1)
        game.wait(lambda: game.words() == ["+38"], "A is down")
        press(pad, e.BTN_SOUTH, 0)
        game.wait(lambda: game.words() == ["+38", "-38"], "A is up")
        print("proven: from a controller of the kernel through uinput to a Wayland client", flush=True)
        mice = SwayMice(session.sway_socket)
        wait_until(lambda: mice.profile_of(VIRTUAL_MOUSE) == "flat", "the virtual mouse is flat", 0.1)
        mice.close()
        print("proven: sway takes the virtual mouse as it is", flush=True)
        press(pad, e.BTN_TR, 1)
        press(pad, e.BTN_TR, 0)

        def there() -> bool:
            places = [(one["x"], one["y"]) for one in game.events if one["event"] in ("pointer", "pointer in")]
            return bool(places) and abs(places[-1][0] - 320) <= 2 and abs(places[-1][1] - 600) <= 2

        game.wait(there, "the pointer is where it was asked for")
        print("proven: a point is on the screen of the game", flush=True)
        assert seen(session, folder) == GROUND
        pad.write(e.EV_ABS, e.ABS_X, 30000)
        pad.syn()
        wait_until(lambda: seen(session, folder) != GROUND, "the tiles stand over the game", 0.05)
        game.wait(lambda: game.words()[-1] == "+15", "and send")
        assert not game.lost_focus()
        print("proven: tiles stand over the game, which keeps the focus", flush=True)
        os.kill(runner_pid(), signal.SIGKILL)
        game.wait(lambda: game.words()[-1] == "-15", "what the killed runner held is let go of")
        print("proven: killed with a key down, nothing stays down", flush=True)
        game.close()
        app.terminate()
        app.wait()
