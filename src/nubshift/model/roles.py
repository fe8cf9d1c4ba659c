"""What a stick, axis, d-pad, gyro, pointer or touch pad is used as, told apart by ``use`` (need N21 to N38)."""

from __future__ import annotations

from typing import Annotated, Literal, TypeAlias

import msgspec

from nubshift.model import parameters as p
from nubshift.model.part import Direction, Part, Share, Text
from nubshift.model.sends import Sends

Area: TypeAlias = tuple[Share, Share, Share, Share]
"""Left, top, right and bottom in shares of the whole."""


class Role_(Part, frozen=True, forbid_unknown_fields=True, tag_field="use"):
    """Base of all roles."""


class Overlay(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """Where and how a surface is shown on screen: centre in shares of the screen, size in shares of its height."""

    x: Share = 0.5
    y: Share = 0.7
    size: Annotated[float, msgspec.Meta(ge=0.05, le=1)] = 0.35
    opacity: Annotated[float, msgspec.Meta(ge=0.1, le=1)] = 0.85


class KeysRole(Role_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="keys"):
    """Keys by direction. With 4 `directions` a diagonal holds both neighbours, with 8 it has sends of its own.

    A lone axis has `left` on its lower side and `right` on its upper one.
    """

    directions: Literal[4, 8] = 4
    up: Sends = ()
    up_right: Sends = ()
    right: Sends = ()
    down_right: Sends = ()
    down: Sends = ()
    down_left: Sends = ()
    left: Sends = ()
    up_left: Sends = ()

    def sends(self, direction: Direction) -> Sends:
        """What one direction sends."""
        sends: Sends = getattr(self, direction)
        return sends


class MouseRole(Role_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="mouse"):
    """Moves the mouse at a speed; how is said by its `Feel`. A lone axis moves it sideways, or up and down."""

    upright: bool = False


class ScrollRole(Role_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="scroll"):
    """Turns the wheel evenly, both ways, at `Feel.scroll_speed`. A lone axis turns it up and down unless `sideways`."""

    sideways: bool = False


class PointerRole(Role_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="pointer"):
    """Puts the cursor where the control points (or moves it by what changes, if `relative`).

    `area` is the part of the screen (or of the window that has the focus) that is reached; `margin` the share at each
    edge of the control's own range that lies beyond it. Lost for `hold` ms, the cursor parks at `park`, or stays.
    """

    relative: bool = False
    target: Literal["screen", "window"] = "screen"
    area: Area = (0.0, 0.0, 1.0, 1.0)
    margin: Annotated[float, msgspec.Meta(ge=0, le=0.4)] = 0.0
    hold: Annotated[int, p.POINTER_HOLD.meta] = int(p.POINTER_HOLD.default)
    park: tuple[Share, Share] | None = None


class TilesRole(Role_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="tiles"):
    """The plane divided into cells: `rows` by `columns`, read like a page, or `slices` along angles from up.

    `cells` has what each cell holds. Along angles nothing is held within `Feel.menu_radius`.
    """

    cells: tuple[Sends, ...]
    rows: Annotated[int, msgspec.Meta(ge=1, le=8)] = 3
    columns: Annotated[int, msgspec.Meta(ge=1, le=8)] = 3
    slices: Annotated[int, msgspec.Meta(ge=0, le=16)] = 0
    show: Overlay | None = None

    @property
    def count(self) -> int:
        """How many cells there are."""
        return self.slices or self.rows * self.columns


MENU_LEAST, MENU_MOST = 2, 16
"""Entries of a radial menu."""


class MenuEntry(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """One entry of a radial menu."""

    what: Sends
    label: Text = ""


class MenuRole(Role_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="menu"):
    """A radial menu: `entries` clockwise from up, and maybe the `middle`.

    It is sent when the control comes back to the centre (``return``), when it is let go of or the layer of the menu is
    left (``release``), or when the control `by` is pressed (``press``).
    """

    entries: Annotated[tuple[MenuEntry, ...], msgspec.Meta(min_length=MENU_LEAST, max_length=MENU_MOST)]
    middle: Sends = ()
    on: Literal["return", "release", "press"] = "return"
    by: str = ""
    show: Overlay = Overlay()


class BoardRole(Role_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="board"):
    """An on-screen keyboard: `rows` of cells, each a character or the name of a key (``BACKSPACE``), typed with `by`.

    A stick or d-pad moves the mark cell by cell; a touch pad puts it, and types when the finger leaves without `by`.
    """

    rows: Annotated[tuple[tuple[str, ...], ...], msgspec.Meta(min_length=1, max_length=8)]
    by: str = ""
    show: Overlay = Overlay(size=0.5)


class PadStickRole(Role_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="pad-stick"):
    """A stick of the virtual pad. As it comes, or through the dead zone and curve of its `Feel` if `tuned`."""

    stick: Literal["left", "right"]
    tuned: bool = False


class PadAxisRole(Role_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="pad-axis"):
    """A trigger or lone axis as one axis of the virtual pad (one of `PAD_AXES`)."""

    axis: str


class GyroRole(Role_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="gyro"):
    """Motion as mouse, as pointer or as a stick of the virtual pad.

    `axes`: sideways by turning, by leaning, or about gravity. `active`: ``always``; ``while`` or ``unless`` the control
    `by` is held; or ``toggled`` by it. As a stick, `stick_rate` °/s is the stick's edge; as a pointer, `stick_rate`
    degrees either way reach the edge of the screen.
    """

    to: Literal["mouse", "pointer", "stick"] = "mouse"
    axes: Literal["turn", "lean", "gravity"] = "turn"
    active: Literal["always", "while", "unless", "toggled"] = "always"
    by: str = ""
    stick: Literal["left", "right"] = "right"
    stick_rate: Annotated[float, p.GYRO_EDGE.meta] = p.GYRO_EDGE.default


Role: TypeAlias = (
    KeysRole
    | MouseRole
    | ScrollRole
    | PointerRole
    | TilesRole
    | MenuRole
    | BoardRole
    | PadStickRole
    | PadAxisRole
    | GyroRole
)
