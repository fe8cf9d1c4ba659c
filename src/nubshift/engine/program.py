"""A profile compiled for the engine: every name resolved, every check done, one table look-up per event.

How a report flows (docs/architecture.md, contract R1), and where to read on:

1. `engine.Engine.feed` lets what is due happen first (`timers`, then the ticks of `motion`), then sorts the report's
   changes into buttons and positions.
2. A button (`buttons`) looks its binding up once, at its press, walking the active layers (`layers`), and hands it to
   its `gestures`; controls that are pressed together wait for each other in `together`.
3. Positions (`positions`: sticks, triggers by depth, axes, touch pads; `gyro`) then follow once, with the layers as
   they are now: each role (`roles/`) says which steps are to be held, and the difference is begun and ended.
4. Whatever is begun is a `Step`, held by a `grip`: a key in `holders`, a layer in `layers`, speed in `motion`, or
   something that runs by itself (`turbo`, `chords`, `toggles`, `macros`, `belts`).

All of them share one `core`: the time of this step, what it sends, and the parts named here.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, ClassVar, TypeAlias

from nubshift.engine.owner import Owner
from nubshift.model.profile import Feel
from nubshift.model.roles import Role
from nubshift.units import Micros

if TYPE_CHECKING:
    from nubshift.engine.core import Core

ControlKey: TypeAlias = tuple[str, str]
"""Seat id and control name."""


class Step(ABC):
    """One thing that can be begun and ended. Equal steps are the same: held before and after, it is not touched."""

    __slots__ = ()
    changes_layers: ClassVar[bool] = False

    @property
    def codes(self) -> tuple[str, ...]:
        """The keys and buttons that it holds by itself."""
        return ()

    @abstractmethod
    def begin(self, core: Core, owner: Owner) -> object:
        """Begin, at the core's time; what is returned is given back to `end`."""

    def end(self, core: Core, token: object) -> None:  # noqa: B027 - many steps have nothing to end
        """End what `begin` began. A momentary step has nothing to end."""

    def drop(self, core: Core, token: object) -> None:
        """Cut it short, as a stop does (R12); what it holds through grips of its own is dropped by itself."""
        self.end(core, token)


Steps: TypeAlias = tuple[Step, ...]


@dataclass(frozen=True, slots=True)
class Act:
    """What a gesture, direction, band or cell does: its steps in each form of the commands, and for whose sake."""

    keys: Steps
    pad: Steps
    owner: Owner

    def steps(self, pad_form: bool) -> Steps:
        """The steps in order, ended in reverse."""
        return self.pad if pad_form else self.keys

    @property
    def changes_layers(self) -> bool:
        """Whether a press of it changes layers; such presses come first in a report."""
        return any(step.changes_layers for step in self.keys)


@dataclass(frozen=True, slots=True)
class GestureSet:
    """What one binding of a button does, taken as a whole at its press (R4). Times in µs."""

    owner: Owner
    press: Act | None = None
    tap: Act | None = None
    hold: Act | None = None
    double: Act | None = None
    release: Act | None = None
    hold_at: Micros = 200_000
    double_within: Micros = 250_000
    pulse: Micros = 30_000

    def changes_layers(self, double: bool) -> bool:
        """Whether a press changes layers at once; `double`: it is the second one of a double tap."""
        acts = (self.press, self.double) if double else (self.press,)
        return any(act is not None and act.changes_layers for act in acts)

    @property
    def may_change_layers(self) -> bool:
        """Whether some press of it changes layers at once."""
        return self.changes_layers(double=True)


@dataclass(frozen=True, slots=True)
class BandEntry:
    """One band: from `start` on, after `wait` µs in it; with `adds` the band within is held as well."""

    start: float
    act: Act
    adds: bool
    wait: Micros


@dataclass(frozen=True, slots=True)
class Position:
    """What a binding of a control does by its position. `acts` are those of the role: sectors, cells, entries."""

    owner: Owner
    role: Role | None = None
    acts: tuple[tuple[Act, ...], ...] = ()
    middle: Act | None = None
    bands: tuple[BandEntry, ...] = ()
    out: Act | None = None
    pulse: Micros = 30_000


