"""A picture over the game in a window of X."""

from __future__ import annotations

from PyQt6.QtCore import QSizeF, Qt
from PyQt6.QtGui import QGuiApplication, QPainter, QPainterPath, QPaintEvent, QRegion
from PyQt6.QtWidgets import QWidget

from nubshift.app.overlay.pane import Draw


class WindowPane(QWidget):
    """A frameless window of X that the window manager leaves alone."""

    def __init__(self, title: str, draw: Draw) -> None:
        super().__init__(None)
        self._draw = draw
        flags = Qt.WindowType
        self.setWindowFlags(
            flags.FramelessWindowHint
            | flags.WindowStaysOnTopHint
            | flags.Tool
            | flags.WindowDoesNotAcceptFocus
            | flags.WindowTransparentForInput
            | flags.X11BypassWindowManagerHint
        )
        self.setAttribute(Qt.WidgetAttribute.WA_TranslucentBackground)
        self.setAttribute(Qt.WidgetAttribute.WA_ShowWithoutActivating)
        self.setAttribute(Qt.WidgetAttribute.WA_QuitOnClose, False)
        self.setAccessibleName(title)
        self.setWindowTitle(title)

    @property
    def is_up(self) -> bool:
        """Whether it is on the screen."""
        return self.isVisible()

    @property
    def extent(self) -> QSizeF:
        """Its size: that of the screen."""
        return QSizeF(self.size())

    def up(self) -> None:
        """Put it on the screen, in front of what is there."""
        screen = QGuiApplication.primaryScreen()
        if screen is not None and not self.isVisible():
            self.setGeometry(screen.geometry())
        self.show()
        self.raise_()

    def shape(self, outline: QPainterPath) -> None:
        """Take this shape, so that it hides nothing else where nothing blends windows."""
        self.setMask(QRegion(outline.simplified().toFillPolygon().toPolygon()))

    def describe(self, text: str) -> None:
        """What it shows, for screen readers."""
        self.setAccessibleDescription(text)

    def paint_soon(self) -> None:
        """With the next frame."""
        self.update()

    def down(self) -> None:
        """Take it off the screen."""
        self.hide()

    def end(self) -> None:
        """Away with it."""
        self.close()
        self.deleteLater()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The picture."""
        painter = QPainter(self)
        self._draw(painter)
        painter.end()
