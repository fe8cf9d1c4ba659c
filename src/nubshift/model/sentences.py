"""How parts of a profile are called in sentences: labels of sends, slots and layers, in the words of the game."""

from __future__ import annotations

from nubshift.model.controls import CONTROLS
from nubshift.model.edits import Slot
from nubshift.model.keys import label
from nubshift.model.profile import Direction, HoldLayer, Profile, Send, SendCommand, SendKey, Sends

DIRECTION_NAMES: dict[Direction, str] = {
    "up": "up", "up_right": "up right", "right": "right", "down_right": "down right",
    "down": "down", "down_left": "down left", "left": "left", "up_left": "up left",
}  # fmt: skip


def send_name(profile: Profile, send: Send) -> str:
    """What one send is called: the command's name, the key's label, or the layer's name."""
    match send:
        case SendCommand(command):
            found = profile.command(command)
            return found.name if found else command
        case SendKey(key):
            return label(key)
        case HoldLayer(layer):
            entry = profile.layer(layer)
            return f"layer {entry.name if entry else layer}"


def sends_name(profile: Profile, sends: Sends) -> str:
    """What several sends are called together; "nothing" for none."""
    return " + ".join(send_name(profile, send) for send in sends) or "nothing"


def keys_of(profile: Profile, sends: Sends) -> tuple[str, ...]:
    """The keys and mouse buttons that sends press, in their order, each once."""
    keys: dict[str, None] = {}
    for send in sends:
        match send:
            case SendCommand(command):
                found = profile.command(command)
                keys.update(dict.fromkeys(found.keys if found else ()))
            case SendKey(key):
                keys[key] = None
            case HoldLayer():
                pass
    return tuple(keys)


def slot_name(slot: Slot) -> str:
    """``left bumper``, ``left stick up``."""
    control = CONTROLS[slot.control].title.lower()
    return f"{control} {DIRECTION_NAMES[slot.direction]}" if slot.direction else control


def assign_title(profile: Profile, slot: Slot, sends: Sends) -> str:
    """The name of an edit that gives `sends` to a slot: ``Brace to left bumper``."""
    if not sends:
        return f"Nothing on {slot_name(slot)}"
    name = sends_name(profile, sends)
    return f"{name[0].upper()}{name[1:]} to {slot_name(slot)}"
