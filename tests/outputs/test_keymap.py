"""The keyboard layout of an X session as a table of characters."""

from __future__ import annotations

import os

import pytest

from nubshift.outputs.keymap import character_of, layout_of, session_layout

AZERTY = {  # code of the key: keysyms of its levels, as the server gives them
    16: (0x61, 0x41, 0, 0, 0, 0),
    30: (0x71, 0x51, 0, 0, 0, 0),
    3: (0xE9, 0x32, 0, 0, 0x7E, 0),
    18: (0x65, 0x45, 0, 0, 0x20AC, 0),
    26: (0xFE52, 0xFE57, 0, 0, 0, 0),
    105: (0xFF51, 0xFF51, 0, 0, 0, 0),
    22: (0x75, 0x55, 0, 0, 0, 0),
}


def mapping(keys: dict[int, tuple[int, ...]]) -> tuple[int, tuple[tuple[int, ...], ...]]:
    return 8, tuple(keys.get(code, ()) for code in range(248))


def test_characters_are_typed_where_they_are_in_that_layout() -> None:
    layout = layout_of(*mapping(AZERTY))
    assert layout["a"] == (("Q",),)
    assert layout["A"] == (("LEFTSHIFT", "Q"),)
    assert layout["2"] == (("LEFTSHIFT", "2"),)
    assert layout["é"] == (("2",),)
    assert layout["~"] == (("RIGHTALT", "2"),)
    assert layout["€"] == (("RIGHTALT", "E"),)
    assert "ß" not in layout


def test_dead_keys_make_letters_with_what_follows() -> None:
    layout = layout_of(*mapping(AZERTY))
    assert layout["ê"] == (("LEFTBRACE",), ("E",))
    assert layout["Ü"] == (("LEFTSHIFT", "LEFTBRACE"), ("LEFTSHIFT", "U"))


@pytest.mark.parametrize(("symbol", "character"), [(0x41, "A"), (0xE4, "ä"), (0x01000416, "Ж"), (0xFF0D, ""), (0, "")])
def test_keysyms(symbol: int, character: str) -> None:
    assert character_of(symbol) == character


def test_the_layout_of_this_session() -> None:
    if not os.environ.get("DISPLAY"):
        pytest.skip("no X server: Xvfb is not installed")
    layout = session_layout()
    assert layout["a"] == (("A",),)
    assert layout["?"] == (("LEFTSHIFT", "SLASH"),)
    assert set(map(chr, range(32, 127))) <= set(layout)
