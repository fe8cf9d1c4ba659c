"""Steering the simulated pad by hand: with the mouse on its round marks, or with the keyboard."""

from __future__ import annotations

from PyQt6.QtCore import QObject

from nubshift.app.client.link import Link
from nubshift.protocol.messages import Steer


class Steering(QObject):
    """Puts controls of the simulated pad somewhere, if that is the controller in use."""

    def __init__(self, link: Link, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._link = link

    def possible_in(self, seat: str) -> bool:
        """Whether the controller in a seat is simulated."""
        status = self._link.status
        if status is None:
            return False
        return (status.controller if seat == "1" else status.seats.get(seat, "")).startswith("sim:")

    def put(self, control: str, x: float, y: float = 0.0, seat: str = "1") -> None:
        """Put a control of the pad in a seat there; a stick's position is kept within its reach."""
        if self.possible_in(seat):
            length = (x * x + y * y) ** 0.5
            if length > 1:
                x, y = x / length, y / length
            self._link.send(Steer(control, x, y, seat))
