"""The form of a profile (format ``nubshift-profile``, version 5): typed frozen structs, nothing that acts.

Values are checked when a file is read (`reading`), not by these constructors. The JSON Schema is made from here.
Tuples and frozen structs share what they have in common, so keeping every state for undo is cheap.
"""

from __future__ import annotations

from typing import Annotated, Final, Literal, TypeAlias

import msgspec

from nubshift.model import parameters as p
from nubshift.model.part import Form, Id, Note, Part, Share, Text
from nubshift.model.roles import Role
from nubshift.model.sends import Sends

FORMAT: Final = "nubshift-profile"
VERSION: Final = 8
BASE = "base"
"""Id of the first layer, which is always active and lies below all others."""

SUFFIX = ".nubshift.json"

Colour = Literal["moss", "rust", "ochre", "slate", "plum", "sand"]
COLOURS: tuple[Colour, ...] = ("moss", "rust", "ochre", "slate", "plum", "sand")
PadKind = Literal["none", "full", "simple"]
Moves = Literal["view", "cursor"]


class Game(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """The game a profile is for. `program` is the name of its executable, empty if not known. `moves` is what the mouse
    moves in it: speeds of a view read in degrees, those of a cursor in pixels.

    `form` is the form of commands that is sent unless a layer says otherwise; `pad` the kind of virtual pad that the
    game sees: none, a full one (two sticks, triggers, rumble) or a simple one (one stick and buttons). Unless it
    `sees_controller`, the controller itself is hidden from it. `light` is the colour of the controller's light
    (``#rrggbb``, empty: as it is). The game's own rumble reaches the hand scaled by `rumble`, no pulse of it longer
    than `rumble_cap` ms.
    """

    title: Text
    colour: Colour = "moss"
    note: Note = ""
    program: Text = ""
    moves: Moves = "view"
    counts_per_turn: Annotated[float, p.COUNTS_PER_TURN.meta] = p.COUNTS_PER_TURN.default
    tick: Annotated[int, p.TICK.meta] = int(p.TICK.default)
    form: Form = "keys"
    pad: PadKind = "none"
    sees_controller: bool = False
    light: Annotated[str, msgspec.Meta(pattern="^(#[0-9a-f]{6})?$")] = ""
    rumble: Annotated[float, p.RUMBLE.meta] = p.RUMBLE.default
    rumble_cap: Annotated[int, p.RUMBLE_CAP.meta] = int(p.RUMBLE_CAP.default)


class Habits(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """How this player plays: times in ms, holds replaced by toggles, and whether one press may send just one thing."""

    hold_at: Annotated[int, p.HOLD_AT.meta] = int(p.HOLD_AT.default)
    double_within: Annotated[int, p.DOUBLE_WITHIN.meta] = int(p.DOUBLE_WITHIN.default)
    pulse: Annotated[int, p.PULSE.meta] = int(p.PULSE.default)
    together_within: Annotated[int, p.TOGETHER_WITHIN.meta] = int(p.TOGETHER_WITHIN.default)
    chord_gap: Annotated[int, p.CHORD_GAP.meta] = int(p.CHORD_GAP.default)
    holds_toggle: bool = False
    one_to_one: bool = False


class Command(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """One entry of the game's key list. `keys` go down in their order and up reversed; `pad` is its other form.

    `toggles` says that the game toggles this itself: a press switches it on, another one off.
    """

    id: Id
    name: Text
    keys: tuple[str, ...] = ()
    group: Text = ""
    note: Note = ""
    pad: tuple[str, ...] = ()
    toggles: bool = False


class Join(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """Two lone axes joined as a stick: `control` is its name."""

    control: Literal["joined_stick_1", "joined_stick_2", "joined_stick_3"]
    x: str
    y: str


class Seat(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """A place for a controller, for joined halves or for a part of one; most profiles have one."""

    id: Id
    name: Text = ""
    joins: tuple[Join, ...] = ()


ONE_SEAT: tuple[Seat, ...] = (Seat("1"),)
"""What most profiles have; this very object is left out of files."""


class BeltEntry(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """One entry of a belt; a `skip`ped one is passed over."""

    what: Sends
    skip: bool = False


class Belt(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """An ordered list that buttons step through; all of them share its position. `pause` is in ms."""

    id: Id
    name: Text
    entries: Annotated[tuple[BeltEntry, ...], msgspec.Meta(min_length=1, max_length=100)]
    wraps: bool = True
    pause: Annotated[int, p.BELT_PAUSE.meta] = int(p.BELT_PAUSE.default)


class MacroPress(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag_field="do", tag="press"):
    """Hold something from here on."""

    what: Sends


class MacroRelease(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag_field="do", tag="release"):
    """Let go of it."""

    what: Sends


class MacroTap(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag_field="do", tag="tap"):
    """Hold something for `ms` milliseconds (None: as long as a tap), then go on."""

    what: Sends
    ms: Annotated[int, msgspec.Meta(ge=10, le=60_000)] | None = None


class MacroWait(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag_field="do", tag="wait"):
    """Wait `ms` milliseconds."""

    ms: Annotated[int, msgspec.Meta(ge=1, le=600_000)]


MacroStep: TypeAlias = MacroPress | MacroRelease | MacroTap | MacroWait


class Macro(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """Steps in time. `runs`: once, again and again while held, or until pressed again.

    `again` says what a trigger does while it runs.
    """

    id: Id
    name: Text
    steps: Annotated[tuple[MacroStep, ...], msgspec.Meta(min_length=1, max_length=1000)]
    runs: Literal["once", "while-held", "until-pressed"] = "once"
    again: Literal["ignore", "restart", "queue", "overlap"] = "ignore"


class Band(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """A range of depth, from `start` to the next band's. With `adds` what lies further in is held as well."""

    start: Annotated[float, p.BAND_FROM.meta]
    what: Sends
    adds: bool = False
    wait: Annotated[int, p.BAND_WAIT.meta] = int(p.BAND_WAIT.default)


class Binding(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """What one control does in one layer.

    A button or trigger has gestures (`press` to `release`); a stick, axis, trigger or sensor has a `role`, outputs by
    depth (`bands`) and what is held while it is `out`. `blocked` sets the control to nothing, so that no lower layer
    shows through. Times are in ms, None for the player's own.
    """

    control: str
    seat: Id = "1"
    press: Sends = ()
    tap: Sends = ()
    hold: Sends = ()
    double: Sends = ()
    release: Sends = ()
    hold_at: Annotated[int, p.HOLD_AT.meta] | None = None
    double_within: Annotated[int, p.DOUBLE_WITHIN.meta] | None = None
    role: Role | None = None
    bands: tuple[Band, ...] = ()
    out: Sends = ()
    blocked: bool = False
    note: Note = ""

    @property
    def gestures(self) -> dict[str, Sends]:
        """What each gesture sends, for those that send something, in the order press to release."""
        return {name: sends for name in GESTURES if (sends := getattr(self, name))}

    @property
    def by_depth(self) -> bool:
        """Whether the control acts by its position and not as a button."""
        return bool(self.role or self.bands or self.out)

    @property
    def sets(self) -> bool:
        """Whether the control is set at all here, so that lower layers do not show through."""
        return self.blocked or self.by_depth or bool(self.gestures)


GESTURES: tuple[str, ...] = ("press", "tap", "hold", "double", "release")


class Together(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """Two or three buttons of a seat pressed together, bound like one button."""

    controls: Annotated[tuple[str, ...], msgspec.Meta(min_length=2, max_length=3)]
    seat: Id = "1"
    press: Sends = ()
    tap: Sends = ()
    hold: Sends = ()
    double: Sends = ()
    release: Sends = ()
    hold_at: Annotated[int, p.HOLD_AT.meta] | None = None
    double_within: Annotated[int, p.DOUBLE_WITHIN.meta] | None = None
    blocked: bool = False
    note: Note = ""

    @property
    def gestures(self) -> dict[str, Sends]:
        """What each gesture sends, for those that send something."""
        return {name: sends for name in GESTURES if (sends := getattr(self, name))}


CurvePoints: TypeAlias = tuple[tuple[Share, Share], ...]


class Feel(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
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
    min_cutoff: Annotated[float, p.MIN_CUTOFF.meta] | None = None
    beta: Annotated[float, p.BETA.meta] | None = None
    scroll_speed: Annotated[float, p.SCROLL_SPEED.meta] | None = None
    pointer_speed: Annotated[float, p.POINTER_SPEED.meta] | None = None
    gyro_ratio: Annotated[float, p.GYRO_RATIO.meta] | None = None
    gyro_threshold: Annotated[float, p.GYRO_THRESHOLD.meta] | None = None
    menu_radius: Annotated[float, p.MENU_RADIUS.meta] | None = None


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
    min_cutoff=p.MIN_CUTOFF.default,
    beta=p.BETA.default,
    scroll_speed=p.SCROLL_SPEED.default,
    pointer_speed=p.POINTER_SPEED.default,
    gyro_ratio=p.GYRO_RATIO.default,
    gyro_threshold=p.GYRO_THRESHOLD.default,
    menu_radius=p.MENU_RADIUS.default,
)
FEEL_FIELDS: tuple[str, ...] = tuple(name for name in Feel.__struct_fields__ if name not in ("control", "seat"))


class Layer(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """Bindings that lie over others while active. A layer that `hides` lets nothing below it through.

    `form` is the form of commands that is sent while it is active, `moves` what the mouse moves meanwhile,
    `counts_per_turn` the turn gauge of a layer that the game scales (aiming), `rumble` how strongly the controller
    tells that it was entered; None and 0 change nothing.
    """

    id: Id
    name: Text
    hides: bool = False
    bindings: tuple[Binding, ...] = ()
    feel: tuple[Feel, ...] = ()
    note: Note = ""
    together: tuple[Together, ...] = ()
    form: Form | None = None
    moves: Moves | None = None
    counts_per_turn: Annotated[float, p.COUNTS_PER_TURN.meta] | None = None
    rumble: Share = 0.0

    def binding(self, control: str, seat: str = "1") -> Binding | None:
        """The binding of a control in this layer, or None where it falls through."""
        return next((b for b in self.bindings if b.control == control and b.seat == seat), None)

    def combination(self, controls: str, seat: str = "1") -> Together | None:
        """What controls pressed together (their names joined with ``+``, in any order) do in this layer, or None."""
        wanted = set(controls.split("+"))
        return next((t for t in self.together if set(t.controls) == wanted and t.seat == seat), None)

    def feel_of(self, control: str, seat: str = "1") -> Feel | None:
        """The feel this layer sets for a control, or None."""
        return next((f for f in self.feel if f.control == control and f.seat == seat), None)


class Variant(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """A feel of one control in one layer that was kept by name, to be taken again.

    The one in use is the one that is equal to the layer's feel of that control; there may be none.
    """

    id: Id
    name: Text
    feel: Feel
    layer: Id = BASE

    @property
    def place(self) -> tuple[str, str, str]:
        """Layer, seat and control that it is a feel of."""
        return self.layer, self.feel.seat, self.feel.control


class Pair(Part, frozen=True, forbid_unknown_fields=True):
    """Two commands that the player needs at the same time."""

    one: Id
    other: Id


class Profile(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """A whole profile. `layers` is never empty; its first entry is the base.

    `needed` are pairs of commands that the player needs at the same time, so that no one finger should have both.
    """

    format: Literal["nubshift-profile"]
    version: Literal[8]
    game: Game
    commands: tuple[Command, ...] = ()
    seats: tuple[Seat, ...] = ONE_SEAT
    layers: tuple[Layer, ...] = (Layer(BASE, "Base"),)
    belts: tuple[Belt, ...] = ()
    macros: tuple[Macro, ...] = ()
    habits: Habits = Habits()
    needed: tuple[Pair, ...] = ()
    variants: tuple[Variant, ...] = ()

    def command(self, command_id: str) -> Command | None:
        """The command with this id, or None."""
        return next((c for c in self.commands if c.id == command_id), None)

    def layer(self, layer_id: str) -> Layer | None:
        """The layer with this id, or None."""
        return next((entry for entry in self.layers if entry.id == layer_id), None)

    def belt(self, belt_id: str) -> Belt | None:
        """The belt with this id, or None."""
        return next((b for b in self.belts if b.id == belt_id), None)

    def macro(self, macro_id: str) -> Macro | None:
        """The macro with this id, or None."""
        return next((m for m in self.macros if m.id == macro_id), None)

    def feel_in(self, layer_id: str, seat: str, control: str) -> Feel:
        """What a layer sets of a control's feel; nothing set where it says nothing."""
        layer = self.layer(layer_id)
        return (layer and layer.feel_of(control, seat)) or Feel(control, seat)

    def variants_of(self, layer_id: str, seat: str, control: str) -> tuple[Variant, ...]:
        """The feels kept for a control in a layer, in their order."""
        return tuple(v for v in self.variants if v.place == (layer_id, seat, control))

    def variant_in_use(self, layer_id: str, seat: str, control: str) -> Variant | None:
        """The variant that is equal to the present feel of a control in a layer, or None."""
        feel = self.feel_in(layer_id, seat, control)
        return next((v for v in self.variants_of(layer_id, seat, control) if v.feel == feel), None)


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
