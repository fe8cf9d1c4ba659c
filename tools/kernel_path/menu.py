"""The menu over the game with a real controller, and the stop key of real keyboards."""

from __future__ import annotations

import contextlib
import os
import tempfile
import time
from pathlib import Path
from typing import Any

from evdev import UInput
from evdev import ecodes as e

from kernel_path.nodes import PAD, Reader, Runner, press, until
from nubshift.model.player_settings import PlayerSettings, write_settings
from nubshift.protocol.messages import MenuDoes, SetLive, Status
from nubshift.protocol.paths import settings_path
from standins.client import Talk

KEYBOARD: Any = {e.EV_KEY: [e.KEY_A, e.KEY_ENTER, e.KEY_LEFTCTRL, e.KEY_RIGHTCTRL, e.KEY_END]}
CONSENTS = PlayerSettings(menu_controls=("select",), menu_hold=0, stop_key=("LEFTCTRL", "END"), read_keyboards=True)


def pauses(talk: Talk, typed: UInput, modifier: int) -> None:
    """The stop key of this keyboard pauses, and without its modifier it does not."""
    press(typed, e.KEY_END, 1)
    press(typed, e.KEY_END, 0)
    press(typed, modifier, 1)
    assert talk.wait_newest(Status, lambda _: True).live
    press(typed, e.KEY_END, 1)
    talk.wait_newest(Status, lambda status: not status.live)
    press(typed, e.KEY_END, 0)
    press(typed, modifier, 0)
    talk.say(SetLive(True))
    talk.wait_newest(Status, lambda status: status.live)


def reads(runner: Runner, path: str) -> bool:
    """Whether it has this node open."""
    for handle in Path(f"/proc/{runner.process.pid}/fd").iterdir():
        with contextlib.suppress(FileNotFoundError):  # closed meanwhile
            if os.readlink(handle) == path:
                return True
    return False


def goes_on_reading(runner: Runner, path: str) -> bool:
    """Whether it has this node open for longer than it takes to look what it is."""
    for _look in range(5):
        if not reads(runner, path):
            return False
        time.sleep(0.1)
    return True


def main(profile: str) -> None:
    folder = Path(tempfile.mkdtemp())
    os.environ |= {"XDG_CONFIG_HOME": str(folder), "WAYLAND_DISPLAY": "none-here"}
    write_settings(settings_path(), CONSENTS)
    typed, pad = UInput(KEYBOARD, name="Typing Keyboard"), UInput(PAD, name="Proof Pad")
    Reader("Typing Keyboard"), Reader("Proof Pad")
    runner = Runner(profile, "--socket", str(folder / "r.sock"))
    until(lambda: runner.times_found("Proof Pad") == 1, "the runner takes the pad")
    talk = Talk(folder / "r.sock")
    talk.wait_newest(Status, lambda status: status.stop_key_by.startswith("Heard by reading"))
    pauses(talk, typed, e.KEY_RIGHTCTRL)
    print("proven: the stop key of a real keyboard pauses, with its modifier and not without", flush=True)
    typed.close()
    other = UInput(KEYBOARD, name="Other Keyboard")
    path = str(Reader("Other Keyboard").device.path)
    until(lambda: goes_on_reading(runner, path), "the runner reads it")
    pauses(talk, other, e.KEY_LEFTCTRL)
    print("proven: pulled out and another one plugged in, that one is heard", flush=True)

    sent = Reader("Nub Shift keyboard")
    press(pad, e.BTN_SOUTH, 1)
    until(lambda: sent.keys() == [(e.KEY_A, 1)], "south sends A")
    press(pad, e.BTN_SELECT, 1)
    talk.wait(MenuDoes, act="open")
    until(lambda: sent.keys()[-1] == (e.KEY_A, 0), "opening the menu lets go of it")
    press(pad, e.BTN_SELECT, 0)
    press(pad, e.BTN_SOUTH, 0)
    press(pad, e.BTN_SOUTH, 1)
    talk.wait(MenuDoes, act="choose")
    press(pad, e.BTN_SOUTH, 0)
    assert len(sent.keys()) == 2, sent.seen
    print("proven: the menu takes a real controller, and nothing it is worked with reaches the game", flush=True)
    press(pad, e.BTN_SOUTH, 1)
    pad.close()
    talk.wait(MenuDoes, act="close")
    again = UInput(PAD, name="Proof Pad")
    until(lambda: runner.times_found("Proof Pad") == 2, "it is taken again")
    sent.seen.clear()
    press(again, e.BTN_SOUTH, 1)
    until(lambda: sent.keys() == [(e.KEY_A, 1)], "south sends A again")
    press(again, e.BTN_SOUTH, 0)
    until(lambda: sent.keys() == [(e.KEY_A, 1), (e.KEY_A, 0)], "and lets go of it")
    print("proven: pulled out while it is open, the menu closes, and plugged in again the controller plays", flush=True)
    talk.close()
    runner.process.terminate()
    runner.process.wait()
