"""What goes into the engine and what comes out of it (contract R1, R2; DESIGN chapter 4).

Input is in normal form: sticks x, y in [-1, 1] with right and down positive, triggers 0 to 1, buttons 0 or 1,
gyro in degrees a second. Output events encode to the JSON objects of ``nubshift replay --json``.
"""

from __future__ import annotations

from typing import TypeAlias

import msgspec

from nubshift.units import Micros

VIRTUAL_PHYS = "nubshift"
"""Physical path of the devices we make in the kernel, so that our own output is never taken for a controller."""

Change: TypeAlias = tuple[str, float, float]
"""A control's new value: its name, x (or depth, or 1 for down), and y (sticks only, else 0)."""


class Report(msgspec.Struct, frozen=True, gc=False):
    """All that one controller said at one moment, up to its SYN. A stick's two axes are one change."""

    t: Micros
    changes: tuple[Change, ...]
    seat: str = "1"


class Plugged(msgspec.Struct, frozen=True, gc=False):
    """A controller took a seat; `changes` is how it stands at that moment.

    A button already down has no effect until pressed anew, a stick acts at once (contract R12).
    """

    t: Micros
    changes: tuple[Change, ...]
    seat: str = "1"


class Unplugged(msgspec.Struct, frozen=True, gc=False):
    """The controller of a seat is gone: what its controls hold ends."""

    t: Micros
    seat: str = "1"


InputEvent: TypeAlias = Report | Plugged | Unplugged


class Key(msgspec.Struct, frozen=True, gc=False, tag_field="kind", tag="key"):
    """A key of the keyboard: `code` is the kernel's name without ``KEY_``; `value` 1 is down, 0 up."""

    t: Micros
    code: str
    value: int


class Button(msgspec.Struct, frozen=True, gc=False, tag_field="kind", tag="button"):
    """A mouse button: `code` is the kernel's name (``BTN_LEFT``); `value` 1 is down, 0 up."""

    t: Micros
    code: str
    value: int


class Motion(msgspec.Struct, frozen=True, gc=False, tag_field="kind", tag="motion"):
    """The mouse moved by whole counts, right and down positive."""

    t: Micros
    dx: int
    dy: int


class LayerChange(msgspec.Struct, frozen=True, gc=False, tag_field="kind", tag="layer"):
    """A layer became active (1) or is so no longer (0); `code` is its id."""

    t: Micros
    code: str
    value: int


Output: TypeAlias = Key | Button | Motion | LayerChange
