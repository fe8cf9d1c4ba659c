"""Every tunable number once: name, unit, range, default, step and a sentence of help.

The validator (`profile`), the engine's defaults (`engine.compile`), the editors of the window and the docs all
feed from this table. Values are stored in the unit named here; `shown` is what one stored unit is when a person
reads it (a share of 0.08 is shown as 8 %).
"""

from __future__ import annotations

from enum import StrEnum

import msgspec

from nubshift.texts import _


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
    "inner", _("Dead zone"), 0.0, 0.9, 0.08, _("Share of the stick's reach around its rest that does nothing.")
)
OUTER = _share("outer", _("Full output at"), 0.1, 1.0, 0.96, _("Share of the reach at which the output is full."))
LEAST_STEP = _share(
    "least_step",
    _("Minimum output"),
    0.0,
    0.5,
    0.0,
    _("Speed at which motion starts, as a share of full speed. Set it to get past the dead zone of a game."),
)
SPEED = Parameter(
    name="speed",
    label=_("Speed at full tilt"),
    unit="°/s",
    low=1,
    high=3000,
    default=180,
    step=1,
    help=_("How fast the view turns sideways with the stick fully out."),
)
RATIO = Parameter(
    name="ratio",
    label=_("Horizontal to vertical"),
    unit="×",
    low=0.2,
    high=5,
    default=1.0,
    step=0.05,
    help=_("Horizontal speed divided by vertical speed; 1 is the same both ways."),
    digits=2,
)
EDGE_BOOST = _share(
    "edge_boost", _("Edge boost"), 0.0, 3.0, 0.0, _("How much faster it gets while the stick stays fully out.")
)
EDGE_TIME = Parameter(
    name="edge_time",
    label=_("Edge boost time"),
    unit=_("ms"),
    low=20,
    high=3000,
    default=400,
    step=20,
    help=_("Time from reaching the edge to the full boost."),
)
KEY_RADIUS = _share(
    "key_radius", _("Presses at"), 0.05, 0.95, 0.50, _("How far out the stick must be for its keys to be pressed.")
)
DIAGONAL = Parameter(
    name="diagonal",
    label=_("Diagonals"),
    unit="°",
    low=0,
    high=90,
    default=45,
    step=1,
    help=_("Width of a diagonal. 0 never presses two keys, 90 leaves no straight directions."),
)
PRESS_AT = _share(
    "press_at",
    _("Presses at"),
    0.06,
    1.0,
    0.30,
    _("How far the trigger must be pulled to count as pressed. The same in every layer."),
    Scope.CONTROL,
)
RUMBLE = Parameter(
    name="rumble",
    label=_("Rumble from the game"),
    unit="%",
    low=0.0,
    high=1.0,
    default=1.0,
    step=0.05,
    shown=100,
    help=_("How much of the rumble a game sends to the virtual pad reaches the controller."),
)
RUMBLE_CAP = Parameter(
    name="rumble_cap",
    label=_("Longest rumble"),
    unit=_("ms"),
    low=50,
    high=5000,
    default=1000,
    step=50,
    help=_("Some games forget to end a rumble. It ends after this time."),
)
TICK = Parameter(
    name="tick",
    label=_("Mouse interval"),
    unit=_("ms"),
    low=1,
    high=10,
    default=4,
    step=1,
    help=_("How often mouse motion from sticks is sent."),
    scope=Scope.PROFILE,
)
COUNTS_PER_TURN = Parameter(
    name="counts_per_turn",
    label=_("Turn gauge"),
    unit=_("counts"),
    low=100,
    high=500_000,
    default=9000,
    step=100,
    scope=Scope.PROFILE,
    help=_("Mouse counts that turn the view of this game once around. All speeds in degrees depend on it."),
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
        name=name,
        label=label,
        unit=_("ms"),
        low=low,
        high=high,
        default=default,
        step=step,
        help=help_text,
        scope=scope,
    )


