"""A picture over the game in a surface of a Wayland compositor."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

from PyQt6 import sip
from PyQt6.QtCore import QObject, QSize, QSizeF, QSocketNotifier, QTimer
from PyQt6.QtGui import QImage, QPainterPath

from nubshift.app.overlay.canvas import PixelCanvas, Rect, rects_of
from nubshift.app.overlay.pane import Draw
from nubshift.desktop.wayland.connection import Connection
from nubshift.desktop.wayland.layer import LayerSurface, SharedPicture


class LayerPane(QObject):
    """A surface over all others, by the compositor's layer shell. `again` is called when the screen is another one.

    Raises OSError where the compositor offers none.
    """

    def __init__(self, draw: Draw, again: Callable[[], None], parent: QObject, address: str = "") -> None:
        super().__init__(parent)
        self._again = again
        self._connection = Connection(address)
        try:
            self._layer = LayerSurface(self._connection, self._due)
        except OSError:
            self._connection.close()
            raise
        self._dirty = False
        self._outline, self._known = QPainterPath(), QSizeF()
        self._canvas = PixelCanvas(draw)
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.timeout.connect(self._paint)
        self._came = QSocketNotifier(sip.voidptr(self._connection.fileno()), QSocketNotifier.Type.Read, self)
        self._came.activated.connect(self._take)

    @property
    def is_up(self) -> bool:
        """Whether it is on the screen."""
        return self._layer.is_up

    @property
    def extent(self) -> QSizeF:
        """The size of the output."""
        return QSizeF(*self._layer.size)

    def up(self) -> None:
        """Put it on the output that has the focus."""
        self._try(self._layer.up)

    def shape(self, outline: QPainterPath) -> None:
        """Only this is cleared, painted and sent."""
        self._outline = outline

    def describe(self, text: str) -> None:
        """Such a surface has no part in what screen readers see."""

    def paint_soon(self) -> None:
        """Once the last picture is shown."""
        self._dirty = True
        self._soon.start(0)

    def down(self) -> None:
        """Take it off the screen."""
        self._soon.stop()
        self._try(self._layer.down)
        self._canvas.forget()

    def end(self) -> None:
        """Away with it."""
        self._came.setEnabled(False)
        self._soon.stop()
        self._try(self._layer.down)
        self._connection.close()
        self.deleteLater()

    def _take(self) -> None:
        self._try(self._connection.take)

    def _try(self, act: Callable[[], None]) -> None:
        """Do it. A compositor that is gone ends the program anyway, which has things to save and to let go of first."""
        try:
            act()
        except OSError:
            self._came.setEnabled(False)
            self._soon.stop()

    def _due(self) -> None:
        """A picture was shown, or the output is another one."""
        if self.extent != self._known:
            self._known = self.extent
            self._again()
        if self._dirty:
            self._soon.start(0)

    def _paint(self) -> None:
        if not self._dirty or not self._layer.is_up or self._layer.waits:
            return
        picture = self._layer.picture()
        if picture is None:
            return
        self._dirty = False
        size = QSize(picture.width, picture.height)
        rects = rects_of(self._outline, self._layer.scale, size)
        image = self._canvas.paint(size, self._layer.scale, rects)
        _copy_rows(image, picture, [*picture.painted, *rects])
        self._try(partial(self._layer.put, picture, rects))


def _copy_rows(image: QImage, picture: SharedPicture, rects: Sequence[Rect]) -> None:
    """Bring the rows of these rectangles to the compositor; an image can't be painted in memory that is not its own."""
    if not rects:
        return
    first = min(top for _left, top, _width, _height in rects) * picture.stride
    last = max(top + height for _left, top, _width, height in rects) * picture.stride
    bits = image.constBits()
    if bits is not None:
        bits.setsize(image.sizeInBytes())
        picture.pixels[first:last] = memoryview(bits)[first:last]  # type: ignore[arg-type]  # it has a buffer
