"""A surface over everything else on the screen, that neither the keyboard nor the pointer ever finds.

By wlr-layer-shell-unstable-v1; sharp at every scale by fractional-scale-v1 and viewporter where they are offered.
"""

from __future__ import annotations

import mmap
import os
from collections.abc import Callable, Iterable
from typing import Any, TypeAlias

from pywayland.protocol.fractional_scale_v1 import WpFractionalScaleManagerV1
from pywayland.protocol.viewporter import WpViewporter
from pywayland.protocol.wayland import WlCompositor, WlOutput, WlShm

from nubshift.desktop.wayland.connection import Connection
from nubshift.desktop.wayland.protocols import ANCHOR_ALL, LAYER_OVERLAY, LayerShell

Rect: TypeAlias = tuple[int, int, int, int]
"""Left, top, width and height, in pixels of the buffer."""
FRACTION = 120
"""Of which the protocol's scales are numbers: 180 is one and a half."""
UNDER_PANELS = -1
"""The exclusive zone of a surface that is not moved aside for panels."""


class SharedPicture:
    """Pixels that the compositor reads: premultiplied ARGB, `stride` bytes a row; `free` while it doesn't."""

    def __init__(self, shm: Any, width: int, height: int) -> None:
        self.width, self.height, self.stride = width, height, width * 4
        self.painted: tuple[Rect, ...] = ()
        """Where something is drawn in it."""
        self.free = True
        memory = os.memfd_create("nubshift-overlay", os.MFD_CLOEXEC)
        os.ftruncate(memory, self.stride * height)
        self.pixels = mmap.mmap(memory, self.stride * height)
        pool = shm.create_pool(memory, self.stride * height)
        self.buffer = pool.create_buffer(0, width, height, self.stride, WlShm.format.argb8888.value)
        pool.destroy()
        os.close(memory)
        self.buffer.dispatcher["release"] = self._released

    def _released(self, _buffer: Any) -> None:
        self.free = True

    def end(self) -> None:
        """Give it back."""
        self.buffer.destroy()


