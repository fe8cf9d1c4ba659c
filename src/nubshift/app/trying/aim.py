"""Where the view looks, from the mouse counts that are sent: degrees by the turn gauge, in the runner's own time."""

from __future__ import annotations

from collections import Counter

from PyQt6.QtCore import QObject, pyqtSignal

from nubshift.app.stage import Stage
from nubshift.protocol.messages import Frame


class Aim(QObject):
    """`x` and `y` are degrees right and down of where it began; `moved` comes with each frame in which it turned."""

    moved = pyqtSignal()

    def __init__(self, stage: Stage, parent: QObject) -> None:
        super().__init__(parent)
        self._stage = stage
        self.x = self.y = 0.0
        self.t = 0
        self.course: list[tuple[int, float, float]] = []
        self.by: Counter[str] = Counter()
        stage.live.framed.connect(self._take)

    def begin(self) -> None:
        """From here."""
        self.x = self.y = 0.0
        self.course.clear()
        self.by.clear()

    @property
    def counts_per_degree(self) -> float:
        """The turn gauge of the layers that are active now."""
        profile = self._stage.studio.profile
        for name in reversed(self._stage.live.layers):
            layer = profile.layer(name)
            if layer is not None and layer.counts_per_turn is not None:
                return layer.counts_per_turn / 360.0
        return profile.game.counts_per_turn / 360.0

    def _take(self, frame: Frame) -> None:
        self.t = frame.t
        if not frame.moves:
            return
        scale = self.counts_per_degree
        for t, dx, dy in frame.moves:
            self.x += dx / scale
            self.y += dy / scale
            self.course.append((t, self.x, self.y))
        for control in frame.moved_by:
            self.by[control] += abs(frame.dx) + abs(frame.dy)
        self.moved.emit()

    @property
    def mover(self) -> str:
        """The control that moved it most; empty for none."""
        return self.by.most_common(1)[0][0] if self.by else ""
