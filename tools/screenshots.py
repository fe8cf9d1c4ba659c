"""Pictures of the main views from the demo data: ``python tools/screenshots.py [FOLDER]``."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

from stage import Receiver, Stage, virtual_screen

FOLDER = Path(sys.argv[1] if len(sys.argv) > 1 else "docs/screenshots")
MOVED = ("left_stick", "right_stick", "left_trigger", "right_trigger", "left_grip", "right_grip", "mode")


def act(stage: Stage) -> None:
    """A moment of play, long enough for the Now strip to have a past."""
    stage.steer("dpad_up", 1)
    stage.pause(0.25)
    stage.steer("dpad_up", 0)
    for step in range(12):
        stage.steer("left_stick", 0.05 * step, -0.08 * step)
        stage.steer("right_stick", 0.06 * step, -0.03 * step)
        stage.pause(0.04)
    stage.steer("left_bumper", 1)
    stage.pause(0.3)
    stage.steer("left_bumper", 0)
    stage.pause(0.4)
    stage.steer("right_stick", 0.55, -0.35)
    stage.pause(0.25)


def rest(stage: Stage) -> None:
    """Everything let go of, what is toggled too."""
    for control in MOVED:
        stage.steer(control, 0)
    if "L" in stage.window.live.held:
        stage.steer("dpad_up", 1)
        stage.steer("dpad_up", 0)
    stage.wait(lambda: not stage.window.live.held)


def shot(stage: Stage, name: str) -> None:
    stage.pause(0.3)
    stage.window.notices.clear()  # that the kernel's uinput is missing here is no part of these pictures
    stage.pause(0.1)
    stage.shot(f"{FOLDER}/{name}.png")


def open_demo(stage: Stage, name: str) -> None:
    stage.studio.open(stage.studio.file.path.parent / f"{name}.nubshift.json")
    stage.pause(0.2)


def main_views(stage: Stage, receiver: Receiver) -> None:
    """Ferrow Deep at play in both themes; a layer; a slot that listens."""
    stage.wait(lambda: receiver.ready and stage.status is not None and not stage.status.withheld)
    for theme in ("dusk", "day"):
        stage.look.want(theme)
        stage.studio.select("left_bumper")
        act(stage)
        stage.shot(f"{FOLDER}/map-{theme}.png")
        rest(stage)
    stage.look.want("dusk")
    stage.window.activateWindow()
    stage.wait(lambda: stage.status is not None and stage.status.withheld)
    stage.studio.show_layer("aim")
    stage.studio.select("motion")
    stage.steer("left_trigger", 0.8)
    act(stage)
    stage.shot(f"{FOLDER}/map-layer.png")
    rest(stage)
    stage.studio.show_layer("base")
    stage.studio.select("left_stick", "role.up")
    stage.studio.arm_control("left_stick", "role.up")
    shot(stage, "map-assigning")
    stage.studio.disarm()


def editors(stage: Stage) -> None:
    """One picture for each kind of editor, from the other two games."""
    open_demo(stage, "quillgate")
    stage.studio.select("east", "tap")
    shot(stage, "map-gestures")
    stage.studio.select("right_trigger", "bands[1].what")
    stage.steer("right_trigger", 0.62)
    shot(stage, "map-depths")
    stage.steer("right_trigger", 0)
    stage.look.want("day")
    stage.studio.show_layer("cast")
    stage.studio.select("left_stick", "role.cells[2]")
    shot(stage, "map-tiles")
    stage.look.want("dusk")
    open_demo(stage, "saltbarrow")
    stage.studio.select("east")
    shot(stage, "map-turbo")
    stage.studio.show_layer("works")
    stage.studio.select("right_stick", "role.entries[2].what")
    stage.steer("right_stick", 0.5, 0.4)
    shot(stage, "map-menu")
    stage.steer("right_stick", 0)
    stage.studio.show_layer("write")
    stage.studio.select("left_stick")
    shot(stage, "map-board")
    stage.studio.show_layer("base")
    stage.steer("right_bumper", 1)
    stage.steer("right_bumper", 0)
    stage.studio.look_at("belt:buildings")
    shot(stage, "bench-belt")
    stage.studio.look_at("macro:sweep")
    stage.look.want("day")
    shot(stage, "bench-macro")
    stage.look.want("dusk")
    stage.studio.select("south")
    stage.studio.show_layer("works")
    stage.studio.look_at("layer")
    shot(stage, "map-about-a-layer")


def over_the_game(stage: Stage, receiver: Receiver) -> None:
    """What is shown during play, over a game that fills the screen."""
    from PyQt6.QtGui import QGuiApplication

    stage.wait(lambda: receiver.ready and stage.status is not None and not stage.status.withheld)
    stage.studio.show_layer("base")
    stage.steer("left_grip", 1)
    stage.pause(0.2)
    stage.steer("right_stick", 0.8, 0.4)
    stage.steer("left_stick", -0.7, -0.6)
    stage.pause(0.3)
    screen = QGuiApplication.primaryScreen()
    assert screen is not None
    screen.grabWindow().copy(0, 0, 1280, 800).save(f"{FOLDER}/over-the-game.png")
    rest(stage)


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    with virtual_screen(1280, 960):
        manager = subprocess.Popen(["openbox", "--sm-disable"], stderr=subprocess.DEVNULL)
        stage = Stage()
        stage.window.map.touch_selects = False
        receiver = Receiver("0", "800", "1280", "160")
        main_views(stage, receiver)
        receiver.close()
        editors(stage)
        game = Receiver("0", "0", "1280", "960")
        over_the_game(stage, game)
        game.close()
        stage.window.close()
        manager.kill()


if __name__ == "__main__":
    main()
