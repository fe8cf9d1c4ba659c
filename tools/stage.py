"""The real window with a real runner on a virtual screen, for scripts that show it. Nothing of the user's own is touched."""

from __future__ import annotations

import os
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import TYPE_CHECKING

from pyvirtualdisplay.display import Display

if TYPE_CHECKING:
    from nubshift.app.window import MainWindow

PATIENCE = 120.0


@contextmanager
def virtual_screen(width: int = 1280, height: int = 800) -> Iterator[None]:
    """A virtual X screen, with folders for data, settings and sockets that vanish afterwards."""
    with tempfile.TemporaryDirectory() as home, Display(backend="xvfb", size=(width, height)):
        for name in ("XDG_DATA_HOME", "XDG_CONFIG_HOME", "XDG_RUNTIME_DIR"):
            os.environ[name] = home
        os.environ["QT_QPA_PLATFORM"] = "xcb"
        yield


class Stage:
    """The window, opened with the demo and the simulated pad."""

    def __init__(self, sink: str = "xtest") -> None:
        from PyQt6.QtCore import QSettings
        from PyQt6.QtWidgets import QApplication

        from nubshift.app.link import Link
        from nubshift.app.main import first_profile
        from nubshift.app.studio import Studio
        from nubshift.app.theme import Look, install_font
        from nubshift.app.window import MainWindow
        from nubshift.runner.paths import profile_folder, socket_path

        self.app = QApplication(["nubshift"])
        self.app.setOrganizationName("nubshift")
        install_font(self.app)
        self.look = Look("dusk")
        file, profile, _ = first_profile(None, profile_folder(), QSettings())
        self.studio = Studio(file, profile)
        self.link = Link(socket_path(), ["sim:moss"], sink)
        self.window: MainWindow = MainWindow(self.studio, self.link, self.look, profile_folder())
        self.window.show()
        self.link.open()
        self.wait(lambda: self.link.status is not None and "motion" in self.window.live.values)

    def wait(self, condition: Callable[[], bool]) -> None:
        """Let the window live until something is so."""
        end = time.monotonic() + PATIENCE
        while not condition():
            self.app.processEvents()
            time.sleep(0.004)
            if time.monotonic() > end:
                raise SystemExit("the window did not come to the state that was to be shown")

    def pause(self, seconds: float) -> None:
        """Let the window live for a while."""
        end = time.monotonic() + seconds
        self.wait(lambda: time.monotonic() > end)

    def steer(self, control: str, x: float, y: float = 0.0) -> None:
        """Move the simulated pad."""
        from nubshift.runner.messages import Steer

        self.link.send(Steer(control, x, y))

    def shot(self, path: str) -> None:
        """A picture of the window."""
        self.app.processEvents()
        self.window.grab().save(path)
        print(path)
