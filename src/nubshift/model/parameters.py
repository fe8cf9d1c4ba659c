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
        """`value` as a person reads it, with its unit: ``8 %``, ``5.4 %``, ``180 °/s``, ``0.75 ×``."""
        shown = round(value * self.shown, 6) + 0.0  # no minus before a zero
        digits = self.digits + (self.unit == "%" and abs(shown - round(shown)) > 1e-6)
        return f"{shown:,.{digits}f}".replace(",", "\u202f") + f"\u202f{self.unit}"


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
    label="Speed at full tilt",
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
RUMBLE = Parameter(
    name="rumble",
    label="The game's rumble",
    unit="%",
    low=0.0,
    high=1.0,
    default=1.0,
    step=0.05,
    shown=100,
    help="How much of the rumble that a game sends to the virtual pad reaches your hand.",
)
RUMBLE_CAP = Parameter(
    name="rumble_cap",
    label="No rumble longer than",
    unit="ms",
    low=50,
    high=5000,
    default=1000,
    step=50,
    help="Some games forget to end a rumble; it ends by itself after this time.",
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


def _ms(
    name: str,
    label: str,
    low: float,
    high: float,
    default: float,
    step: float,
    help_text: str,
    scope: Scope = Scope.PROFILE,
) -> Parameter:
    return Parameter(
        name=name, label=label, unit="ms", low=low, high=high, default=default, step=step, help=help_text, scope=scope
    )


HOLD_AT = _ms(
    "hold_at",
    "A press is a hold from",
    60,
    1000,
    200,
    10,
    "A press let go of earlier is a tap, one that lasts as long is a hold.",
)
DOUBLE_WITHIN = _ms(
    "double_within",
    "A double tap within",
    80,
    1000,
    250,
    10,
    "Time from the first press to the second for the two to be a double tap.",
)
PULSE = _ms("pulse", "A tap lasts", 10, 200, 30, 5, "How long a tapped key is down, so that every game sees it.")
TOGETHER_WITHIN = _ms(
    "together_within",
    "Pressed together within",
    10,
    300,
    60,
    5,
    "How far apart controls may be pressed and still count as pressed together.",
)
CHORD_GAP = _ms(
    "chord_gap", "Keys in order follow after", 5, 500, 30, 5, "Time from one key of a sequence to the next."
)
TURBO_RATE = Parameter(
    name="turbo_rate",
    label="Presses a second",
    unit="Hz",
    low=1,
    high=50,
    default=10,
    step=1,
    help="How many pulses a second.",
    scope=Scope.CONTROL,
)
TURBO_DUTY = _share("turbo_duty", "Down for", 0.1, 0.9, 0.5, "Share of each pulse that the key is down.", Scope.CONTROL)
PULSED_PERIOD = _ms(
    "pulsed_period",
    "One pulse every",
    40,
    500,
    100,
    10,
    "Length of a period, of which the key is down for the share that the control is moved.",
    Scope.CONTROL,
)
BAND_FROM = _share("band_from", "From", 0.03, 1.0, 0.5, "Depth at which the band begins.", Scope.CONTROL)
BAND_WAIT = _ms(
    "band_wait",
    "Waits",
    0,
    500,
    0,
    10,
    "How long the depth must stay in the band, so that a pull going straight through does not send it.",
    Scope.CONTROL,
)
BELT_PAUSE = _ms(
    "belt_pause",
    "Starts over after",
    0,
    60_000,
    0,
    100,
    "After this pause the next step begins at the start; 0 never starts over.",
    Scope.CONTROL,
)
RUMBLE_TIME = _ms("rumble_time", "Rumbles for", 10, 1000, 120, 10, "How long the controller rumbles.", Scope.CONTROL)
POINTER_HOLD = _ms(
    "pointer_hold",
    "Holds the last point for",
    0,
    5000,
    500,
    50,
    "How long the cursor stays when the pointer lost its sight.",
    Scope.CONTROL,
)
STEADY = Parameter(
    name="steady",
    label="Steady when slow",
    unit="Hz",
    low=0,
    high=30,
    default=0,
    step=0.5,
    digits=1,
    help="Cut-off of the smoothing while hardly anything moves: lower is steadier and later; 0 does not smooth.",
)
QUICK = Parameter(
    name="quick",
    label="Quick when fast",
    unit="",
    low=0,
    high=5,
    default=0.5,
    step=0.05,
    digits=2,
    help="How much the smoothing opens with speed: higher is quicker and rougher.",
)
SCROLL_SPEED = Parameter(
    name="scroll_speed",
    label="Full tilt scrolls",
    unit="notches/s",
    low=0.5,
    high=100,
    default=12,
    step=0.5,
    digits=1,
    help="How fast the wheel turns with the control fully out.",
)
POINTER_SPEED = Parameter(
    name="pointer_speed",
    label="A full swipe moves",
    unit="counts",
    low=20,
    high=20_000,
    default=1600,
    step=20,
    help="Mouse counts for a movement from one end of the control to the other.",
)
GYRO_RATIO = Parameter(
    name="gyro_ratio",
    label="The view turns",
    unit="×",
    low=0.05,
    high=30,
    default=2.5,
    step=0.05,
    digits=2,
    help="Degrees the view turns for each degree the controller turns.",
)
GYRO_THRESHOLD = Parameter(
    name="gyro_threshold",
    label="Calm below",
    unit="°/s",
    low=0,
    high=60,
    default=3,
    step=0.5,
    digits=1,
    help="Slower turning is scaled down, never cut off, so that a resting hand is calm and a slow aim still moves.",
)
GYRO_EDGE = Parameter(
    name="gyro_edge",
    label="Full at",
    unit="°",
    low=5,
    high=720,
    default=120,
    step=5,
    scope=Scope.CONTROL,
    help="Turning speed, or angle, at which the gyro used as a stick or pointer reaches the edge.",
)
MENU_RADIUS = _share("menu_radius", "Chooses from", 0.05, 0.9, 0.4, "How far out a direction of a menu is chosen.")
PRECISION = _share(
    "precision", "Precision", 0.05, 1.0, 0.4, "Share of the speed that is left while held.", Scope.CONTROL
)
SPEED_STEP = Parameter(
    name="speed_step",
    label="Times",
    unit="×",
    low=0.25,
    high=4,
    default=1.1,
    step=0.05,
    digits=2,
    scope=Scope.CONTROL,
    help="Factor on the speed with each press; above 1 is faster, below 1 slower.",
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
    STEADY,
    QUICK,
    SCROLL_SPEED,
    POINTER_SPEED,
    GYRO_RATIO,
    GYRO_THRESHOLD,
    GYRO_EDGE,
    MENU_RADIUS,
    HOLD_AT,
    DOUBLE_WITHIN,
    PULSE,
    TOGETHER_WITHIN,
    CHORD_GAP,
    TURBO_RATE,
    TURBO_DUTY,
    PULSED_PERIOD,
    BAND_FROM,
    BAND_WAIT,
    BELT_PAUSE,
    RUMBLE_TIME,
    POINTER_HOLD,
    PRECISION,
    SPEED_STEP,
)
BY_NAME: dict[str, Parameter] = {parameter.name: parameter for parameter in PARAMETERS}

KEY_HYSTERESIS = 0.02
"""A stick's keys are released this far inside `KEY_RADIUS` (contract R8)."""

SECTOR_HYSTERESIS = 3.0
"""Degrees by which the sector held reaches beyond its edges (contract R8)."""

PRESS_HYSTERESIS = 0.05
"""A trigger is released this far below `PRESS_AT` (contract R4)."""

BAND_HYSTERESIS = 0.02
"""A band, and a button held while a stick is out, ends this far below where it began (contract R15)."""

CELL_HYSTERESIS = 0.02
"""How far a control must go beyond the edge of a tile or a menu's middle to leave it (contract R17)."""

SHORTEST_US = 10_000
"""The shortest pulse, and the shortest gap between two, in µs (contract R7)."""
