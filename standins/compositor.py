"""A compositor with just what stands over a game: layer shell, fractional scale, viewporter. There is no picture.

``python -m standins.compositor ADDRESS SCALE``, in 120ths. It says what it is told, a JSON object a line.
"""

from __future__ import annotations

import json
import select
import sys
import time
from typing import Any

from pywayland import ffi, lib
from pywayland.protocol.fractional_scale_v1 import WpFractionalScaleManagerV1, WpFractionalScaleV1
from pywayland.protocol.viewporter import WpViewport, WpViewporter
from pywayland.protocol.wayland import WlCallback, WlCompositor, WlOutput, WlRegion, WlSurface
from pywayland.protocol_core import ArgumentType
from pywayland.protocol_core.message import Message
from pywayland.server import Display

from nubshift.desktop.wayland.protocols import LayerShell, LayerSurface

EVERY = 0.01
"""Seconds of a frame."""


def _arguments(message: Message, given: Any) -> list[Any]:
    """A client's new object is a number here, and of one that it names only whether there is one."""
    read = {
        ArgumentType.NewId: lambda one: one.n,
        ArgumentType.Object: lambda one: one.o != ffi.NULL,
        ArgumentType.Int: lambda one: one.i,
        ArgumentType.Uint: lambda one: one.u,
    }
    return [read.get(a.argument_type, lambda _one: None)(given[place]) for place, a in enumerate(message.arguments)]


def _hear(resource: Any) -> Any:
    """Have its requests come here: the library gives the handle where libwayland does not look for it."""
    lib.wl_resource_set_dispatcher(
        resource._ptr, lib.dispatcher_func, resource._handle, resource._handle, lib.resource_destroy_func
    )
    return resource


class SmallCompositor:
    """Answers its clients at `address`; `scale` is told to every surface."""

    def __init__(self, address: str, scale: int) -> None:
        self._scale = scale
        self._display = Display()
        self._display.add_socket(address)
        self._display.init_shm()
        self._frames: list[Any] = []
        self._keep: list[Any] = []
        for interface, bound in (
            (WlCompositor, self._compositor),
            (WlOutput, self._output),
            (LayerShell, self._shell),
            (WpFractionalScaleManagerV1, self._scales),
            (WpViewporter, self._viewporter),
        ):
            offered: Any = interface.global_class(self._display, min(interface.version, 4))
            offered.bind_func = bound
            self._keep.append(offered)

    @staticmethod
    def say(what: str, *values: object) -> None:
        print(json.dumps([what, *values]), flush=True)

    def _made(self, kind: Any, parent: Any, number: int, **hear: Any) -> Any:
        made = _hear(kind.resource_class(lib.wl_resource_get_client(parent._ptr), parent.version, number))
        for name in [message.name for message in kind.requests]:
            made.dispatcher[name] = hear.get(name) or (lambda *said, name=name: self.say(name, *said[1:]))

        def destroy(it: Any) -> None:
            self.say(f"{kind.name} gone")
            it.destroy()

        made.dispatcher["destroy"] = destroy
        self._keep.append(made)
        return made

    def _compositor(self, bound: Any) -> None:
        self._keep.append(_hear(bound))
        bound.dispatcher["create_surface"] = self._surface
        bound.dispatcher["create_region"] = self._region

    def _region(self, compositor: Any, number: int) -> None:
        self._made(WlRegion, compositor, number)

    def _surface(self, compositor: Any, number: int) -> None:
        def frame(it: Any, callback: int) -> None:
            self._frames.append(WlCallback.resource_class(lib.wl_resource_get_client(it._ptr), 1, callback))

        def attach(_it: Any, _buffer: int, _x: int, _y: int) -> None:
            self.say("attach")

        def region(_it: Any, _region: int) -> None:
            self.say("set_input_region")

        self._made(WlSurface, compositor, number, frame=frame, attach=attach, set_input_region=region)

    def _output(self, bound: Any) -> None:
        self._keep.append(_hear(bound))

    def _shell(self, bound: Any) -> None:
        self._keep.append(_hear(bound))

        def make(it: Any, number: int, _surface: int, _output: int, layer: int, _name: int) -> None:
            made = self._made(LayerSurface, it, number)
            self.say("layer", layer)
            made.configure(1, 1280, 800)

        bound.dispatcher["get_layer_surface"] = make

    def _scales(self, bound: Any) -> None:
        self._keep.append(_hear(bound))

        def make(it: Any, number: int, _surface: int) -> None:
            self._made(WpFractionalScaleV1, it, number).preferred_scale(self._scale)

        bound.dispatcher["get_fractional_scale"] = make

    def _viewporter(self, bound: Any) -> None:
        self._keep.append(_hear(bound))
        bound.dispatcher["get_viewport"] = self._viewport

    def _viewport(self, viewporter: Any, number: int, _surface: int) -> None:
        self._made(WpViewport, viewporter, number)

    def run(self) -> None:
        """Until its input ends. A line of it shows the frames that wait."""
        loop = self._display.get_event_loop()
        self.say("ready")
        while not select.select([sys.stdin], (), (), 0)[0] or sys.stdin.readline():
            loop.dispatch(int(EVERY * 1000))
            for callback in self._frames:
                callback.done(time.monotonic_ns() // 1_000_000 & 0xFFFFFFFF)
                callback.destroy()
            self._frames.clear()
            self._display.flush_clients()


if __name__ == "__main__":
    setattr(Message, "c_to_arguments", _arguments)  # noqa: B010  # a method is not assigned to, say the types
    SmallCompositor(sys.argv[1], int(sys.argv[2])).run()
