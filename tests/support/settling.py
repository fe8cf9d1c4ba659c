"""What an event loop does between two things a person does, for tests that run no loop of their own."""

from __future__ import annotations

from PyQt6.QtCore import QEvent
from PyQt6.QtWidgets import QApplication


def settle() -> None:
    """All that waits happens, and what is to be deleted goes: `processEvents` alone keeps every panel that ever was."""
    QApplication.processEvents()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
