"""Parts of a profile taken somewhere else: copied to other controls, profiles and layers, mirrored, cleared."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from typing import Any, Final, Literal

import msgspec
from msgspec.structs import replace

from nubshift.model import edits
from nubshift.model.controls import BUTTON_LIKE, kind_of, title_of
from nubshift.model.part import Part
from nubshift.model.profile import BASE, FEEL_FIELDS, Binding, Command, Feel, Profile
from nubshift.model.rules import ROLES
from nubshift.model.sends import ChangeLayer, HoldLayer, NextLayer, Send, SendBelt, SendCommand, SendMacro, Sends
from nubshift.model.usage import feel_for, look_up
from nubshift.model.walk import map_sends, without
from nubshift.texts import _

FORMAT: Final = "nubshift-bindings"

MIRRORED: dict[str, str] = {
    "left_trigger": "right_trigger",
    "left_bumper": "right_bumper",
    "left_stick": "right_stick",
    "left_stick_click": "right_stick_click",
    "left_grip": "right_grip",
    "left_grip_2": "right_grip_2",
    "dpad_up": "north",
    "dpad_right": "west",
    "dpad_down": "south",
    "dpad_left": "east",
    "select": "start",
    "touch_pad_left": "touch_pad_right",
}
"""Controls that lie in the same place on the other side of a pad: what is inner on one side is inner on the other.

