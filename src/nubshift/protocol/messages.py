"""What runner and app say to each other: JSON objects, one a line, on a Unix socket (docs/formats.md).

Every message has a ``say``. The other side greets first, as a window or as a command; versions must be equal. A runner
serves one window at a time, and commands beside it.
"""

from __future__ import annotations

from typing import Literal, TypeAlias

import msgspec

from nubshift.events import Surface
from nubshift.model.controller_info import ControllerInfo
from nubshift.model.controller_setup import ControllerSetup
from nubshift.model.profile import Belt, Command, Game, Habits, Layer, Macro, Pair, Profile, Seat, Variant
from nubshift.model.programs import SeenProgram
from nubshift.model.stored_controllers import PartOf
from nubshift.protocol.play_figures import Lateness, Pace, Urgency

PROTOCOL = 11


class _Say(msgspec.Struct, frozen=True, tag_field="say", rename="kebab", omit_defaults=True):
    """Base of all messages."""


# From the app


class Hello(_Say, frozen=True, tag="hello"):
    """The first message. A window is told of everything; a command asks one thing after the other, each of which is
    answered: by what it asked for, or by `Done`."""

    protocol: int
    role: Literal["window", "command"] = "window"


class Use(_Say, frozen=True, tag="use"):
    """Play by this profile from now on. The same `edit` number comes back in `Used`.

    With `switch` it is another profile (everything is released first), else an edit of the one in use. `others` are the
    profiles that it enters while a control is held, by name; `name` is that of its own file.
    """

    profile: Profile
    edit: int
    switch: bool = False
    others: dict[str, Profile] = {}
    name: str = ""


class Edit(_Say, frozen=True, tag="edit"):
    """The profile of the `Use` or `Edit` with the number `base` was edited: the parts of it that are others now.

    `layers` are those that changed or are new, and `order` the ids of all, where one came, went or moved. The number
    `edit` comes back in `Used`. Send the next one when it has: meanwhile only the newest state counts.
    """

    edit: int
    base: int
    game: Game | msgspec.UnsetType = msgspec.UNSET
    commands: tuple[Command, ...] | msgspec.UnsetType = msgspec.UNSET
    seats: tuple[Seat, ...] | msgspec.UnsetType = msgspec.UNSET
    layers: tuple[Layer, ...] = ()
    order: tuple[str, ...] | msgspec.UnsetType = msgspec.UNSET
    belts: tuple[Belt, ...] | msgspec.UnsetType = msgspec.UNSET
    macros: tuple[Macro, ...] | msgspec.UnsetType = msgspec.UNSET
    habits: Habits | msgspec.UnsetType = msgspec.UNSET
    needed: tuple[Pair, ...] | msgspec.UnsetType = msgspec.UNSET
    variants: tuple[Variant, ...] | msgspec.UnsetType = msgspec.UNSET


class SetLive(_Say, frozen=True, tag="live"):
    """Send (True) or pause (False): a pause releases everything and gives the controller back to the system."""

    on: bool


class Withhold(_Say, frozen=True, tag="withhold"):
    """Whether output is kept back because a window of the app has the focus."""

    on: bool


class Shown(_Say, frozen=True, tag="shown"):
    """Whether the window is on the screen; closed to the tray, its profile is used only where no rule says else."""

    on: bool


class Keep(_Say, frozen=True, tag="keep"):
    """Stay on this profile (the name of its file, or a path) until told otherwise; None: choose by the rules again."""

    profile: str | None = None


class Launch(_Say, frozen=True, tag="launch"):
    """A game is started with this profile by the process `pid`: it is used until the connection ends."""

    profile: str
    pid: int


class Ask(_Say, frozen=True, tag="ask"):
    """What is live and why (answered by `Status`), which programs had the focus lately (by `Programs`), or how play
    goes (by `Health`: what a window was told last, and without one only the priority)."""

    what: Literal["status", "programs", "health"] = "status"


class Steer(_Say, frozen=True, tag="steer"):
    """Put a control of the simulated pad in a seat somewhere, in normal form."""

    control: str
    x: float
    y: float = 0.0
    seat: str = "1"


class Play(_Say, frozen=True, tag="play"):
    """Let a player's script (the name of one that ships) move the simulated pad; empty ends it."""

    script: str


class Watch(_Say, frozen=True, tag="watch"):
    """Tell every report of this control of a seat with its time, and each mouse motion; empty ends it."""

    control: str
    seat: str = "1"


