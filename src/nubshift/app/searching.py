"""What the finder finds: everything in the window, or what a slot can send."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial

from nubshift.app.actions import ActionTable
from nubshift.app.finder import Hit
from nubshift.app.studio import Armed, Studio
from nubshift.model.controls import CONTROLS, PAD_CONTROLS
from nubshift.model.keys import KEYS
from nubshift.model.profile import Command
from nubshift.model.sends import HoldLayer, Send, SendCommand

LabelOf = Callable[[str], str]
Go = Callable[[str], None]


def everything(
    studio: Studio, label_of: LabelOf, to_control: Go, to_command: Go, actions: ActionTable
) -> Iterator[Hit]:
    """Controls, commands, layers and actions; choosing one goes there or does it."""
    for info in (CONTROLS[name] for name in PAD_CONTROLS):
        yield Hit(info.title, "control", f"{info.mark} {info.reach}", partial(to_control, info.name))
    for command in studio.profile.commands:
        yield Hit(command.name, _kind(command, label_of), command.group, partial(to_command, command.id))
    for layer in studio.profile.layers:
        yield Hit(layer.name, "layer", "", partial(studio.show_layer, layer.id))
    for entry in actions:
        if entry.enabled() and entry.id != "find":
            yield Hit(entry.text(), entry.shortcut or "to do", "", entry.run)


def sendable(studio: Studio, label_of: LabelOf, armed: Armed) -> Iterator[Hit]:
    """Commands, keys and layers; choosing one puts it into the slot that was armed."""

    def give(send: Send) -> None:
        studio.fill(armed, send)

    for command in studio.profile.commands:
        yield Hit(command.name, _kind(command, label_of), command.group, partial(give, SendCommand(command.id)))
    for info in KEYS.values():
        words = f"{info.name} {info.label}"
        yield Hit(label_of(info.name), f"key, {info.group}", words, partial(give, studio.send_for_key(info.name)))
    if armed.slot.direction is None:
        for layer in studio.profile.layers[1:]:
            yield Hit(layer.name, "layer while held", "", partial(give, HoldLayer(layer.id)))


def _kind(command: Command, label_of: LabelOf) -> str:
    keys = " ".join(label_of(key) for key in command.keys)
    return f"command, {keys or 'no key yet'}"
