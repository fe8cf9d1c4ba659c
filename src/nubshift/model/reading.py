"""Strict reading of profiles: every problem of a file at once, each with its place and what was expected."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from typing import Any, TypeVar

import msgspec

from nubshift.errors import Problem, ProfileError, did_you_mean
from nubshift.model.controls import CONTROLS, Kind, kind_of
from nubshift.model.keys import KEYS, find_key
from nubshift.model.profile import (
    BASE,
    DEFAULT_FEEL,
    DIRECTIONS,
    FORMAT,
    VERSION,
    Binding,
    Command,
    Feel,
    Game,
    HoldLayer,
    KeysRole,
    Layer,
    Profile,
    Seat,
    SendCommand,
    SendKey,
    Sends,
)  # fmt: skip

MAX_BYTES = 8_000_000
MAX_PROBLEMS = 50

T = TypeVar("T")


def parse_profile(data: bytes, file: str) -> Profile:
    """The profile in `data`; `file` names it in messages.

    Raises ProfileError with all problems found, at most `MAX_PROBLEMS`.
    """
    problems: list[Problem] = []
    document = _document(data, problems)
    profile = None if problems else _profile(document, problems)
    if profile is not None:
        problems.extend(problems_of(profile))
    if problems or profile is None:
        raise ProfileError(file, problems[:MAX_PROBLEMS])
    return profile


def _document(data: bytes, problems: list[Problem]) -> dict[str, Any]:
    """The JSON object in `data`, with its format and version checked; on failure `problems` says why."""
    if len(data) > MAX_BYTES:
        problems.append(Problem("", f"the file has {len(data):,} bytes; a profile has at most {MAX_BYTES:,}"))
        return {}
    if not data.strip():
        problems.append(Problem("", "the file is empty; expected a profile in JSON"))
        return {}
    try:
        document = msgspec.json.decode(data)
    except (msgspec.DecodeError, RecursionError, UnicodeDecodeError) as error:
        problems.append(Problem(_line_of(data, str(error)), f"this is not JSON: {error}"))
        return {}
    if not isinstance(document, dict):
        problems.append(Problem("", f'expected a profile, an object with "format", but found {_kind(document)}'))
        return {}
    found = document.get("format")
    if found != FORMAT:
        problems.append(Problem("format", f'expected "{FORMAT}", found {_shown(found)}; this is another kind of file'))
        return {}
    version = document.get("version")
    if isinstance(version, int) and not isinstance(version, bool) and version > VERSION:
        text = f"the file was written by a newer Nub Shift (version {version}; this one reads up to {VERSION})"
        problems.append(Problem("version", f"{text}. Update Nub Shift to open it; the file was left as it is"))
    elif version != VERSION:
        problems.append(Problem("version", f"expected {VERSION}, found {_shown(version)}"))
    return document


def _line_of(data: bytes, message: str) -> str:
    """``line 3, column 7`` from the byte position in a message of the JSON reader, or nothing."""
    match = re.search(r"byte (\d+)", message)
    if not match and "truncated" not in message:
        return ""
    before = data[: int(match[1])] if match else data.rstrip()
    return f"line {before.count(10) + 1}, column {len(before) - before.rfind(10)}"


def _kind(value: object) -> str:
    names = {dict: "an object", list: "a list", str: "text", bool: "true or false", int: "a number", float: "a number"}
    return names.get(type(value), "nothing")


def _shown(value: object) -> str:
    return "nothing" if value is None else msgspec.json.encode(value).decode()[:60]


def _profile(document: dict[str, Any], problems: list[Problem]) -> Profile | None:
    """The typed profile. Each part is converted by itself, so that one error does not hide the next."""
    known = set(Profile.__struct_fields__)
    for name in document:
        if name not in known:
            problems.append(Problem(name, f"there is no such field.{did_you_mean(name, sorted(known))}"))
    if "game" not in document:
        problems.append(Problem("game", "is missing; expected an object with a title"))
    game = _part(document.get("game", {"title": ""}), Game, "game", problems)
    commands = tuple(_parts(document, "commands", Command, problems))
    seats = tuple(_parts(document, "seats", Seat, problems)) if "seats" in document else (Seat("1"),)
    layers = (
        tuple(_layers(_list(document, "layers", problems), problems))
        if "layers" in document
        else (Layer(BASE, "Base"),)
    )
    if problems or game is None:
        return None
    return Profile(FORMAT, VERSION, game, commands, seats, layers)


def _layers(items: list[Any], problems: list[Problem]) -> Iterator[Layer]:
    for index, item in enumerate(items):
        place = f"layers[{index}]"
        if not isinstance(item, dict):
            problems.append(Problem(place, f"expected a layer, found {_kind(item)}"))
            continue
        bindings = tuple(_parts(item, "bindings", Binding, problems, place))
        feel = tuple(_parts(item, "feel", Feel, problems, place))
        rest = {name: value for name, value in item.items() if name not in ("bindings", "feel")}
        layer = _part(rest, Layer, place, problems)
        if layer is not None:
            yield msgspec.structs.replace(layer, bindings=bindings, feel=feel)


def _list(holder: dict[str, Any], name: str, problems: list[Problem], place: str = "") -> list[Any]:
    value = holder.get(name, [])
    if isinstance(value, list):
        return value
    problems.append(Problem(_join(place, name), f"expected a list, found {_kind(value)}"))
    return []


def _parts(holder: dict[str, Any], name: str, type_: type[T], problems: list[Problem], place: str = "") -> Iterator[T]:
    for index, item in enumerate(_list(holder, name, problems, place)):
        part = _part(item, type_, f"{_join(place, name)}[{index}]", problems)
        if part is not None:
            yield part


def _part(item: object, type_: type[T], place: str, problems: list[Problem]) -> T | None:
    try:
        return msgspec.convert(item, type_)
    except msgspec.ValidationError as error:
        message, _, path = str(error).partition(" - at `")
        where = path.rstrip("`").removeprefix("$")
        problems.append(Problem(place + where, _plain(message, item, type_)))
        return None


_WORDS = {
    "str": "text",
    "int": "a whole number",
    "float": "a number",
    "bool": "true or false",
    "array": "a list",
    "object": "an object",
}
_QUOTED = re.compile(r"`([^`]+)`")
_UNKNOWN = re.compile(r"Object contains unknown field `(.+)`")
_MISSING = re.compile(r"Object missing required field `(.+)`")
_TAG = re.compile(r"Invalid value '(.+)'")


def _plain(message: str, item: object, type_: type) -> str:
    """The reader's message in the words of a person who never saw the code."""
    if match := _UNKNOWN.search(message):
        fields = [*type_.__struct_fields__] if issubclass(type_, msgspec.Struct) else []
        return f'there is no field "{match[1]}" here.{did_you_mean(match[1], fields)}'
    if match := _MISSING.search(message):
        return f'the field "{match[1]}" is missing'
    if match := _TAG.search(message):
        return f'"{match[1]}" is not one of the values that can stand here'
    message = _QUOTED.sub(lambda found: _kinds(found[1]), message)
    message = message.replace("matching regex", "made of a-z, 0-9, - and _, like")
    return message[0].lower() + message[1:]


