"""How parts of a profile are called in sentences: labels of sends, slots and layers, in the words of the game."""

from __future__ import annotations

from typing import assert_never

from nubshift.model.controls import Kind, kind_of, title_of
from nubshift.model.keys import label
from nubshift.model.names import Names, lowered
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
from nubshift.model.slots import BELT, MACRO, Slot
from nubshift.model.walk import every_send, part_name
from nubshift.texts import _

GYRO_ACTS: dict[str, str] = {
    "pause": _("Pause the gyro"),
    "resume": _("Resume the gyro"),
    "toggle": _("Toggle the gyro"),
    "recentre": _("Recentre the gyro"),
}
_PAD_AXES: dict[str, str] = {
    "left_x": _("Left stick, left and right"),
    "left_y": _("Left stick, up and down"),
    "right_x": _("Right stick, left and right"),
    "right_y": _("Right stick, up and down"),
}


def pad_title(name: str) -> str:
    """What a button or axis of the virtual pad is called."""
    return _PAD_AXES.get(name) or title_of(name)


DIRECTION_NAMES: dict[Direction, str] = {
    "up": _("up"),
    "up_right": _("up right"),
    "right": _("right"),
    "down_right": _("down right"),
    "down": _("down"),
    "down_left": _("down left"),
    "left": _("left"),
    "up_left": _("up left"),
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
            return _("{sends_name}, toggle").format(sends_name=sends_name(profile, what))
        case Turbo(what, rate):
            return _("{sends_name}, {rate:g} a second").format(sends_name=sends_name(profile, what), rate=rate)
        case Pulsed(what):
            return _("{sends_name}, by depth").format(sends_name=sends_name(profile, what))
        case InOrder(what):
            first, *rest = (send_name(profile, entry) for entry in what)
            for name in rest:
                first = _("{first}, then {next}").format(first=first, next=name)
            return first
        case SendMacro(macro):
            return next((m.name for m in profile.macros if m.id == macro), macro)
        case SendBelt(belt, step):
            name = next((b.name for b in profile.belts if b.id == belt), belt)
            return {"next": _("{belt}: next"), "back": _("{belt}: back"), "again": _("{belt}: again")}[step].format(
                belt=name
            )
        case _:
            return _plain_send(send)


def _layer_send(profile: Profile, send: HoldLayer | ChangeLayer | BackToBase | NextLayer | HoldProfile) -> str:
    def named(layer_id: str) -> str:
        entry = profile.layer(layer_id)
        return entry.name if entry else layer_id

    match send:
        case HoldLayer(layer):
            return _("layer {layer}").format(layer=named(layer))
        case ChangeLayer(layer, how):
            words = {
                "toggle": _("layer {layer}, toggle"),
                "once": _("layer {layer}, for the next press"),
                "enter": _("enter layer {layer}"),
                "leave": _("leave layer {layer}"),
                "only": _("only layer {layer}"),
            }
            return words[how].format(layer=named(layer))
        case BackToBase():
            return _("Back to Base")
        case NextLayer(layers, back):
            said = _("previous of layers {layers}") if back else _("next of layers {layers}")
            return said.format(layers=", ".join(map(named, layers)))
        case HoldProfile(profile_id):
            return _("profile {name}").format(name=profile_id)
        case never:
            assert_never(never)


def _plain_send(send: PlainSend) -> str:
    match send:
        case SendWheel(way, notches):
            words = _("Wheel {way}, {count} notches") if notches > 1 else _("Wheel {way}")
            return words.format(way=DIRECTION_NAMES[way], count=notches)
        case SendScroll(way):
            return _("Scroll {way}").format(way=DIRECTION_NAMES[way])
        case SendMotion(dx, dy):
            return _("Mouse by {dx}, {dy}").format(dx=dx, dy=dy)
        case SendPoint(x, y):
            return _("Cursor to {x:.0%}, {y:.0%}").format(x=x, y=y)
        case ChangeSpeed(by):
            return (_("Faster, {by:g} ×") if by >= 1 else _("Slower, {by:g} ×")).format(by=by)
        case Precision(share):
            return _("Precision {share:.0%}").format(share=share)
        case SendText(text):
            return _("Text “{text}{more}”").format(text=text[:20], more="…" if len(text) > 20 else "")
        case Gyro(do):
            return GYRO_ACTS[do]
        case SendPad(button):
            return _("Pad {button}").format(button=lowered(pad_title(button)))
        case SendPadAxis(axis, value):
            return _("Pad {axis} {value:+.0%}").format(axis=lowered(pad_title(axis)), value=value)
        case SendRumble():
            return _("Rumble")
        case SendLight():
            return _("Light")
        case ShowAll():
            return _("Show all")
        case NextVariant(control, back):
            words = _("{control}: previous variant") if back else _("{control}: next variant")
            return words.format(control=lowered(title_of(control)))
        case SendNothing():
            return _("Nothing")
        case never:
            assert_never(never)


def sends_name(profile: Profile, sends: Sends) -> str:
    """What several sends are called together; that nothing is assigned for none."""
    return " + ".join(send_name(profile, send) for send in sends) or _("Unassigned")


def role_name(profile: Profile, role: Role) -> str:
    """What a role is called: its keys by name, or what it does."""
    match role:
        case KeysRole() as keys:
            used = (keys.up, keys.right, keys.down, keys.left)
            return ", ".join(sends_name(profile, sends) for sends in used if sends) or _("Keys")
        case MouseRole():
            return _("Mouse")
        case ScrollRole():
            return _("Scroll")
        case PointerRole(relative):
            return _("Pointer, moved") if relative else _("Pointer")
        case TilesRole():
            return _("{count} tiles").format(count=role.count)
        case MenuRole(entries):
            return _("Radial menu, {count} entries").format(count=len(entries))
        case BoardRole():
            return _("On-screen keyboard")
        case PadStickRole(stick):
            return _("Virtual left stick") if stick == "left" else _("Virtual right stick")
        case PadAxisRole(axis):
            return _("Virtual {axis}").format(axis=lowered(pad_title(axis)))
        case GyroRole(to):
            return {"mouse": _("Gyro to mouse"), "pointer": _("Gyro to pointer"), "stick": _("Gyro to stick")}[to]
        case never:
            assert_never(never)


def binding_name(profile: Profile, binding: Binding | None) -> str:
    """What a binding sends, in a few words."""
    if binding is None or binding.blocked:
        return _("Nothing")
    if binding.role is not None:
        return role_name(profile, binding.role)
    parts = [
        name if gesture == "press" else f"{GESTURE_NAMES[gesture]}: {name}"
        for gesture, sends in binding.gestures.items()
        if (name := sends_name(profile, sends))
    ]
    parts += [sends_name(profile, band.what) for band in binding.bands]
    return ", ".join(parts) or sends_name(profile, binding.out)


def keys_of(profile: Profile, sends: Sends) -> tuple[str, ...]:
    """The keys and mouse buttons that sends press, in their order, each once."""
    keys: dict[str, None] = {}
    for send in every_send(sends):
        if isinstance(send, SendCommand):
            found = profile.command(send.command)
            keys.update(dict.fromkeys(found.keys if found else ()))
        elif isinstance(send, SendKey):
            keys[send.key] = None
    return tuple(keys)


GESTURE_NAMES: dict[str, str] = {
    "press": _("Press"),
    "tap": _("Tap"),
    "hold": _("Hold"),
    "double": _("Double tap"),
    "release": _("Release"),
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
        ways = (_("sip"), _("puff")) if control.endswith("hole") else (_("one way"), _("the other way"))
        return f"{control}, {ways[slot.direction == 'right']}"
    if slot.direction:
        return _("{control} {direction}").format(control=control, direction=DIRECTION_NAMES[slot.direction])
    return f"{control}, {lowered(GESTURE_NAMES.get(part, part))}" if part else control


def assign_title(profile: Profile, slot: Slot, sends: Sends, names: Names | None = None) -> str:
    """The name of an edit that gives `sends` to a slot: ``Brace to left bumper``."""
    if not sends:
        return _("Clear {slot_name}").format(slot_name=slot_name(profile, slot, names))
    name = sends_name(profile, sends)
    return _("{what} to {place}").format(what=f"{name[0].upper()}{name[1:]}", place=slot_name(profile, slot, names))
