"""The keyboard layout of a session as a table of characters, so that text comes out right in it."""

from __future__ import annotations

from nubshift.desktop.xkb import Keymap, character_of
from nubshift.model.keys import BY_CODE, KEYS, KeyInfo
from nubshift.model.layouts import ALWAYS, Layout, Stroke

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


def _is_letter(key: KeyInfo) -> bool:
    return key.group in ("letters", "digits", "punctuation")


def layout_of(keymap: Keymap) -> Layout:
    """The layout that a keymap has in use. A character that several strokes type gets the one with the fewest keys."""
    table: dict[str, tuple[Stroke, ...]] = dict(ALWAYS)
    dead: dict[str, Stroke] = {}
    modifiers = keymap.holders(key.code for key in sorted(KEYS.values(), key=_is_letter))
    typing = list(filter(_is_letter, KEYS.values()))
    for key in typing:
        for symbol, masks in keymap.symbols(key.code):
            codes = keymap.chosen_by(masks, modifiers)
            if codes is None:
                continue
            stroke = (*(BY_CODE[code].name for code in codes), key.name)
            character = character_of(symbol)
            if symbol in DEAD:
                dead.setdefault(DEAD[symbol], stroke)
            elif character.isprintable() and character and len(table.get(character, [(*stroke, "")])[0]) > len(stroke):
                table[character] = (stroke,)
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
