"""The keyboard layout of an X session as a table of characters, so that text comes out right in it."""

from __future__ import annotations

from nubshift.model.keys import BY_CODE
from nubshift.model.layouts import ALWAYS, Layout, Stroke
from nubshift.outputs.x11 import FIRST_KEYCODE, XTest

LEVELS: tuple[tuple[int, Stroke], ...] = (
    (0, ()),
    (1, ("LEFTSHIFT",)),
    (4, ("RIGHTALT",)),
    (5, ("LEFTSHIFT", "RIGHTALT")),
)
"""Where the core keyboard mapping keeps the levels of the first group, and what is held for each."""

DEAD: dict[int, str] = {
    0xFE50: "\u0300",
    0xFE51: "\u0301",
    0xFE52: "\u0302",
    0xFE53: "\u0303",
    0xFE54: "\u0304",
    0xFE55: "\u0306",
    0xFE56: "\u0307",
    0xFE57: "\u0308",
    0xFE58: "\u030a",
    0xFE59: "\u030b",
    0xFE5A: "\u030c",
    0xFE5B: "\u0327",
    0xFE5C: "\u0328",
}
"""Keysyms of dead keys and the combining character each adds (keysymdef.h)."""

EURO = 0x20AC


def layout_of(first: int, keysyms: tuple[tuple[int, ...], ...]) -> Layout:
    """The layout for a core keyboard mapping: the first keycode, and the keysyms of each keycode from there.

    A character that several strokes type gets the one with the fewest modifiers.
    """
    table: dict[str, tuple[Stroke, ...]] = dict(ALWAYS)
    dead: dict[str, Stroke] = {}
    for index, symbols in enumerate(keysyms):
        key = BY_CODE.get(first + index - FIRST_KEYCODE)
        if key is None:
            continue
        for level, held in LEVELS:
            symbol = symbols[level] if level < len(symbols) else 0
            if symbol in DEAD:
                dead.setdefault(DEAD[symbol], (*held, key.name))
            elif key.group in ("letters", "digits", "punctuation"):
                character = character_of(symbol)
                if character and (character not in table or len(table[character][0]) > len(held) + 1):
                    table[character] = ((*held, key.name),)
    return table | _composed(table, dead)


def _composed(table: dict[str, tuple[Stroke, ...]], dead: dict[str, Stroke]) -> dict[str, tuple[Stroke, ...]]:
    """The letters that a dead key and a letter make together, where no key has them by itself."""
    from unicodedata import normalize

    found: dict[str, tuple[Stroke, ...]] = {}
    for mark, stroke in dead.items():
        for letter in [c for c in table if c.isalpha()]:
            whole = normalize("NFC", letter + mark)
            if len(whole) == 1 and whole not in table:
                found.setdefault(whole, (stroke, *table[letter]))
    return found


def character_of(symbol: int) -> str:
    """The character of a keysym, empty for none (keysymdef.h: Latin-1 directly, Unicode from 0x01000000)."""
    if 0x20 <= symbol <= 0x7E or 0xA0 <= symbol <= 0xFF:
        return chr(symbol)
    if symbol == EURO:
        return "€"
    if 0x01000100 <= symbol <= 0x0110FFFF:
        return chr(symbol - 0x01000000)
    return ""


def session_layout(display: str | None = None) -> Layout:
    """The layout of the X session. Raises SinkError where there is none."""
    connection = XTest(display)
    try:
        return layout_of(*connection.keysyms())
    finally:
        connection.close()
