"""The text of a profile file: JSON laid out to be read and compared by people, one short thing a line."""

from __future__ import annotations

from typing import Any

import msgspec

from nubshift.model.profile import Profile

WIDTH = 100
FLAT = 3
"""What nests deeper than this gets lines of its own however short it is."""


def profile_text(profile: Profile) -> bytes:
    """The file of `profile`, UTF-8, ending with a line feed. Reading it gives an equal profile."""
    text, _ = _laid_out(_said(msgspec.to_builtins(profile)), "")
    return (text + "\n").encode()


def profile_schema() -> dict[str, Any]:
    """The JSON Schema of profile files."""
    schema = msgspec.json.schema(Profile)
    schema["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    schema["title"] = "Nub Shift profile"
    return schema


def _said(value: Any) -> Any:
    """`value` without objects that say nothing: a part that is as it is by default."""
    if isinstance(value, dict):
        entries = {name: _said(entry) for name, entry in value.items()}
        return {name: entry for name, entry in entries.items() if entry != {}}
    return [_said(entry) for entry in value] if isinstance(value, list | tuple) else value


def _laid_out(value: object, indent: str) -> tuple[str, int]:
    """The text of `value` and its depth: on one line where it is short and flat enough, else an entry a line."""
    if not isinstance(value, dict | list | tuple) or not value:
        return _text(value), 0
    inner = indent + "  "
    if isinstance(value, dict):
        entries = [_laid_out(entry, inner) for entry in value.values()]
        parts = [f"{_text(name)}: {text}" for name, (text, _) in zip(value, entries, strict=True)]
        before, after = "{", "}"
    else:
        entries = [_laid_out(entry, inner) for entry in value]
        parts = [text for text, _ in entries]
        before, after = "[", "]"
    depth = 1 + max(inside for _, inside in entries)
    line = f"{before}{', '.join(parts)}{after}"
    if len(indent) + len(line) <= WIDTH and depth <= FLAT and "\n" not in line:
        return line, depth
    rows = ",\n".join(inner + part for part in parts)
    return f"{before}\n{rows}\n{indent}{after}", depth


def _text(value: object) -> str:
    """A single value; whole numbers stand without a fraction."""
    if isinstance(value, float) and value.is_integer():
        value = int(value)
    return msgspec.json.encode(value).decode()
