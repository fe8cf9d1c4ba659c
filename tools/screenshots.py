"""Pictures of the main views from the demo data: ``python tools/screenshots.py [FOLDER]``.

Starts the real window with a runner behind it, on a virtual screen of its own, steers the simulated pad, and writes a
PNG of 1280×800 for each view. Nothing of the user's own is touched.
"""

from __future__ import annotations

import os
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from pyvirtualdisplay.display import Display

FOLDER = Path(sys.argv[1] if len(sys.argv) > 1 else "docs/screenshots")


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as home, Display(backend="xvfb", size=(1280, 800)):
        for name in ("XDG_DATA_HOME", "XDG_CONFIG_HOME", "XDG_RUNTIME_DIR"):
            os.environ[name] = home
        os.environ["QT_QPA_PLATFORM"] = "xcb"
        shoot()


def shoot() -> None:
    from PyQt6.QtCore import QSettings
    from PyQt6.QtWidgets import QApplication

    from nubshift.app.link import Link
    from nubshift.app.main import first_profile
    from nubshift.app.studio import Studio
    from nubshift.app.theme import Look, install_font
    from nubshift.app.window import MainWindow
    from nubshift.runner.messages import Steer
    from nubshift.runner.paths import profile_folder, socket_path

    app = QApplication(["nubshift"])
    app.setOrganizationName("nubshift")
    install_font(app)
    look = Look("dusk")
    file, profile, _ = first_profile(None, profile_folder(), QSettings())
    studio = Studio(file, profile)
    link = Link(socket_path(), ["sim:moss"], "xtest")
    window = MainWindow(studio, link, look, profile_folder())
    window.show()
    link.open()

    def wait(condition: Callable[[], bool], seconds: float = 30.0) -> None:
        end = time.monotonic() + seconds
        while not condition():
            app.processEvents()
            time.sleep(0.005)
            if time.monotonic() > end:
                raise SystemExit("the window did not come to the state that was to be shown")

    def pause(seconds: float) -> None:
        end = time.monotonic() + seconds
        wait(lambda: time.monotonic() > end, seconds + 5)

    def shot(name: str) -> None:
        app.processEvents()
        window.grab().save(str(FOLDER / f"{name}.png"))
        print(FOLDER / f"{name}.png")

    def steer(control: str, x: float, y: float = 0.0) -> None:
        link.send(Steer(control, x, y))

    wait(lambda: link.status is not None and "motion" in window.live.values)

    def act() -> None:
        steer("dpad_up", 1)
        pause(0.25)
        steer("dpad_up", 0)
        for step in range(12):
            steer("left_stick", 0.05 * step, -0.08 * step)
            steer("right_stick", 0.06 * step, -0.03 * step)
            pause(0.04)
        steer("right_trigger", 1)
        pause(0.3)
        steer("right_trigger", 0)
        pause(0.4)
        steer("right_stick", 0.55, -0.35)
        pause(0.25)

    def rest() -> None:
        for control in ("left_stick", "right_stick", "left_trigger", "right_trigger"):
            steer(control, 0)
        wait(lambda: not window.live.held)

    for theme in ("dusk", "day"):
        look.want(theme)
        studio.show_layer("base")
        studio.select("left_bumper")
        act()
        shot(f"map-{theme}")
        rest()
    look.want("dusk")
    studio.show_layer("aim")
    studio.select("right_stick")
    steer("left_trigger", 0.8)
    act()
    shot("map-layer")
    rest()
    studio.show_layer("base")
    studio.select("left_stick")
    studio.arm(studio.slot("left_stick", "up"), 0)
    pause(0.2)
    shot("map-assigning")
    studio.disarm()
    window.close()


if __name__ == "__main__":
    main()
