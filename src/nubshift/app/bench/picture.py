"""What the strip of a belt and the timeline of a macro share: parts of the profile that no control owns."""

from __future__ import annotations

from PyQt6.QtCore import QPointF
from PyQt6.QtWidgets import QApplication

from nubshift.app.document.subject import Subject
from nubshift.app.editors.pictures.picture import PartPicture
from nubshift.app.stage import Stage
from nubshift.model.slots import index_of


class BenchPicture(PartPicture):
    """A picture whose parts stand in a row, and are put in another order by dragging them."""

    def __init__(self, stage: Stage, subject: Subject) -> None:
        self._pressed: tuple[int, QPointF] | None = None
        super().__init__(stage, subject.owner, "")

    @property
    def at(self) -> int:
        """The number of the part chosen."""
        return max(0, index_of(self.current))

    def choose(self, part: str) -> None:
        """Select a part; the belt or macro stays what is looked at."""
        studio = self.stage.studio
        if studio.selection.part != part:
            studio.assigning.disarm()
            studio.selection.part = part
            studio.selection.changed.emit()
        self.refresh()

    def shift(self, at: int, to: int) -> None:
        """Put a part in another place."""

    def drag_to(self, position: QPointF) -> None:
        """Follow a drag that began on a part: it takes the place of the one under the mouse."""
        if self._pressed is None:
            return
        index, start = self._pressed
        to = index_of(self.part_at(position))
        far = (position - start).manhattanLength() > QApplication.startDragDistance()
        if far and to >= 0 and to != index:
            self.shift(index, to)
            self._pressed = (to, position)
