"""Every tunable number once: name, unit, range, default, step and a sentence of help.

The validator (`profile`), the engine's defaults (`engine.compile`), the editors of the window and the docs all
feed from this table. Values are stored in the unit named here; `shown` is what one stored unit is when a person
reads it (a share of 0.08 is shown as 8 %).
"""

from __future__ import annotations

from enum import StrEnum

import msgspec


class Scope(StrEnum):
    """Where a parameter can be set: in any layer, once for a control (its base), or once for the profile."""

    LAYER = "layer"
    CONTROL = "control"
    PROFILE = "profile"


class Parameter(msgspec.Struct, frozen=True, kw_only=True):
    """One tunable. `low` and `high` are inclusive; `step` is one press of an arrow key."""

    name: str
    label: str
    unit: str
    low: float
    high: float
    default: float
    step: float
    help: str
    scope: Scope = Scope.LAYER
    shown: float = 1.0
    digits: int = 0

    @property
    def wide(self) -> bool:
        """Whether the range spans so much that equal shares of a slider should multiply, not add."""
        return self.low > 0 and self.high / self.low >= 100

    @property
    def meta(self) -> msgspec.Meta:
        """The range for strict reading and for the JSON Schema."""
        return msgspec.Meta(ge=self.low, le=self.high, title=self.label, description=self.help)

    def clamp(self, value: float) -> float:
        """`value` brought into the range and free of the noise of repeated steps (1e-6 of a unit)."""
        return round(min(self.high, max(self.low, value)), 6)

    def text(self, value: float) -> str:
        """`value` as a person reads it, with its unit: ``8 %``, ``180 °/s``, ``0.75 ×``."""
        return f"{value * self.shown:,.{self.digits}f}".replace(",", "\u202f") + f"\u202f{self.unit}"


def _share(
    name: str, label: str, low: float, high: float, default: float, help_text: str, scope: Scope = Scope.LAYER
) -> Parameter:
    return Parameter(
        name=name,
        label=label,
        unit="%",
        low=low,
        high=high,
        default=default,
        step=0.01,
        help=help_text,
        scope=scope,
        shown=100,
    )


INNER = _share(
    "inner", "Dead zone", 0.0, 0.9, 0.08, "Share of the stick's reach around its rest where nothing happens."
)
OUTER = _share("outer", "Full from", 0.1, 1.0, 0.96, "Share of the reach at which the stick counts as fully out.")
LEAST_STEP = _share(
    "least_step",
    "Least step",
    0.0,
    0.5,
    0.0,
    "Speed with which motion begins, as a share of full speed; crosses a game's own dead zone.",
)
SPEED = Parameter(
    name="speed",
    label="Full tilt turns",
    unit="°/s",
    low=1,
    high=3000,
    default=180,
    step=1,
    help="How fast the view turns sideways with the stick fully out.",
)
RATIO = Parameter(
    name="ratio",
    label="Sideways to up and down",
    unit="×",
    low=0.2,
    high=5,
    default=1.0,
    step=0.05,
    help="Horizontal speed divided by vertical speed; 1 is the same both ways.",
    digits=2,
)
EDGE_BOOST = _share(
    "edge_boost", "Builds up at the edge", 0.0, 3.0, 0.0, "How much faster it gets while the stick stays fully out."
)
EDGE_TIME = Parameter(
    name="edge_time",
    label="Builds up within",
    unit="ms",
    low=20,
    high=3000,
    default=400,
    step=20,
    help="Time from reaching the edge until the whole gain is there.",
)
KEY_RADIUS = _share(
    "key_radius", "Presses from", 0.05, 0.95, 0.50, "How far out the stick must be before its keys go down."
)
DIAGONAL = Parameter(
    name="diagonal",
    label="Diagonals",
    unit="°",
    low=0,
    high=90,
    default=45,
    step=1,
    help="Width of a diagonal; 0 never presses two keys, 90 leaves no straight directions.",
)
PRESS_AT = _share(
    "press_at",
    "Presses at",
    0.06,
    1.0,
    0.30,
    "How far the trigger is pulled before it counts as pressed, the same in every layer.",
    Scope.CONTROL,
)
TICK = Parameter(
    name="tick",
    label="Mouse steps every",
    unit="ms",
    low=1,
    high=10,
    default=4,
    step=1,
    help="How often mouse motion from sticks is sent.",
    scope=Scope.PROFILE,
)
COUNTS_PER_TURN = Parameter(
    name="counts_per_turn",
    label="One turn takes",
    unit="counts",
    low=100,
    high=500_000,
    default=9000,
    step=100,
    scope=Scope.PROFILE,
    help="Mouse counts that turn the view of this game once around; degrees depend on it.",
)

PARAMETERS: tuple[Parameter, ...] = (
    INNER,
    OUTER,
    LEAST_STEP,
    SPEED,
    RATIO,
    EDGE_BOOST,
    EDGE_TIME,
    KEY_RADIUS,
    DIAGONAL,
    PRESS_AT,
    TICK,
    COUNTS_PER_TURN,
)
BY_NAME: dict[str, Parameter] = {parameter.name: parameter for parameter in PARAMETERS}

KEY_HYSTERESIS = 0.02
"""A stick's keys are released this far inside `KEY_RADIUS` (contract R8)."""

SECTOR_HYSTERESIS = 3.0
"""Degrees by which the sector held reaches beyond its edges (contract R8)."""

PRESS_HYSTERESIS = 0.05
"""A trigger is released this far below `PRESS_AT` (contract R4)."""