Left stays left for both thumbs, so directions of a stick are not turned."""
MIRRORED |= {right: left for left, right in MIRRORED.items()}


class Portion(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=False):
    """What was copied: bindings with their feel, and the commands that they send."""

    bindings: tuple[Binding, ...]
    feel: tuple[Feel, ...] = ()
    commands: tuple[Command, ...] = ()
    format: Literal["nubshift-bindings"] = FORMAT
    version: Literal[2] = 2


def copied(profile: Profile, layer: str, controls: Sequence[str], seat: str = "1") -> str:
    """What some controls do in a layer, as text for the clipboard; what falls through is copied as it counts."""
    bindings, feel = [], []
    for control in controls:
        found = look_up(profile, layer, control, seat)
        bindings.append(replace(found.binding, seat="1") if found else Binding(control))
        own = replace(feel_for(profile, layer, control, seat), control=control)
        stack = profile.layer(layer)
        if stack is not None and (stack.feel_of(control, seat) or profile.layers[0].feel_of(control, seat)):
            feel.append(replace(own, press_at=None))
    sent = {send.command for send in _all_sends(tuple(bindings)) if isinstance(send, SendCommand)}
    commands = tuple(c for c in profile.commands if c.id in sent)
    return msgspec.json.format(msgspec.json.encode(Portion(tuple(bindings), tuple(feel), commands)), indent=1).decode()


def read_portion(text: str) -> Portion | None:
    """What `text` copied, or None if it is something else."""
    try:
        return msgspec.json.decode(text, type=Portion)
    except (msgspec.DecodeError, RecursionError):
        return None


def pasted(profile: Profile, layer: str, controls: Sequence[str], portion: Portion, seat: str = "1") -> Profile:
    """`profile` with what was copied on these controls: one thing on each of them, or several in turn.

    Commands that this profile does not have come along; layers, belts and macros that it does not have are left out.
    Raises LookupError if a control can't do what was copied.
    """
    if not portion.bindings:
        return profile
    profile, names = _with_commands(profile, portion.commands)
    for index, control in enumerate(controls):
        at = index % len(portion.bindings)
        source = portion.bindings[at]
        binding = map_sends(source, partial(_known, profile, names))
        profile = _put(profile, layer, control, binding, seat)
        feel = next((f for f in portion.feel if f.control == source.control), None)
        if feel is not None and kind_of(control) == kind_of(source.control):
            profile = edits.with_feel(profile, layer, control, seat, **set_values(feel))
    return profile


def _put(profile: Profile, layer: str, control: str, binding: Binding, seat: str) -> Profile:
    kind = kind_of(control)
    if binding.gestures and kind not in BUTTON_LIKE:
        raise LookupError(_("{title_of} can't be pressed").format(title_of=title_of(control)))
    if binding.role is not None and not isinstance(binding.role, ROLES[kind]):
        raise LookupError(
            _("{title_of} can't be used like {title_of_2}").format(
                title_of=title_of(control), title_of_2=title_of(binding.control).lower()
            )
        )
    if binding.bands and kind_of(binding.control) != kind:
        raise LookupError(_("{title_of} has no such depth").format(title_of=title_of(control)))
    return edits.with_binding(profile, layer, replace(binding, control=control, seat=seat))


def _with_commands(profile: Profile, commands: Sequence[Command]) -> tuple[Profile, dict[str, str]]:
    """`profile` with those commands that it lacks, and the id that each has there."""
    names = {}
    for command in commands:
        same = next((c for c in profile.commands if c.name == command.name and c.keys == command.keys), None)
        if same is None:
            before = {c.id for c in profile.commands}
            profile = edits.with_commands(profile, [command])
            same = next(c for c in profile.commands if c.id not in before)
        names[command.id] = same.id
    return profile, names


def _known(profile: Profile, names: dict[str, str], sends: Sends) -> Sends:
    """`sends` as this profile can send them."""

    def strange(send: Send) -> bool:
        match send:
            case HoldLayer(layer) | ChangeLayer(layer):
                return profile.layer(layer) is None
            case NextLayer(layers):
                return any(profile.layer(layer) is None for layer in layers)
            case SendBelt(belt):
                return profile.belt(belt) is None
            case SendMacro(macro):
                return profile.macro(macro) is None
        return False

    kept = without(sends, strange)
    return tuple(
        SendCommand(names[s.command]) if isinstance(s, SendCommand) and s.command in names else s for s in kept
    )


def _all_sends(bindings: tuple[Binding, ...]) -> list[Send]:
    found: list[Send] = []

    def note(sends: Sends) -> Sends:
        found.extend(sends)
        return sends

    for binding in bindings:
        map_sends(binding, note)
    return found


def cleared(profile: Profile, layer: str, controls: Sequence[str], seat: str = "1") -> Profile:
    """`profile` with nothing on these controls in this layer: in another one than the base they fall through."""
    for control in controls:
        profile = edits.without_binding(profile, layer, control, seat)
    return profile


def mirrored(profile: Profile, layer: str, controls: Sequence[str], seat: str = "1") -> Profile:
    """`profile` with these controls and those opposite them exchanged in this layer, their feel too."""
    done: set[str] = set()
    for control in controls:
        other = MIRRORED.get(control)
        if other is None or control in done:
            continue
        done |= {control, other}
        own = profile.layer(layer)
        if own is None:
            continue
        one, two = own.binding(control, seat), own.binding(other, seat)
        feel_one, feel_two = own.feel_of(control, seat), own.feel_of(other, seat)
        profile = cleared(profile, layer, (control, other), seat)
        for binding, to in ((one, other), (two, control)):
            if binding is not None:
                profile = edits.with_binding(profile, layer, replace(binding, control=to))
        for feel, to in ((feel_one, other), (feel_two, control)):
            if feel is not None:
                profile = edits.with_feel(profile, layer, to, seat, **set_values(feel))
    return profile


def to_layer(
    profile: Profile, source: str, target: str, controls: Sequence[str], seat: str = "1", *, move: bool
) -> Profile:
    """`profile` with what these controls do in `source` done in `target`, too or instead."""
    for control in controls:
        own = profile.layer(source)
        found = look_up(profile, source, control, seat)
        if own is None or found is None:
            continue
        feel = own.feel_of(control, seat)
        profile = edits.with_binding(profile, target, found.binding)
        if feel is not None:
            values = set_values(feel)
            if target != BASE:
                values.pop("press_at", None)
            profile = edits.with_feel(profile, target, control, seat, **values)
        if move:
            profile = edits.without_binding(profile, source, control, seat)
    return profile


def set_values(feel: Feel) -> dict[str, Any]:
    """The fields that a feel sets."""
    return {name: value for name in FEEL_FIELDS if (value := getattr(feel, name)) is not None}


def with_layer_from(profile: Profile, name: str, source: str, controls: Sequence[str], seat: str = "1") -> Profile:
    """`profile` with a new layer that has what these controls do now, to be changed there."""
    profile, layer = edits.with_layer(profile, name)
    return to_layer(profile, source, layer, controls, seat, move=False)
