"""Recording keys for a macro: every key goes here until the recording is stopped, and nowhere else (N13)."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal

from nubshift.app.client.mirror import now_us
from nubshift.model.profile import MacroPress, MacroRelease, MacroStep, MacroTap
from nubshift.model.recording import Stroke, steps_of
from nubshift.model.sends import Send
from nubshift.model.walk import map_sends

MOST = 400
"""Strokes after which a recording ends by itself."""


class Recording(QObject):
    """Takes down which key went down and up when. `changed` says so with every stroke and at start and end."""

    changed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.on = False
        self.strokes: list[Stroke] = []

    def start(self) -> None:
        """Begin anew."""
        self.on, self.strokes = True, []
        self.changed.emit()

    def stop(self) -> None:
        """Take down no more."""
        self.on = False
        self.changed.emit()

    def take(self, key: str, down: bool, t_us: int | None = None) -> None:
        """A key went down or up, at `t_us` (now by default)."""
        self.strokes.append(((now_us() if t_us is None else t_us) // 1000, key, down))
        if len(self.strokes) >= MOST:
            self.stop()
        self.changed.emit()

    def steps(self, send_for: Callable[[str], Send]) -> tuple[MacroStep, ...]:
        """The steps recorded; keys that a command has become that command."""
        kinds = MacroPress | MacroRelease | MacroTap
        return tuple(
            map_sends(step, lambda sends: tuple(send_for(getattr(send, "key", "")) for send in sends))
            if isinstance(step, kinds)
            else step
            for step in steps_of(self.strokes)
        )
