"""What is wrong with a profile of the right form: names that stand for nothing, doubles, contradictions.

All of these stop a profile from running. What merely looks forgotten is found by `checks`.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator
from typing import assert_never

from msgspec import Struct

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
    Sends,
    SendScroll,
    SendText,
    SendWheel,
    ShowAll,
    Toggled,
    Turbo,
)
from nubshift.model.walk import MODIFIERS, each_send, places
from nubshift.texts import _

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


class _Names(Struct, frozen=True):
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
        yield Problem("seats", _("expected at least one seat"))
    if not profile.layers or profile.layers[0].id != BASE:
        yield Problem("layers", _('the first layer must have the id "{base}"').format(base=BASE))
    for index, seat in enumerate(profile.seats):
        yield from _joins(seat, f"seats[{index}]")
    for index, command in enumerate(profile.commands):
        for at, key in enumerate(command.keys):
            if key not in WHEEL:
                yield from _key(key, f"commands[{index}].keys[{at}]")
        for at, button in enumerate(command.pad):
            yield from _one_of(button, PAD_BUTTONS, _("pad button"), f"commands[{index}].pad[{at}]")
        if len(set(command.keys)) < len(command.keys):
            yield Problem(f"commands[{index}].keys", _("a key appears here twice"))
    for index, layer in enumerate(profile.layers):
        if id(layer) not in known:
            yield from _layer(layer, f"layers[{index}]", names)
    for index, pair in enumerate(profile.needed):
        for field, name in (("one", pair.one), ("other", pair.other)):
            yield from _one_of(name, names.commands, "command", f"needed[{index}].{field}")
        if pair.one == pair.other:
            yield Problem(f"needed[{index}]", _("a command can't be needed together with itself"))
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
            yield Problem(
                field, _("there are {count:,} of them; a profile has at most {most:,}").format(count=count, most=most)
            )
    bindings = sum(len(layer.bindings) + len(layer.together) + len(layer.feel) for layer in profile.layers)
    if bindings > MOST_BINDINGS:
        yield Problem(
            "layers",
            _("they hold {bindings:,} bindings; a profile has at most {most_bindings:,}").format(
                bindings=bindings, most_bindings=MOST_BINDINGS
            ),
        )


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
            yield Problem(f"{place}[{index}]", _('"{shown}" appears here a second time').format(shown=shown))
        seen.add(name)


def _key(key: str, place: str) -> Iterator[Problem]:
    if key not in KEYS:
        meant = find_key(key.removeprefix("KEY_"))
        hint = _(' Did you mean "{meant}"?').format(meant=meant) if meant else did_you_mean(key, list(KEYS))
        yield Problem(place, _('there is no key "{key}".{hint}').format(key=key, hint=hint))


def _one_of(name: str, known: Collection[str], what: str, place: str) -> Iterator[Problem]:
    if name not in known:
        yield Problem(
            place,
            _('there is no {what} "{name}".{did_you_mean}').format(
                what=what, name=name, did_you_mean=did_you_mean(name, sorted(known))
            ),
        )


def _control(name: str, seat: str, seats: set[str], place: str) -> Iterator[Problem]:
    yield from _one_of(name, CONTROLS, "control", f"{place}.control")
    if seat not in seats:
        yield Problem(f"{place}.seat", _('there is no seat "{seat}"').format(seat=seat))


def _joins(seat: Seat, place: str) -> Iterator[Problem]:
    yield from _doubles(f"{place}.joins", (join.control for join in seat.joins))
    for at, join in enumerate(seat.joins):
        for field, name in (("x", join.x), ("y", join.y)):
            if name not in CONTROLS or kind_of(name) is not Kind.AXIS:
                yield Problem(
                    f"{place}.joins[{at}].{field}",
                    _('"{name}" is not a single axis; expected axis_1 to axis_8').format(name=name),
                )


def _binding(binding: Binding, place: str, seats: set[str]) -> Iterator[Problem]:
    yield from _control(binding.control, binding.seat, seats, place)
    gestures = binding.gestures
    if binding.control in CONTROLS:
        kind = kind_of(binding.control)
        title = CONTROLS[binding.control].title
        for name in gestures if kind not in BUTTON_LIKE else ():
            yield Problem(f"{place}.{name}", _("{title} can't be pressed; give it a role instead").format(title=title))
        if binding.role and not isinstance(binding.role, ROLES[kind]):
            other = _("; give it a press instead of a role") if kind is Kind.BUTTON else ""
            yield Problem(
                f"{place}.role",
                _("{title} can't be used as {use}{other}").format(title=title, use=_use(binding.role), other=other),
            )
        if (binding.bands or binding.out) and kind in (Kind.BUTTON, Kind.MOTION, Kind.POINTER):
            yield Problem(f"{place}.bands", _("{title} has no depth; give it a press instead").format(title=title))
        if binding.role and kind in BUTTON_LIKE and gestures:
            yield Problem(
                f"{place}.role",
                _("{title} acts either by its depth or as a button; remove one of the two").format(title=title),
            )
        elif binding.by_depth and gestures:
            yield Problem(
                f"{place}.bands",
                _("{title} acts either by its depth or as a button; remove one of the two").format(title=title),
            )
    if binding.blocked and (gestures or binding.by_depth):
        yield Problem(f"{place}.blocked", _("a blocked control can't send anything; remove one of the two"))
    if binding.role:
        yield from _role(binding.role, f"{place}.role")
    for at in range(1, len(binding.bands)):
        if binding.bands[at].start <= binding.bands[at - 1].start:
            yield Problem(f"{place}.bands[{at}].start", _("each depth must start further out than the one before"))


def _use(role: Role) -> str:
    return type(role).__struct_config__.tag  # type: ignore[return-value]


def _role(role: Role, place: str) -> Iterator[Problem]:
    match role:
        case KeysRole(directions):
            for direction in DIRECTIONS if directions == 4 else ():
                if role.sends(direction) and "_" in direction:
                    text = _("with 4 directions a diagonal has nothing of its own; set 8")
                    yield Problem(f"{place}.{direction}", text)
        case TilesRole(cells):
            if len(cells) != role.count:
                yield Problem(
                    f"{place}.cells",
                    _("expected {count} cells, found {count_2}").format(count=role.count, count_2=len(cells)),
                )
        case MenuRole(on=on, by=by):
            if on == "press" and not by:
                yield Problem(f"{place}.by", _("name the control whose press sends the entry"))
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
                yield Problem(f"{place}.area", _("expected left, top, right and bottom, with room between them"))
        case GyroRole(active=active, by=by):
            if active != "always" and not by:
                yield Problem(f"{place}.by", _("name the control that makes the gyro act"))
            yield from _by(by, f"{place}.by")
        case MouseRole() | ScrollRole() | PadStickRole():
            pass
        case never:
            assert_never(never)


def _by(by: str, place: str) -> Iterator[Problem]:
    if by:
        yield from _one_of(by, _BUTTONS, "button", place)


def _together(together: Together, place: str, seats: set[str]) -> Iterator[Problem]:
    if together.seat not in seats:
        yield Problem(f"{place}.seat", _('there is no seat "{seat}"').format(seat=together.seat))
    for at, control in enumerate(together.controls):
        yield from _by(control, f"{place}.controls[{at}]")
    if len(set(together.controls)) < len(together.controls):
        yield Problem(f"{place}.controls", _("a control appears here twice"))
    if together.blocked and together.gestures:
        yield Problem(f"{place}.blocked", _("what is blocked can't send anything; remove one of the two"))


def _sends(sends: Sends, path: str, names: _Names) -> Iterator[Problem]:
    inside = path.partition("[")[0]
    for place, send in each_send(sends, path):
        yield from _send(send, place, names)
        if inside in ("macros", "belts") and isinstance(send, SendMacro):
            yield Problem(place, _("a macro can't be inside a macro or a belt"))
        if inside == "belts" and isinstance(send, SendBelt):
            yield Problem(place, _("a belt can't be inside a belt"))
        if isinstance(send, MODIFIERS):
            if not send.what:
                yield Problem(f"{place}.what", _("expected something to send"))
            if place.removeprefix(path).count(".what") >= MAX_MODIFIERS:
                yield Problem(
                    place,
                    _("modifiers can hold each other {max_modifiers} deep, not deeper").format(
                        max_modifiers=MAX_MODIFIERS
                    ),
                )


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
                yield Problem(f"{place}.layers", _("expected at least one layer"))
            for at, layer in enumerate(layers):
                yield from _a_layer(layer, f"{place}.layers[{at}]", names)
        case SendBelt(belt):
            yield from _one_of(belt, names.belts, "belt", f"{place}.belt")
        case SendMacro(macro):
            yield from _one_of(macro, names.macros, "macro", f"{place}.macro")
        case SendPad(button):
            yield from _one_of(button, PAD_BUTTONS, _("pad button"), f"{place}.button")
        case SendPadAxis(axis):
            yield from _one_of(axis, PAD_AXES, "pad axis", f"{place}.axis")
        case NextVariant(control):
            yield from _one_of(control, CONTROLS, "control", f"{place}.control")
        case Toggled() | Turbo() | Pulsed() | InOrder():
            pass  # what they hold is looked at by itself
        case BackToBase() | HoldProfile() | SendWheel() | SendScroll() | SendMotion() | SendPoint() | ChangeSpeed():
            pass
        case Precision() | SendText() | Gyro() | SendRumble() | SendLight() | ShowAll() | SendNothing():
            pass
        case never:
            assert_never(never)


def _a_layer(layer: str, place: str, names: _Names) -> Iterator[Problem]:
    if layer == BASE:
        yield Problem(place, _("the base is always active and can't be entered"))
    else:
        yield from _one_of(layer, names.layers, "layer", place)


def _feel(feel: Feel, place: str, in_base: bool, seats: set[str]) -> Iterator[Problem]:
    yield from _control(feel.control, feel.seat, seats, place)
    if feel.press_at is not None and not in_base:
        yield Problem(
            f"{place}.press_at", _("belongs to the trigger and is the same in every layer; set it in the base")
        )
    inner = feel.inner if feel.inner is not None else DEFAULT_FEEL.inner
    outer = feel.outer if feel.outer is not None else DEFAULT_FEEL.outer
    is_set = feel.inner is not None or feel.outer is not None
    if inner is not None and outer is not None and is_set and inner >= outer:
        yield Problem(
            f"{place}.inner",
            _("the dead zone ({inner:g}) must end before the stick is fully out ({outer:g})").format(
                inner=inner, outer=outer
            ),
        )
    if feel.curve is not None:
        yield from _curve(feel.curve, f"{place}.curve")


def _curve(points: tuple[tuple[float, float], ...], place: str) -> Iterator[Problem]:
    if len(points) < 2 or points[0][0] != 0 or points[-1][0] != 1:
        yield Problem(place, _("expected at least two points, the first at 0 and the last at 1"))
        return
    for index in range(1, len(points)):
        (x0, y0), (x1, y1) = points[index - 1], points[index]
        where = f"{place}[{index}]"
        if x1 <= x0:
            yield Problem(
                where, _("each point must be right of the one before, but {x1:g} follows {x0:g}").format(x1=x1, x0=x0)
            )
        if y1 < y0:
            yield Problem(where, _("the curve must not fall, but {y1:g} follows {y0:g}").format(y1=y1, y0=y0))
