"""What the finder finds: everything in the window, or what a slot can send."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Iterator
from functools import partial

from nubshift.app.document import subject
from nubshift.app.document.assigning import Armed
from nubshift.app.document.output_choices import choose_output, output_choices
from nubshift.app.document.studio import Studio
from nubshift.app.editors.profile_panel import HABITS
from nubshift.app.shell.actions import ActionTable
from nubshift.app.shell.finder import Hit
from nubshift.model import parameters as p
from nubshift.model.controls import CONTROLS, PAD_CONTROLS
from nubshift.model.keys import KEYS, spoken
from nubshift.model.profile import Command
from nubshift.model.sends import Send, SendCommand
from nubshift.model.sentences import keys_of, slot_name
from nubshift.model.usage import slots_of
from nubshift.texts import _

LabelOf = Callable[[str], str]
Go = Callable[[str], None]


def everything(
    studio: Studio,
    label_of: LabelOf,
    to_control: Go,
    to_command: Go,
    actions: ActionTable,
    controls: Iterable[str] = PAD_CONTROLS,
) -> Iterator[Hit]:
    """Controls, commands, keys, layers, belts, macros, settings and actions; choosing one goes there or does it."""
    for info in (CONTROLS[name] for name in (*controls, "dpad")):
        yield Hit(
            studio.selection.names.title(info.name),
            _("Control"),
            f"{info.title} {info.mark} {info.reach}",
            partial(to_control, info.name),
        )
    for command in studio.profile.commands:
        yield Hit(command.name, _kind(command, label_of), command.group, partial(to_command, command.id))
    for layer in studio.profile.layers:
        yield Hit(layer.name, _("Layer"), "", partial(studio.selection.show_layer, layer.id))
    for belt in studio.profile.belts:
        yield Hit(belt.name, _("Belt"), "", partial(studio.selection.look_at, subject.belt(belt.id)))
    for macro in studio.profile.macros:
        yield Hit(macro.name, _("Macro"), "", partial(studio.selection.look_at, subject.macro(macro.id)))
    yield from _keys_in_use(studio, label_of, to_control)
    yield from _settings(studio, to_control)
    for entry in actions:
        if entry.enabled() and entry.id != "find":
            yield Hit(entry.text(), entry.shortcut or _("Action"), "", entry.run)


def sendable(studio: Studio, label_of: LabelOf, controls: Collection[str], armed: Armed) -> Iterator[Hit]:
    """Commands, keys and layers; choosing one puts it into the slot that was armed."""

    def give(send: Send) -> None:
        studio.assigning.fill(armed, send)

    for command in studio.profile.commands:
        yield Hit(command.name, _kind(command, label_of), command.group, partial(give, SendCommand(command.id)))
    for info in KEYS.values():
        words = ", ".join(spoken(info.name))
        yield Hit(
            label_of(info.name),
            _("Key, {group}").format(group=KEY_GROUPS[info.group]),
            words,
            partial(give, studio.assigning.send_for_key(info.name)),
        )
    for offer in output_choices(studio, armed.slot.control, controls):
        yield Hit(offer.name, offer.group, "", partial(choose_output, studio, armed, offer))


def _keys_in_use(studio: Studio, label_of: LabelOf, to_control: Go) -> Iterator[Hit]:
    """Keys that some control sends, leading to the first that does."""
    seen: set[str] = set()
    for slot, sends in slots_of(studio.profile):
        for key in keys_of(studio.profile, sends):
            if key not in seen and slot.control in CONTROLS:
                seen.add(key)
                where = _("Key, sent by {slot_name}").format(
                    slot_name=slot_name(studio.profile, slot, studio.selection.names)
                )
                yield Hit(label_of(key), where, ", ".join(spoken(key)), partial(to_control, slot.control))


def _settings(studio: Studio, to_control: Go) -> Iterator[Hit]:
    """Numbers of the feel of the sticks and triggers, and the habits of the profile."""
    for control, parameters in FEEL_SETTINGS.items():
        for parameter in parameters:
            kind = _("Setting, {control}").format(control=studio.selection.names.inside(control))
            yield Hit(parameter.label, kind, parameter.help, partial(to_control, control))
    for parameter in HABITS:
        yield Hit(
            parameter.label, _("Profile setting"), parameter.help, partial(studio.selection.look_at, subject.PROFILE)
        )


KEY_GROUPS: dict[str, str] = {
    "letters": _("letters"),
    "digits": _("digits"),
    "punctuation": _("punctuation"),
    "editing": _("editing"),
    "arrows": _("arrows"),
    "modifiers": _("modifiers"),
    "function": _("function keys"),
    "number pad": _("number pad"),
    "system": _("system"),
    "media": _("media"),
    "mouse": _("mouse"),
}
"""What the groups of keys are called."""

STICK_SETTINGS = (p.SPEED, p.RATIO, p.INNER, p.OUTER, p.LEAST_STEP, p.EDGE_BOOST, p.KEY_RADIUS, p.DIAGONAL)
FEEL_SETTINGS = {
    "left_stick": STICK_SETTINGS,
    "right_stick": STICK_SETTINGS,
    "left_trigger": (p.PRESS_AT,),
    "right_trigger": (p.PRESS_AT,),
    "motion": (p.GYRO_RATIO, p.GYRO_THRESHOLD, p.MIN_CUTOFF, p.BETA),
}


def _kind(command: Command, label_of: LabelOf) -> str:
    keys = " ".join(label_of(key) for key in command.keys)
    return _("Command, {keys}").format(keys=keys or _("No key"))