def _kinds(words: str) -> str:
    """``float | null`` as a person says it; that a field may be left out goes without saying."""
    return " or ".join(_WORDS.get(word, word) for word in words.split(" | ") if word != "null") or "nothing"


def _join(place: str, name: str) -> str:
    return f"{place}.{name}" if place else name


def problems_of(profile: Profile) -> Iterator[Problem]:
    """What is wrong with a profile of the right form: names that stand for nothing, doubles, contradictions."""
    commands = {c.id for c in profile.commands}
    layers = {entry.id for entry in profile.layers}
    seats = {s.id for s in profile.seats}
    yield from _doubles("commands", (c.id for c in profile.commands))
    yield from _doubles("seats", (s.id for s in profile.seats))
    yield from _doubles("layers", (entry.id for entry in profile.layers))
    if not profile.seats:
        yield Problem("seats", "expected at least one seat")
    if not profile.layers or profile.layers[0].id != BASE:
        yield Problem("layers", f'the first layer must have the id "{BASE}"')
    for index, command in enumerate(profile.commands):
        for at, key in enumerate(command.keys):
            yield from _key(key, f"commands[{index}].keys[{at}]")
        if len(set(command.keys)) < len(command.keys):
            yield Problem(f"commands[{index}].keys", "a key stands here twice")
    for index, layer in enumerate(profile.layers):
        place = f"layers[{index}]"
        yield from _doubles(f"{place}.bindings", ((b.seat, b.control) for b in layer.bindings))
        yield from _doubles(f"{place}.feel", ((f.seat, f.control) for f in layer.feel))
        for at, binding in enumerate(layer.bindings):
            yield from _binding(binding, f"{place}.bindings[{at}]", commands, layers, seats)
        for at, feel in enumerate(layer.feel):
            yield from _feel(feel, f"{place}.feel[{at}]", layer.id == BASE, seats)


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


