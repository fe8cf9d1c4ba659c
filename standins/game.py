"""The game: a plain program with a window that says what it receives."""

from __future__ import annotations

import json
import subprocess
import sys
import threading
from collections.abc import Callable, Mapping
from pathlib import Path
from typing import Any

from standins.waiting import wait_until

TOOLS = Path(__file__).parents[1] / "tools"


class Game:
    """The plain X client that stands for a game (tools/receiver.py)."""

    def __init__(self, *geometry: int) -> None:
        words = [str(number) for number in geometry]
        self.begin([sys.executable, str(TOOLS / "receiver.py"), *words], None, "ready")

    def begin(self, command: list[str], environment: Mapping[str, str] | None, there: str) -> None:
        """Start it, and wait until it says that it is `there`."""
        self.events: list[dict[str, Any]] = []
        self._process = subprocess.Popen(command, stdout=subprocess.PIPE, text=True, env=environment)
        self.pid = self._process.pid
        self._reader = threading.Thread(target=self._read, daemon=True)
        self._reader.start()
        self.wait(lambda: any(e["event"] == there for e in self.events), f"the game's window is {there}")

    def _read(self) -> None:
        assert self._process.stdout is not None
        with self._process.stdout as lines:
            for line in lines:
                self.events.append(json.loads(line))

    def wait(self, condition: Callable[[], Any], what: str) -> None:
        try:
            wait_until(condition, what)
        except AssertionError as error:
            raise AssertionError(f"{error}; the game received {self.words()}") from None

    def words(self) -> list[str]:
        """``+25`` a key down, ``-b1`` a button up."""
        marks = {"key down": "+", "key up": "-", "button down": "+b", "button up": "-b"}
        return [f"{marks[e['event']]}{e['code']}" for e in list(self.events) if e["event"] in marks]

    def held(self) -> set[int]:
        """Key codes that are down for the game; with the focus it loses what it held, as any program does."""
        down: set[int] = set()
        for event in list(self.events):
            match event["event"]:
                case "key down":
                    down.add(event["code"])
                case "key up":
                    down.discard(event["code"])
                case "focus out":
                    down.clear()
        return down

    def lost_focus(self) -> bool:
        """Whether another window has the focus now."""
        told = [e["event"] for e in list(self.events) if e["event"] in ("ready", "focus in", "focus out")]
        return told[-1:] == ["focus out"]

    def moved(self) -> tuple[int, int]:
        motions = [e for e in list(self.events) if e["event"] == "motion"]
        return sum(e["dx"] for e in motions), sum(e["dy"] for e in motions)

    def close(self) -> None:
        self._process.kill()
        self._process.wait()
        self._reader.join()
