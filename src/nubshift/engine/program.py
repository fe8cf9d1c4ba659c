"""A profile compiled for the engine: every name resolved, every check done, one table look-up per event.

How a report flows (docs/architecture.md, contract R1), and where to read on:

1. `engine.Engine.feed` lets what is due happen first (`timers`, then the ticks of `motion`), then sorts the report's
   changes into buttons and positions.
2. A button (`buttons`) looks its binding up once, at its press, walking the active layers (`layers`), and hands it to
   its `gestures`; controls that are pressed together wait for each other in `combinations`.
3. Positions (`positions`: sticks, triggers by depth, axes, touch pads; `gyro`) then follow once, with the layers as
   they are now: each role (`roles/`) says which steps are to be held, and the difference is begun and ended.
4. Whatever is begun is a `Step`, held by `HeldSteps`: a key in `holders`, a layer in `layers`, speed in `motion`, or
   something that runs by itself (`turbo`, `sequences`, `toggles`, `macros`, `belts`).

All of them share one `context`: the time of this step, what it sends, and what lasts. The `core` is that context, with
buttons, positions, belts and macros, which only `engine`, `settling` and `states` know.
"""

from __future__ import annotations

from collections.abc import Sequence

from nubshift.engine.act import Act
from nubshift.engine.belts import BeltInfo
from nubshift.engine.layers import LayerInfo
from nubshift.engine.macros import MacroInfo
from nubshift.engine.owner import ControlKey, Owner
from nubshift.engine.variants import VariantInfo
from nubshift.model.profile import Feel
from nubshift.model.roles import Role
from nubshift.records import Record
from nubshift.units import Micros


class GestureSet(Record, frozen=True):
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


class BandEntry(Record, frozen=True):
    """One band: from `start` on, after `wait` µs in it; with `adds` the band within is held as well."""

    start: float
    act: Act
    adds: bool
    wait: Micros


class Position(Record, frozen=True):
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


BLOCKED = Blocked()


def setting_layer(by_layer: Sequence[object], order: tuple[int, ...]) -> int | None:
    """The newest of the active layers (`order`, newest first) that sets a control at all, or None (R5)."""
    for layer in order:
        if by_layer[layer] is not None:
            return layer
    return None


class ButtonEntry(Record, frozen=True):
    """A button, or a trigger as one: its binding in each layer, None where it falls through.

    It is pressed at a value ≥ `press_at` and released below `release_at`. `depths` says of a trigger in which layers it
    acts by its depth instead; empty for none.
    """

    presses: tuple[GestureSet | Blocked | None, ...]
    may_change_layers: bool = False
    press_at: float = 0.5
    release_at: float = 0.5
    depths: tuple[bool, ...] = ()


class PositionEntry(Record, frozen=True):
    """A control by its position: binding and own feel in each layer, None where they fall through.

    `plane`: it has two dimensions; `senses`: it counts only while a finger is there; `bound`: some layer binds it.
    """

    positions: tuple[Position | Blocked | None, ...]
    feels: tuple[Feel | None, ...]
    plane: bool
    senses: bool = False
    motion: bool = False
    bound: bool = False


class CombinationEntry(Record, frozen=True):
    """The combinations of one seat in each layer, by their members; and which controls are members there."""

    sets: tuple[dict[frozenset[str], GestureSet | Blocked], ...]
    members: tuple[frozenset[str], ...]
    within: Micros


LEFT_HALF, RIGHT_HALF = 2, 3


class Feed(Record, frozen=True):
    """A part of a control made of others: `component` 0 is x, 1 is y; the value counts by `sign`.

    A half of a touch pad takes the whole place (`LEFT_HALF`, `RIGHT_HALF`).
    """

    control: str
    component: int
    sign: float = 1.0


class Program(Record, frozen=True):
    """The compiled profile. Index 0 of `layers` is the base."""

    layers: tuple[LayerInfo, ...]
    buttons: dict[ControlKey, ButtonEntry]
    positions: dict[ControlKey, PositionEntry]
    tick: Micros
    pulse: Micros = 30_000
    together: dict[str, CombinationEntry] = {}
    feeds: dict[ControlKey, tuple[Feed, ...]] = {}
    belts: dict[str, BeltInfo] = {}
    macros: dict[str, MacroInfo] = {}
    toggles: frozenset[str] = frozenset()
    variants: dict[ControlKey, tuple[VariantInfo, ...]] = {}
    refused: tuple[str, ...] = ()
    """Sentences about texts that the keyboard layout can't type."""

    def controls_used(self) -> frozenset[str]:
        """The controls that any layer binds, those that a role goes by, and those that others of them are made of."""
        found = {key[1] for key, entry in self.positions.items() if entry.bound}
        found |= {key[1] for key, entry in self.buttons.items() if any(what is not None for what in entry.presses)}
        for entry in self.positions.values():
            found |= {str(by) for what in entry.positions if (by := getattr(getattr(what, "role", None), "by", ""))}
        for combined in self.together.values():
            found |= {control for members in combined.members for control in members}
        made_of = {key[1] for key, feeds in self.feeds.items() if any(feed.control in found for feed in feeds)}
        return frozenset(found | made_of)

    def feel_of(self, key: ControlKey, layer: int) -> Feel | None:
        """What a layer says of a control's feel by itself."""
        entry = self.positions.get(key)
        return entry.feels[layer] if entry is not None else None
