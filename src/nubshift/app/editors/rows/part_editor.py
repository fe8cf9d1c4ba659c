"""The editor of one slot: its rows, the ways to fill it, and what can be set of the row chosen."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QMenu, QPushButton, QVBoxLayout, QWidget

from nubshift.app.document.assigning import Armed
from nubshift.app.document.output_choices import OutputChoice, choose_output, output_choices
from nubshift.app.editors.panel import FlowLayout
from nubshift.app.editors.rows.entry_editor import EntryEditor
from nubshift.app.editors.rows.slot_view import SlotView
from nubshift.app.stage import Stage
from nubshift.model.slots import Slot
from nubshift.texts import _

SINGLE_GROUPS = (_("Text"), _("Nothing"))
"""Groups with one entry, which needs no menu of its own."""


class PartEditor(QWidget):
    """Rows, pickers and details of a slot."""

    def __init__(self, stage: Stage) -> None:
        super().__init__()
        self._stage = stage
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.view = SlotView(stage)
        self.by_name = self._button(_("Search…"), _("Search for a command, a key or any other output"), self._find)
        self.drawn = self._button(_("Pick a key…"), _("Pick the key on a keyboard"), self._draw)
        self.more = self._button(_("Other output…"), _("A layer, belt, macro, the wheel, text and more"), self._offer)
        pickers = QWidget()
        row = FlowLayout(6)
        pickers.setLayout(row)
        for button in (self.by_name, self.drawn, self.more):
            row.addWidget(button)
        self.details = EntryEditor(stage, self.view)
        for widget in (self.view, pickers, self.details):
            column.addWidget(widget)

    def _button(self, text: str, tip: str, run: Callable[[], None]) -> QPushButton:
        button = QPushButton(text)
        button.setToolTip(tip)
        button.clicked.connect(run)
        return button

    def show_slot(self, slot: Slot) -> None:
        """Edit this slot, as it is now."""
        self.view.show_slot(slot)
        self.details.refresh()

    def _armed(self) -> Armed:
        """The slot that waits, or else the entry chosen in this one: every way of choosing takes its place."""
        armed = self._stage.assigning.armed
        if armed is not None and armed.slot == self.view.slot:
            self._stage.assigning.disarm()
            return armed
        row = self.view.row
        return Armed(self.view.slot, row if row < len(self.view.entries.rows) else None)

    def _find(self) -> None:
        self._stage.wishes.find.emit(self._armed())

    def _draw(self) -> None:
        at = self.drawn.mapToGlobal(self.drawn.rect().bottomRight())
        self._stage.wishes.keyboard.emit(self._armed(), at)

    def _offer(self) -> None:
        armed = self._armed()
        menu = output_menu(self._stage, armed, self)
        menu.popup(self.more.mapToGlobal(QPoint(0, self.more.height())))


def output_menu(stage: Stage, armed: Armed, parent: QWidget) -> QMenu:
    """A menu of all that can be sent beside keys and commands."""
    menu = QMenu(parent)
    menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    groups: dict[str, QMenu] = {}
    for offer in output_choices(stage.studio, armed.slot.control, stage.grasp.controls):
        if offer.group in SINGLE_GROUPS:
            _put(menu, stage, armed, offer)
            continue
        if offer.group not in groups:
            groups[offer.group] = QMenu(offer.group, menu)
            menu.addMenu(groups[offer.group])
        _put(groups[offer.group], stage, armed, offer)
    return menu


def _put(menu: QMenu, stage: Stage, armed: Armed, offer: OutputChoice) -> None:
    action = menu.addAction(offer.name)
    if action is not None:
        action.triggered.connect(lambda _=False: choose_output(stage.studio, armed, offer))
