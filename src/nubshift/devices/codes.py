"""The kernel's numbers that are needed here (linux/input-event-codes.h), and the range of an axis."""

from __future__ import annotations

from typing import Final

import msgspec

EV_SYN: Final = 0
EV_KEY: Final = 1
EV_ABS: Final = 3
EV_MSC: Final = 4
SYN_REPORT: Final = 0
SYN_DROPPED: Final = 3
MSC_TIMESTAMP: Final = 5

ABS_X, ABS_Y, ABS_Z, ABS_RX, ABS_RY, ABS_RZ, ABS_THROTTLE, ABS_GAS, ABS_BRAKE = 0, 1, 2, 3, 4, 5, 6, 9, 10
ABS_HAT0X, ABS_HAT0Y, ABS_HAT1X, ABS_HAT1Y, ABS_HAT2X, ABS_HAT2Y, ABS_HAT3Y = 0x10, 0x11, 0x12, 0x13, 0x14, 0x15, 0x17
ABS_MT_SLOT, ABS_MAX = 0x2F, 0x3F
BTN_MISC, BTN_LEFT, BTN_JOYSTICK = 0x100, 0x110, 0x120
BTN_NORTH, BTN_WEST = 0x133, 0x134
BTN_SOUTH, BTN_DIGI, BTN_TOUCH, BTN_WHEEL = 0x130, 0x140, 0x14A, 0x150
BTN_DPAD_UP, BTN_TRIGGER_HAPPY, KEY_MAX = 0x220, 0x2C0, 0x2FF
PROP_ACCELEROMETER = 6


class AxisRange(msgspec.Struct, frozen=True):
    """The range of one absolute axis in device units, its value when it was asked for, and its resolution.

    `resolution` is in units per g or per degree a second for motion, else per mm; 0 where the driver gives none.
    """

    low: int
    high: int
    value: int = 0
    resolution: int = 0

    @property
    def middle(self) -> int:
        """Where a stick's axis rests."""
        return (self.low + self.high + 1) // 2


def is_hat(code: int) -> bool:
    """Whether an axis is one of a hat."""
    return ABS_HAT0X <= code <= ABS_HAT3Y
