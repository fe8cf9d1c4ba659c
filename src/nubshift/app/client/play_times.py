"""Counts how long profiles are played, from what the runner says of itself."""

from __future__ import annotations

import time
from datetime import UTC, datetime
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from nubshift.app.client.link import Link
from nubshift.app.painting.timing import every
from nubshift.errors import StorageError
from nubshift.model.play_times import PlayTimes, read_play_times, write_play_times
from nubshift.protocol.messages import Status

SAVE_MS = 60_000


class PlayClock(QObject):
    """`times` are those of all profiles, up to the last time they were saved. Output that is withheld is no play."""

    changed = pyqtSignal()

    def __init__(self, path: Path, link: Link) -> None:
        super().__init__(link)
        self._path = path
        self.trouble = ""
        self.times = PlayTimes()
        try:
            self.times = read_play_times(path)
        except StorageError as error:
            self.trouble = f"{error}."
        self._name: str | None = None
        self._controller = ""
        self._since = 0.0
        self._timer = every(self, SAVE_MS, self.save)
        link.status_changed.connect(self._status)
        link.lost.connect(self.stop)

    def _status(self, status: Status) -> None:
        playing = status.profile if status.live and not status.withheld else None
        info = next((info for info in status.controllers if info.id == status.controller), None)
        controller = info.name if info is not None and not info.simulated else ""
        if (playing, controller) == (self._name, self._controller):
            return
        self.save()
        self._name, self._controller, self._since = playing, controller, time.monotonic()
        if playing is not None:
            self._timer.start()
        else:
            self._timer.stop()

    def stop(self) -> None:
        """Nothing plays any more."""
        self.save()
        self._name = None
        self._timer.stop()

    def save(self) -> None:
        """Write down what was played since it was written last. What can't be written is counted on in memory."""
        now = time.monotonic()
        if self._name:
            played = now - self._since
            self._since = now
            self.times = self.times.with_time(self._name, played, datetime.now(UTC), self._controller)
            try:
                write_play_times(self._path, self.times)
                self.trouble = ""
            except StorageError as error:
                self.trouble = f"{error}."
            self.changed.emit()
