"""The hands as this player has them: kept in a file, told to the views when they change."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from nubshift.app.document.studio import Studio
from nubshift.app.painting.timing import once
from nubshift.errors import StorageError
from nubshift.model.controller_info import ControllerInfo
from nubshift.model.controls import CONTROLS, PAD_CONTROLS, Finger
from nubshift.model.joining import seat_of
from nubshift.model.reach import Clash, Moved, ReachFile, clashes, finger_of, read_reach, write_reach
from nubshift.model.shapes import SHAPES

LOOK_MS = 60
"""An edit is looked through for clashes this long after the last one, so that a drag is not slowed by it."""


class FingerPlacement(QObject):
    """Which finger has which control, on the controller in use, for the player in the seat shown.

    Moving a control is a named step of undo like others, although it is no part of the profile.
    """

    changed = pyqtSignal()
    clashes_changed = pyqtSignal()

    def __init__(
        self, path: Path, studio: Studio, info: Callable[[], ControllerInfo | None], parent: QObject | None = None
    ) -> None:
        super().__init__(parent)
        self._path = path
        self._studio = studio
        self._info = info
        self._clashes: tuple[Clash, ...] = ()
        self._later = once(self, LOOK_MS, self._look)
        self.trouble = ""
        try:
            self._file = read_reach(path)
        except StorageError as error:
            self._file, self.trouble = ReachFile(), str(error)
        self._look()
        studio.document.opened.connect(self._look)
        studio.selection.seat_changed.connect(self._look)
        studio.document.edited.connect(lambda changes: self._later.start() if changes.beyond_feel else None)
        self.changed.connect(self._look)

    @property
    def model(self) -> str:
        """The model of the controller in use."""
        info = self._info()
        return info.name if info is not None else ""

    @property
    def controller(self) -> str:
        """The id of the controller in use."""
        info = self._info()
        return info.id if info is not None else ""

    @property
    def controls(self) -> tuple[str, ...]:
        """The controls of the controller in use; those of a pad while there is none."""
        info = self._info()
        if info is None:
            return PAD_CONTROLS
        seat = seat_of(self._studio.profile, self._studio.selection.seat)
        joined = {join.control for join in seat.joins if {join.x, join.y} <= set(info.controls)} if seat else set()
        return tuple(name for name in CONTROLS if name in info.controls or name in joined)

    @property
    def two_sided(self) -> tuple[str, ...]:
        """The lone axes that go both ways from rest on the controller in use."""
        info = self._info()
        return info.two_sided if info is not None else ()

    @property
    def _shape(self) -> Mapping[str, Finger]:
        """Who reaches what on a controller of this shape, where not as on a pad."""
        info = self._info()
        return SHAPES[info.shape].reach if info is not None and info.shape in SHAPES else {}

    @property
    def moved(self) -> Moved:
        """The controls that are reached otherwise than on a pad."""
        return {**self._shape, **self._file.of(self._studio.selection.seat, self.model)}

    def finger(self, control: str) -> Finger:
        """What reaches a control."""
        return finger_of(control, self.moved)

    def controls_of(self, reach: Finger) -> list[str]:
        """The controls that it reaches, in the order in which they lie."""
        moved = self.moved
        return [name for name in self.controls if finger_of(name, moved) is reach]

    def give(self, control: str, reach: Finger | None) -> None:
        """Give a control to another finger, hand, mouth, breath or foot; None: where most have it."""
        file = self._file.with_moved(self._studio.selection.seat, self.model, control, reach, self._shape.get(control))
        if file == self._file:
            return
        before = self._file
        where = finger_of(control, {**self._shape, **file.of(self._studio.selection.seat, self.model)})
        title = f"{self._studio.selection.names.title(control)} to {where}"
        self._studio.document.note(title, lambda: self._put(before), lambda: self._put(file))

    def _put(self, file: ReachFile) -> None:
        try:
            write_reach(self._path, file)
        except StorageError as error:
            self._studio.document.noticed.emit("error", f"{error}.")
        self._file = file
        self.changed.emit()

    def _look(self) -> None:
        self._later.stop()
        found = clashes(
            self._studio.profile, self.moved, self.controls, self._studio.selection.seat, self._studio.selection.names
        )
        if found != self._clashes:
            self._clashes = found
            self.clashes_changed.emit()

    def clash_of(self, control: str) -> Clash | None:
        """Why one finger would need this control and another at once, if so; known a moment after an edit."""
        return next((clash for clash in self._clashes if clash.control == control), None)
