"""A window over the game: without a frame, never with the focus, and every click goes through it."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QGuiApplication, QPainterPath, QRegion
from PyQt6.QtWidgets import QWidget


class OverGame(QWidget):
    """Covers the screen while there is something to show. `can_show`: the session lets it stand where it should."""

    def __init__(self, name: str, title: str) -> None:
        super().__init__(None)
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
        self.setAccessibleName(name)
        self.setWindowTitle(title)
        self.can_show = QGuiApplication.platformName() == "xcb"

    def cover_screen(self) -> None:
        """As large as the screen."""
        screen = QGuiApplication.primaryScreen()
        if screen is not None:
            self.setGeometry(screen.geometry())

    def cut(self, outline: QPainterPath) -> None:
        """Take the shape of what is drawn, so that it hides nothing else where nothing blends windows."""
        self.setMask(QRegion(outline.simplified().toFillPolygon().toPolygon()))
