"""The program as a process of its own, from its start to its end."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
from pathlib import Path

import pytest

from nubshift.app.painting.theme import POINT_SIZE
from nubshift.model.player_settings import PlayerSettings, write_settings
from nubshift.protocol.paths import profile_folder, settings_path, socket_path
from standins.waiting import PATIENCE, wait_until

LOOKED_AT = """
import os, signal, sys
from PyQt6.QtCore import QTimer
import nubshift.app.main as program

class LookedAt(program.MainWindow):
    def __init__(self, *things):
        super().__init__(*things)
        self.looks = 0
        self.look_again = QTimer(self, interval=50, timeout=self.end_once_alive)
        self.look_again.start()

    def end_once_alive(self):
        if self.link.status is not None and "motion" in self.live.values:
            if "tell" in sys.argv:
                self.looks += 1
                if self.looks < 60:  # until it has come to rest
                    return
                self.look_again.stop()
                print(self.link._process.processId(), flush=True)
            else:
                print(program.QApplication.font().pointSizeF(), flush=True)
                os.kill(os.getpid(), signal.SIGTERM)

program.MainWindow = LookedAt
sys.exit(program.run(None, [], "record:/dev/null", None))
"""


def test_ending_it_from_outside_keeps_everything_and_is_no_crash(own_home: Path) -> None:
    write_settings(settings_path(), PlayerSettings(text_size=150))
    done = subprocess.run(
        [sys.executable, "-c", LOOKED_AT], capture_output=True, text=True, timeout=PATIENCE, check=False
    )
    assert done.returncode == 0, done.stderr
    assert float(done.stdout) >= POINT_SIZE * 1.5
    assert (profile_folder() / "ferrow-deep.nubshift.json").exists()
    wait_until(lambda: not socket_path().exists(), "the runner has ended too")


@pytest.mark.parametrize("last", ["KILL", "TERM"])
def test_a_runner_that_ends_at_the_same_moment_is_no_crash(own_home: Path, last: str) -> None:
    """As at the end of a session, where everything is told to end at once."""
    for _ in range(2):
        window = subprocess.Popen([sys.executable, "-c", LOOKED_AT, "tell"], stdout=subprocess.PIPE, text=True)
        assert window.stdout is not None
        runner = int(window.stdout.readline())
        os.kill(runner, getattr(signal, f"SIG{last}"))
        window.send_signal(signal.SIGTERM)
        assert window.wait(PATIENCE) == 0
        window.stdout.close()
