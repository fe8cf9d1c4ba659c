"""Files that may not answer for long, as those of a network, read and written while the window goes on."""

from __future__ import annotations

import threading
from collections.abc import Callable
from concurrent.futures import Future
from typing import Any, TypeVar

from PyQt6.QtCore import QObject

from nubshift.app.painting.timing import every

T = TypeVar("T")
LOOK_MS = 10
"""How often it is looked whether something is done, while something is being done."""
END_SECONDS = 0.5
"""What is being done when the window closes has so long to come to its end; files are written whole or not at all."""


class FileThread(QObject):
    """Does one thing at a time in a thread, and hands over here what came of it."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._thread: threading.Thread | None = None
        self._found: Future[Any] = Future()
        self._then: Callable[[Any], object] = print
        self._look = every(self, LOOK_MS, self._hand_over)

    @property
    def busy(self) -> bool:
        """Whether something is being done."""
        return self._thread is not None

    def run(self, do: Callable[[], T], then: Callable[[T], object]) -> None:
        """`do` in the thread, then `then` here with what it returned. What it raises is raised here. Not while busy."""
        assert not self.busy
        found: Future[T] = Future()
        self._found, self._then = found, then

        def work() -> None:
            try:
                found.set_result(do())
            except BaseException as error:
                found.set_exception(error)

        self._thread = threading.Thread(target=work, name="files", daemon=True)
        self._thread.start()
        self._look.start()

    def _hand_over(self) -> None:
        if self._found.done():
            self.close()
            self._then(self._found.result())

    def close(self) -> None:
        """Wait a little for what is being done; nothing is handed over any more."""
        self._look.stop()
        if self._thread is not None:
            self._thread.join(END_SECONDS)
            self._thread = None
