"""Drivers of the kernel that do not follow its own conventions for gamepads, and how each is put right (need N02).

The conventions are those of Documentation/input/gamepad.rst of the kernel, which says of older drivers that they can't
be changed any more and have to be corrected in user space. A position is where the thumb finds it, whatever the driver
calls it. A driver is known by what the kernel tells of it; each entry names where it was read.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable

import msgspec

from nubshift.devices.codes import BTN_NORTH, BTN_WEST
from nubshift.devices.conventions import key_input
from nubshift.model.controller_setup import InputMapping
from nubshift.texts import _

BUS_USB, BUS_BLUETOOTH = 0x03, 0x05


class Correction(msgspec.Struct, frozen=True):
    """What a driver says otherwise: the key codes that stand for another one of the conventions.

    `drivers` are names as in sysfs, `buses` and `vendors` those of the device; empty ones count for all. `hat_keys` say
    by keys what the first hat says too. `controls` are keys that the conventions don't know, or that are something else
    on a controller of this `shape`. `text` tells it to a player, `source` is where it was read.
    """

    drivers: tuple[str, ...]
    keys: dict[int, int]
    text: str
    source: str
    buses: tuple[int, ...] = ()
    vendors: tuple[int, ...] = ()
    hat_keys: dict[int, str] = {}
    controls: dict[int, str] = {}
    shape: str = ""

    def fits(self, driver: str, bus: int, vendor: int) -> bool:
        """Whether it is for a device of this driver."""
        return (
            driver in self.drivers
            and (not self.buses or bus in self.buses)
            and (not self.vendors or vendor in self.vendors)
        )

    def corrected(self, inputs: Iterable[InputMapping], keys: Collection[int]) -> list[InputMapping]:
        """The inputs of the conventions for a device with these keys, put right."""
        codes = {meant: said for said, meant in self.keys.items()}
        found = [
            msgspec.structs.replace(input_, code=codes.get(input_.code, input_.code))
            if input_.source == "key"
            else input_
            for input_ in inputs
            if input_.source != "key" or input_.code not in self.controls
        ]
        return found + [key_input(control, code) for code, control in self.controls.items() if code in keys]

    def played(self, keys: Iterable[int], inputs: Iterable[InputMapping]) -> list[int]:
        """The keys without those that say what a wired hat says too."""
        wired = {input_.control for input_ in inputs}
        return [code for code in keys if self.hat_keys.get(code) not in wired]


_TURNED = {BTN_NORTH: BTN_WEST, BTN_WEST: BTN_NORTH}
_TURNED_TEXT = _("its driver swaps the left and the upper face button")

CORRECTIONS: tuple[Correction, ...] = (
    Correction(
        ("xpad",),
        _TURNED,
        _TURNED_TEXT,
        "drivers/input/joystick/xpad.c: the left button is sent as BTN_X and the upper as BTN_Y, which "
        "linux/input-event-codes.h gives the numbers of BTN_NORTH and BTN_WEST; the same file sends the d-pad of "
        "wireless receivers as a hat and as BTN_TRIGGER_HAPPY1 to 4, which are left, right, up and down",
        hat_keys={0x2C0: "dpad_left", 0x2C1: "dpad_right", 0x2C2: "dpad_up", 0x2C3: "dpad_down"},
    ),
    Correction(
        ("hid-steam",),
        _TURNED,
        _TURNED_TEXT,
        "drivers/hid/hid-steam.c, steam_do_input_event: the left button is sent as BTN_X, the upper as BTN_Y",
    ),
    Correction(
        ("microsoft", "hid-generic"),
        _TURNED,
        _TURNED_TEXT,
        "drivers/hid/hid-input.c counts the buttons of a gamepad from BTN_GAMEPAD on; these pads number the left one 4 "
        "and the upper one 5 in their report descriptor, which gives BTN_NORTH and BTN_WEST",
        buses=(BUS_BLUETOOTH,),
        vendors=(0x045E,),
    ),
    Correction(
        ("wiimote",),
        {},
        _("its driver reports its d-pad as the arrow keys of a keyboard"),
        "drivers/hid/hid-wiimote-modules.c, wiimod_keys_map: KEY_UP, KEY_DOWN, KEY_LEFT, KEY_RIGHT, KEY_NEXT for plus, "
        "KEY_PREVIOUS for minus, BTN_A, BTN_B underneath, BTN_1, BTN_2",
        controls={
            103: "dpad_up",
            108: "dpad_down",
            105: "dpad_left",
            106: "dpad_right",
            0x197: "start",
            0x19C: "select",
            0x131: "right_trigger",
            0x101: "button_1",
            0x102: "button_2",
        },
        shape="remote",
    ),
)


def correction_for(driver: str, bus: int, vendor: int) -> Correction | None:
    """The correction for a device of this driver, or None where the driver keeps to the conventions."""
    return next((known for known in CORRECTIONS if known.fits(driver, bus, vendor)), None)
