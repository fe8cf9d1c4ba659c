"""Finding anything, and what a slot shall send: the finder and the drawn keyboard over the window."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, QPoint
from PyQt6.QtWidgets import QWidget

from nubshift.app.document.assigning import Armed
from nubshift.app.map.workspace import MapWorkspace
from nubshift.app.painting.theme import Look
from nubshift.app.shell.actions import ActionTable
from nubshift.app.shell.finder import Finder
from nubshift.app.shell.key_picker import KeyboardPicker
from nubshift.app.shell.search import everything, sendable
from nubshift.app.stage import Stage
from nubshift.texts import _


class Searching(QObject):
    """`actions` gives the table of actions, which is made after this."""

    def __init__(
        self, stage: Stage, look: Look, map_: MapWorkspace, actions: Callable[[], ActionTable], parent: QWidget
    ) -> None:
        super().__init__(parent)
        self._stage, self._map, self._actions = stage, map_, actions
        self.finder = Finder(parent)
        self.keyboard = KeyboardPicker(look, stage.label_of, parent)
        stage.wishes.find.connect(self.for_slot)
        stage.wishes.keyboard.connect(self.pick_for_slot)

    def anything(self) -> None:
        """The finder over everything."""
        stage = self._stage
        stage.studio.assigning.disarm()
        hits = everything(
            stage.studio, stage.label_of, self._go_to, self._map.keys.choose, self._actions(), stage.grasp.controls
        )
        self.finder.ask(hits, _("Control, command, key, layer or action"))

    def for_slot(self, armed: Armed) -> None:
        """The finder for what a slot shall send. It stays meant for that slot however long it takes."""
        stage = self._stage
        stage.studio.assigning.disarm()
        hits = sendable(stage.studio, stage.label_of, stage.grasp.controls, armed)
        self.finder.ask(hits, _("Command, key or other output"))

    def pick_for_slot(self, armed: Armed, below: QPoint) -> None:
        """The drawn keyboard for what a slot shall send."""
        assigning = self._stage.studio.assigning
        assigning.disarm()
        self.keyboard.ask(lambda key: assigning.fill(armed, assigning.send_for_key(key)), below)

    def _go_to(self, control: str) -> None:
        self._stage.studio.selection.select(control)
        if self._map.isVisible():
            self._map.hands.focus(control)
