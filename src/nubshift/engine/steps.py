"""The plain steps: what is held as long as its control is, and what acts once, at its beginning."""

from __future__ import annotations

from dataclasses import dataclass
from typing import cast

from nubshift.engine.context import Context, Step
from nubshift.engine.holders import PAD_PREFIX
from nubshift.engine.motion import Speed
from nubshift.engine.owner import Owner
from nubshift.events import NOTCH, Light, Motion, Point, Wheel
from nubshift.units import SECOND, Micros

_GESTURES = frozenset({"press", "tap", "hold", "double", "release"})


def _note(context: Context, owner: Owner) -> None:
    """A gesture of a button enters a layer: a trigger's depth does not act beside that press (R4)."""
    if owner.part in _GESTURES:
        context.layers.entering.add(owner.key)


# Held


@dataclass(frozen=True)
class KeyStep(Step):
    """Hold a key or mouse button, by its kernel name, or a button of the virtual pad (``pad:south``)."""

    code: str

    def __hash__(self) -> int:
        """Written out, as `__eq__`, since what is generated is not compiled, and sticks compare keys all the time."""
        return hash(self.code)

    def __eq__(self, other: object) -> bool:
        """The same key."""
        return isinstance(other, KeyStep) and other.code == self.code

    @property
    def codes(self) -> tuple[str, ...]:
        """The key itself."""
        return (self.code,)

    def begin(self, context: Context, owner: Owner) -> Owner:
        """Down."""
        context.down(self.code, owner)
        return owner

    def end(self, context: Context, token: object) -> None:
        """Up."""
        assert isinstance(token, Owner), "it is what `begin` gave"
        context.up(self.code, token)


def pad_button(name: str) -> KeyStep:
    """Hold a button of the virtual pad."""
    return KeyStep(PAD_PREFIX + name)


@dataclass(frozen=True)
class PadAxisStep(Step):
    """Push an axis of the virtual pad."""

    axis: str
    value: float

    def begin(self, context: Context, owner: Owner) -> object:
        """Push."""
        token = object()
        context.pad.push(self.axis, token, self.value)
        return token

    def end(self, context: Context, token: object) -> None:
        """Let go."""
        context.pad.push(self.axis, token, 0.0)


@dataclass(frozen=True)
class LayerStep(Step):
    """Keep a layer entered, by its id, which stays the same when the profile is edited."""

    layer: str

    @property
    def changes_layers(self) -> bool:
        """It does."""
        return True

    def begin(self, context: Context, owner: Owner) -> int:
        """Enter."""
        _note(context, owner)
        return context.layers.enter(self.layer, by=owner.key)

    def end(self, context: Context, token: object) -> None:
        """End this entering."""
        context.layers.end(cast("int", token))


@dataclass(frozen=True)
class PrecisionStep(Step):
    """Let sticks move the mouse at a share of their speed."""

    share: float

    def begin(self, context: Context, owner: Owner) -> object:
        """Slow down."""
        return context.speeds.hold(self.share)

    def end(self, context: Context, token: object) -> None:
        """As before."""
        context.speeds.end(token)


@dataclass(frozen=True)
class ShowStep(Step):
    """Show on screen what everything does now."""

    def begin(self, context: Context, owner: Owner) -> object:
        """Ask for it."""
        return context.surfaces.ask_for_all(owner.seat)

    def end(self, context: Context, token: object) -> None:
        """No more, unless something else still asks for it."""
        context.surfaces.end_asking(token)


@dataclass(frozen=True)
class ScrollStep(Step):
    """Turn the wheel evenly, `dx` right and `dy` up, in notches a second."""

    dx: float
    dy: float

    def begin(self, context: Context, owner: Owner) -> Speed:
        """Set it going."""
        speed = Speed(owner)
        speed.since = context.t
        context.scroller.set(speed, self.dx * NOTCH / SECOND, self.dy * NOTCH / SECOND, context.t)
        return speed

    def end(self, context: Context, token: object) -> None:
        """Let it stand."""
        context.scroller.leave(cast("Speed", token), context.t)


