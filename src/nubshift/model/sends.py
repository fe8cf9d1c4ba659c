"""What a profile can send (need N23 to N31, N34, N35, N42): one struct each, told apart in files by ``send``.

Most are held for as long as the control is; *momentary* ones act once when their gesture begins. Modifiers (`Toggled`,
`Turbo`, `Pulsed`, `InOrder`) are sends that hold other sends, so any of them can be had for any output.
"""

from __future__ import annotations

from typing import Annotated, Literal, TypeAlias

import msgspec

from nubshift.model import parameters as p
from nubshift.model.part import Id, Part, Share, Signed

PAD_BUTTONS: tuple[str, ...] = (
    "south",
    "east",
    "west",
    "north",
    "left_bumper",
    "right_bumper",
    "select",
    "start",
    "mode",
    "left_stick_click",
    "right_stick_click",
    "dpad_up",
    "dpad_right",
    "dpad_down",
    "dpad_left",
)
"""The buttons of the virtual pad, named as the controls that they look like to a game."""

PAD_AXES: tuple[str, ...] = ("left_x", "left_y", "right_x", "right_y", "left_trigger", "right_trigger")
"""The axes of the virtual pad: sticks -1 to 1 with right and down positive, triggers 0 to 1."""

Count = Annotated[int, msgspec.Meta(ge=-10_000, le=10_000)]


class Send_(Part, frozen=True, forbid_unknown_fields=True, tag_field="send"):
    """Base of all that can be sent."""


class SendCommand(Send_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="command"):
    """Send a command of the game: its keys, or its pad buttons where a layer or the profile asks for that form."""

    command: Id


class SendKey(Send_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="key"):
    """Send one key (``A``, ``LEFTSHIFT``) or mouse button (``BTN_LEFT``) that no command names."""

    key: str


class HoldLayer(Send_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="layer"):
    """Keep a layer active for as long as the control is held."""

    layer: Id


class ChangeLayer(Send_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="change-layer"):
    """Momentary: ``toggle`` a layer, enter it for one press (``once``), ``enter``, ``leave``, or have ``only`` it."""

    layer: Id
    how: Literal["toggle", "once", "enter", "leave", "only"] = "toggle"


class BackToBase(Send_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="back-to-base"):
    """Momentary: leave every layer, held ones too."""


class NextLayer(Send_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="next-layer"):
    """Momentary: step through layers, one at a time; after the last comes none, then the first again."""

    layers: tuple[Id, ...]
    back: bool = False


class HoldProfile(Send_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="profile"):
    """Play by another profile for as long as the control is held. `profile` is the name of its file without ending."""

    profile: Id


class SendWheel(Send_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="wheel"):
    """Momentary: turn the wheel by notches."""

    way: Literal["up", "down", "left", "right"]
    notches: Annotated[int, msgspec.Meta(ge=1, le=20)] = 1


class SendScroll(Send_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="scroll"):
    """Scroll evenly while held; `speed` in notches a second."""

    way: Literal["up", "down", "left", "right"]
    speed: Annotated[float, p.SCROLL_SPEED.meta] = p.SCROLL_SPEED.default


class SendMotion(Send_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="motion"):
    """Momentary: move the mouse by counts, right and down positive."""

    dx: Count = 0
    dy: Count = 0


class SendPoint(Send_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="point"):
    """Momentary: put the cursor on a point of the screen, in shares of its width and height."""

    x: Share
    y: Share


class ChangeSpeed(Send_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="speed"):
    """Momentary: sticks move the mouse faster (`by` above 1) or slower from now on."""

    by: Annotated[float, p.SPEED_STEP.meta]


class Precision(Send_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="precision"):
    """Sticks move the mouse at this share of their speed while held."""

    share: Annotated[float, p.PRECISION.meta] = p.PRECISION.default


class SendText(Send_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="text"):
    """Momentary: type a text, in the user's keyboard layout."""

    text: Annotated[str, msgspec.Meta(min_length=1, max_length=500)]