HOLD_AT = _ms(
    "hold_at",
    _("Hold time"),
    60,
    1000,
    200,
    10,
    _("A press that ends earlier is a tap, one that lasts this long is a hold."),
)
DOUBLE_WITHIN = _ms(
    "double_within", _("Double tap time"), 80, 1000, 250, 10, _("Longest time between the two presses of a double tap.")
)
PULSE = _ms("pulse", _("Tap length"), 10, 200, 30, 5, _("How long a tapped key is held, so that every game sees it."))
TOGETHER_WITHIN = _ms(
    "together_within",
    _("Combination time"),
    10,
    300,
    60,
    5,
    _("Longest time between presses that count as a combination."),
)
CHORD_GAP = _ms("chord_gap", _("Sequence interval"), 5, 500, 30, 5, _("Time from one key of a sequence to the next."))
TURBO_RATE = Parameter(
    name="turbo_rate",
    label=_("Turbo rate"),
    unit=_("Hz"),
    low=1,
    high=50,
    default=10,
    step=1,
    help=_("Presses a second."),
    scope=Scope.CONTROL,
)
TURBO_DUTY = _share(
    "turbo_duty", _("Duty"), 0.1, 0.9, 0.5, _("Share of each pulse that the key is held."), Scope.CONTROL
)
PULSED_PERIOD = _ms(
    "pulsed_period",
    _("Pulse period"),
    40,
    500,
    100,
    10,
    _("Length of a period. The key is held for the share that the control is moved."),
    Scope.CONTROL,
)
BAND_FROM = _share("band_from", _("From"), 0.03, 1.0, 0.5, _("Depth at which the output starts."), Scope.CONTROL)
BAND_WAIT = _ms(
    "band_wait",
    _("Wait"),
    0,
    500,
    0,
    10,
    _("How long the control must stay at this depth, so that a quick full pull does not send it."),
    Scope.CONTROL,
)
BELT_PAUSE = _ms(
    "belt_pause",
    _("Reset after"),
    0,
    60_000,
    0,
    100,
    _("After this pause the next step starts at the first entry. 0 means never."),
    Scope.CONTROL,
)
RUMBLE_TIME = _ms("rumble_time", _("Duration"), 10, 1000, 120, 10, _("How long the controller rumbles."), Scope.CONTROL)
POINTER_HOLD = _ms(
    "pointer_hold",
    _("Hold the last point for"),
    0,
    5000,
    500,
    50,
    _("How long the cursor stays after the pointer loses sight of the screen."),
    Scope.CONTROL,
)
MIN_CUTOFF = Parameter(
    name="min_cutoff",
    label=_("Smoothing cutoff"),
    unit=_("Hz"),
    low=0,
    high=30,
    default=0,
    step=0.5,
    digits=1,
    help=_("Cutoff frequency of the smoothing at slow motion. Lower is steadier but later. 0 turns smoothing off."),
)
BETA = Parameter(
    name="beta",
    label=_("Cutoff rise with speed"),
    unit="",
    low=0,
    high=5,
    default=0.5,
    step=0.05,
    digits=2,
    help=_("How much the cutoff rises with speed. Higher is quicker but rougher."),
)
SCROLL_SPEED = Parameter(
    name="scroll_speed",
    label=_("Scroll speed at full tilt"),
    unit=_("notches/s"),
    low=0.5,
    high=100,
    default=12,
    step=0.5,
    digits=1,
    help=_("How fast the wheel turns with the control fully out."),
)
POINTER_SPEED = Parameter(
    name="pointer_speed",
    label=_("A full swipe moves"),
    unit=_("counts"),
    low=20,
    high=20_000,
    default=1600,
    step=20,
    help=_("Mouse counts for a swipe from one end of the control to the other."),
)
GYRO_RATIO = Parameter(
    name="gyro_ratio",
    label=_("Gyro ratio"),
    unit="×",
    low=0.05,
    high=30,
    default=2.5,
    step=0.05,
    digits=2,
    help=_("Degrees the view turns for each degree the controller turns."),
)
GYRO_THRESHOLD = Parameter(
    name="gyro_threshold",
    label=_("Soft threshold"),
    unit="°/s",
    low=0,
    high=60,
    default=3,
    step=0.5,
    digits=1,
    help=_("Slower motion is scaled down, never cut off, so that a resting hand is steady and a slow aim still moves."),
)
GYRO_EDGE = Parameter(
    name="gyro_edge",
    label=_("Full output at"),
    unit="°",
    low=5,
    high=720,
    default=120,
    step=5,
    scope=Scope.CONTROL,
    help=_("Turning speed or angle at which a gyro used as a stick or pointer reaches the edge."),
)
MENU_RADIUS = _share(
    "menu_radius", _("Selects at"), 0.05, 0.9, 0.4, _("How far out a direction of the menu is selected.")
)
PRECISION = _share(
    "precision", _("Precision"), 0.05, 1.0, 0.4, _("Share of the speed that remains while held."), Scope.CONTROL
)
SPEED_STEP = Parameter(
    name="speed_step",
    label=_("Factor"),
    unit="×",
    low=0.25,
    high=4,
    default=1.1,
    step=0.05,
    digits=2,
    scope=Scope.CONTROL,
    help=_("Factor applied to the speed with each press. Above 1 is faster, below 1 slower."),
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
    MIN_CUTOFF,
    BETA,
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
