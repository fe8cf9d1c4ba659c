"""The plain steps: what is held as long as its control is, and what acts once, at its beginning."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, ClassVar, cast

from nubshift.engine.holders import PAD_PREFIX
from nubshift.engine.motion import Speed
from nubshift.engine.owner import Owner
from nubshift.engine.program import Step
from nubshift.events import NOTCH, Light, Motion, Point, Wheel
from nubshift.units import SECOND, Micros

if TYPE_CHECKING:
    from nubshift.engine.core import Core

_GESTURES = frozenset({"press", "tap", "hold", "double", "release"})


def _note(core: Core, owner: Owner) -> None:
    """A gesture of a button enters a layer: a trigger's depth does not act beside that press (R4)."""
    if owner.part in _GESTURES:
        core.layers.entering.add(owner.key)


# Held


@dataclass(frozen=True, slots=True)
class KeyStep(Step):
    """Hold a key or mouse button, by its kernel name, or a button of the virtual pad (``pad:south``)."""

    code: str

    @property
    def codes(self) -> tuple[str, ...]:
        """The key itself."""
        return (self.code,)

    def begin(self, core: Core, owner: Owner) -> Owner:
        """Down."""
        core.down(self.code, owner)
        return owner

    def end(self, core: Core, token: object) -> None:
        """Up."""
        core.up(self.code, cast("Owner", token))


def pad_button(name: str) -> KeyStep:
    """Hold a button of the virtual pad."""
    return KeyStep(PAD_PREFIX + name)


@dataclass(frozen=True, slots=True)
class PadAxisStep(Step):
    """Push an axis of the virtual pad."""

    axis: str
    value: float

    def begin(self, core: Core, owner: Owner) -> object:
        """Push."""
        token = object()
        core.pad.push(self.axis, token, self.value)
        return token

    def end(self, core: Core, token: object) -> None:
        """Let go."""
        core.pad.push(self.axis, token, 0.0)


@dataclass(frozen=True, slots=True)
class LayerStep(Step):
    """Keep a layer entered, by its id, which stays the same when the profile is edited."""

    layer: str
    changes_layers: ClassVar[bool] = True

    def begin(self, core: Core, owner: Owner) -> int:
        """Enter."""
        _note(core, owner)
        return core.layers.enter(self.layer, by=owner.key)

    def end(self, core: Core, token: object) -> None:
        """End this entering."""
        core.layers.end(cast("int", token))


@dataclass(frozen=True, slots=True)
class PrecisionStep(Step):
    """Let sticks move the mouse at a share of their speed."""

    share: float

    def begin(self, core: Core, owner: Owner) -> object:
        """Slow down."""
        return core.add_precision(self.share)

    def end(self, core: Core, token: object) -> None:
        """As before."""
        core.end_precision(token)


@dataclass(frozen=True, slots=True)
class ShowStep(Step):
    """Show on screen what everything does now."""

    def begin(self, core: Core, owner: Owner) -> object:
        """Ask for it."""
        return core.show_all(owner.seat)

    def end(self, core: Core, token: object) -> None:
        """No more, unless something else still asks for it."""
        core.hide_all(token)


@dataclass(frozen=True, slots=True)
class ScrollStep(Step):
    """Turn the wheel evenly, `dx` right and `dy` up, in notches a second."""

    dx: float
    dy: float

    def begin(self, core: Core, owner: Owner) -> Speed:
        """Set it going."""
        speed = Speed(owner)
        speed.since = core.t
        core.scroller.set(speed, self.dx * NOTCH / SECOND, self.dy * NOTCH / SECOND, core.t)
        return speed

    def end(self, core: Core, token: object) -> None:
        """Let it stand."""
        core.scroller.leave(cast("Speed", token), core.t)


# Momentary


@dataclass(frozen=True, slots=True)
class WheelStep(Step):
    """Turn the wheel by notches, `dx` right and `dy` up (R17)."""

    dx: int
    dy: int

    def begin(self, core: Core, owner: Owner) -> None:
        """Turn."""
        core.send(Wheel(core.t, self.dx * NOTCH, self.dy * NOTCH), owner)


@dataclass(frozen=True, slots=True)
class MotionStep(Step):
    """Move the mouse by counts."""

    dx: int
    dy: int

    def begin(self, core: Core, owner: Owner) -> None:
        """Move."""
        if self.dx or self.dy:
            core.send(Motion(core.t, self.dx, self.dy), owner)


@dataclass(frozen=True, slots=True)
class PointStep(Step):
    """Put the cursor on a point of the screen, in shares of it."""

    x: float
    y: float

    def begin(self, core: Core, owner: Owner) -> None:
        """Put."""
        core.send(Point(core.t, self.x, self.y), owner)


@dataclass(frozen=True, slots=True)
class SpeedStep(Step):
    """Faster or slower from now on."""

    by: float

    def begin(self, core: Core, owner: Owner) -> None:
        """Change."""
        core.change_gain(self.by)


@dataclass(frozen=True, slots=True)
class VariantStep(Step):
    """Go on to the next feel kept for a control, or to the one before."""

    control: str
    back: bool

    def begin(self, core: Core, owner: Owner) -> None:
        """Change."""
        core.variants.step((owner.seat, self.control), self.back)
        core.count_feel()


@dataclass(frozen=True, slots=True)
class GyroStep(Step):
    """Pause, resume or recentre the gyro."""

    do: str

    def begin(self, core: Core, owner: Owner) -> None:
        """Do it."""
        if self.do == "recentre":
            core.recentred += 1
        else:
            core.gyro_paused = self.do == "pause" or (self.do == "toggle" and not core.gyro_paused)


@dataclass(frozen=True, slots=True)
class RumbleStep(Step):
    """Let the controller rumble."""

    strength: float
    length: Micros

    def begin(self, core: Core, owner: Owner) -> None:
        """Begin; it ends by itself."""
        core.rumble(owner.seat, self.strength, self.length)


@dataclass(frozen=True, slots=True)
class LightStep(Step):
    """Give the controller's light a colour."""

    colour: str

    def begin(self, core: Core, owner: Owner) -> None:
        """Light it."""
        core.out.append(Light(core.t, owner.seat, self.colour))


# Momentary, on layers


@dataclass(frozen=True, slots=True)
class ChangeLayerStep(Step):
    """Toggle, enter, leave or have only one layer."""

    layer: str
    how: str
    changes_layers: ClassVar[bool] = True

    def begin(self, core: Core, owner: Owner) -> None:
        """Do it."""
        if self.how != "leave":
            _note(core, owner)
        match self.how:
            case "toggle":
                core.layers.toggle(self.layer, owner.key)
            case "once":
                core.layers.enter(self.layer, "once", owner.key)
            case "enter":
                core.layers.stay(self.layer, owner.key)
            case "leave":
                core.layers.leave(self.layer)
            case "only":
                core.layers.only(self.layer, owner.key)


@dataclass(frozen=True, slots=True)
class BaseStep(Step):
    """Back to the base of a profile; `guest` is that of one entered while held."""

    guest: str
    changes_layers: ClassVar[bool] = True

    def begin(self, core: Core, owner: Owner) -> None:
        """Leave every layer."""
        core.layers.back_to_base(self.guest)


@dataclass(frozen=True, slots=True)
class NextLayerStep(Step):
    """Step through layers."""

    layers: tuple[str, ...]
    back: bool
    changes_layers: ClassVar[bool] = True

    def begin(self, core: Core, owner: Owner) -> None:
        """Step."""
        _note(core, owner)
        core.layers.step(self.layers, self.back, owner.key)