class SendMacro(Send_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="macro"):
    """Run a macro of the profile; how long, and what happens when it runs already, is said by the macro."""

    macro: Id


class SendBelt(Send_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="belt"):
    """Step a belt, then hold the entry it came to."""

    belt: Id
    step: Literal["next", "back", "again"] = "next"


class Gyro(Send_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="gyro"):
    """Momentary: ``pause`` or ``resume`` the gyro, ``toggle`` between them, or ``recentre`` it."""

    do: Literal["pause", "resume", "toggle", "recentre"]


class SendPad(Send_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="pad"):
    """Hold a button of the virtual pad (one of `PAD_BUTTONS`)."""

    button: str


class SendPadAxis(Send_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="pad-axis"):
    """Push an axis of the virtual pad (one of `PAD_AXES`) to `value` while held."""

    axis: str
    value: Signed = 1.0


class SendRumble(Send_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="rumble"):
    """Momentary: let the controller rumble, at `strength` for `ms` milliseconds."""

    strength: Share = 0.5
    ms: Annotated[int, p.RUMBLE_TIME.meta] = int(p.RUMBLE_TIME.default)


class SendLight(Send_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="light"):
    """Momentary: give the controller's light a colour, as ``#rrggbb``."""

    colour: Annotated[str, msgspec.Meta(pattern=r"^#[0-9a-f]{6}$")]


class ShowAll(Send_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="show-all"):
    """Show on screen what everything does now, while held."""


class NextVariant(Send_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="next-variant"):
    """Momentary: the next of the feels kept by name for `control` (of the same seat), or the one before."""

    control: str
    back: bool = False


class SendNothing(Send_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="nothing"):
    """Nothing: sets a gesture, a cell or a band without sending anything."""


class Toggled(Send_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="toggle"):
    """On with one use, off with the next. With `comes_back` it is put on again when the game has the focus again."""

    what: tuple[Send, ...]
    comes_back: bool = False


class Turbo(Send_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="turbo"):
    """Pulses while held: `rate` a second, down for the share `duty`.

    With `rate_at_full` the rate follows how far the control is moved, from `rate` at rest to that.
    """

    what: tuple[Send, ...]
    rate: Annotated[float, p.TURBO_RATE.meta] = p.TURBO_RATE.default
    duty: Annotated[float, p.TURBO_DUTY.meta] = p.TURBO_DUTY.default
    rate_at_full: Annotated[float, p.TURBO_RATE.meta] | None = None


class Pulsed(Send_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="pulsed"):
    """Down for the share of each period (ms) that the control is moved, so that a key behaves like an axis."""

    what: tuple[Send, ...]
    period: Annotated[int, p.PULSED_PERIOD.meta] = int(p.PULSED_PERIOD.default)


class InOrder(Send_, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="in-order"):
    """One after the other, each a gap (ms, None for the profile's) after the one before; all stay until release."""

    what: tuple[Send, ...]
    gap: Annotated[int, p.CHORD_GAP.meta] | None = None


Send: TypeAlias = (
    SendCommand
    | SendKey
    | HoldLayer
    | ChangeLayer
    | BackToBase
    | NextLayer
    | HoldProfile
    | SendWheel
    | SendScroll
    | SendMotion
    | SendPoint
    | ChangeSpeed
    | Precision
    | SendText
    | SendMacro
    | SendBelt
    | Gyro
    | SendPad
    | SendPadAxis
    | SendRumble
    | SendLight
    | ShowAll
    | NextVariant
    | SendNothing
    | Toggled
    | Turbo
    | Pulsed
    | InOrder
)
PlainSend: TypeAlias = (
    SendWheel
    | SendScroll
    | SendMotion
    | SendPoint
    | ChangeSpeed
    | Precision
    | SendText
    | Gyro
    | SendPad
    | SendPadAxis
    | SendRumble
    | SendLight
    | ShowAll
    | NextVariant
    | SendNothing
)
"""Those that name no other part of a profile and hold no sends."""
Sends: TypeAlias = tuple[Send, ...]
