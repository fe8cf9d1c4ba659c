"""A part of a page that scrolls up and down where there is no more room."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QFrame, QScrollArea, QWidget


class _Scrolled(QScrollArea):
    """As high inside as its sentences need at the width that there is.

    Qt takes the height that they would need at the least width they could have, which is empty ground to scroll over.
    """

    def _fit(self) -> None:
        inside, viewport = self.widget(), self.viewport()
        if inside is not None and viewport is not None and inside.hasHeightForWidth():
            width = max(viewport.width(), inside.minimumSizeHint().width())
            height = inside.heightForWidth(width)
            if height != inside.minimumHeight():
                inside.setMinimumHeight(height)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """At another width it has another height."""
        self._fit()
        super().resizeEvent(event)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Something inside has changed its size."""
        if event is not None and event.type() == QEvent.Type.LayoutRequest and watched is self.widget():
            self._fit()
        return super().eventFilter(watched, event)


def scrolled(inside: QWidget) -> QScrollArea:
    """A frameless area with a widget that is as wide as it. The keyboard goes to what is inside."""
    area = _Scrolled()
    area.setFrameShape(QFrame.Shape.NoFrame)
    area.setWidgetResizable(True)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    area.setWidget(inside)
    return area
