"""What goes into the engine and what comes out of it (contract R1, R2; docs/architecture.md).

Input is in normal form: sticks x, y in [-1, 1] with right and down positive, triggers 0 to 1, buttons 0 or 1,
gyro in degrees a second. Output events encode to the JSON objects of ``nubshift replay --json``.
"""

from __future__ import annotations

from typing import TypeAlias

import msgspec

from nubshift.units import Micros

VIRTUAL_PHYS = "nubshift"
"""Physical path of the devices we make in the kernel, so that our own output is never taken for a controller."""
VIRTUAL_KEYBOARD, VIRTUAL_MOUSE = "Nub Shift keyboard", "Nub Shift mouse"
"""What the desktop calls the virtual keyboard and mouse."""

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


class Focus(msgspec.Struct, frozen=True, gc=False):
    """The game got the focus (`on`) or lost it. Losing it is a stop (contract R12); toggles may come back after it."""

    t: Micros
    on: bool


class Captured(msgspec.Struct, frozen=True, gc=False):
    """The controls of a seat are taken for something else than play (`on`), or given back (contract R19).

    Given back, `changes` is how they stand at that moment.
    """

    t: Micros
    on: bool
    changes: tuple[Change, ...] = ()
    seat: str = "1"


InputEvent: TypeAlias = Report | Plugged | Unplugged | Focus | Captured


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


NOTCH = 120
"""Units of a wheel notch, as in the kernel's high-resolution wheel events (REL_WHEEL_HI_RES)."""


class Wheel(msgspec.Struct, frozen=True, gc=False, tag_field="kind", tag="wheel"):
    """The wheel turned, in units of 1/120 notch; `dx` right and `dy` up are positive, as the kernel has them."""

    t: Micros
    dx: int
    dy: int


class Pad(msgspec.Struct, frozen=True, gc=False, tag_field="kind", tag="pad"):
    """The virtual pad: a button (`code` ``south``, `value` 1 or 0) or an axis (``left_x`` -1 to 1, triggers 0 to 1)."""

    t: Micros
    code: str
    value: float


class Point(msgspec.Struct, frozen=True, gc=False, tag_field="kind", tag="point"):
    """The cursor is put at `x`, `y`, in shares of the screen, or of the window that has the focus if `window`."""

    t: Micros
    x: float
    y: float
    window: bool = False


class Rumble(msgspec.Struct, frozen=True, gc=False, tag_field="kind", tag="rumble"):
    """The controller in the seat `code` rumbles at `value` (0 to 1) until told otherwise; 0 ends it."""

    t: Micros
    code: str
    value: float


class Light(msgspec.Struct, frozen=True, gc=False, tag_field="kind", tag="light"):
    """The light of the controller in the seat `code` takes the colour `value` (``#rrggbb``)."""

    t: Micros
    code: str
    value: str


Output: TypeAlias = Key | Button | Motion | LayerChange | Wheel | Pad | Point | Rumble | Light


class Surface(msgspec.Struct, frozen=True, gc=False):
    """What an overlay draws: a control in use as ``tiles``, ``menu`` or ``board``, and the cell chosen, -1 for none.

    ``all`` asks for what everything does now; it belongs to no control.
    """

    seat: str
    control: str
    use: str
    layer: str
    cell: int
