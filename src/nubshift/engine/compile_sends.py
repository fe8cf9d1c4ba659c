"""Sends into steps: what each output of a profile becomes in the engine."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from functools import partial
from typing import assert_never

from msgspec import Struct, field
from msgspec.structs import replace

from nubshift.engine.act import Act
from nubshift.engine.belts import BeltStep, FollowStep
from nubshift.engine.context import Step, Steps
from nubshift.engine.game_toggles import GameToggleStep
from nubshift.engine.macros import Hold, LetGo, MacroInfo, MacroOp, MacroStep, Tap, Wait
from nubshift.engine.owner import Owner
from nubshift.engine.sequences import OrderStep
from nubshift.engine.steps import (
    BaseStep,
    ChangeLayerStep,
    GyroStep,
    KeyStep,
    LayerStep,
    LightStep,
    MotionStep,
    NextLayerStep,
    PadAxisStep,
    PointStep,
    PrecisionStep,
    RumbleStep,
    ScrollStep,
    ShowStep,
    SpeedStep,
    VariantStep,
    WheelStep,
    pad_button,
)
from nubshift.engine.toggles import ToggleStep
from nubshift.engine.turbo import PulsedStep, TurboStep
from nubshift.model.keys import WHEEL
from nubshift.model.layouts import Layout, Stroke, refusals, strokes
from nubshift.model.part import Direction, Form
from nubshift.model.profile import BASE, Macro, MacroPress, MacroRelease, MacroTap, MacroWait, Profile
from nubshift.model.sends import (
    BackToBase,
    ChangeLayer,
    ChangeSpeed,
    Gyro,
    HoldLayer,
    HoldProfile,
    InOrder,
    NextLayer,
    NextVariant,
    PlainSend,
    Precision,
    Pulsed,
    Send,
    SendBelt,
    SendCommand,
    SendKey,
    SendLight,
    SendMacro,
    SendMotion,
    SendNothing,
    SendPad,
    SendPadAxis,
    SendPoint,
    SendRumble,
    Sends,
    SendScroll,
    SendText,
    SendWheel,
    ShowAll,
    Toggled,
    Turbo,
)
from nubshift.model.walk import MODIFIERS
from nubshift.records import Record
from nubshift.units import MILLISECOND, Micros

TYPED_US: Micros = 15 * MILLISECOND
"""How long a typed key is down, and how long nothing is, before the next one."""

WAYS: dict[str, tuple[int, int]] = {"up": (0, 1), "down": (0, -1), "left": (-1, 0), "right": (1, 0)}
"""Of the wheel: right and up are positive, as the kernel has them."""

HELD = (SendCommand, SendKey, SendPad, SendPadAxis, Precision, Turbo, Pulsed, InOrder)
"""What "holds become toggles" replaces, beside held layers (R7)."""


class _Way(Record, frozen=True):
    """How the sends of an act are meant: by a position, as an entry of a belt, by a side of a stick."""

    by_position: bool
    belt: str
    side: Direction | None


class Extras(Struct):
    """What comes along with acts: macros that type texts, the places of toggles, and texts that can't be typed."""

    macros: dict[str, MacroInfo] = field(default_factory=dict)
    toggles: set[str] = field(default_factory=set)
    refused: dict[str, None] = field(default_factory=dict)