class Choose(_Say, frozen=True, tag="choose"):
    """Use this controller, by its id, in a seat; empty to leave the seat empty (never the first one)."""

    controller: str
    seat: str = "1"


class Fill(_Say, frozen=True, tag="fill"):
    """Fill a seat with these, as long as they are there: a controller, joined halves, or a part of one."""

    seat: str
    parts: tuple[PartOf, ...]


class Reread(_Say, frozen=True, tag="reread"):
    """What is kept of controllers on disk has changed."""


class Teach(_Say, frozen=True, tag="teach"):
    """Lead through teaching a controller as one of the shapes; nothing of it is played until that is over."""

    controller: str
    shape: str


class Teaching(_Say, frozen=True, tag="teaching"):
    """What the player does about the lesson; `control` is the one to correct."""

    act: Literal["skip", "back", "review", "correct", "keep", "end"]
    control: str = ""


class Show(_Say, frozen=True, tag="show"):
    """Let a controller show which one it is: by rumble, and by its light in a colour where it has one."""

    controller: str
    colour: str = ""


class CloseMenu(_Say, frozen=True, tag="close-menu"):
    """The menu on the screen is done with: its controller plays again."""


class EnterLayer(_Say, frozen=True, tag="enter-layer"):
    """Have only this layer of the profile in use; an empty one for the base."""

    layer: str


class UseVariant(_Say, frozen=True, tag="use-variant"):
    """Give a control of the profile in use one of its variants."""

    control: str
    variant: str
    seat: str = "1"


class Stop(_Say, frozen=True, tag="stop"):
    """Release everything at once; sending goes on with the next input."""


class Quit(_Say, frozen=True, tag="quit"):
    """Release everything and end; asked by a command, the app ends too."""


Request: TypeAlias = (
    Hello
    | Use
    | Edit
    | SetLive
    | Withhold
    | Shown
    | Keep
    | Launch
    | Ask
    | Steer
    | Play
    | Watch
    | Choose
    | Fill
    | Reread
    | Teach
    | Teaching
    | Show
    | CloseMenu
    | EnterLayer
    | UseVariant
    | Stop
    | Quit
)


# From the runner


class Lesson(_Say, frozen=True, tag="lesson"):
    """How teaching stands. `phase` is ``rest``, ``ask``, ``review``, ``kept`` (with the `setup`) or ``over``.

    `control` and `ask` say what is wanted; it is number `place` of `total` (0 where nobody knows how many), and `left`
    is the share of time left. `said` is a remark, `taught` are the controls found, `lit` those that are out now.
    """

    controller: str
    phase: str
    shape: str
    control: str = ""
    ask: str = ""
    place: int = 0
    total: int = 0
    left: float = 1.0
    said: str = ""
    taught: tuple[str, ...] = ()
    lit: tuple[str, ...] = ()
    setup: ControllerSetup | None = None


class Welcome(_Say, frozen=True, tag="welcome"):
    """The answer to `Hello`: who answers."""

    protocol: int
    pid: int


class Refused(_Say, frozen=True, tag="refused"):
    """The app can't be served; the socket closes after this."""

    text: str


class Used(_Say, frozen=True, tag="used"):
    """The profile of the `Use` or `Edit` with this number is live; or is not, because of the `trouble`."""

    edit: int
    trouble: str = ""


class Done(_Say, frozen=True, tag="done"):
    """What a command asked for is done; or is not, because of the `trouble`."""

    trouble: str = ""


class Ended(_Say, frozen=True, tag="ended"):
    """The runner ends because a command said so: the app is to end too."""


class Programs(_Say, frozen=True, tag="programs"):
    """The programs that had the focus, the newest first, then others that run; see `Surroundings`."""

    recent: tuple[SeenProgram, ...] = ()
    running: tuple[SeenProgram, ...] = ()
    sees_focus: bool = False


class LaunchState(msgspec.Struct, frozen=True, array_like=True):
    """The profile of the game that was started with it, and by which process; empty and 0 for none."""

    profile: str = ""
    pid: int = 0


class Status(_Say, frozen=True, tag="status"):
    """What holds until it changes: sent at once when it does.

    `profile` is the name of the one in use (None for none) and `title` its game; `why` says in a sentence why it is
    this one and `cause` in a word (`model/choosing`). `waiting`: output waits for the game's focus; `kept` is the one
    that the player stays on, if any; `launched`: its game was started with it; `stop_key_by` says in a sentence how the
    stop key is heard.
    """

    live: bool
    withheld: bool
    controller: str
    controllers: tuple[ControllerInfo, ...]
    sink: str
    reason: str
    playing: bool = False
    seats: dict[str, str] = {}
    fills: dict[str, tuple[PartOf, ...]] = {}
    others: tuple[ControllerInfo, ...] = ()
    profile: str | None = None
    title: str = ""
    why: str = ""
    cause: str = ""
    waiting: bool = False
    kept: str | None = None
    launched: LaunchState = LaunchState()
    stop_key_by: str = ""


