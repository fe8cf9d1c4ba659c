"""The plane of a stick with its rings and edges to take hold of, by mouse and by keyboard (N40)."""

from __future__ import annotations

from math import hypot

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent

from nubshift.app.tune.plane import HANDLE, PlanePainting
from nubshift.app.tune.rings import Ring, diagonal_at, edge_near, kept_in
from nubshift.app.tune.tuner import Tuner
from nubshift.feel.response import number
from nubshift.model import parameters as p

GRAB = 8.0


class StickPlane(PlanePainting):
    """The plane. A drag beside every handle moves the simulated pad, if that is the controller in use."""

    def __init__(self, tuner: Tuner) -> None:
        super().__init__(tuner)
        self._steering = False
        self.setMouseTracking(True)

    def _grab_at(self, at: QPointF) -> Ring | int | None:
        """The ring or the sector whose edge is near."""
        x, y = self.value_at(at)
        rings = self.rings
        best = min(rings, key=lambda ring: hypot(*_way(at, self.handle(ring))), default=None)
        if best is not None and hypot(*_way(at, self.handle(best))) <= HANDLE + 4:
            return best
        if self._has_edges:
            near = next((sector for sector, place in self.edge_handles() if hypot(*_way(at, place)) <= GRAB), None)
            if near is not None:
                return near
        nearest = min(rings, key=lambda ring: abs(hypot(x, y) - ring.radius), default=None)
        if nearest is not None and abs(hypot(x, y) - nearest.radius) * self.radius <= GRAB * 0.7:
            return nearest
        inner = next((ring.radius for ring in rings if ring.field == "key_radius"), 0.0)
        if self._has_edges and inner < hypot(x, y) <= 1.03:
            found = edge_near(x, y, number(self._tuner.feel.diagonal), GRAB * 0.7 / self.radius)
            return found[0] if found is not None else None
        return None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take a handle; beside all of them, take the simulated stick."""
        if event is None or event.button() != Qt.MouseButton.LeftButton:
            return
        self._grabbed = self._grab_at(event.position())
        if isinstance(self._grabbed, Ring):
            self._chosen = next(i for i, ring in enumerate(self.rings) if ring.field == self._grabbed.field)
            self.refresh()
        elif self._grabbed is None:
            self._steering = True
            self._steer(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Drag it."""
        if event is None:
            return
        if self._steering:
            self._steer(event)
        elif self._grabbed is None:
            near = self._grab_at(event.position()) is not None
            self.setCursor(Qt.CursorShape.PointingHandCursor if near else Qt.CursorShape.ArrowCursor)
        elif isinstance(self._grabbed, Ring):
            self.move_ring(self._grabbed, hypot(*self.value_at(event.position())))
        else:
            width = diagonal_at(*self.value_at(event.position()), self._grabbed)
            self._tuner.set_feel(f"Diagonals {p.DIAGONAL.text(width)}", "diagonal", diagonal=width)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Let go of it; a drag is one step of undo."""
        if self._steering:
            self._steering = False
            studio = self._tuner.stage.studio
            self._tuner.stage.steering.put(self._tuner.control, 0.0, 0.0, studio.selection.seat)
        elif self._grabbed is not None:
            self._grabbed = None
            self._tuner.stage.document.history.settle()
            self.refresh()

    def _steer(self, event: QMouseEvent) -> None:
        x, y = self.value_at(event.position())
        self._tuner.stage.steering.put(self._tuner.control, x, y, self._tuner.stage.selection.seat)

    def move_ring(self, ring: Ring, radius: float) -> None:
        """Give a ring another radius, as far as it goes."""
        tuner = self._tuner
        kept = kept_in(ring, radius, tuner.feel, tuner.binding)
        title = f"{ring.word.capitalize()} {ring.parameter.text(kept)}"
        if ring.field.startswith("band:"):
            tuner.set_band(title, int(ring.field.removeprefix("band:")), kept)
        else:
            tuner.set_feel(title, ring.field, **{ring.field: kept})
        self._grabbed = next((r for r in self.rings if r.field == ring.field), None) if self._grabbed else None

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up and down choose a ring, left and right move it by half a hundredth."""
        rings = self.rings
        if event is None or not rings:
            return
        self._chosen = min(self._chosen, len(rings) - 1)
        match event.key():
            case Qt.Key.Key_Up | Qt.Key.Key_Down:
                step = 1 if event.key() == Qt.Key.Key_Up else -1
                self._chosen = (self._chosen + step) % len(rings)
                self.refresh()
            case Qt.Key.Key_Left | Qt.Key.Key_Right:
                ring = rings[self._chosen]
                self.move_ring(ring, ring.radius + (0.005 if event.key() == Qt.Key.Key_Right else -0.005))
                self._tuner.stage.document.history.settle()
            case _:
                super().keyPressEvent(event)


def _way(one: QPointF, other: QPointF) -> tuple[float, float]:
    return one.x() - other.x(), one.y() - other.y()