# Momentary


@dataclass(frozen=True)
class WheelStep(Step):
    """Turn the wheel by notches, `dx` right and `dy` up (R17)."""

    dx: int
    dy: int

    def begin(self, context: Context, owner: Owner) -> None:
        """Turn."""
        context.send(Wheel(context.t, self.dx * NOTCH, self.dy * NOTCH), owner)


@dataclass(frozen=True)
class MotionStep(Step):
    """Move the mouse by counts."""

    dx: int
    dy: int

    def begin(self, context: Context, owner: Owner) -> None:
        """Move."""
        if self.dx or self.dy:
            context.send(Motion(context.t, self.dx, self.dy), owner)


@dataclass(frozen=True)
class PointStep(Step):
    """Put the cursor on a point of the screen, in shares of it."""

    x: float
    y: float

    def begin(self, context: Context, owner: Owner) -> None:
        """Put."""
        context.send(Point(context.t, self.x, self.y), owner)


@dataclass(frozen=True)
class SpeedStep(Step):
    """Faster or slower from now on."""

    by: float

    def begin(self, context: Context, owner: Owner) -> None:
        """Change."""
        context.speeds.change_gain(self.by)


@dataclass(frozen=True)
class VariantStep(Step):
    """Go on to the next feel kept for a control, or to the one before."""

    control: str
    back: bool

    def begin(self, context: Context, owner: Owner) -> None:
        """Change."""
        context.variants.step((owner.seat, self.control), self.back)


@dataclass(frozen=True)
class GyroStep(Step):
    """Pause, resume or recentre the gyro."""

    do: str

    def begin(self, context: Context, owner: Owner) -> None:
        """Do it."""
        if self.do == "recentre":
            context.recentred += 1
        else:
            context.gyro_paused = self.do == "pause" or (self.do == "toggle" and not context.gyro_paused)


@dataclass(frozen=True)
class RumbleStep(Step):
    """Let the controller rumble."""

    strength: float
    length: Micros

    def begin(self, context: Context, owner: Owner) -> None:
        """Begin; it ends by itself."""
        context.rumble(owner.seat, self.strength, self.length)


@dataclass(frozen=True)
class LightStep(Step):
    """Give the controller's light a colour."""

    colour: str

    def begin(self, context: Context, owner: Owner) -> None:
        """Light it."""
        context.send(Light(context.t, owner.seat, self.colour), owner)


# Momentary, on layers


@dataclass(frozen=True)
class ChangeLayerStep(Step):
    """Toggle, enter, leave or have only one layer."""

    layer: str
    how: str

    @property
    def changes_layers(self) -> bool:
        """It does."""
        return True

    def begin(self, context: Context, owner: Owner) -> None:
        """Do it."""
        if self.how != "leave":
            _note(context, owner)
        match self.how:
            case "toggle":
                context.layers.toggle(self.layer, owner.key)
            case "once":
                context.layers.enter(self.layer, "once", owner.key)
            case "enter":
                context.layers.stay(self.layer, owner.key)
            case "leave":
                context.layers.leave(self.layer)
            case "only":
                context.layers.only(self.layer, owner.key)


@dataclass(frozen=True)
class BaseStep(Step):
    """Back to the base of a profile; `guest` is that of one entered while held."""

    guest: str

    @property
    def changes_layers(self) -> bool:
        """It does."""
        return True

    def begin(self, context: Context, owner: Owner) -> None:
        """Leave every layer."""
        context.layers.back_to_base(self.guest)


@dataclass(frozen=True)
class NextLayerStep(Step):
    """Step through layers."""

    layers: tuple[str, ...]
    back: bool

    @property
    def changes_layers(self) -> bool:
        """It does."""
        return True

    def begin(self, context: Context, owner: Owner) -> None:
        """Step."""
        _note(context, owner)
        context.layers.step(self.layers, self.back, owner.key)
