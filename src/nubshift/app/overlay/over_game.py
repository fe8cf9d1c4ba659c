"""A picture over the game, wherever this session lets one stand."""

from __future__ import annotations

import contextlib
import os
from collections.abc import Callable

from PyQt6.QtCore import QObject, QSizeF
from PyQt6.QtGui import QGuiApplication, QImage, QPainter, QPainterPath

from nubshift.app.overlay.pane import Draw, Pane
from nubshift.app.overlay.window_pane import WindowPane


class OverGame(QObject):
    """Covers the screen while there is something to show. What it is, is drawn by `draw` within `outline`."""

    def __init__(self, title: str, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.pane = self._find(title)

    def _find(self, title: str) -> Pane | None:
        """The way this session has; None where it has none."""
        match QGuiApplication.platformName():
            case "xcb":
                return WindowPane(title, self._paint)
            case "wayland":
                with contextlib.suppress(OSError):
                    return _layer_pane(self._paint, self.refresh, self)
                with contextlib.suppress(OSError):
                    return _x_pane(self._paint, self)
        return None

    @property
    def can_show(self) -> bool:
        """Whether the session lets it stand where it should."""
        return self.pane is not None

    @property
    def is_up(self) -> bool:
        """Whether it is on the screen."""
        return self.pane is not None and self.pane.is_up

    @property
    def extent(self) -> QSizeF:
        """The size of the screen, known while it is up."""
        return self.pane.extent if self.pane is not None else QSizeF()

    def refresh(self) -> None:
        """Show or hide, and paint anew."""
        raise NotImplementedError

    def draw(self, painter: QPainter) -> None:
        """Paint all of it."""
        raise NotImplementedError

    def outline(self) -> QPainterPath:
        """Where anything is drawn."""
        raise NotImplementedError

    def _paint(self, painter: QPainter) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.draw(painter)

    def put_up(self) -> None:
        """Have it on the screen."""
        if self.pane is not None:
            self.pane.up()

    def reshape(self) -> None:
        """What is drawn lies elsewhere now."""
        if self.pane is not None:
            self.pane.shape(self.outline())

    def paint_soon(self) -> None:
        """What is drawn is another picture now."""
        if self.pane is not None and self.pane.is_up:
            self.pane.paint_soon()

    def take_down(self) -> None:
        """Take it off the screen."""
        if self.is_up and self.pane is not None:
            self.pane.down()

    def picture(self) -> QImage:
        """What it shows, as an image."""
        found = QImage(self.extent.toSize(), QImage.Format.Format_ARGB32_Premultiplied)
        found.fill(0)
        painter = QPainter(found)
        self._paint(painter)
        painter.end()
        return found

    def close(self) -> None:
        """Away with it."""
        if self.pane is not None:
            self.pane.end()
            self.pane = None
        self.deleteLater()


def _layer_pane(draw: Draw, refresh: Callable[[], None], parent: QObject) -> Pane:
    """A surface of the compositor. Raises OSError where it has none. Loads what nobody needs in an X session."""
    from nubshift.app.overlay.layer_pane import LayerPane

    return LayerPane(draw, refresh, parent)


def _x_pane(draw: Draw, parent: QObject) -> Pane:
    """A window of the X server beside. Raises OSError where there is none."""
    from nubshift.app.overlay.x_pane import XPane

    if not os.environ.get("DISPLAY"):
        raise OSError("there is no X server")
    return XPane(os.environ["DISPLAY"], draw, parent)
