"""What of the open profile is looked at: layer, seat, controls, or something else of it."""

from __future__ import annotations

from collections.abc import Iterable

from PyQt6.QtCore import QObject, pyqtSignal

from nubshift.app.document.open_document import OpenDocument
from nubshift.app.document.subject import CONTROL, Subject
from nubshift.model.names import Names
from nubshift.model.part import DIRECTIONS, Direction
from nubshift.model.profile import BASE
from nubshift.model.roles import KeysRole
from nubshift.model.slots import TOGETHER, Slot, side
from nubshift.model.usage import whole_of


def direction_of(button: str) -> Direction:
    """The direction of a button of the d-pad."""
    return next(way for way in DIRECTIONS if button == f"dpad_{way}")


class Selection(QObject):
    """What is edited next, and what the controls are called.

    `subject` is what the inspector shows. `control` may be several joined with ``+``, pressed together. `part` is
    the part of it that is edited, empty for the one that comes first. `chosen` are all tiles selected, the control
    among them.
    """

    changed = pyqtSignal()
    layer_changed = pyqtSignal()
    seat_changed = pyqtSignal()
    names_changed = pyqtSignal()

    def __init__(self, document: OpenDocument) -> None:
        super().__init__(document)
        self._document = document
        self.layer = BASE
        self.seat = document.profile.seats[0].id
        self.control = "south"
        self.part = ""
        self.chosen: tuple[str, ...] = ("south",)
        self.subject = CONTROL
        self.names = Names()
        document.opened.connect(self._opened)
        document.edited.connect(self._edited)

    def _opened(self) -> None:
        """Another profile: its base, with the control selected that was."""
        self.layer, self.part, self.subject = BASE, "", CONTROL
        self.seat = self._document.profile.seats[0].id
        self.control = self.control.partition(TOGETHER)[0]
        self.chosen = (self.control,)

    def _edited(self) -> None:
        """What is gone from the profile is looked at no longer."""
        profile = self._document.profile
        if profile.layer(self.layer) is None:
            self.show_layer(BASE)
        if not self.subject.is_there(profile):
            self.look_at(CONTROL)
        if all(seat.id != self.seat for seat in profile.seats):
            self.show_seat(profile.seats[0].id)

    def select(self, control: str, part: str = "") -> None:
        """Select a control, or one part of it."""
        wanted = (control, part, tuple(control.split(TOGETHER)), CONTROL)
        if wanted != (self.control, self.part, self.chosen, self.subject):
            self.control, self.part, self.chosen, self.subject = wanted
            self.changed.emit()

    def select_all(self, controls: Iterable[str]) -> None:
        """Select several controls; the last one is the one that has the keyboard."""
        chosen = tuple(dict.fromkeys(controls))
        if chosen and chosen != self.chosen:
            self.chosen, self.control, self.part, self.subject = chosen, chosen[-1], "", CONTROL
            self.changed.emit()

    def look_at(self, subject: Subject) -> None:
        """Show a layer, command, belt or macro in place of the control."""
        if subject != self.subject:
            self.subject, self.part = subject, ""
            self.changed.emit()

    def show_layer(self, layer: str) -> None:
        """Edit this layer from now on."""
        if layer != self.layer:
            self.layer = layer
            self.layer_changed.emit()

    def show_seat(self, seat: str) -> None:
        """Edit what the controller in this seat does from now on."""
        if seat != self.seat:
            self.seat = seat
            self.seat_changed.emit()

    def call_controls(self, names: Names) -> None:
        """The controls are called so from now on: by the print of the controller in use."""
        if names.words != self.names.words:
            self.names = names
            self.names_changed.emit()

    def slot(self, control: str | None = None, part: str = "") -> Slot:
        """A slot of a control (the selected one by default) in the layer and seat shown.

        That of a button of a d-pad used as keys is the whole's, in its direction.
        """
        name = control or self.control
        whole = whole_of(self._document.profile, self.layer, name, self.seat) if part in ("", "press") else None
        if whole is not None and isinstance(whole.binding.role, KeysRole):
            return Slot(self.layer, "dpad", side(direction_of(name)), self.seat)
        return Slot(self.layer, name, part or "press", self.seat)
