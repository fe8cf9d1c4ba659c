"""A picture over the game in a window of the X server that a Wayland session has beside.

For compositors that offer no surfaces over the others: such a window stands over X programs at least.
"""

from __future__ import annotations

import contextlib
from collections.abc import Iterator

import xcffib
import xcffib.shape
import xcffib.xproto as xp
from PyQt6.QtCore import QObject, QSizeF, QSocketNotifier, QTimer
from PyQt6.QtGui import QImage, QPainterPath
from PyQt6.sip import voidptr

from nubshift.app.overlay.canvas import PixelCanvas, Rect, rects_of
from nubshift.app.overlay.pane import Draw

MOST_BYTES = 200_000
"""Of a part of the picture that is sent at once; every server takes 262,144."""
ARGB_DEPTH = 32


class XPane(QObject):
    """Raises OSError where there is no X server, or one that knows no transparent windows."""

    def __init__(self, display: str, draw: Draw, parent: QObject) -> None:
        super().__init__(parent)
        try:
            self._connection = xcffib.connect(display=display)
        except (xcffib.ConnectionException, KeyError) as error:
            raise OSError("no X server answers") from error
        setup = self._connection.get_setup()
        self._screen = setup.roots[self._connection.pref_screen]
        visual = self._transparent()
        if visual is None:
            self._connection.disconnect()
            raise OSError("the X server knows no transparent windows")
        self._window = self._make(visual)
        self._canvas = PixelCanvas(draw)
        self._shape: list[Rect] = []
        self._is_up = False
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.timeout.connect(self._paint)
        self._came = QSocketNotifier(voidptr(self._connection.get_file_descriptor()), QSocketNotifier.Type.Read, self)
        self._came.activated.connect(self._take)

    def _transparent(self) -> int | None:
        """A visual with an alpha channel."""
        for depth in self._screen.allowed_depths:
            if depth.depth == ARGB_DEPTH:
                return next((v.visual_id for v in depth.visuals if v._class == xp.VisualClass.TrueColor), None)
        return None

    def _make(self, visual: int) -> int:
        core, window, colours = self._connection.core, self._connection.generate_id(), self._connection.generate_id()
        core.CreateColormap(xp.ColormapAlloc._None, colours, self._screen.root, visual)
        width, height = self._screen.width_in_pixels, self._screen.height_in_pixels
        core.CreateWindow(
            ARGB_DEPTH,
            window,
            self._screen.root,
            0,
            0,
            width,
            height,
            0,
            xp.WindowClass.InputOutput,
            visual,
            xp.CW.BackPixel | xp.CW.BorderPixel | xp.CW.OverrideRedirect | xp.CW.EventMask | xp.CW.Colormap,
            [0, 0, 1, xp.EventMask.Exposure, colours],
        )
        self._context = self._connection.generate_id()
        core.CreateGC(self._context, window, 0, [])
        shape = self._connection(xcffib.shape.key)
        shape.Rectangles(xcffib.shape.SO.Set, xcffib.shape.SK.Input, xp.ClipOrdering.Unsorted, window, 0, 0, 0, [])
        self._connection.flush()
        return int(window)

    @property
    def is_up(self) -> bool:
        """Whether it is on the screen."""
        return self._is_up

    @property
    def extent(self) -> QSizeF:
        """The size of the server's screen."""
        return QSizeF(self._screen.width_in_pixels, self._screen.height_in_pixels)

    def up(self) -> None:
        """Put it on the screen, in front of what is there."""
        self._is_up = True
        self._connection.core.MapWindow(self._window)
        self._connection.core.ConfigureWindow(self._window, xp.ConfigWindow.StackMode, [xp.StackMode.Above])
        self._connection.flush()

    def shape(self, outline: QPainterPath) -> None:
        """Take this shape, so that it hides nothing else where nothing blends windows."""
        self._shape = rects_of(outline, 1.0, self.extent.toSize())
        shape = self._connection(xcffib.shape.key)
        rects = [xp.RECTANGLE.synthetic(*rect) for rect in self._shape]
        shape.Rectangles(
            xcffib.shape.SO.Set,
            xcffib.shape.SK.Bounding,
            xp.ClipOrdering.Unsorted,
            self._window,
            0,
            0,
            len(rects),
            rects,
        )

    def describe(self, text: str) -> None:
        """It has no part in what screen readers see."""

    def paint_soon(self) -> None:
        """With the next turn."""
        self._soon.start(0)

    def _take(self) -> None:
        """The server asks for what was uncovered."""
        with contextlib.suppress(xcffib.ConnectionException, xcffib.ProtocolException):
            while self._connection.poll_for_event() is not None:
                self.paint_soon()
            self._connection.invalid()
            return
        self._came.setEnabled(False)

    def _paint(self) -> None:
        if not self._is_up:
            return
        image = self._canvas.paint(self.extent.toSize(), 1.0, self._shape)
        with contextlib.suppress(xcffib.ConnectionException):
            for (left, top, width, height), part in _parts(image, self._shape):
                self._connection.core.PutImage(
                    xp.ImageFormat.ZPixmap,
                    self._window,
                    self._context,
                    width,
                    height,
                    left,
                    top,
                    0,
                    ARGB_DEPTH,
                    len(part),
                    part,
                )
            self._connection.flush()

    def down(self) -> None:
        """Take it off the screen."""
        self._is_up = False
        self._soon.stop()
        self._connection.core.UnmapWindow(self._window)
        self._connection.flush()

    def end(self) -> None:
        """Away with it."""
        self._soon.stop()
        self._came.setEnabled(False)
        with contextlib.suppress(xcffib.ConnectionException):
            self._connection.disconnect()
        self.deleteLater()


def _parts(image: QImage, rects: list[Rect]) -> Iterator[tuple[Rect, bytes]]:
    """The pixels of these rectangles, in parts that every server takes."""
    for left, top, width, height in rects:
        rows = max(1, MOST_BYTES // (width * 4))
        for first in range(top, top + height, rows):
            count = min(rows, top + height - first)
            part = image.copy(left, first, width, count)
            bits = part.constBits()
            if bits is not None:
                yield (left, first, width, count), bits.asstring(part.sizeInBytes())
