"""The channel through the kernel: one virtual keyboard and one virtual mouse. The one file here that imports evdev.

When the process ends, however it ends, the kernel removes the two devices and releases what they held.
"""

from __future__ import annotations

import contextlib
from collections.abc import Sequence

from evdev import UInput, UInputError, ecodes

from nubshift.errors import SinkError
from nubshift.events import VIRTUAL_PHYS, Button, Key, LayerChange, Motion, Output
from nubshift.model.keys import KEYS, is_button

NODE = "/dev/uinput"


class UinputChannel:
    """Sends keys, buttons and motion through uinput. Raises SinkError."""

    name = "uinput"

    def __init__(self) -> None:
        keys = [info.code for name, info in KEYS.items() if not is_button(name)]
        buttons = [info.code for name, info in KEYS.items() if is_button(name)]
        axes = [ecodes.REL_X, ecodes.REL_Y, ecodes.REL_WHEEL, ecodes.REL_HWHEEL]
        try:
            self._keyboard = UInput({ecodes.EV_KEY: keys}, name="Nub Shift keyboard", phys=VIRTUAL_PHYS)
            self._mouse = UInput(
                {ecodes.EV_KEY: buttons, ecodes.EV_REL: axes}, name="Nub Shift mouse", phys=VIRTUAL_PHYS
            )
        except (OSError, UInputError) as error:
            raise SinkError(f"{NODE} can't be used: {error}. Run: nubshift doctor") from error
        self._codes = {name: info.code for name, info in KEYS.items()}

    def write(self, outputs: Sequence[Output]) -> None:
        """Send these now; the two devices are told apart by a report each, in the order of the events."""
        last: UInput | None = None
        try:
            for output in outputs:
                if isinstance(output, LayerChange):
                    continue
                device = self._keyboard if isinstance(output, Key) else self._mouse
                if last is not None and device is not last:
                    last.syn()
                last = device
                match output:
                    case Key(_, code, value) | Button(_, code, value):
                        device.write(ecodes.EV_KEY, self._codes[code], value)
                    case Motion(_, dx, dy):
                        if dx:
                            device.write(ecodes.EV_REL, ecodes.REL_X, dx)
                        if dy:
                            device.write(ecodes.EV_REL, ecodes.REL_Y, dy)
            if last is not None:
                last.syn()
        except OSError as error:
            raise SinkError(f"{NODE} takes no more events: {error.strerror}") from error

    def close(self) -> None:
        """Remove the two devices; the kernel releases what they hold."""
        for device in (self._keyboard, self._mouse):
            with contextlib.suppress(OSError):
                device.close()
