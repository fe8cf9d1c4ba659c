"""What every part of a workspace needs: the open profile, the present, the look, and whom to ask for more."""

from __future__ import annotations

from collections.abc import Callable

from msgspec import field
from PyQt6.QtCore import QObject, QPoint, pyqtSignal

from nubshift.app.client.mirror import Mirror
from nubshift.app.client.steering import Steering
from nubshift.app.document.assigning import Armed, Assigning
from nubshift.app.document.open_document import OpenDocument
from nubshift.app.document.placement import FingerPlacement
from nubshift.app.document.selection import Selection
from nubshift.app.document.studio import Studio
from nubshift.app.painting.caps import Cap, CapState
from nubshift.app.painting.theme import Look
from nubshift.records import Record

COMMAND_MIME = "application/x-nubshift-command"
CONTROL_MIME = "application/x-nubshift-control"


class Wishes(QObject):
    """What a part of the window would like the window to do for a slot, or to ask the player."""

    find = pyqtSignal(Armed)
    keyboard = pyqtSignal(Armed, QPoint)
    ask = pyqtSignal(str, str, object, tuple)

    def name(self, question: str, present: str, done: Callable[[str], object], known: tuple[str, ...] = ()) -> None:
        """Ask for a few words; `done` gets them."""
        self.ask.emit(question, present, done, known)


class Stage(Record, frozen=True):
    """What every tile, list and editor needs."""

    studio: Studio
    live: Mirror
    look: Look
    steering: Steering
    label_of: Callable[[str], str]
    grasp: FingerPlacement
    wishes: Wishes = field(default_factory=Wishes)

    @property
    def document(self) -> OpenDocument:
        """The open profile: every edit of it, and its saving."""
        return self.studio.document

    @property
    def selection(self) -> Selection:
        """What of it is looked at, and edited next."""
        return self.studio.selection

    @property
    def assigning(self) -> Assigning:
        """The slot that listens."""
        return self.studio.assigning

    def caps(self, keys: tuple[str, ...], faint: bool = False) -> list[Cap]:
        """Caps for keys, in the output colour while they are down."""
        held = CapState.HELD if self.live.real else CapState.WOULD
        rest = CapState.FAINT if faint else CapState.REST
        return [(key, self.label_of(key), held if key in self.live.held else rest) for key in keys]
