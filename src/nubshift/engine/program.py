"""A profile compiled for the engine: every name resolved, every check done, one table look-up per event.

How a report flows (DESIGN chapter 4, contract R1): `engine.Engine.feed` hands each change to its control's entry in
`Program.controls`; a button's binding is found by walking the active layers once at its press (`buttons`); then sticks
follow the layers as they are now (`sticks`); what either holds goes through its `grip` to `holders` and `layers`;
mouse motion is gathered in `motion` and leaves on ticks.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TypeAlias

from nubshift.model.profile import Feel
from nubshift.units import Micros

ControlKey: TypeAlias = tuple[str, str]
"""Seat id and control name."""


@dataclass(frozen=True, slots=True)
class KeyStep:
    """Hold a key or mouse button, by its kernel name."""

    code: str


@dataclass(frozen=True, slots=True)
class LayerStep:
    """Keep a layer entered, by its id, which stays the same when the profile is edited."""

    layer: str


Step: TypeAlias = KeyStep | LayerStep


@dataclass(frozen=True, slots=True)
class Press:
    """What one press does: its steps in order, ended in reverse. `layer` is the id of the layer it stands in."""

    steps: tuple[Step, ...]
    layer: str

    @property
    def changes_layers(self) -> bool:
        """Whether any step enters a layer; such presses come first in a report."""
        return any(isinstance(step, LayerStep) for step in self.steps)


@dataclass(frozen=True, slots=True)
class StickKeys:
    """A stick as keys. `sectors` has for each of the eight sectors, clockwise from up, the presses it holds."""

    sectors: tuple[tuple[Press, ...], ...]
    layer: str


@dataclass(frozen=True, slots=True)
class StickMouse:
    """A stick that moves the mouse."""

    layer: str


StickRole: TypeAlias = StickKeys | StickMouse


@dataclass(frozen=True, slots=True)
class Blocked:
    """The control is set to nothing in this layer; what lies below does not show through."""


BLOCKED = Blocked()


def setting_layer(by_layer: Sequence[object], order: tuple[int, ...]) -> int | None:
    """The newest of the active layers (`order`, newest first) that sets a control at all, or None (R5)."""
    for layer in order:
        if by_layer[layer] is not None:
            return layer
    return None


@dataclass(frozen=True, slots=True)
class ButtonEntry:
    """A button: its binding in each layer, None where it falls through."""

    presses: tuple[Press | Blocked | None, ...]
    may_change_layers: bool


@dataclass(frozen=True, slots=True)
class TriggerEntry:
    """A trigger used as a button: pressed at a depth ≥ `press_at`, released below `release_at`."""

    presses: tuple[Press | Blocked | None, ...]
    may_change_layers: bool
    press_at: float
    release_at: float


@dataclass(frozen=True, slots=True)
class StickEntry:
    """A stick: its role and its own feel in each layer, None where they fall through."""

    roles: tuple[StickRole | Blocked | None, ...]
    feels: tuple[Feel | None, ...]


@dataclass(frozen=True, slots=True)
class SensedEntry:
    """A control that is read but does nothing yet in any layer (its values are known, not acted on)."""


Entry: TypeAlias = ButtonEntry | TriggerEntry | StickEntry | SensedEntry


@dataclass(frozen=True, slots=True)
class LayerInfo:
    """A layer's id and whether it hides what lies below it."""

    id: str
    hides: bool


@dataclass(frozen=True, slots=True)
class Program:
    """The compiled profile. Index 0 of `layers` is the base. `counts_per_degree` is by the turn gauge."""

    layers: tuple[LayerInfo, ...]
    controls: dict[ControlKey, Entry]
    tick: Micros
    counts_per_degree: float
