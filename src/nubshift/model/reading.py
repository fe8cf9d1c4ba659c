"""Strict reading of profiles: every problem of a file at once, each with its place and what was expected."""

from __future__ import annotations

import re
from collections.abc import Iterator
from itertools import islice
from typing import Any, TypeVar

import msgspec

from nubshift.errors import Problem, ProfileError, did_you_mean
from nubshift.model.files import JsonTrouble, parse_json
from nubshift.model.migration import migrated
from nubshift.model.profile import (
    BASE,
    FORMAT,
    ONE_SEAT,
    VERSION,
    Belt,
    Binding,
    Command,
    Feel,
    Game,
    Habits,
    Layer,
    Macro,
    Pair,
    Profile,
    Seat,
    Together,
    Variant,
)
from nubshift.model.rules import problems_of
from nubshift.texts import _

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
        problems.extend(islice(problems_of(profile), MAX_PROBLEMS))
    if problems or profile is None:
        raise ProfileError(file, problems[:MAX_PROBLEMS])
    return profile


def _document(data: bytes, problems: list[Problem]) -> dict[str, Any]:
    """The JSON object in `data`, with its format and version checked; on failure `problems` says why."""
    if not data.strip():
        problems.append(Problem("", _("the file is empty; expected a profile in JSON")))
        return {}
    try:
        document = parse_json(data)
    except JsonTrouble as error:
        problems.append(
            Problem(
                _("line {line}, column {column}").format(line=error.line, column=error.column) if error.line else "",
                str(error),
            )
        )
        return {}
    if not isinstance(document, dict):
        problems.append(
            Problem("", _('expected a profile, an object with "format", but found {kind}').format(kind=_kind(document)))
        )
        return {}
    found = document.get("format")
    if found != FORMAT:
        problems.append(
            Problem(
                "format",
                _('expected "{format}", found {shown}; this is another kind of file').format(
                    format=FORMAT, shown=_shown(found)
                ),
            )
        )
        return {}
    document = migrated(document)
    version = document.get("version")
    if isinstance(version, int) and not isinstance(version, bool) and version > VERSION:
        text = _(
            "the file was written by a newer Nub Shift (version {version}; this one reads up to {version_2})"
        ).format(version=version, version_2=VERSION)
        problems.append(
            Problem("version", _("{text}. Update Nub Shift to open it; the file was left as it is").format(text=text))
        )
    elif version != VERSION:
        problems.append(
            Problem("version", _("expected {version}, found {shown}").format(version=VERSION, shown=_shown(version)))
        )
    return document


def _kind(value: object) -> str:
    names = {
        dict: _("an object"),
        list: _("a list"),
        str: "text",
        bool: _("true or false"),
        int: _("a number"),
        float: _("a number"),
    }
    return names.get(type(value), "nothing")


def _shown(value: object) -> str:
    return "nothing" if value is None else msgspec.json.encode(value).decode()[:60]


def _profile(document: dict[str, Any], problems: list[Problem]) -> Profile | None:
    """The typed profile. Each part is converted by itself, so that one error does not hide the next."""
    known = set(Profile.__struct_fields__)
    for name in document:
        if name not in known:
            problems.append(
                Problem(
                    name,
                    _("there is no such field.{did_you_mean}").format(did_you_mean=did_you_mean(name, sorted(known))),
                )
            )
    if "game" not in document:
        problems.append(Problem("game", _("is missing; expected an object with a title")))
    game = _part(document.get("game", {"title": ""}), Game, "game", problems)
    commands = tuple(_parts(document, "commands", Command, problems))
    seats = tuple(_parts(document, "seats", Seat, problems)) if "seats" in document else ONE_SEAT
    layers = (
        tuple(_layers(_list(document, "layers", problems), problems))
        if "layers" in document
        else (Layer(BASE, "Base"),)
    )
    belts = tuple(_parts(document, "belts", Belt, problems))
    macros = tuple(_parts(document, "macros", Macro, problems))
    habits = _part(document.get("habits", {}), Habits, "habits", problems)
    needed = tuple(_parts(document, "needed", Pair, problems))
    variants = tuple(_parts(document, "variants", Variant, problems))
    if problems or game is None or habits is None:
        return None
    return Profile(FORMAT, VERSION, game, commands, seats, layers, belts, macros, habits, needed, variants)


def _layers(items: list[Any], problems: list[Problem]) -> Iterator[Layer]:
    for index, item in enumerate(items):
        place = f"layers[{index}]"
        if not isinstance(item, dict):
            problems.append(Problem(place, _("expected a layer, found {kind}").format(kind=_kind(item))))
            continue
        bindings = tuple(_parts(item, "bindings", Binding, problems, place))
        feel = tuple(_parts(item, "feel", Feel, problems, place))
        together = tuple(_parts(item, "together", Together, problems, place))
        rest = {name: value for name, value in item.items() if name not in ("bindings", "feel", "together")}
        layer = _part(rest, Layer, place, problems)
        if layer is not None:
            yield msgspec.structs.replace(layer, bindings=bindings, feel=feel, together=together)


def _list(holder: dict[str, Any], name: str, problems: list[Problem], place: str = "") -> list[Any]:
    value = holder.get(name, [])
    if isinstance(value, list):
        return value
    problems.append(Problem(_join(place, name), _("expected a list, found {kind}").format(kind=_kind(value))))
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
        message, _unused, path = str(error).partition(" - at `")
        where = path.rstrip("`").removeprefix("$")
        problems.append(Problem(place + where, _plain(message, item, type_)))
        return None


_WORDS = {
    "str": "text",
    "int": _("a whole number"),
    "float": _("a number"),
    "bool": _("true or false"),
    "array": _("a list"),
    "object": _("an object"),
}
_QUOTED = re.compile(r"`([^`]+)`")
_UNKNOWN = re.compile(r"Object contains unknown field `(.+)`")
_MISSING = re.compile(r"Object missing required field `(.+)`")
_TAG = re.compile(r"Invalid value '(.+)'")


def _plain(message: str, item: object, type_: type) -> str:
    """The reader's message in the words of a person who never saw the code."""
    if match := _UNKNOWN.search(message):
        fields = [*type_.__struct_fields__] if issubclass(type_, msgspec.Struct) else []
        return _('there is no field "{match}" here.{did_you_mean}').format(
            match=match[1], did_you_mean=did_you_mean(match[1], fields)
        )
    if match := _MISSING.search(message):
        return _('the field "{match}" is missing').format(match=match[1])
    if match := _TAG.search(message):
        return _('"{match}" is not one of the values allowed here').format(match=match[1])
    message = _QUOTED.sub(lambda found: _kinds(found[1]), message)
    message = message.replace("matching regex", "made of a-z, 0-9, - and _, like")
    return message[0].lower() + message[1:]


def _kinds(words: str) -> str:
    """``float | null`` as a person says it; that a field may be left out goes without saying."""
    return " or ".join(_WORDS.get(word, word) for word in words.split(" | ") if word != "null") or "nothing"


def _join(place: str, name: str) -> str:
    return f"{place}.{name}" if place else name
