"""How wide the sides of a workspace are: a part of a wide window, and more of it with larger text."""

from __future__ import annotations

from typing import TypeAlias

from PyQt6.QtWidgets import QWidget

from nubshift.app.painting.canvas import line_height

PLAIN_LINE = 18.0
"""Height of a line at the usual size of text; the widths below are meant for that."""

Width: TypeAlias = tuple[float, int, int]
"""Share of the window, least and most, in pixels."""


def fit_sides(window: int, *sides: tuple[QWidget, Width]) -> None:
    """Give each side its width in a window so wide."""
    text = max(1.0, line_height() / PLAIN_LINE)
    for side, (share, least, most) in sides:
        side.setFixedWidth(round(min(most, max(least, share * window)) * text))
