"""How the motion sensors of each driver lie in the hand (need N06): one frame for all of them (contract R10).

The kernel says which axes are turns and which are pulls (Documentation/input/event-codes.rst,
INPUT_PROP_ACCELEROMETER), but not which way they point: that is the driver's. Each entry names where it was read.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Literal, TypeAlias

import msgspec

from nubshift.devices.codes import ABS_RX, ABS_RY, ABS_RZ, ABS_X, ABS_Y, ABS_Z, AxisRange

Way: TypeAlias = Literal["right", "left", "up", "down", "away", "towards"]
"""From the player, who holds the controller with its face up. Away and towards are from and to the player."""

Half: TypeAlias = Literal["", "left", "right"]
"""Which half of a pair a controller is, if it is one."""

OURS: Mapping[Way, tuple[int, int]] = {
    "right": (0, 1),
    "left": (0, -1),
    "down": (1, 1),
    "up": (1, -1),
    "away": (2, 1),
    "towards": (2, -1),
}
"""Which of our axes (x right, y down, z away: right-handed) a way lies on, and its sign."""
SIDEWAYS: Mapping[Half, Mapping[Way, Way]] = {
    "": {},
    "left": {"away": "left", "left": "towards", "towards": "right", "right": "away"},
    "right": {"away": "right", "right": "towards", "towards": "left", "left": "away"},
}
"""Where the ways of a half point when it is held across, its inner edge away from the player."""
TURNS, PULLS = (ABS_RX, ABS_RY, ABS_RZ), (ABS_X, ABS_Y, ABS_Z)
FULL_TURN, FULL_PULL = 2000.0, 4.0
"""What the whole range is taken for where a driver says nothing, in °/s and g: the commonest ranges of such sensors."""

Part: TypeAlias = tuple[int, float]
"""A code, and what its value is multiplied with."""


class MotionFrame(msgspec.Struct, frozen=True):
    """Where the axes of a driver's sensors point.

    `gyro` are the ways of ABS_RX, ABS_RY and ABS_RZ, about which turns are right-handed; `pull` those of `pull_codes`,
    on which rest is one g upwards. `per_degree` and `per_g` are units per °/s and per g where the driver gives no
    resolution. `name_ends` tells several motion nodes of one driver apart.
    """

    drivers: tuple[str, ...]
    source: str
    gyro: tuple[Way, Way, Way] | None = ("right", "up", "towards")
    pull: tuple[Way, Way, Way] | None = ("right", "up", "towards")
    pull_codes: tuple[int, int, int] = PULLS
    per_degree: float = 0.0
    per_g: float = 0.0
    name_ends: str = ""

    def fits(self, driver: str, name: str) -> bool:
        """Whether it is for a node of this driver with this name."""
        return driver in self.drivers and name.endswith(self.name_ends)

    def has_gyro(self, axes: Mapping[int, AxisRange]) -> bool:
        """Whether a node with these axes tells of turns."""
        return self.gyro is not None and all(code in axes for code in TURNS)

    def turns(self, axes: Mapping[int, AxisRange], held: Half = "") -> tuple[Part, Part, Part] | None:
        """Turn right, nod down and lean right in °/s; None where the node has no gyro."""
        if self.gyro is None or not self.has_gyro(axes):
            return None
        about = _ours(self.gyro, TURNS, axes, (self.per_degree, FULL_TURN), held)
        nod, turn, lean = about  # right-handed about x raises the front, about y turns right, about z leans right
        return turn, (nod[0], -nod[1]), lean

    def gravity(self, axes: Mapping[int, AxisRange], held: Half = "") -> tuple[Part, Part, Part] | None:
        """The pull of gravity right, down and away in g; None where the node has no accelerometer."""
        if self.pull is None or not all(code in axes for code in self.pull_codes):
            return None
        pushed = _ours(self.pull, self.pull_codes, axes, (self.per_g, FULL_PULL), held)
        right, down, away = ((code, -factor) for code, factor in pushed)  # a sensor feels what holds it up
        return right, down, away


def _ours(
    ways: Sequence[Way], codes: Sequence[int], axes: Mapping[int, AxisRange], scale: tuple[float, float], held: Half
) -> list[Part]:
    """What lies on our three axes."""
    per_unit, full = scale
    found: list[Part] = [(codes[0], 0.0)] * 3
    for way, code in zip(ways, codes, strict=True):
        place, sign = OURS[SIDEWAYS[held].get(way, way)]
        entry = axes[code]
        span = max(abs(entry.low), abs(entry.high)) or 1
        found[place] = code, sign / (entry.resolution or per_unit or span / full)
    return found


COMMON = MotionFrame(
    ("playstation", "sony", "hid-steam"),
    "drivers/hid/hid-playstation.c and hid-sony.c: pitch, yaw and roll are ABS_RX, ABS_RY, ABS_RZ; hid-steam.c "
    "(steam_do_deck_sensors_event, Linux 6.11 on) turns its values to the same axes. Which way is positive is in "
    "SDL_sensor.h, and SDL passes these nodes on as they are: x right, y up, z towards the player",
)
"""Also of drivers that are not known."""

FRAMES: tuple[MotionFrame, ...] = (
    COMMON,
    MotionFrame(
        ("nintendo",),
        "drivers/hid/hid-nintendo.c, joycon_parse_imu_report: x points towards the triggers, y to the left, z out of "
        "the buttons, right-handed; the right half is turned by the driver to be like the left",
        gyro=("away", "left", "up"),
        pull=("away", "left", "up"),
    ),
    MotionFrame(
        ("wiimote",),
        "drivers/hid/hid-wiimote-modules.c, wiimod_mp_in_mp: yaw, roll and pitch are ABS_RX, ABS_RY, ABS_RZ at "
        "8192 * 9 / 440 units per °/s. Which way is positive is not in there; it is from public descriptions of the "
        "protocol, and not proven on hardware",
        gyro=("up", "towards", "left"),
        pull=None,
        per_degree=8192 * 9 / 440,
        name_ends="Motion Plus",
    ),
    MotionFrame(
        ("wiimote",),
        "drivers/hid/hid-wiimote-modules.c, wiimod_accel_in_accel: the accelerometer is ABS_RX, ABS_RY, ABS_RZ around "
        "0; about 104 units a g, x left, y towards, z up by public descriptions of the protocol, not proven on it",
        gyro=None,
        pull=("left", "towards", "up"),
        pull_codes=TURNS,
        per_g=104.0,
        name_ends="Accelerometer",
    ),
)


def frame_of(driver: str, name: str) -> MotionFrame:
    """The frame of a motion node of this driver and with this name."""
    return next((frame for frame in FRAMES if frame.fits(driver, name)), COMMON)
