"""How busy the window's thread is while it draws a controller that reports 1000 times a second.

``python tools/live_load.py [SECONDS] [WORKSPACE...]``: for each workspace the share of the time in which the thread that
paints was running (its own processor time by the wall clock), the frames from the runner, and the reports drawn. The demo
plays the fast simulated pad on a virtual screen, and what it sends goes nowhere. A figure is worth comparing within one run only.
"""

from __future__ import annotations

import sys
import time

from stage import Stage, virtual_screen

WORKSPACES = ("map", "tune", "try")


def measure(stage: Stage, workspace: str, seconds: float) -> str:
    """A line on one workspace."""
    from PyQt6.QtCore import QEventLoop, QTimer

    from nubshift.protocol.messages import Frame, Play

    seen = {"frames": 0, "reports": 0}

    def count(frame: Frame) -> None:
        seen["frames"] += 1
        seen["reports"] += len(frame.trace)

    stage.window.show_workspace(workspace)
    stage.link.send(Play("ferrow-deep"))
    stage.pause(1.0)
    stage.window.live.framed.connect(count)
    loop = QEventLoop()
    QTimer.singleShot(round(seconds * 1000), loop.quit)
    wall, busy = time.monotonic(), time.thread_time()
    loop.exec()
    wall, busy = time.monotonic() - wall, time.thread_time() - busy
    stage.window.live.framed.disconnect(count)
    stage.link.send(Play(""))
    stage.pause(0.3)
    return (
        f"{workspace:5} busy {busy / wall:.0%}, {seen['frames'] / wall:.0f} frames a second, "
        f"{seen['reports'] / wall:.0f} reports a second drawn"
    )


def main() -> None:
    seconds = float(sys.argv[1]) if len(sys.argv) > 1 else 6.0
    with virtual_screen(1280, 800):
        stage = Stage("record:/dev/null")  # nothing clicks into the window itself
        from nubshift.protocol.messages import Choose

        stage.link.send(Choose("sim:swift"))
        stage.pause(0.5)
        for workspace in sys.argv[2:] or WORKSPACES:
            print(measure(stage, workspace, seconds), flush=True)
        stage.close()


if __name__ == "__main__":
    main()
