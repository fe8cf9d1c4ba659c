"""The text of a profile file: JSON laid out to be read and compared by people, one short thing a line."""

from __future__ import annotations

from typing import Any

import msgspec

from nubshift.model.profile import Profile

WIDTH = 100


def profile_text(profile: Profile) -> bytes:
    """The file of `profile`, UTF-8, ending with a line feed. Reading it gives an equal profile."""
    return (_laid_out(msgspec.to_builtins(profile), "") + "\n").encode()


def profile_schema() -> dict[str, Any]:
    """The JSON Schema of profile files."""
    schema = msgspec.json.schema(Profile)
    schema["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    schema["title"] = "Nub Shift profile"
    return schema


def _laid_out(value: object, indent: str) -> str:
    """`value` on one line where it is short and holds no long list of its own, else an entry a line."""
    if not isinstance(value, dict | list | tuple) or not value:
        return _text(value)
    spaced = _spaced(value)
    if len(indent) + len(spaced) <= WIDTH and _depth(value) <= 3:
        return spaced
    inner = indent + "  "
    if isinstance(value, dict):
        rows = [f"{inner}{_text(name)}: {_laid_out(entry, inner)}" for name, entry in value.items()]
        return "{\n" + ",\n".join(rows) + f"\n{indent}}}"
    return "[\n" + ",\n".join(inner + _laid_out(entry, inner) for entry in value) + f"\n{indent}]"


def _depth(value: object) -> int:
    if isinstance(value, dict):
        return 1 + max((_depth(entry) for entry in value.values()), default=0)
    if isinstance(value, list | tuple):
        return 1 + max((_depth(entry) for entry in value), default=0)
    return 0


def _text(value: object) -> str:
    """A single value; whole numbers stand without a fraction."""
    if isinstance(value, float) and value.is_integer():
        value = int(value)
    return msgspec.json.encode(value).decode()


def _spaced(value: object) -> str:
    if isinstance(value, dict):
        return "{" + ", ".join(f"{_text(name)}: {_spaced(entry)}" for name, entry in value.items()) + "}"
    if isinstance(value, list | tuple):
        return "[" + ", ".join(_spaced(entry) for entry in value) + "]"
    return _text(value)
