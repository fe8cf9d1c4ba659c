"""Timers in one line.

`run` is a method of what owns the timer. Qt's bindings hold methods weakly and call them no more once their object is
gone; a lambda is held, and would be called on the remains of a window that is just being taken down: that crashes.
"""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, QTimer


def once(parent: QObject, ms: int, run: Callable[[], object]) -> QTimer:
    """A timer that runs `run` once, `ms` after each start."""
    timer = every(parent, ms, run)
    timer.setSingleShot(True)
    return timer


def every(parent: QObject, ms: int, run: Callable[[], object]) -> QTimer:
    """A timer that runs `run` every `ms` while it is started."""
    timer = QTimer(parent)
    timer.setInterval(ms)
    timer.timeout.connect(run)
    return timer
