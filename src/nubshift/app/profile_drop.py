"""Profiles dragged onto the window from elsewhere."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QEvent, QMimeData, QObject
from PyQt6.QtGui import QDropEvent
from PyQt6.QtWidgets import QWidget


class ProfileDrop(QObject):
    """Lets profiles be dropped anywhere on a window; `bring_in` gets the first of those that were."""

    def __init__(self, window: QWidget, bring_in: Callable[[Path], None]) -> None:
        super().__init__(window)
        self._bring_in = bring_in
        window.setAcceptDrops(True)
        window.installEventFilter(self)

    def eventFilter(self, _: QObject | None, event: QEvent | None) -> bool:
        """What is dragged and dropped, before the window sees it."""
        if not isinstance(event, QDropEvent):  # which what is dragged is, too
            return False
        paths = _profiles(event.mimeData())
        if not paths:
            return False
        event.acceptProposedAction()
        if event.type() == QEvent.Type.Drop:
            self._bring_in(paths[0])
        return True


def _profiles(mime: QMimeData | None) -> list[Path]:
    """The files that may be profiles among what is dragged."""
    urls = mime.urls() if mime is not None and mime.hasUrls() else []
    return [path for url in urls if url.isLocalFile() and (path := Path(url.toLocalFile())).suffix == ".json"]
