"""The menu under the controller's name: which one is in use in each seat, and how keys are sent."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QMenu, QWidget

from nubshift.app.client.link import Link
from nubshift.app.client.mirror import FIRST
from nubshift.app.document.studio import Studio
from nubshift.app.shell.actions import ActionTable
from nubshift.app.shell.top import SINK_WORDS
from nubshift.model.controller_info import ControllerInfo
from nubshift.protocol.messages import Choose, Status
from nubshift.texts import _


class ControllerMenu:
    """Makes and shows it."""

    def __init__(
        self, studio: Studio, link: Link, actions: ActionTable, called: Callable[[ControllerInfo], str], parent: QWidget
    ) -> None:
        self._studio, self._link, self._actions, self._parent = studio, link, actions, parent
        self._called = called

    def show(self, at: QPoint) -> None:
        """Show it there."""
        self.menu().popup(at)

    def menu(self) -> QMenu:
        """The way of sending, the controllers of each seat, and what else concerns them."""
        menu = QMenu(self._parent)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        status = self._link.status
        if status is not None:
            why = menu.addAction(f"{SINK_WORDS.get(status.sink, status.sink)}: {status.reason}")
            if why is not None:
                why.setEnabled(False)
            menu.addSeparator()
            self._put(menu, status, FIRST, status.controller)
            for number, seat in enumerate(self._studio.profile.seats[1:], 2):
                inner = QMenu(
                    _("For {player}").format(player=seat.name or _("player {number}").format(number=number)), menu
                )
                self._put(inner, status, seat.id, status.seats.get(seat.id, ""))
                menu.addMenu(inner)
        menu.addSeparator()
        for action in self._actions.menu(["play", "touch"], menu).actions():
            menu.addAction(action)
        return menu

    def _put(self, menu: QMenu, status: Status, seat: str, present: str) -> None:
        """What could be in a seat, and for further seats nothing."""
        for controller in status.controllers:
            text = (_("{name} (simulated)") if controller.simulated else "{name}").format(name=self._called(controller))
            action = menu.addAction(f"{text}: {controller.trouble}" if controller.trouble else text)
            if action is not None:
                action.setCheckable(True)
                action.setChecked(controller.id == present)
                action.setEnabled(not controller.trouble)
                action.triggered.connect(lambda _=False, chosen=controller.id: self._link.send(Choose(chosen, seat)))
        none = menu.addAction(_("Unassigned")) if seat != FIRST else None
        if none is not None:
            none.triggered.connect(lambda _=False: self._link.send(Choose("", seat)))
