"""How parts of a profile are called in sentences: labels of sends, slots and layers, in the words of the game."""

from __future__ import annotations

from nubshift.model.controls import Kind, kind_of, title_of
from nubshift.model.keys import label
from nubshift.model.names import Names
from nubshift.model.part import Direction
from nubshift.model.profile import Binding, Profile
from nubshift.model.roles import (
    BoardRole,
    GyroRole,
    KeysRole,
    MenuRole,
    MouseRole,
    PadAxisRole,
    PadStickRole,
    PointerRole,
    Role,
    ScrollRole,
    TilesRole,
)
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
from nubshift.model.slots import BELT, MACRO, Slot
from nubshift.model.walk import every_send, part_name

DIRECTION_NAMES: dict[Direction, str] = {
    "up": "up",
    "up_right": "up right",
    "right": "right",
    "down_right": "down right",
    "down": "down",
    "down_left": "down left",
    "left": "left",
    "up_left": "up left",
}


def send_name(profile: Profile, send: Send) -> str:
    """What one send is called: the command's name, the key's label, or what it does in a few words."""
    match send:
        case SendCommand(command):
            found = profile.command(command)
            return found.name if found else command
        case SendKey(key):
            return label(key)
        case HoldLayer() | ChangeLayer() | BackToBase() | NextLayer() | HoldProfile():
            return _layer_send(profile, send)
        case Toggled(what):
            return f"{sends_name(profile, what)}, on and off"
        case Turbo(what, rate):
            return f"{sends_name(profile, what)}, {rate:g} a second"
        case Pulsed(what):
            return f"{sends_name(profile, what)}, by depth"
        case InOrder(what):
            return ", then ".join(send_name(profile, entry) for entry in what)
        case SendMacro(macro):
            return next((m.name for m in profile.macros if m.id == macro), macro)
        case SendBelt(belt, step):
            name = next((b.name for b in profile.belts if b.id == belt), belt)
            return f"{name}: {step}"
        case _:
            return _plain_send(send)


def _layer_send(profile: Profile, send: HoldLayer | ChangeLayer | BackToBase | NextLayer | HoldProfile) -> str:
    def named(layer_id: str) -> str:
        entry = profile.layer(layer_id)
        return entry.name if entry else layer_id

    match send:
        case HoldLayer(layer):
            return f"layer {named(layer)}"
        case ChangeLayer(layer, how):
            words = {
                "toggle": "{} on and off",
                "once": "{} for one press",
                "enter": "enter {}",
                "leave": "leave {}",
                "only": "only {}",
            }
            return "layer " + words[how].format(named(layer))
        case BackToBase():
            return "back to base"
        case NextLayer(layers, back):
            return f"{'previous' if back else 'next'} of layers {', '.join(map(named, layers))}"
        case HoldProfile(profile_id):
            return f"profile {profile_id}"


def _plain_send(send: Send) -> str:
    match send:
        case SendWheel(way, notches):
            return f"wheel {way}" + (f" {notches}" if notches > 1 else "")
        case SendScroll(way):
            return f"scroll {way}"
        case SendMotion(dx, dy):
            return f"mouse by {dx}, {dy}"
        case SendPoint(x, y):
            return f"cursor to {x:.0%}, {y:.0%}"
        case ChangeSpeed(by):
            return f"{'faster' if by >= 1 else 'slower'}, {by:g} ×"
        case Precision(share):
            return f"precision {share:.0%}"
        case SendText(text):
            return f"text “{text[:20]}{'…' if len(text) > 20 else ''}”"
        case Gyro(do):
            return f"gyro: {do}"
        case SendPad(button):
            return f"pad {button.replace('_', ' ')}"
        case SendPadAxis(axis, value):
            return f"pad {axis.replace('_', ' ')} {value:+.0%}"
        case SendRumble() | SendLight() | ShowAll():
            return {SendRumble: "rumble", SendLight: "light", ShowAll: "show all"}[type(send)]
        case NextVariant(control, back):
            return f"{title_of(control).lower()}: {'last' if back else 'next'} variant"
        case _:
            return "nothing"


