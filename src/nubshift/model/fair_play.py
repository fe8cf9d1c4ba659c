"""What a server's rules may ask about (need N62): bindings that send more than a plain press of one thing."""

from __future__ import annotations

from collections.abc import Iterator
from typing import assert_never

from nubshift.errors import Problem, Severity
from nubshift.model.controls import CONTROLS
from nubshift.model.names import lowered
from nubshift.model.profile import Binding, Profile
from nubshift.model.roles import GyroRole, KeysRole, MouseRole, PointerRole, ScrollRole
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
    SendScroll,
    SendText,
    SendWheel,
    ShowAll,
    Toggled,
    Turbo,
)
from nubshift.model.sentences import DIRECTION_NAMES, GESTURE_NAMES
from nubshift.model.walk import Place, each_send, every_send, part_name, places
from nubshift.texts import _

_DIGITAL = (SendKey, SendCommand, SendPad)
_LAYERS = (HoldLayer, ChangeLayer, NextLayer, BackToBase, HoldProfile)


def fair_play(profile: Profile) -> tuple[Problem, ...]:
    """Every binding that is more than one press for one press, with what it does.

    In a profile that holds itself to "one to one only" each is an error, else a warning.
    """
    severity = Severity.ERROR if profile.habits.one_to_one else Severity.WARNING
    found = [*_by_place(profile), *_by_control(profile), *_by_command(profile)]
    return tuple(Problem(place, text, severity) for place, text in found)


def _by_place(profile: Profile) -> Iterator[tuple[str, str]]:
    for place in places(profile):
        if not place.control:
            continue
        who = _who(place)
        things = [send for send in place.sends if not isinstance(send, SendNothing)]
        keys = sum(len(_keys(profile, send)) for send in things)
        if keys > 1 or len(things) > 1:
            yield place.path, _("{who} sends more than one thing").format(who=who)
        for path, send in each_send(place.sends, place.path):
            word = _word(send)
            if word:
                yield path, word.format(who=who)
        if place.part in ("tap", "hold", "double", "release"):
            yield place.path, _("{who} depends on timing").format(who=who)


def _word(send: Send) -> str:
    """A sentence about a control that sends this, with a place for it; empty for a plain press."""
    match send:
        case Turbo():
            return _("{who} uses turbo")
        case Pulsed():
            return _("{who} pulses by depth")
        case InOrder():
            return _("{who} sends keys in a timed order")
        case Toggled():
            return _("{who} stays on after release")
        case SendMacro():
            return _("{who} runs a macro")
        case SendText():
            return _("{who} types a text")
        case SendBelt():
            return _("{who} sends something else with each press")
        case HoldLayer() | ChangeLayer() | BackToBase() | NextLayer() | HoldProfile():
            return _("{who} changes what other controls do")
        case SendCommand() | SendKey() | SendWheel() | SendScroll() | SendMotion() | SendPoint() | SendPad():
            return ""
        case ChangeSpeed() | Precision() | NextVariant() | Gyro() | SendPadAxis():
            return ""
        case SendRumble() | SendLight() | ShowAll() | SendNothing():
            return ""
        case never:
            assert_never(never)


def _by_control(profile: Profile) -> Iterator[tuple[str, str]]:
    """Analogue and digital from one control."""
    for at, layer in enumerate(profile.layers):
        for index, binding in enumerate(layer.bindings):
            if _analogue(binding) and _digital(binding):
                title = CONTROLS[binding.control].title
                yield (
                    f"layers[{at}].bindings[{index}]",
                    _("{title} mixes analogue and digital output").format(title=title),
                )


def _analogue(binding: Binding) -> bool:
    if isinstance(binding.role, MouseRole | ScrollRole | PointerRole | GyroRole):
        return True
    sends = [send for part in (binding.press, binding.out) for send in every_send(part)]
    return any(isinstance(send, SendPadAxis) for send in sends)


def _digital(binding: Binding) -> bool:
    if isinstance(binding.role, KeysRole) or binding.bands:
        return True
    return any(isinstance(s, _DIGITAL) for part in (binding.press, binding.out) for s in every_send(part))


def _by_command(profile: Profile) -> Iterator[tuple[str, str]]:
    """One command on two controls."""
    users: dict[str, dict[tuple[str, str], None]] = {}
    for place in places(profile):
        for send in every_send(place.sends):
            if isinstance(send, SendCommand) and place.control:
                users.setdefault(send.command, {})[place.seat, place.control] = None
    for index, command in enumerate(profile.commands):
        if len(users.get(command.id, {})) > 1:
            yield f"commands[{index}]", _("“{name}” has more than one control").format(name=command.name)


def _keys(profile: Profile, send: Send) -> tuple[str, ...]:
    if isinstance(send, SendCommand):
        command = profile.command(send.command)
        return command.keys if command else ()
    return ("one",) if isinstance(send, SendKey | SendPad | SendPadAxis) else ()


def _who(place: Place) -> str:
    """The control, and what of it if that is not its press: ``South, double tap``, ``Left stick up``."""
    names = _(" and ").join(CONTROLS[name].title for name in place.control.split("+"))
    gesture = GESTURE_NAMES.get(place.part)
    if gesture is not None:
        return names if place.part == "press" else f"{names}, {lowered(gesture)},"
    part = part_name(place.part)
    return f"{names} {DIRECTION_NAMES.get(part, part)}".strip()  # type: ignore[call-overload]