class Acts:
    """Makes the acts of one profile. `prefix` stands before its layers, belts and macros where it is a guest.

    What comes along is added to `extras`.
    """

    def __init__(self, profile: Profile, prefix: str, layout: Layout) -> None:
        self._profile = profile
        self._prefix = prefix
        self._layout = layout
        self._commands = {command.id: command for command in profile.commands}
        self._has_pad_forms = any(command.pad for command in profile.commands)
        self._on_belts = {
            send.command
            for belt in profile.belts
            for entry in belt.entries
            if not entry.skip
            for send in entry.what
            if isinstance(send, SendCommand)
        }
        self.pulse = profile.habits.pulse * MILLISECOND
        self.extras = Extras()

    def name(self, name: str) -> str:
        """A layer, belt or macro of this profile as the program knows it."""
        return self._prefix + name

    def act(self, sends: Sends, owner: Owner, part: str, *, by_position: bool = False, belt: str = "") -> Act | None:
        """What some sends do, or None for none. `part` names the place within the owner's control.

        `by_position`: commands that the game toggles itself are tapped on entering and leaving. `belt`: the belt that
        the sends are an entry of, which does not follow itself.
        """
        if not sends:
            return None
        place = f"{owner.layer}/{owner.seat}/{owner.control}/{part}"
        way = _Way(by_position, belt, owner.side)
        keys = tuple(self._steps(sends, "keys", place, way))
        pad = tuple(self._steps(sends, "pad", place, way)) if self._has_pad_forms else keys
        return Act(keys, keys if pad == keys else pad, replace(owner, part=part))

    def gesture(self, sends: Sends, owner: Owner, part: str) -> Act | None:
        """The act of a button's gesture; holds become toggles where the player wants that (R7)."""
        if self._profile.habits.holds_toggle and part in ("press", "hold"):
            sends = as_toggles(sends)
        return self.act(sends, owner, part)

    def _steps(self, sends: Sends, form: Form, place: str, way: _Way) -> Iterator[Step]:
        for index, send in enumerate(sends):
            yield from self._send(send, form, f"{place}/{index}", way)

    def _send(self, send: Send, form: Form, place: str, way: _Way) -> Iterator[Step]:
        side = way.side
        inner: Steps = ()
        if isinstance(send, MODIFIERS):
            inner = tuple(self._steps(send.what, form, place, replace(way, by_position=False)))
            if not inner:  # a modifier around nothing is nothing (R13)
                return
        match send:
            case SendCommand(command):
                yield from self._command(command, form, way.by_position, way.belt)
            case SendKey(key):
                yield KeyStep(key)
            case Toggled(comes_back=comes_back):
                self.extras.toggles.add(place)
                yield ToggleStep(place, inner, comes_back)
            case Turbo(rate=rate, duty=duty, rate_at_full=rate_at_full):
                yield TurboStep(place, inner, rate, duty, rate_at_full, side)
            case Pulsed(period=period):
                yield PulsedStep(place, inner, period * MILLISECOND, side)
            case InOrder(gap=gap):
                wait = gap if gap is not None else self._profile.habits.chord_gap
                yield OrderStep(place, inner, wait * MILLISECOND, self.pulse)
            case SendMacro(macro):
                yield MacroStep(self.name(macro))
            case SendBelt(name, step):
                yield BeltStep(self.name(name), step)
            case SendText(text):
                yield from self._text(text, place)
            case _:
                yield from self._plain(send)

    def _plain(
        self, send: PlainSend | HoldLayer | HoldProfile | ChangeLayer | BackToBase | NextLayer
    ) -> Iterator[Step]:
        match send:
            case HoldLayer(layer):
                yield LayerStep(self.name(layer))
            case HoldProfile(profile):
                yield LayerStep(f"{profile}/{BASE}")
            case ChangeLayer(layer, how):
                yield ChangeLayerStep(self.name(layer), how)
            case BackToBase():
                yield BaseStep(self.name(BASE) if self._prefix else "")
            case NextLayer(layers, back):
                yield NextLayerStep(tuple(map(self.name, layers)), back)
            case SendWheel(way, notches):
                yield WheelStep(WAYS[way][0] * notches, WAYS[way][1] * notches)
            case SendScroll(way, speed):
                yield ScrollStep(WAYS[way][0] * speed, WAYS[way][1] * speed)
            case SendMotion(dx, dy):
                yield MotionStep(dx, dy)
            case SendPoint(x, y):
                yield PointStep(x, y)
            case ChangeSpeed(by):
                yield SpeedStep(by)
            case Precision(share):
                yield PrecisionStep(share)
            case NextVariant(control, back):
                yield VariantStep(control, back)
            case ShowAll():
                yield ShowStep()
            case Gyro(do):
                yield GyroStep(do)
            case SendPad(button):
                yield pad_button(button)
            case SendPadAxis(axis, value):
                yield PadAxisStep(axis, value)
            case SendRumble(strength, ms):
                yield RumbleStep(strength, ms * MILLISECOND)
            case SendLight(colour):
                yield LightStep(colour)
            case SendNothing():
                return
            case SendText():
                raise AssertionError("a text is compiled where its place is known")
            case never:
                assert_never(never)

    def _command(self, command_id: str, form: Form, by_position: bool, belt: str) -> Iterator[Step]:
        command = self._commands[command_id]
        own = belt and any(
            isinstance(send, SendCommand) and send.command == command_id
            for entry in next(b for b in self._profile.belts if self.name(b.id) == belt).entries
            for send in entry.what
        )
        if command_id in self._on_belts:
            yield FollowStep(self.name(command_id), belt if own else "")
        as_pad = form == "pad" and command.pad
        held: Steps = tuple(map(pad_button, command.pad) if as_pad else map(_key_step, command.keys))
        if by_position and command.toggles and held and not any(isinstance(step, WheelStep) for step in held):
            yield GameToggleStep(self.name(command_id), held, self.pulse)
        else:
            yield from held

    # Text

    def _text(self, text: str, place: str) -> Iterator[Step]:
        found = self._strokes(text, place)
        if found:
            owner = Owner("", "", "")
            self.extras.macros[f"text:{place}"] = MacroInfo(tuple(typed(found, owner)), "once", "queue", self.pulse)
            yield MacroStep(f"text:{place}")

    def _strokes(self, text: str, place: str) -> tuple[Stroke, ...]:
        self.extras.refused |= dict.fromkeys(f"{p.place}: {p.text}" for p in refusals([(place, text)], self._layout))
        return strokes(text, self._layout)

    def cell(self, cell: str, owner: Owner, part: str) -> Act | None:
        """What a cell of an on-screen keyboard types: a character, or a key by its name."""
        if len(cell) > 1:
            return self.act((SendKey(cell),), owner, part)
        return self.act((SendText(cell),), owner, part)

    # Macros

    def macro(self, macro: Macro) -> MacroInfo:
        """A macro of the profile."""
        owner = Owner("", "", "")
        ops: list[MacroOp] = []
        for index, step in enumerate(macro.steps):
            part = f"macro/{macro.id}"
            match step:
                case MacroWait(ms):
                    ops.append(Wait(ms * MILLISECOND))
                case MacroPress(what):
                    ops += self._macro_part(what, owner, part, Hold)
                case MacroRelease(what):
                    ops += self._macro_part(what, owner, part, LetGo)
                case MacroTap(what, ms):
                    length = ms * MILLISECOND if ms is not None else self.pulse
                    ops += self._macro_part(what, owner, f"{part}/{index}", partial(Tap, length=length))
                case never:
                    assert_never(never)
        return MacroInfo(tuple(ops), macro.runs, macro.again, self.pulse)

    def _macro_part(self, what: Sends, owner: Owner, part: str, make: Callable[[Act], MacroOp]) -> Iterator[MacroOp]:
        """The ops of one step: texts are typed out, all else is done at once."""
        others = tuple(send for send in what if not isinstance(send, SendText))
        act = self.act(others, owner, part)
        if act is not None:
            yield make(act)
        for send in what:
            if isinstance(send, SendText):
                yield from typed(self._strokes(send.text, part), owner)


def _key_step(key: str) -> Step:
    """A key of a command, or a notch of the wheel that it has for its key."""
    if key not in WHEEL:
        return KeyStep(key)
    x, y = WAYS[WHEEL[key]]
    return WheelStep(x, y)


def typed(found: Iterable[Stroke], owner: Owner) -> Iterator[MacroOp]:
    """The ops that type some strokes."""
    for stroke in found:
        steps = tuple(map(KeyStep, stroke))
        yield Tap(Act(steps, steps, owner), TYPED_US)
        yield Wait(TYPED_US)


def as_toggles(sends: Sends) -> Sends:
    """`sends` with holds of keys and layers replaced by toggles; what acts once stays as it is, in its order."""
    found: list[Send] = []
    for send in sends:
        if isinstance(send, HoldLayer):
            found.append(ChangeLayer(send.layer, "toggle"))
        elif not isinstance(send, HELD):
            found.append(send)
        elif found and isinstance(found[-1], Toggled) and found[-1] not in sends:
            found[-1] = replace(found[-1], what=(*found[-1].what, send))
        else:
            found.append(Toggled((send,)))
    return tuple(found)
