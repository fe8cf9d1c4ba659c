"""The workspace Map: where a profile is made. Key list, hands or bench, and inspector, joined through the studio."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent, QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from nubshift.app.bench.bench import Bench
from nubshift.app.map.edit_commands import EditCommands
from nubshift.app.map.hands import Hands
from nubshift.app.map.inspector import Inspector
from nubshift.app.map.key_list import KeyList
from nubshift.app.map.menus import Menus
from nubshift.app.map.rail import Rail
from nubshift.app.map.touching import Touching
from nubshift.app.shell.recording import Recording
from nubshift.app.stage import Stage
from nubshift.app.widgets.scrolling import scrolled
from nubshift.app.widgets.side_width import fit_sides

KEYS_WIDTH, INSPECTOR_WIDTH = (0.17, 232, 300), (0.22, 304, 400)


class MapWorkspace(QWidget):
    """Map. `touch_selects` is the switch that decides whether touching the controller selects its controls."""

    def __init__(self, stage: Stage, recording: Recording, run: Callable[[str], None]) -> None:
        super().__init__()
        self._stage = stage
        self.touch_selects = True
        self.keys = KeyList(stage)
        self.rail = Rail(stage.studio, stage.live, stage.look)
        self.hands = Hands(stage)
        self.bench = Bench(stage, recording)
        self.bench.left.connect(self.back_to_hands)
        self._pages = QStackedWidget()
        self._area = scrolled(self.hands)  # only where hands have more places than there is room for
        self._area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
        self._pages.addWidget(self._area)
        self._pages.addWidget(self.bench)
        self.inspector = Inspector(stage, run)
        self.edit_commands = EditCommands(stage.studio)
        self.menus = Menus(stage, self.hands, self.edit_commands, self)
        middle = QVBoxLayout()
        middle.setContentsMargins(10, 0, 10, 8)
        middle.setSpacing(2)
        layers = QHBoxLayout()
        layers.addWidget(self.rail, 1)
        layers.addWidget(self.rail.players)
        layers.addWidget(self.rail.add)
        middle.addLayout(layers)
        middle.addWidget(self._pages, 1)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self.keys)
        row.addLayout(middle, 1)
        row.addWidget(self.inspector)
        self.rail.add_wanted.connect(self.menus.add_layer)
        self.rail.menu_wanted.connect(self.menus.layer)
        self.hands.menu_wanted.connect(self.menus.control)
        self.keys.menu_wanted.connect(self.menus.row)
        self.touching = Touching(stage, self.hands, lambda: self.touch_selects and self.isVisible(), self)
        for signal in (stage.selection.changed, stage.document.opened):
            signal.connect(self._show_page)
        stage.document.edited.connect(lambda changes: self._show_page() if changes.rest else None)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The sides take their part of a wide window."""
        fit_sides(self.width(), (self.keys, KEYS_WIDTH), (self.inspector, INSPECTOR_WIDTH))

    def _show_page(self) -> None:
        """The bench while a belt or a macro is looked at, else the hands."""
        tile = self.hands.tiles.get(self._stage.selection.control)
        if tile is not None:
            self._area.ensureWidgetVisible(tile, 0, 12)
        before = self._pages.currentWidget()
        self._pages.setCurrentWidget(self.bench if self.bench.wanted else self._area)
        if before is self._area and self.bench.page is not None:
            self.bench.page.picture.setFocus()

    def back_to_hands(self) -> None:
        """Leave the bench."""
        studio = self._stage.studio
        studio.selection.select(studio.selection.control)
        self._show_page()
        self.hands.focus(studio.selection.control)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Escape leaves the bench."""
        if event is not None and event.key() == Qt.Key.Key_Escape and self.bench.wanted:
            self.back_to_hands()
        elif event is not None:
            super().keyPressEvent(event)
