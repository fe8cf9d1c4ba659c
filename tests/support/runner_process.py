"""``nubshift run`` as a process of its own."""

from __future__ import annotations

import os
import subprocess
import sys
import threading

from standins.waiting import PATIENCE, wait_until


class RunnerProcess:
    """It, and what it said."""

    def __init__(self, *words: str, **environment: str) -> None:
        self.process = subprocess.Popen(
            [sys.executable, "-m", "nubshift", "run", *words],
            stderr=subprocess.PIPE,
            text=True,
            env=os.environ | environment,
        )
        self.said: list[str] = []
        self._reader = threading.Thread(target=self._read, daemon=True)
        self._reader.start()

    def _read(self) -> None:
        assert self.process.stderr is not None
        with self.process.stderr as lines:
            for line in lines:
                self.said.append(line.rstrip())

    def wait_said(self, words: str) -> None:
        wait_until(lambda: any(words in line for line in self.said), f"the runner says {words!r} (said: {self.said})")

    def wait_end(self) -> int:
        """Its exit code, once it has ended by itself."""
        code = self.process.wait(PATIENCE)
        self._reader.join(PATIENCE)
        return code

    def close(self) -> int:
        if self.process.poll() is None:
            self.process.terminate()
        return self.wait_end()
