"""Pictures of the main views from the demo data: ``python tools/screenshots.py [FOLDER]``."""

from __future__ import annotations

import sys
from pathlib import Path

from stage import Receiver, Stage, virtual_screen

FOLDER = Path(sys.argv[1] if len(sys.argv) > 1 else "docs/screenshots")


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
    """Everything let go of."""
    for control in ("left_stick", "right_stick", "left_trigger"):
        stage.steer(control, 0)
    stage.wait(lambda: not stage.window.live.held)


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    with virtual_screen(1280, 960):
        stage = Stage()
        stage.window.map.touch_selects = False
        receiver = Receiver("0", "800", "1280", "160")
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
        stage.studio.select("right_stick")
        stage.steer("left_trigger", 0.8)
        act(stage)
        stage.shot(f"{FOLDER}/map-layer.png")
        rest(stage)
        stage.studio.show_layer("base")
        stage.studio.select("left_stick", "up")
        stage.studio.arm_control("left_stick", "up")
        stage.pause(0.2)
        stage.shot(f"{FOLDER}/map-assigning.png")
        stage.studio.disarm()
        stage.window.close()
        receiver.close()


if __name__ == "__main__":
    main()
