"""What goes on around play, looked at beside it."""

from __future__ import annotations

import os
import select
import time
from typing import TYPE_CHECKING

from nubshift.runner.aside import Aside
from nubshift.runner.stop_key import StopKey
from nubshift.surroundings.look import LookAround
from nubshift.surroundings.port import Surroundings
from nubshift.surroundings.process_events import ProcessEvents
from nubshift.surroundings.windows import find_windows

if TYPE_CHECKING:
    from nubshift.surroundings.game_mode import GameMode

EVERY = 1.0
"""Seconds between two looks at what runs, where no word comes of programs that start."""
HEARING = 10.0
"""The same where word comes of them: only in case some of it was lost."""
LEAST = 0.6
"""Seconds between two looks because of programs that began or ended: many do, where something is built."""
AGAIN = 2.0
"""Seconds between two tries to find one who tells of windows: a session may begin after this, or begin anew."""
SETTLE = 0.01
"""Seconds in which several changes count as one."""


class Observing(Aside):
    """Tells of programs and windows, and of the stop key."""

    def __init__(self) -> None:
        super().__init__("observing")
        self._newest: Surroundings | None = None
        self._marks: frozenset[str] = frozenset()
        self._head = 0
        self._stop_key: tuple[str, ...] = ()
        self._keyboards = False
        self._heard_by = ""
        self._stopped = False
        self._trouble = ""
        self._try_windows = 0.0

    def take(self) -> Surroundings | None:
        """What is seen now, if it is new since this was asked last."""
        with self._lock:
            self._hush()
            newest, self._newest = self._newest, None
        return newest

    def take_stop(self) -> bool:
        """Whether the stop key was pressed since this was asked last."""
        with self._lock:
            stopped, self._stopped = self._stopped, False
        return stopped

    def take_trouble(self) -> str:
        """Why the stop key can't be heard, in sentences, if that is new since this was asked last."""
        with self._lock:
            trouble, self._trouble = self._trouble, ""
        return trouble

    @property
    def heard_by(self) -> str:
        """How the stop key is heard, as a sentence; empty while it is not."""
        with self._lock:
            return self._heard_by

    def want(self, marks: frozenset[str], head: int, stop_key: tuple[str, ...], keyboards: bool) -> None:
        """See these variables of environments, and what descends from the process `head` (0: none); hear this key, also
        by reading `keyboards`."""
        fresh = marks, head, stop_key, keyboards
        with self._lock:
            if fresh == (self._marks, self._head, self._stop_key, self._keyboards):
                return
            self._marks, self._head, self._stop_key, self._keyboards = fresh
        self._rouse()

    # In the thread

    def _run(self) -> None:
        around, key = LookAround(find_windows, _events()), StopKey()
        games = _games()
        if games is not None:
            around.hear_games(games)
        before: Surroundings | None = None
        try:
            while not self._over:
                with self._lock:
                    around.want(self._marks, self._head)
                    wanted = self._stop_key, self._keyboards
                self._follow_key(key, *wanted)
                self._windows_came(around)
                present = around.look()
                if present != before:
                    before = present
                    self._say(present)
                self._wait(around, key)
        finally:
            around.close()
            key.close()

    def _follow_key(self, key: StopKey, wanted: tuple[str, ...], keyboards: bool) -> None:
        failed = key.want(wanted, keyboards)
        with self._lock:
            if not failed and key.by == self._heard_by:
                return
            self._trouble = key.trouble if failed else self._trouble
            self._heard_by = key.by
        self._rouse_loop()

    def _say(self, present: Surroundings) -> None:
        with self._lock:
            self._newest = present
        self._rouse_loop()

    def _wait(self, around: LookAround, key: StopKey) -> None:
        """Until something is worth a look: a window at once, programs not more often than `LEAST` apart."""
        looked = time.monotonic()
        due = looked + (HEARING if around.hears_starts and not key.still_tries else EVERY)
        while not self._over and (left := due - time.monotonic()) > 0:
            match around.heard():  # first, since words may have come with the answers to questions
                case "windows":
                    time.sleep(SETTLE)
                    around.heard()
                    return
                case "programs":
                    due = min(due, looked + LEAST)
                    left = max(0.0, due - time.monotonic())
            if key.pressed():
                with self._lock:
                    self._stopped = True
                self._rouse_loop()
            watched = (self._awake, *around.filenos(), *key.filenos())
            ready, _unused, _unused = select.select(watched, (), (), min(left, AGAIN) if around.lacks_windows else left)
            if self._awake in ready:
                self._woken()
                return
            if self._windows_came(around):
                return

    def _windows_came(self, around: LookAround) -> bool:
        """Whether there is one by now who tells of windows, and was not before."""
        now = time.monotonic()
        if not around.lacks_windows or now < self._try_windows:
            return False
        self._try_windows = now + AGAIN
        return around.find_windows()


def _games() -> GameMode | None:
    if not os.environ.get("DBUS_SESSION_BUS_ADDRESS"):
        return None
    from nubshift.surroundings.game_mode import GameMode

    try:
        return GameMode()
    except OSError:
        return None


def _events() -> ProcessEvents | None:
    try:
        return ProcessEvents()
    except OSError:
        return None