class Health(_Say, frozen=True, tag="health"):
    """How play went over the last `seconds`, once a second at most and only while a window is there.

    `late` is of these seconds, `minute` of the last minute. `reports` has the reports of each controller, by its id;
    `paces` how it reported when it last moved; `dropped` how often the kernel lost events of it since it is open.
    `counts` is what was odd about the input since the profile began (`engine.Counts`), `lost` the taps of commands
    toggled by the game that stops dropped; `left_out` presses that would have been sent more than a second late;
    `urgency` what priority play has.
    """

    seconds: float
    late: Lateness = Lateness()
    minute: Lateness = Lateness()
    reports: dict[str, int] = {}
    paces: dict[str, Pace] = {}
    dropped: dict[str, int] = {}
    counts: dict[str, int] = {}
    lost: int = 0
    left_out: int = 0
    urgency: Urgency = Urgency()


class MenuDoes(_Say, frozen=True, tag="menu"):
    """The controller of a seat opens the menu on the screen, works it or closes it; see `runner/on_screen_menu`."""

    act: str
    seat: str = "1"


class GameSeen(_Say, frozen=True, tag="game-seen"):
    """A game is played for which there is no profile yet."""

    program: SeenProgram


class Notice(_Say, frozen=True, tag="notice"):
    """A sentence for the player. `severity` is ``info``, ``warning`` or ``error``."""

    severity: str
    text: str


class Sent(msgspec.Struct, frozen=True, array_like=True):
    """One thing that went out, or would have, and why.

    `code` is a key or mouse button, ``pad:south`` of the virtual pad, ``layer:ID``, or ``wheel:up`` and its like;
    `value` 1 is down or entered, 0 up or left. `control`, `part` (its gesture, direction, band or cell) and `layer` say
    whose binding did it; they are empty where a stop did.
    """

    t: int
    code: str
    value: int
    control: str = ""
    part: str = ""
    layer: str = ""
    seat: str = "1"


class GyroBias(msgspec.Struct, frozen=True, array_like=True):
    """What the gyro says when nothing turns, in degrees a second, and whether a rest was seen yet."""

    turn: float
    nod: float
    lean: float
    known: bool


class Frame(_Say, frozen=True, tag="frame"):
    """What happened since the last frame, 60 times a second at most and only when something did.

    `t` is the runner's monotonic clock in µs. `controls` has the controls that changed (x, y), `seats` those of further
    seats; `held` what is down now, the newest last; `layers` the entered layers, the newest last; `sent` what was
    sent but for motion; `dx`, `dy` the mouse counts, `moved_by` the controls that made them, and `wheel` what the wheel
    turned, in 1/120 notch. Only while a control is `watched`: `trace` has its reports as (t, x, y), for motion as (t,
    turn, nod, lean, and the pull of gravity in x, y, z), `moves` the mouse motion as (t, dx, dy), `bias` that of the
    gyro.
    Buttons of the virtual pad stand in `held` and `sent` as ``pad:south``; `axes` has its axes that are not neutral.
    `surfaces` are the tiles, menus and on-screen keyboards in use, `belts` the entry of each belt that was sent last.
    `real` says whether it went out or only would have.
    """

    t: int
    real: bool
    controls: dict[str, tuple[float, float]] = {}
    held: tuple[str, ...] = ()
    layers: tuple[str, ...] = ()
    sent: tuple[Sent, ...] = ()
    dx: int = 0
    dy: int = 0
    moved_by: tuple[str, ...] = ()
    wheel: tuple[int, int] = (0, 0)
    axes: dict[str, float] = {}
    surfaces: tuple[Surface, ...] = ()
    seats: dict[str, dict[str, tuple[float, float]]] = {}
    belts: dict[str, int] = {}
    watched: str = ""
    trace: tuple[tuple[float, ...], ...] = ()
    moves: tuple[tuple[int, int, int], ...] = ()
    bias: GyroBias | None = None
    variants: dict[str, str] = {}


Reply: TypeAlias = (
    Welcome | Refused | Used | Status | Notice | Lesson | Frame | Health | Done | Ended | Programs | MenuDoes | GameSeen
)