class LayerSurface:
    """Covers the output that has the focus. `due` is called when it has to be painted anew, since its size or scale is
    another one or a frame was shown; `size` is in the units of the desktop, `scale` says how many pixels are one of it.

    Raises OSError where the compositor has no such surfaces.
    """

    def __init__(self, connection: Connection, due: Callable[[], None]) -> None:
        if not connection.has(LayerShell, WlCompositor, WlShm):
            raise OSError("the compositor offers no surfaces over the others")
        self._connection, self._due = connection, due
        self._compositor = connection.bind(WlCompositor, 4)
        self._shell, self._shm = connection.bind(LayerShell), connection.memory()
        self._scales = connection.bind(WpFractionalScaleManagerV1) if self._is_fractional else None
        self._viewporter = connection.bind(WpViewporter) if self._is_fractional else None
        self._outputs: dict[Any, int] = {}
        for number in connection.outputs:
            self._add_output(number)
        self.size, self.scale = (0, 0), 1.0
        self._surface: Any = None
        self._parts: list[Any] = []
        self._on: set[Any] = set()
        self._pictures: list[SharedPicture] = []
        self._last: SharedPicture | None = None
        self._frame: Any = None

    @property
    def _is_fractional(self) -> bool:
        return self._connection.has(WpFractionalScaleManagerV1, WpViewporter)

    def _add_output(self, number: int) -> None:
        output = self._connection.bind_output(WlOutput, number)
        self._outputs[output] = 1

        def scaled(_output: Any, scale: int) -> None:
            self._outputs[output] = scale
            self._rescale()

        output.dispatcher["scale"] = scaled

    @property
    def is_up(self) -> bool:
        """Whether it is on the screen, or will be with its first picture."""
        return self._surface is not None

    @property
    def waits(self) -> bool:
        """Whether the last picture is not shown yet, so that another one would be for nothing."""
        return self._frame is not None

    def up(self) -> None:
        """Put it on the screen, and learn its size. Raises OSError when the compositor is gone."""
        if self._surface is not None:
            return
        surface = self._surface = self._compositor.create_surface()
        surface.dispatcher["enter"] = lambda _it, output: self._moved(output, True)
        surface.dispatcher["leave"] = lambda _it, output: self._moved(output, False)
        nowhere = self._compositor.create_region()
        surface.set_input_region(nowhere)
        nowhere.destroy()
        if self._scales is not None and self._viewporter is not None:
            viewport, told = self._viewporter.get_viewport(surface), self._scales.get_fractional_scale(surface)
            told.dispatcher["preferred_scale"] = lambda _it, scale: self._set_scale(scale / FRACTION)
            self._parts += [told, viewport]
        layer = self._shell.get_layer_surface(surface, None, LAYER_OVERLAY, "nubshift")
        layer.set_anchor(ANCHOR_ALL)
        layer.set_exclusive_zone(UNDER_PANELS)
        layer.set_keyboard_interactivity(0)
        layer.dispatcher["configure"] = self._configured
        layer.dispatcher["closed"] = lambda _it: self.down()
        self._parts.append(layer)
        self.scale = max((*self._outputs.values(), 1)) if self._scales is None else self.scale
        surface.commit()
        self._connection.roundtrip()

    def _configured(self, layer: Any, serial: int, width: int, height: int) -> None:
        layer.ack_configure(serial)
        if (width, height) != self.size:
            self.size = (width, height)
            self._due()

    def _moved(self, output: Any, here: bool) -> None:
        (self._on.add if here else self._on.discard)(output)
        self._rescale()

    def _rescale(self) -> None:
        """Without fractions the scale is that of the output it is on."""
        if self._scales is None and self._on:
            self._set_scale(max(self._outputs.get(output, 1) for output in self._on))

    def _set_scale(self, scale: float) -> None:
        if scale != self.scale:
            self.scale = scale
            self._due()

    def picture(self) -> SharedPicture | None:
        """Where to paint the next picture; None while the compositor still reads all of them."""
        width, height = (round(side * self.scale) for side in self.size)
        if not width or not height:
            return None
        fits = [one for one in self._pictures if (one.width, one.height) == (width, height)]
        for other in self._pictures:
            if other not in fits and other.free:
                other.end()
        self._pictures = [one for one in self._pictures if one in fits or not one.free]
        found = next((one for one in fits if one.free), None)
        if found is None and len(fits) < 2:
            found = SharedPicture(self._shm, width, height)
            self._pictures.append(found)
        return found

    def put(self, picture: SharedPicture, painted: Iterable[Rect]) -> None:
        """Show a picture in which something stands at `painted`, and nothing elsewhere."""
        before = self._last.painted if self._last is not None and self._fits(self._last, picture) else None
        picture.painted, picture.free, self._last = tuple(painted), False, picture
        if self._scales is not None:
            self._parts[1].set_destination(*self.size)
        else:
            self._surface.set_buffer_scale(round(self.scale))
        self._surface.attach(picture.buffer, 0, 0)
        whole = ((0, 0, picture.width, picture.height),)
        for rect in whole if before is None else (*before, *picture.painted):
            self._surface.damage_buffer(*rect)
        self._frame = self._surface.frame()
        self._frame.dispatcher["done"] = self._shown
        self._surface.commit()
        self._connection.flush()

    @staticmethod
    def _fits(one: SharedPicture, other: SharedPicture) -> bool:
        return (one.width, one.height) == (other.width, other.height)

    def _shown(self, _callback: Any, _time: int) -> None:
        self._frame = None
        self._due()

    def down(self) -> None:
        """Take it off the screen, and give its memory back."""
        if self._surface is None:
            return
        self._frame = None
        for part in reversed(self._parts):
            part.destroy()
        self._surface.destroy()
        for picture in self._pictures:
            picture.end()
        self._surface, self._parts, self._pictures, self._last = None, [], [], None
        self._on.clear()
        self.size = (0, 0)
        self._connection.flush()
