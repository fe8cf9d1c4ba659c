"""Where a picture over the game stands. It takes neither the focus nor any click."""

from __future__ import annotations

from collections.abc import Callable
from typing import Protocol

from PyQt6.QtCore import QSizeF
from PyQt6.QtGui import QPainter, QPainterPath

Draw = Callable[[QPainter], None]


class Pane(Protocol):
    """Covers the screen while it is up. Only what lies within the outline is seen."""

    @property
    def is_up(self) -> bool:
        """Whether it is on the screen."""

    @property
    def extent(self) -> QSizeF:
        """The size of the screen that it covers, known while it is up."""

    def up(self) -> None:
        """Put it on the screen."""

    def shape(self, outline: QPainterPath) -> None:
        """Where anything is drawn from now on."""

    def describe(self, text: str) -> None:
        """What it shows, for screen readers."""

    def paint_soon(self) -> None:
        """What is drawn is another picture now."""

    def down(self) -> None:
        """Take it off the screen."""

    def end(self) -> None:
        """Away with it, for good."""
