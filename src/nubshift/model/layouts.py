"""Which keys type which character in a keyboard layout, so that text comes out right (need N31, N38).

A `Layout` has for each character the strokes that type it: each stroke is the keys that go down together, modifiers
first. A character of two strokes is one typed with a dead key. The layout of a session is read by the sinks.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from types import MappingProxyType
from typing import TypeAlias

from nubshift.errors import Problem
from nubshift.texts import _

Stroke: TypeAlias = tuple[str, ...]
Layout: TypeAlias = Mapping[str, tuple[Stroke, ...]]

_PLAIN = {
    "GRAVE": "`~",
    "1": "1!",
    "2": "2@",
    "3": "3#",
    "4": "4$",
    "5": "5%",
    "6": "6^",
    "7": "7&",
    "8": "8*",
    "9": "9(",
    "0": "0)",
    "MINUS": "-_",
    "EQUAL": "=+",
    "LEFTBRACE": "[{",
    "RIGHTBRACE": "]}",
    "BACKSLASH": "\\|",
    "SEMICOLON": ";:",
    "APOSTROPHE": "'\"",
    "COMMA": ",<",
    "DOT": ".>",
    "SLASH": "/?",
    **{letter: letter.lower() + letter for letter in "ABCDEFGHIJKLMNOPQRSTUVWXYZ"},
}

ALWAYS: dict[str, tuple[Stroke, ...]] = {" ": (("SPACE",),), "\n": (("ENTER",),), "\t": (("TAB",),)}
"""What every layout types alike."""

US: Layout = MappingProxyType(
    ALWAYS
    | {pair[0]: ((key,),) for key, pair in _PLAIN.items()}
    | {pair[1]: (("LEFTSHIFT", key),) for key, pair in _PLAIN.items()}
)
"""The common US layout, where no other is known."""


def strokes(text: str, layout: Layout) -> tuple[Stroke, ...]:
    """The strokes that type `text`; empty if any character can't be typed: half a text is worse than none."""
    found: list[Stroke] = []
    for character in text:
        if character not in layout:
            return ()
        found += layout[character]
    return tuple(found)


def refusals(texts: Iterable[tuple[str, str]], layout: Layout) -> Iterable[Problem]:
    """A problem for each (place, text) that has characters which `layout` can't type."""
    for place, text in texts:
        missing = dict.fromkeys(c for c in text if c not in layout)
        if missing:
            shown = ", ".join(f'"{c}"' for c in missing)
            yield Problem(
                place,
                _("{shown} can't be typed in this keyboard layout, so nothing of the text is sent").format(shown=shown),
            )