def sends_name(profile: Profile, sends: Sends) -> str:
    """What several sends are called together; "nothing" for none."""
    return " + ".join(send_name(profile, send) for send in sends) or "nothing"


def role_name(profile: Profile, role: Role) -> str:
    """What a role is called: its keys by name, or what it does."""
    match role:
        case KeysRole() as keys:
            used = (keys.up, keys.right, keys.down, keys.left)
            return ", ".join(sends_name(profile, sends) for sends in used if sends) or "keys"
        case MouseRole():
            return "Mouse"
        case ScrollRole():
            return "Scroll"
        case PointerRole(relative):
            return "Pointer, moved" if relative else "Pointer"
        case TilesRole():
            return f"{role.count} tiles"
        case MenuRole(entries):
            return f"Menu of {len(entries)}"
        case BoardRole():
            return "On-screen keyboard"
        case PadStickRole(stick):
            return f"Pad's {stick} stick"
        case PadAxisRole(axis):
            return f"Pad's {axis.replace('_', ' ')}"
        case GyroRole(to):
            return {"mouse": "Gyro to mouse", "pointer": "Gyro to pointer", "stick": "Gyro to stick"}[to]


def binding_name(profile: Profile, binding: Binding | None) -> str:
    """What a binding sends, in a few words."""
    if binding is None or binding.blocked:
        return "nothing"
    if binding.role is not None:
        return role_name(profile, binding.role)
    parts = [
        name if gesture == "press" else f"{gesture}: {name}"
        for gesture, sends in binding.gestures.items()
        if (name := sends_name(profile, sends))
    ]
    parts += [sends_name(profile, band.what) for band in binding.bands]
    return ", ".join(parts) or sends_name(profile, binding.out)


def keys_of(profile: Profile, sends: Sends) -> tuple[str, ...]:
    """The keys and mouse buttons that sends press, in their order, each once."""
    keys: dict[str, None] = {}
    for send in every_send(sends):
        match send:
            case SendCommand(command):
                found = profile.command(command)
                keys.update(dict.fromkeys(found.keys if found else ()))
            case SendKey(key):
                keys[key] = None
            case _:
                pass
    return tuple(keys)


GESTURE_NAMES: dict[str, str] = {
    "press": "pressed",
    "tap": "tapped",
    "hold": "kept down",
    "double": "tapped twice",
    "release": "let go",
}


def slot_name(profile: Profile, slot: Slot, names: Names | None = None) -> str:
    """``left bumper``, ``left stick up``, ``left bumper, tapped``, ``Tools, entry 2``."""
    part = part_name(slot.part)
    if slot.control.startswith(BELT):
        belt = profile.belt(slot.control.removeprefix(BELT))
        return f"{belt.name if belt else slot.control}, {part}"
    if slot.control.startswith(MACRO):
        macro = profile.macro(slot.control.removeprefix(MACRO))
        return f"{macro.name if macro else slot.control}, {part}"
    control = (names or Names()).inside(slot.control)
    if slot.direction and "+" not in slot.control and kind_of(slot.control) is Kind.AXIS:
        ways = ("sipped", "puffed") if control.endswith("hole") else ("one way", "the other way")
        return f"{control}, {ways[slot.direction == 'right']}"
    if slot.direction:
        return f"{control} {DIRECTION_NAMES[slot.direction]}"
    return f"{control}, {GESTURE_NAMES.get(part, part)}" if part else control


def assign_title(profile: Profile, slot: Slot, sends: Sends, names: Names | None = None) -> str:
    """The name of an edit that gives `sends` to a slot: ``Brace to left bumper``."""
    if not sends:
        return f"Nothing on {slot_name(profile, slot, names)}"
    name = sends_name(profile, sends)
    return f"{name[0].upper()}{name[1:]} to {slot_name(profile, slot, names)}"
