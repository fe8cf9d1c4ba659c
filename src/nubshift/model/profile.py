"""The form of a profile (format ``nubshift-profile``, version 1): typed frozen structs, nothing that acts.

Values are checked when a file is read (`reading`), not by these constructors. The JSON Schema is made from here.
Tuples and frozen structs share what they have in common, so keeping every state for undo is cheap.
"""

from __future__ import annotations

from typing import Annotated, Final, Literal, TypeAlias

import msgspec

from nubshift.model import parameters as p

FORMAT: Final = "nubshift-profile"
VERSION: Final = 1
BASE = "base"
"""Id of the first layer, which is always active and lies below all others."""

SUFFIX = ".nubshift.json"

Id = Annotated[
    str,
    msgspec.Meta(pattern=r"^[a-z0-9][a-z0-9_-]{0,63}$", description="lower-case name used inside the file"),
]
Text = Annotated[str, msgspec.Meta(max_length=200)]
Note = Annotated[str, msgspec.Meta(max_length=5000)]
Direction = Literal["up", "up_right", "right", "down_right", "down", "down_left", "left", "up_left"]
Colour = Literal["moss", "rust", "ochre", "slate", "plum", "sand"]

COLOURS: tuple[Colour, ...] = ("moss", "rust", "ochre", "slate", "plum", "sand")
DIRECTIONS: tuple[Direction, ...] = (
    "up", "up_right", "right", "down_right", "down", "down_left", "left", "up_left",
)  # fmt: skip
"""Clockwise from up, as the sectors of a stick are numbered."""


class _Part(msgspec.Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """What all parts of a profile share: immutable, strict, and short when written."""


class Game(_Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """The game a profile is for. `program` is the name of its executable, empty if not known."""

    title: Text
    colour: Colour = "moss"
    note: Note = ""
    program: Text = ""
    counts_per_turn: Annotated[float, p.COUNTS_PER_TURN.meta] = p.COUNTS_PER_TURN.default
    tick: Annotated[int, p.TICK.meta] = int(p.TICK.default)


class Command(_Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """One entry of the game's key list. `keys` go down in their order and up reversed."""

    id: Id
    name: Text
    keys: tuple[str, ...] = ()
    group: Text = ""
    note: Note = ""


class Seat(_Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """A place for a controller; most profiles have one."""

    id: Id
    name: Text = ""


class SendCommand(_Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag_field="send", tag="command"):
    """Send the keys of a command."""

    command: Id


class SendKey(_Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag_field="send", tag="key"):
    """Send one key (``A``, ``LEFTSHIFT``) or mouse button (``BTN_LEFT``) that no command names."""

    key: str


class HoldLayer(_Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag_field="send", tag="layer"):
    """Keep a layer active for as long as the control is held."""

    layer: Id


Send: TypeAlias = SendCommand | SendKey | HoldLayer
Sends: TypeAlias = tuple[Send, ...]


class KeysRole(_Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag_field="use", tag="keys"):
    """A stick as keys. With 4 `directions` a diagonal holds both neighbours, with 8 it has sends of its own."""

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


class MouseRole(_Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag_field="use", tag="mouse"):
    """A stick that moves the mouse; how is said by its `Feel`."""


Role: TypeAlias = KeysRole | MouseRole


class Binding(_Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """What one control does in one layer: a button or trigger has `press`, a stick has a `role`.

    `blocked` sets the control to nothing, so that no lower layer shows through.
    """

    control: str
    seat: Id = "1"
    press: Sends = ()
    role: Role | None = None
    blocked: bool = False
    note: Note = ""


Share = Annotated[float, msgspec.Meta(ge=0, le=1)]
CurvePoints: TypeAlias = tuple[tuple[Share, Share], ...]


class Feel(_Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """The tuning of one control in one layer. What is None comes from the layer below, at last from the default."""

    control: str
    seat: Id = "1"
    inner: Annotated[float, p.INNER.meta] | None = None
    outer: Annotated[float, p.OUTER.meta] | None = None
    zone: Literal["round", "axes"] | None = None
    curve: CurvePoints | None = None
    least_step: Annotated[float, p.LEAST_STEP.meta] | None = None
    speed: Annotated[float, p.SPEED.meta] | None = None
    ratio: Annotated[float, p.RATIO.meta] | None = None
    invert_x: bool | None = None
    invert_y: bool | None = None
    edge_boost: Annotated[float, p.EDGE_BOOST.meta] | None = None
    edge_time: Annotated[float, p.EDGE_TIME.meta] | None = None
    key_radius: Annotated[float, p.KEY_RADIUS.meta] | None = None
    diagonal: Annotated[float, p.DIAGONAL.meta] | None = None
    press_at: Annotated[float, p.PRESS_AT.meta] | None = None


DEFAULT_FEEL = Feel(
    control="",
    inner=p.INNER.default,
    outer=p.OUTER.default,
    zone="round",
    curve=((0.0, 0.0), (1.0, 1.0)),
    least_step=p.LEAST_STEP.default,
    speed=p.SPEED.default,
    ratio=p.RATIO.default,
    invert_x=False,
    invert_y=False,
    edge_boost=p.EDGE_BOOST.default,
    edge_time=p.EDGE_TIME.default,
    key_radius=p.KEY_RADIUS.default,
    diagonal=p.DIAGONAL.default,
    press_at=p.PRESS_AT.default,
)
FEEL_FIELDS: tuple[str, ...] = tuple(name for name in Feel.__struct_fields__ if name not in ("control", "seat"))


class Layer(_Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """Bindings that lie over others while active. A layer that `hides` lets nothing below it through."""

    id: Id
    name: Text
    hides: bool = False
    bindings: tuple[Binding, ...] = ()
    feel: tuple[Feel, ...] = ()
    note: Note = ""

    def binding(self, control: str, seat: str = "1") -> Binding | None:
        """The binding of a control in this layer, or None where it falls through."""
        return next((b for b in self.bindings if b.control == control and b.seat == seat), None)

    def feel_of(self, control: str, seat: str = "1") -> Feel | None:
        """The feel this layer sets for a control, or None."""
        return next((f for f in self.feel if f.control == control and f.seat == seat), None)


class Profile(_Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """A whole profile. `layers` is never empty; its first entry is the base."""

    format: Literal["nubshift-profile"]
    version: Literal[1]
    game: Game
    commands: tuple[Command, ...] = ()
    seats: tuple[Seat, ...] = (Seat("1"),)
    layers: tuple[Layer, ...] = (Layer(BASE, "Base"),)

    def command(self, command_id: str) -> Command | None:
        """The command with this id, or None."""
        return next((c for c in self.commands if c.id == command_id), None)

    def layer(self, layer_id: str) -> Layer | None:
        """The layer with this id, or None."""
        return next((entry for entry in self.layers if entry.id == layer_id), None)


def new_profile(title: str) -> Profile:
    """An empty profile for a game called `title`."""
    return Profile(format=FORMAT, version=VERSION, game=Game(title))


def merged_feel(feels: tuple[Feel | None, ...]) -> Feel:
    """One feel with every field set: each from the first of `feels` (newest layer first) that has it, else default."""
    values = {}
    for name in FEEL_FIELDS:
        found = next((v for f in feels if f is not None and (v := getattr(f, name)) is not None), None)
        values[name] = getattr(DEFAULT_FEEL, name) if found is None else found
    return Feel(control="", **values)