class Blocked:
    """The control is set to nothing in this layer; what lies below does not show through."""

    __slots__ = ()


BLOCKED = Blocked()


def setting_layer(by_layer: Sequence[object], order: tuple[int, ...]) -> int | None:
    """The newest of the active layers (`order`, newest first) that sets a control at all, or None (R5)."""
    for layer in order:
        if by_layer[layer] is not None:
            return layer
    return None


@dataclass(frozen=True, slots=True)
class ButtonEntry:
    """A button, or a trigger as one: its binding in each layer, None where it falls through.

    It is pressed at a value ≥ `press_at` and released below `release_at`. `depths` says of a trigger in which layers it
    acts by its depth instead; empty for none.
    """

    presses: tuple[GestureSet | Blocked | None, ...]
    may_change_layers: bool = False
    press_at: float = 0.5
    release_at: float = 0.5
    depths: tuple[bool, ...] = ()


@dataclass(frozen=True, slots=True)
class PositionEntry:
    """A control by its position: binding and own feel in each layer, None where they fall through.

    `plane`: it has two dimensions; `senses`: it counts only while a finger is there; `acts`: some layer binds it.
    """

    positions: tuple[Position | Blocked | None, ...]
    feels: tuple[Feel | None, ...]
    plane: bool
    senses: bool = False
    motion: bool = False
    acts: bool = False


@dataclass(frozen=True, slots=True)
class TogetherEntry:
    """The combinations of one seat in each layer, by their members; and which controls are members there."""

    sets: tuple[dict[frozenset[str], GestureSet | Blocked], ...]
    members: tuple[frozenset[str], ...]
    within: Micros


@dataclass(frozen=True, slots=True)
class BeltInfo:
    """A belt: what each entry does (None: skipped), the command it can be followed by, and how it steps."""

    acts: tuple[Act | None, ...]
    commands: tuple[str, ...]
    wraps: bool
    pause: Micros


LEFT_HALF, RIGHT_HALF = 2, 3


@dataclass(frozen=True, slots=True)
class Feed:
    """A part of a control made of others: `component` 0 is x, 1 is y; the value counts by `sign`.

    A half of a touch pad takes the whole place (`LEFT_HALF`, `RIGHT_HALF`).
    """

    control: str
    component: int
    sign: float = 1.0


@dataclass(frozen=True, slots=True)
class VariantInfo:
    """A feel kept for a control: its id, the index of its layer, what it sets there, and whether it is in use."""

    id: str
    layer: int
    feel: Feel
    used: bool


@dataclass(frozen=True, slots=True)
class LayerInfo:
    """A layer, its id and what it says by itself: "" and 0 for what it leaves to those below.

    `guest` is the base of the profile that the layer belongs to, if it is one entered while held; that base
    (`is_guest_base`) hides what lies below it.
    """

    id: str
    hides: bool
    form: str = ""
    counts_per_degree: float = 0.0
    guest: str = ""
    is_guest_base: bool = False
    rumble: float = 0.0


@dataclass(frozen=True, slots=True)
class MacroInfo:
    """A macro: its ops in order (`macros.MacroOp`), how long it runs, and what a trigger does while it does.

    `gap` is kept between taps of one key in a row.
    """

    ops: tuple[object, ...]
    runs: str
    again: str
    gap: Micros = 30_000


@dataclass(frozen=True, slots=True)
class Program:
    """The compiled profile. Index 0 of `layers` is the base."""

    layers: tuple[LayerInfo, ...]
    buttons: dict[ControlKey, ButtonEntry]
    positions: dict[ControlKey, PositionEntry]
    tick: Micros
    pulse: Micros = 30_000
    together: dict[str, TogetherEntry] = field(default_factory=dict)
    feeds: dict[ControlKey, tuple[Feed, ...]] = field(default_factory=dict)
    belts: dict[str, BeltInfo] = field(default_factory=dict)
    macros: dict[str, MacroInfo] = field(default_factory=dict)
    toggles: frozenset[str] = frozenset()
    variants: dict[ControlKey, tuple[VariantInfo, ...]] = field(default_factory=dict)
    refused: tuple[str, ...] = ()
    """Sentences about texts that the keyboard layout can't type."""
