"""The plain steps: what is held as long as its control is, and what acts once, at its beginning."""

from __future__ import annotations

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


class KeyStep(Step, frozen=True):
    """Hold a key or mouse button, by its kernel name, or a button of the virtual pad (``pad:south``)."""

    code: str

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


class PadAxisStep(Step, frozen=True):
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


class LayerStep(Step, frozen=True):
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


class PrecisionStep(Step, frozen=True):
    """Let sticks move the mouse at a share of their speed."""

    share: float

    def begin(self, context: Context, owner: Owner) -> object:
        """Slow down."""
        return context.speeds.hold(self.share)

    def end(self, context: Context, token: object) -> None:
        """As before."""
        context.speeds.end(token)


class ShowStep(Step, frozen=True):
    """Show on screen what everything does now."""

    def begin(self, context: Context, owner: Owner) -> object:
        """Ask for it."""
        return context.surfaces.ask_for_all(owner.seat)

    def end(self, context: Context, token: object) -> None:
        """No more, unless something else still asks for it."""
        context.surfaces.end_asking(token)


class ScrollStep(Step, frozen=True):
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


class WheelStep(Step, frozen=True):
    """Turn the wheel by notches, `dx` right and `dy` up (R17)."""

    dx: int
    dy: int

    def begin(self, context: Context, owner: Owner) -> None:
        """Turn."""
        context.send(Wheel(context.t, self.dx * NOTCH, self.dy * NOTCH), owner)


class MotionStep(Step, frozen=True):
    """Move the mouse by counts."""

    dx: int
    dy: int

    def begin(self, context: Context, owner: Owner) -> None:
        """Move."""
        if self.dx or self.dy:
            context.send(Motion(context.t, self.dx, self.dy), owner)


class PointStep(Step, frozen=True):
    """Put the cursor on a point of the screen, in shares of it."""

    x: float
    y: float

    def begin(self, context: Context, owner: Owner) -> None:
        """Put."""
        context.send(Point(context.t, self.x, self.y), owner)


class SpeedStep(Step, frozen=True):
    """Faster or slower from now on."""

    by: float

    def begin(self, context: Context, owner: Owner) -> None:
        """Change."""
        context.speeds.change_gain(self.by)


class VariantStep(Step, frozen=True):
    """Go on to the next feel kept for a control, or to the one before."""

    control: str
    back: bool

    def begin(self, context: Context, owner: Owner) -> None:
        """Change."""
        context.variants.step((owner.seat, self.control), self.back)


class GyroStep(Step, frozen=True):
    """Pause, resume or recentre the gyro."""

    do: str

    def begin(self, context: Context, owner: Owner) -> None:
        """Do it."""
        if self.do == "recentre":
            context.recentred += 1
        else:
            context.gyro_paused = self.do == "pause" or (self.do == "toggle" and not context.gyro_paused)


class RumbleStep(Step, frozen=True):
    """Let the controller rumble."""

    strength: float
    length: Micros

    def begin(self, context: Context, owner: Owner) -> None:
        """Begin; it ends by itself."""
        context.rumble(owner.seat, self.strength, self.length)


class LightStep(Step, frozen=True):
    """Give the controller's light a colour."""

    colour: str

    def begin(self, context: Context, owner: Owner) -> None:
        """Light it."""
        context.send(Light(context.t, owner.seat, self.colour), owner)


# Momentary, on layers


class ChangeLayerStep(Step, frozen=True):
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


class BaseStep(Step, frozen=True):
    """Back to the base of a profile; `guest` is that of one entered while held."""

    guest: str

    @property
    def changes_layers(self) -> bool:
        """It does."""
        return True

    def begin(self, context: Context, owner: Owner) -> None:
        """Leave every layer."""
        context.layers.back_to_base(self.guest)


class NextLayerStep(Step, frozen=True):
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
