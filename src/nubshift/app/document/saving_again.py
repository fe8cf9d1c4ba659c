"""Writing one of the player's files until it is written: a full disk or a read-only home loses nothing meanwhile."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject

from nubshift.app.painting.timing import once
from nubshift.errors import StorageError

AGAIN_MS = 10_000


class SavingAgain:
    """`write` writes what holds now and may raise StorageError; `tell` (severity, sentence) hears of a failure once."""

    def __init__(self, parent: QObject, write: Callable[[], object], tell: Callable[[str, str], object]) -> None:
        self._write, self._tell = write, tell
        self._trouble = ""
        self._again = once(parent, AGAIN_MS, self.save)

    @property
    def pending(self) -> bool:
        """Whether something is not written yet."""
        return bool(self._trouble)

    def save(self) -> bool:
        """Write it, now and if need be again later; whether it is written."""
        try:
            self._write()
        except StorageError as error:
            if str(error) != self._trouble:
                self._trouble = str(error)
                self._tell("error", f"{error}.")
            self._again.start()
            return False
        self._trouble = ""
        self._again.stop()
        return True