def _control(name: str, seat: str, seats: set[str], place: str) -> Iterator[Problem]:
    if name not in CONTROLS:
        yield Problem(f"{place}.control", f'there is no control "{name}".{did_you_mean(name, list(CONTROLS))}')
    if seat not in seats:
        yield Problem(f"{place}.seat", f'there is no seat "{seat}"')


def _binding(binding: Binding, place: str, commands: set[str], layers: set[str], seats: set[str]) -> Iterator[Problem]:
    yield from _control(binding.control, binding.seat, seats, place)
    if binding.control in CONTROLS:
        kind = kind_of(binding.control)
        title = CONTROLS[binding.control].title
        if binding.press and kind not in (Kind.BUTTON, Kind.TRIGGER):
            yield Problem(f"{place}.press", f"{title} can't be pressed; give it a role instead")
        if binding.role and kind is not Kind.STICK:
            yield Problem(f"{place}.role", f"{title} is no stick; give it a press instead of a role")
    if binding.blocked and (binding.press or binding.role):
        yield Problem(f"{place}.blocked", "a blocked control can't send anything; remove one of the two")
    yield from _sends(binding.press, f"{place}.press", commands, layers)
    if isinstance(binding.role, KeysRole):
        for direction in DIRECTIONS:
            sends = binding.role.sends(direction)
            if sends and binding.role.directions == 4 and "_" in direction:
                yield Problem(f"{place}.role.{direction}", "with 4 directions a diagonal has nothing of its own; set 8")
            yield from _sends(sends, f"{place}.role.{direction}", commands, layers)


def _sends(sends: Sends, place: str, commands: set[str], layers: set[str]) -> Iterator[Problem]:
    for index, send in enumerate(sends):
        match send:
            case SendCommand(command) if command not in commands:
                hint = did_you_mean(command, sorted(commands))
                yield Problem(f"{place}[{index}].command", f'there is no command "{command}".{hint}')
            case SendKey(key):
                yield from _key(key, f"{place}[{index}].key")
            case HoldLayer(layer) if layer not in layers:
                hint = did_you_mean(layer, sorted(layers))
                yield Problem(f"{place}[{index}].layer", f'there is no layer "{layer}".{hint}')
            case HoldLayer(layer) if layer == BASE:
                yield Problem(f"{place}[{index}].layer", "the base is always active and can't be entered")


def _feel(feel: Feel, place: str, in_base: bool, seats: set[str]) -> Iterator[Problem]:
    yield from _control(feel.control, feel.seat, seats, place)
    if feel.press_at is not None and not in_base:
        yield Problem(f"{place}.press_at", "belongs to the trigger and is the same in every layer; set it in the base")
    inner = feel.inner if feel.inner is not None else DEFAULT_FEEL.inner
    outer = feel.outer if feel.outer is not None else DEFAULT_FEEL.outer
    if (
        inner is not None
        and outer is not None
        and (feel.inner is not None or feel.outer is not None)
        and inner >= outer
    ):
        yield Problem(f"{place}.inner", f"the dead zone ({inner:g}) must end before the stick is fully out ({outer:g})")
    if feel.curve is not None:
        yield from _curve(feel.curve, f"{place}.curve")


def _curve(points: tuple[tuple[float, float], ...], place: str) -> Iterator[Problem]:
    if len(points) < 2 or points[0][0] != 0 or points[-1][0] != 1:
        yield Problem(place, "expected at least two points, the first at 0 and the last at 1")
        return
    for index in range(1, len(points)):
        (x0, y0), (x1, y1) = points[index - 1], points[index]
        if x1 <= x0:
            yield Problem(
                f"{place}[{index}]", f"each point must lie right of the one before, but {x1:g} follows {x0:g}"
            )
        if y1 < y0:
            yield Problem(f"{place}[{index}]", f"the curve must not fall, but {y1:g} follows {y0:g}")
