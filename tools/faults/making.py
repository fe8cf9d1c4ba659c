"""Messages of every form with any values, made from the types themselves, and bytes that are nearly messages."""

from __future__ import annotations

import types
from random import Random
from typing import Any, Literal, Union, get_args, get_origin

import msgspec

TEXTS = (
    "",
    "1",
    "south",
    "sim:moss",
    "sim:nope",
    "auto",
    "take:/dev/zero",
    "evdev:/dev/null",
    "red",
    "#7dd3b4",
    "a\0b",
    "<b>x</b>",
    "../../etc",
    "\x1b[31m",
    "x" * 5000,
    "\u202e",
    "base",
    "aim",
    "free",
    "A",
    "ferrow-deep",
    "quarry",
    "%s%n",
    "中",
)
NUMBERS = (0, 1, -1, 2, 7, 10**6, 2**31, -(2**63), 2**63 - 1)
FLOATS = (0.0, 1.0, -1.0, 0.5, 1e308, -1e-308, 3.0)


def any_message(random: Random, union: Any) -> Any:
    """A message of one of the kinds of `union`."""
    return any_value(random, random.choice(get_args(union)))


def any_value(random: Random, kind: Any, depth: int = 0) -> Any:
    """A value of a type, rarely a sensible one. Those that the type itself forbids are left to msgspec."""
    origin, parts = get_origin(kind), get_args(kind)
    if hasattr(kind, "__metadata__"):
        return any_value(random, parts[0], depth)
    if origin in (Union, types.UnionType):
        return any_value(random, random.choice([part for part in parts if part is not msgspec.UnsetType]), depth)
    if origin is Literal:
        return random.choice(parts)
    if origin is tuple:
        if len(parts) == 2 and parts[1] is Ellipsis:
            return tuple(any_value(random, parts[0], depth + 1) for _ in range(random.randrange(3 if depth < 4 else 1)))
        return tuple(any_value(random, part, depth + 1) for part in parts)
    if origin in (dict, frozenset, list):
        return {any_value(random, parts[0]): any_value(random, parts[1], depth + 1) for _ in range(random.randrange(3))}
    if isinstance(kind, type) and issubclass(kind, msgspec.Struct):
        given = {}
        for field in msgspec.structs.fields(kind):
            if field.required or random.random() < 0.5:
                given[field.name] = any_value(random, field.type, depth + 1)
        return kind(**given)
    if kind is bool:
        return random.random() < 0.5
    if kind is int:
        return random.choice(NUMBERS)
    if kind is float:
        return random.choice(FLOATS)
    if kind is str:
        return random.choice(TEXTS)
    return None


def mutated(random: Random, data: bytes) -> bytes:
    """A line with some of its bytes others, gone, or doubled; still one line."""
    found = bytearray(data.rstrip(b"\n"))
    for _ in range(random.randrange(1, 6)):
        if not found:
            break
        at = random.randrange(len(found))
        match random.randrange(4):
            case 0:
                found[at] = random.randrange(256)
            case 1:
                del found[at : at + random.randrange(1, 9)]
            case 2:
                found[at:at] = found[at : at + random.randrange(1, 9)]
            case _:
                found[at:at] = random.choice((b"[", b"{", b'"', b"9" * 30, b"null", b"\xff", b"-"))
    return bytes(found).replace(b"\n", b" ") + b"\n"
