"""A game's key list typed or pasted as text: ``Jump = Space``, a line each, in groups.

Understood are ``Name = Key``, ``Name: Key``, ``Name - Key``, a tab or comma between them, ``Group, Name, Key`` as in
CSV, and a line ``[Group]`` or ``Group:`` by itself, which holds for the lines below it. Keys are joined with ``+``. A
head line of a table (``Action, Key``) is passed over.
"""

from __future__ import annotations

import csv
import re

from msgspec import Struct

from nubshift.errors import Problem
from nubshift.model.keys import find_key
from nubshift.model.profile import Command

_HEADS = frozenset({"group", "category", "action", "command", "name", "function", "control"})
_KEY_HEADS = frozenset({"key", "keys", "binding", "key binding", "bound to", "input", "default", "default key"})
_HEADING = re.compile(r"^\[(.+)\]$|^([^=,\t:]+):$")


class ParsedKeyList(Struct, frozen=True):
    """What was understood of a text, and what was not (with its line)."""

    commands: tuple[Command, ...]
    problems: tuple[Problem, ...]


def parse_key_list(text: str) -> ParsedKeyList:
    """The commands in `text`; their ids are given when they are added to a profile. A name alone has no key yet."""
    commands: list[Command] = []
    problems: list[Problem] = []
    group = ""
    for number, line in enumerate(text.splitlines(), 1):
        stripped = line.strip()
        if not stripped or stripped.startswith("#") or (not commands and _is_head(stripped)):
            continue
        if heading := _HEADING.match(stripped):
            group = (heading[1] or heading[2]).strip()
            continue
        own_group, name, keys = _cells(stripped)
        if not name:
            problems.append(Problem(f"line {number}", f'there is no name in "{stripped[:40]}"'))
            continue
        found, unknown = keys_from(keys)
        if unknown:
            problems.append(Problem(f"line {number}", f'"{unknown}" is no key; the command "{name}" has none yet'))
        commands.append(Command("new", name[:200], found, own_group or group))
    return ParsedKeyList(tuple(commands), tuple(problems))


def _is_head(line: str) -> bool:
    """Whether a line only names the columns below it."""
    words = [word.strip().lower() for word in re.split(r"[\t,;=|]", line) if word.strip()]
    return len(words) > 1 and words[-1] in _KEY_HEADS and all(word in _HEADS or word in _KEY_HEADS for word in words)


def _cells(line: str) -> tuple[str, str, str]:
    """Group, name and keys of a line; what is not there is empty."""
    for separator in ("\t", "=", ","):
        if separator in line:
            row = next(csv.reader([line], delimiter=separator, skipinitialspace=True))
            cells = [cell.strip() for cell in row]
            if len(cells) >= 3 and separator != "=":
                return cells[0], cells[1], cells[2]
            return "", cells[0], separator.join(cells[1:]).strip() or ("=" if line.rstrip().endswith("==") else "")
    name, colon, keys = line.rpartition(":")
    if colon and name.strip():
        return "", name.strip(), keys.strip()
    name, dash, keys = re.split(r"(\s[-–—]\s)", line, maxsplit=1) if re.search(r"\s[-–—]\s", line) else (line, "", "")
    return ("", name.strip(), keys.strip()) if dash and not keys_from(keys)[1] else ("", line, "")


def keys_from(text: str) -> tuple[tuple[str, ...], str]:
    """The keys in ``Ctrl + Left click``, and the first word that is none."""
    if not text:
        return (), ""
    words = ["+"] if text.strip() == "+" else [word.strip() for word in text.split("+")]
    keys = []
    for word in words:
        key = find_key(word)
        if key is None:
            return (), word or "+"
        keys.append(key)
    return tuple(dict.fromkeys(keys)), ""
