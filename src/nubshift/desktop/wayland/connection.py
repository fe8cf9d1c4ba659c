"""A connection to a compositor."""

from __future__ import annotations

import atexit
from typing import Any

from pywayland import lib
from pywayland.client import Display
from pywayland.protocol.wayland import WlSeat, WlShm
from pywayland.protocol_core import Interface

from nubshift.desktop.wayland.finding import compositor


class Connection:
    """A client of the compositor at `address` (a path; default: the one of this session). Raises OSError.

    `offers` has what it offers: the number and version of each interface by its name, the outputs and seats by number.
    """

    def __init__(self, address: str = "") -> None:
        address = address or compositor()
        if not address:
            raise OSError("no Wayland compositor answers")
        self.address = address
        self.display = Display(address)
        try:
            self.display.connect()
        except ValueError as error:
            raise OSError("no Wayland compositor answers") from error
        atexit.register(self.close)  # it is not left to the collector: objects that outlive their display crash
        self.offers: dict[str, tuple[int, int]] = {}
        self.outputs: dict[int, int] = {}
        """The version of each output by its number."""
        self.outputs_changed = False
        self._registry: Any = self.display.get_registry()
        self._registry.dispatcher["global"] = self._offered
        self._registry.dispatcher["global_remove"] = self._taken_back
        try:
            self.roundtrip()
        except OSError:
            self.close()
            raise

    def _offered(self, _registry: Any, number: int, interface: str, version: int) -> None:
        if interface == "wl_output":
            self.outputs[number] = version
            self.outputs_changed = True
        else:
            self.offers.setdefault(interface, (number, version))

    def _taken_back(self, _registry: Any, number: int) -> None:
        if self.outputs.pop(number, None) is not None:
            self.outputs_changed = True
        self.offers = {name: offer for name, offer in self.offers.items() if offer[0] != number}

    def has(self, *interfaces: type[Interface]) -> bool:
        """Whether the compositor offers all of these."""
        return all(interface.name in self.offers for interface in interfaces)

    def bind(self, interface: type[Interface], most: int = 99) -> Any:
        """The one object of an interface, at the highest version that both know, up to `most`. Raises OSError."""
        if interface.name not in self.offers:
            raise OSError(f"the compositor does not offer {interface.name}")
        number, version = self.offers[interface.name]
        return self._registry.bind(number, interface, min(version, interface.version, most))

    def bind_output(self, interface: type[Interface], number: int) -> Any:
        """An output by its number."""
        return self._registry.bind(number, interface, min(self.outputs[number], interface.version))

    def seat(self) -> Any:
        """The first seat."""
        return self.bind(WlSeat, 7)

    def keyboard(self) -> Any:
        """Its keyboard; None where it has none."""
        if not self.has(WlSeat):
            return None
        told: list[int] = []
        seat = self.seat()
        seat.dispatcher["capabilities"] = lambda _seat, capabilities: told.append(capabilities)
        self.roundtrip()
        return seat.get_keyboard() if told and told[-1] & WlSeat.capability.keyboard else None

    def memory(self) -> Any:
        """Where pictures are shared."""
        return self.bind(WlShm)

    def own(self, made: Any) -> Any:
        """An object that the compositor made.

        The library may take it for one of another connection, and end it with that."""
        other = made._display
        if other is not self.display:
            other._children.discard(made)
            made._display = self.display
            self.display._children.add(made)
        return made

    def fileno(self) -> int:
        """Readable when something came."""
        return self.display.get_fd()

    def take(self) -> None:
        """Read what came and call who waits for it. Raises OSError when the compositor is gone."""
        try:
            self.display.read()
            self.display.dispatch()
        except RuntimeError as error:
            raise OSError("the Wayland compositor is gone") from error
        self.flush()

    def roundtrip(self) -> None:
        """Wait until all that was asked is answered. Raises OSError when the compositor is gone."""
        if self.display.roundtrip() < 0:
            raise OSError("the Wayland compositor is gone")

    def flush(self) -> None:
        """Send what was said; what does not fit is sent the next time. Raises OSError when the compositor is gone."""
        pointer = self.display._ptr
        if self.display.flush() < 0 and pointer is not None and lib.wl_display_get_error(pointer):
            raise OSError("the Wayland compositor is gone")

    def close(self) -> None:
        """End the connection and all objects of it; to be called of every one, also of one that is gone."""
        atexit.unregister(self.close)
        self.display.disconnect()
