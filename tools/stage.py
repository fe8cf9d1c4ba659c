"""The real window with a real runner on a virtual screen, for scripts that show it.

Nothing of the user's own is touched.
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, Any

from pyvirtualdisplay.display import Display

if TYPE_CHECKING:
    from nubshift.app.window import MainWindow
    from nubshift.protocol.messages import Status

PATIENCE = 120.0


@contextmanager
def virtual_screen(width: int = 1280, height: int = 800) -> Iterator[None]:
    """A virtual X screen, with folders for data, settings and sockets that vanish afterwards."""
    with tempfile.TemporaryDirectory() as home, Display(backend="xvfb", size=(width, height)):
        for name in ("HOME", "XDG_DATA_HOME", "XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_RUNTIME_DIR"):
            os.environ[name] = home
        os.environ["QT_QPA_PLATFORM"] = "xcb"
        yield


class Receiver:
    """Another program with the focus, at x, y, width, height, and what it said."""

    def __init__(self, *geometry: str) -> None:
        words = [sys.executable, str(Path(__file__).parent / "receiver.py"), *geometry]
        self._process = subprocess.Popen(words, stdout=subprocess.PIPE, text=True)
        self.events: list[dict[str, Any]] = []
        threading.Thread(target=self._read, daemon=True).start()

    def _read(self) -> None:
        assert self._process.stdout is not None
        for line in self._process.stdout:
            self.events.append(json.loads(line))

    @property
    def ready(self) -> bool:
        return any(event["event"] == "ready" for event in self.events)

    def close(self) -> None:
        self._process.kill()
        self._process.wait()


class Stage:
    """The window, opened with the demo (or another profile) and the simulated pad."""

    def __init__(self, sink: str = "xtest", profile_path: Path | None = None) -> None:
        from PyQt6.QtCore import qInstallMessageHandler
        from PyQt6.QtWidgets import QApplication

        from nubshift.app.client.link import Link
        from nubshift.app.document.studio import Studio
        from nubshift.app.main import first_profile, log_qt
        from nubshift.app.painting.theme import Look, install_font
        from nubshift.app.window import MainWindow
        from nubshift.protocol.paths import profile_folder, socket_path

        qInstallMessageHandler(log_qt)
        self.app = QApplication(["nubshift"])
        self.app.setOrganizationName("nubshift")
        install_font(self.app)
        self.look = Look("dusk")
        file, profile, _ = first_profile(profile_path, profile_folder(), "")
        self.studio = Studio(file, profile)
        self.link = Link(socket_path(), ["sim:moss"], sink)
        self.window: MainWindow = MainWindow(self.studio, self.link, self.look, profile_folder())
        self.window.show()
        self.link.open()
        self.wait(lambda: self.link.status is not None and "motion" in self.window.live.values)

    @property
    def status(self) -> Status | None:
        """What the runner says of itself."""
        return self.link.status

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
        from nubshift.protocol.messages import Steer

        self.link.send(Steer(control, x, y))

    def close(self) -> None:
        """Close the window; nothing of it can be asked afterwards."""
        from nubshift.app.main import take_down

        self.window.close()
        take_down(self.window)

    def shot(self, path: str) -> None:
        """A picture of the window."""
        self.app.processEvents()
        self.window.grab().save(path)
        print(path)
