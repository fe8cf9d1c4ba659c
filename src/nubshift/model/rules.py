"""What is wrong with a profile of the right form: names that stand for nothing, doubles, contradictions.

All of these stop a profile from running. What merely looks forgotten is found by `checks`.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator
from dataclasses import dataclass

from nubshift.errors import Problem, did_you_mean
from nubshift.model.controls import BUTTON_LIKE, CONTROLS, Kind, kind_of
from nubshift.model.keys import KEYS, WHEEL, find_key
from nubshift.model.part import DIRECTIONS
from nubshift.model.profile import BASE, DEFAULT_FEEL, Binding, Feel, Layer, Profile, Seat, Together
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
    PAD_AXES,
    PAD_BUTTONS,
    ChangeLayer,
    HoldLayer,
    NextLayer,
    NextVariant,
    Send,
    SendBelt,
    SendCommand,
    SendKey,
    SendMacro,
    SendPad,
    SendPadAxis,
    Sends,
)
from nubshift.model.walk import MODIFIERS, each_send, places

MOST: dict[str, int] = {
    "commands": 5_000,
    "seats": 16,
    "layers": 200,
    "belts": 500,
    "macros": 1_000,
    "needed": 5_000,
    "variants": 2_000,
}
"""How many of each part a profile may have, and below, how many bindings: far above what a person makes."""
MOST_BINDINGS = 20_000

MAX_MODIFIERS = 3
"""How deep modifiers may hold each other: a toggle of a turbo of keys in order."""

ROLES: dict[Kind, tuple[type, ...]] = {
    Kind.BUTTON: (),
    Kind.TRIGGER: (PadAxisRole, MouseRole, ScrollRole),
    Kind.STICK: (KeysRole, MouseRole, ScrollRole, PointerRole, TilesRole, MenuRole, BoardRole, PadStickRole),
    Kind.AXIS: (KeysRole, MouseRole, ScrollRole, PadAxisRole),
    Kind.DPAD: (KeysRole, MouseRole, ScrollRole, MenuRole, BoardRole, TilesRole, PadStickRole),
    Kind.TOUCH: (KeysRole, MouseRole, ScrollRole, PointerRole, TilesRole, MenuRole, BoardRole, PadStickRole),
    Kind.POINTER: (PointerRole, TilesRole, MenuRole, BoardRole),
    Kind.MOTION: (GyroRole,),
}
"""What each kind of control can be used as."""


_BUTTONS = frozenset(name for name, info in CONTROLS.items() if info.kind in BUTTON_LIKE)


@dataclass(frozen=True)
class _Names:
    """Everything a profile gives a name to."""

    commands: set[str]
    layers: set[str]
    seats: set[str]
    belts: set[str]
    macros: set[str]


def _names_of(profile: Profile) -> _Names:
    return _Names(
        *(
            {part.id for part in parts}
            for parts in (profile.commands, profile.layers, profile.seats, profile.belts, profile.macros)
        )
    )


def problems_of(profile: Profile, good: Profile | None = None) -> Iterator[Problem]:
    """Every problem, each with the path of its field.

    `good` is a profile without any: layers that both share are not looked into again, unless other names are known now.
    """
    too_many = list(_too_many(profile))
    if too_many:
        yield from too_many
        return
    names = _names_of(profile)
    known = {id(layer) for layer in good.layers} if good is not None and _names_of(good) == names else set()
    for field in ("commands", "seats", "layers", "belts", "macros"):
        yield from _doubles(field, (part.id for part in getattr(profile, field)))
    if not profile.seats:
        yield Problem("seats", "expected at least one seat")
    if not profile.layers or profile.layers[0].id != BASE:
        yield Problem("layers", f'the first layer must have the id "{BASE}"')
    for index, seat in enumerate(profile.seats):
        yield from _joins(seat, f"seats[{index}]")
    for index, command in enumerate(profile.commands):
        for at, key in enumerate(command.keys):
            if key not in WHEEL:
                yield from _key(key, f"commands[{index}].keys[{at}]")
        for at, button in enumerate(command.pad):
            yield from _one_of(button, PAD_BUTTONS, "pad button", f"commands[{index}].pad[{at}]")
        if len(set(command.keys)) < len(command.keys):
            yield Problem(f"commands[{index}].keys", "a key stands here twice")
    for index, layer in enumerate(profile.layers):
        if id(layer) not in known:
            yield from _layer(layer, f"layers[{index}]", names)
    for index, pair in enumerate(profile.needed):
        for field, name in (("one", pair.one), ("other", pair.other)):
            yield from _one_of(name, names.commands, "command", f"needed[{index}].{field}")
        if pair.one == pair.other:
            yield Problem(f"needed[{index}]", "a command can't be needed together with itself")
    yield from _doubles("variants", (variant.id for variant in profile.variants))
    for index, variant in enumerate(profile.variants):
        yield from _one_of(variant.layer, names.layers, "layer", f"variants[{index}].layer")
        yield from _feel(variant.feel, f"variants[{index}].feel", variant.layer == BASE, names.seats)
    for place in places(profile, known):
        if not _are_plain(place.sends, names):
            yield from _sends(place.sends, place.path, names)


def _too_many(profile: Profile) -> Iterator[Problem]:
    for field, most in MOST.items():
        count = len(getattr(profile, field))
        if count > most:
            yield Problem(field, f"there are {count:,} of them; a profile has at most {most:,}")
    bindings = sum(len(layer.bindings) + len(layer.together) + len(layer.feel) for layer in profile.layers)
    if bindings > MOST_BINDINGS:
        yield Problem("layers", f"they hold {bindings:,} bindings; a profile has at most {MOST_BINDINGS:,}")


def _are_plain(sends: Sends, names: _Names) -> bool:
    """Whether these are keys and commands that there are, as most sends of a large profile."""
    for send in sends:
        if isinstance(send, SendCommand):
            if send.command not in names.commands:
                return False
        elif not isinstance(send, SendKey) or send.key not in KEYS:
            return False
    return True


def _layer(layer: Layer, place: str, names: _Names) -> Iterator[Problem]:
    yield from _doubles(f"{place}.bindings", ((b.seat, b.control) for b in layer.bindings))
    yield from _doubles(f"{place}.feel", ((f.seat, f.control) for f in layer.feel))
    yield from _doubles(f"{place}.together", ((t.seat, " + ".join(sorted(t.controls))) for t in layer.together))
    for at, binding in enumerate(layer.bindings):
        plain = binding.control in _BUTTONS and binding.seat in names.seats
        if plain and not binding.by_depth and not binding.blocked:
            continue
        yield from _binding(binding, f"{place}.bindings[{at}]", names.seats)
    for at, feel in enumerate(layer.feel):
        yield from _feel(feel, f"{place}.feel[{at}]", layer.id == BASE, names.seats)
    for at, together in enumerate(layer.together):
        yield from _together(together, f"{place}.together[{at}]", names.seats)


def _doubles(place: str, names: Iterable[object]) -> Iterator[Problem]:
    seen: set[object] = set()
    for index, name in enumerate(names):
        if name in seen:
            shown = name[1] if isinstance(name, tuple) else name
            yield Problem(f"{place}[{index}]", f'"{shown}" stands here a second time')
        seen.add(name)


def _key(key: str, place: str) -> Iterator[Problem]:
    if key not in KEYS:
        meant = find_key(key.removeprefix("KEY_"))
        hint = f' Did you mean "{meant}"?' if meant else did_you_mean(key, list(KEYS))
        yield Problem(place, f'there is no key "{key}".{hint}')


def _one_of(name: str, known: Collection[str], what: str, place: str) -> Iterator[Problem]:
    if name not in known:
        yield Problem(place, f'there is no {what} "{name}".{did_you_mean(name, sorted(known))}')


def _control(name: str, seat: str, seats: set[str], place: str) -> Iterator[Problem]:
    yield from _one_of(name, CONTROLS, "control", f"{place}.control")
    if seat not in seats:
        yield Problem(f"{place}.seat", f'there is no seat "{seat}"')


def _joins(seat: Seat, place: str) -> Iterator[Problem]:
    yield from _doubles(f"{place}.joins", (join.control for join in seat.joins))
    for at, join in enumerate(seat.joins):
        for field, name in (("x", join.x), ("y", join.y)):
            if name not in CONTROLS or kind_of(name) is not Kind.AXIS:
                yield Problem(f"{place}.joins[{at}].{field}", f'"{name}" is no lone axis; expected axis_1 to axis_8')


def _binding(binding: Binding, place: str, seats: set[str]) -> Iterator[Problem]:
    yield from _control(binding.control, binding.seat, seats, place)
    gestures = binding.gestures
    if binding.control in CONTROLS:
        kind = kind_of(binding.control)
        title = CONTROLS[binding.control].title
        for name in gestures if kind not in BUTTON_LIKE else ():
            yield Problem(f"{place}.{name}", f"{title} can't be pressed; give it a role instead")
        if binding.role and not isinstance(binding.role, ROLES[kind]):
            other = "; give it a press instead of a role" if kind is Kind.BUTTON else ""
            yield Problem(f"{place}.role", f"{title} can't be used as {_use(binding.role)}{other}")
        if (binding.bands or binding.out) and kind in (Kind.BUTTON, Kind.MOTION, Kind.POINTER):
            yield Problem(f"{place}.bands", f"{title} has no depth; give it a press instead")
        if binding.role and kind in BUTTON_LIKE and gestures:
            yield Problem(f"{place}.role", f"{title} acts either by its depth or as a button; remove one of the two")
        elif binding.by_depth and gestures:
            yield Problem(f"{place}.bands", f"{title} acts either by its depth or as a button; remove one of the two")
    if binding.blocked and (gestures or binding.by_depth):
        yield Problem(f"{place}.blocked", "a blocked control can't send anything; remove one of the two")
    if binding.role:
        yield from _role(binding.role, f"{place}.role")
    for at in range(1, len(binding.bands)):
        if binding.bands[at].start <= binding.bands[at - 1].start:
            yield Problem(f"{place}.bands[{at}].start", "each band must begin further out than the one before")


def _use(role: Role) -> str:
    return type(role).__struct_config__.tag  # type: ignore[return-value]


def _role(role: Role, place: str) -> Iterator[Problem]:
    match role:
        case KeysRole(directions):
            for direction in DIRECTIONS if directions == 4 else ():
                if role.sends(direction) and "_" in direction:
                    text = "with 4 directions a diagonal has nothing of its own; set 8"
                    yield Problem(f"{place}.{direction}", text)
        case TilesRole(cells):
            if len(cells) != role.count:
                yield Problem(f"{place}.cells", f"expected {role.count} cells, found {len(cells)}")
        case MenuRole(on=on, by=by):
            if on == "press" and not by:
                yield Problem(f"{place}.by", "name the control whose press sends the entry")
            yield from _by(by, f"{place}.by")
        case BoardRole(rows, by):
            yield from _by(by, f"{place}.by")
            for at, row in enumerate(rows):
                for column, cell in enumerate(row):
                    if len(cell) != 1:
                        yield from _key(cell, f"{place}.rows[{at}][{column}]")
        case PadAxisRole(axis):
            yield from _one_of(axis, PAD_AXES, "pad axis", f"{place}.axis")
        case PointerRole(area=(left, top, right, bottom)):
            if left >= right or top >= bottom:
                yield Problem(f"{place}.area", "expected left, top, right and bottom, with room between them")
        case GyroRole(active=active, by=by):
            if active != "always" and not by:
                yield Problem(f"{place}.by", "name the control that makes the gyro act")
            yield from _by(by, f"{place}.by")
        case MouseRole() | ScrollRole() | PadStickRole():
            pass


def _by(by: str, place: str) -> Iterator[Problem]:
    if by:
        yield from _one_of(by, _BUTTONS, "button", place)


def _together(together: Together, place: str, seats: set[str]) -> Iterator[Problem]:
    if together.seat not in seats:
        yield Problem(f"{place}.seat", f'there is no seat "{together.seat}"')
    for at, control in enumerate(together.controls):
        yield from _by(control, f"{place}.controls[{at}]")
    if len(set(together.controls)) < len(together.controls):
        yield Problem(f"{place}.controls", "a control stands here twice")
    if together.blocked and together.gestures:
        yield Problem(f"{place}.blocked", "what is blocked can't send anything; remove one of the two")


def _sends(sends: Sends, path: str, names: _Names) -> Iterator[Problem]:
    inside = path.partition("[")[0]
    for place, send in each_send(sends, path):
        yield from _send(send, place, names)
        if inside in ("macros", "belts") and isinstance(send, SendMacro):
            yield Problem(place, "a macro can't stand within a macro or a belt")
        if inside == "belts" and isinstance(send, SendBelt):
            yield Problem(place, "a belt can't stand within a belt")
        if isinstance(send, MODIFIERS):
            if not send.what:
                yield Problem(f"{place}.what", "expected something to send")
            if place.removeprefix(path).count(".what") >= MAX_MODIFIERS:
                yield Problem(place, f"modifiers can hold each other {MAX_MODIFIERS} deep, not deeper")


def _send(send: Send, place: str, names: _Names) -> Iterator[Problem]:
    match send:
        case SendCommand(command):
            yield from _one_of(command, names.commands, "command", f"{place}.command")
        case SendKey(key):
            yield from _key(key, f"{place}.key")
        case HoldLayer(layer) | ChangeLayer(layer):
            yield from _a_layer(layer, f"{place}.layer", names)
        case NextLayer(layers):
            if not layers:
                yield Problem(f"{place}.layers", "expected at least one layer")
            for at, layer in enumerate(layers):
                yield from _a_layer(layer, f"{place}.layers[{at}]", names)
        case SendBelt(belt):
            yield from _one_of(belt, names.belts, "belt", f"{place}.belt")
        case SendMacro(macro):
            yield from _one_of(macro, names.macros, "macro", f"{place}.macro")
        case SendPad(button):
            yield from _one_of(button, PAD_BUTTONS, "pad button", f"{place}.button")
        case SendPadAxis(axis):
            yield from _one_of(axis, PAD_AXES, "pad axis", f"{place}.axis")
        case NextVariant(control):
            yield from _one_of(control, CONTROLS, "control", f"{place}.control")
        case _:
            pass


def _a_layer(layer: str, place: str, names: _Names) -> Iterator[Problem]:
    if layer == BASE:
        yield Problem(place, "the base is always active and can't be entered")
    else:
        yield from _one_of(layer, names.layers, "layer", place)


def _feel(feel: Feel, place: str, in_base: bool, seats: set[str]) -> Iterator[Problem]:
    yield from _control(feel.control, feel.seat, seats, place)
    if feel.press_at is not None and not in_base:
        yield Problem(f"{place}.press_at", "belongs to the trigger and is the same in every layer; set it in the base")
    inner = feel.inner if feel.inner is not None else DEFAULT_FEEL.inner
    outer = feel.outer if feel.outer is not None else DEFAULT_FEEL.outer
    is_set = feel.inner is not None or feel.outer is not None
    if inner is not None and outer is not None and is_set and inner >= outer:
        yield Problem(f"{place}.inner", f"the dead zone ({inner:g}) must end before the stick is fully out ({outer:g})")
    if feel.curve is not None:
        yield from _curve(feel.curve, f"{place}.curve")


def _curve(points: tuple[tuple[float, float], ...], place: str) -> Iterator[Problem]:
    if len(points) < 2 or points[0][0] != 0 or points[-1][0] != 1:
        yield Problem(place, "expected at least two points, the first at 0 and the last at 1")
        return
    for index in range(1, len(points)):
        (x0, y0), (x1, y1) = points[index - 1], points[index]
        where = f"{place}[{index}]"
        if x1 <= x0:
            yield Problem(where, f"each point must lie right of the one before, but {x1:g} follows {x0:g}")
        if y1 < y0:
            yield Problem(where, f"the curve must not fall, but {y1:g} follows {y0:g}")
