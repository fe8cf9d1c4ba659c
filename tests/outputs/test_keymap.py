"""The keyboard layout of a session as a table of characters."""

from __future__ import annotations

import os

import pytest

from nubshift.desktop.keymap import session_keymap
from nubshift.desktop.xkb import KeyState, character_of, keymap_of_names, keymap_of_text
from nubshift.model.layouts import US, Layout
from nubshift.outputs.keymap import layout_of


def layout(name: str, variant: str = "") -> Layout:
    keymap = keymap_of_names(name, variant)
    assert keymap is not None, "libxkbcommon and xkb-data are among the packages of the window"
    return layout_of(keymap)


def test_characters_are_typed_where_they_are_in_that_layout() -> None:
    french = layout("fr")
    assert french["a"] == (("Q",),)
    assert french["A"] == (("LEFTSHIFT", "Q"),)
    assert french["2"] == (("LEFTSHIFT", "2"),)
    assert french["é"] == (("2",),)
    assert french["~"] == (("RIGHTALT", "2"),)
    assert french["€"] == (("RIGHTALT", "E"),)
    assert "Ж" not in french


def test_dead_keys_make_letters_with_what_follows() -> None:
    french = layout("fr")
    assert french["ê"] == (("LEFTBRACE",), ("E",))
    assert french["Ü"] == (("LEFTSHIFT", "LEFTBRACE"), ("LEFTSHIFT", "U"))


def test_our_own_us_layout_is_that_of_the_system() -> None:
    there = layout("us")
    assert {character for character in US if there[character] != US[character]} == {"<"}, "it has a key of its own"


def test_levels_are_chosen_by_the_keys_that_this_layout_has_for_them() -> None:
    neo = layout("de", "neo")
    assert neo["@"] == (("CAPSLOCK", "APOSTROPHE"),)
    assert neo["€"] == (("LEFTSHIFT", "7"),)


def test_a_letter_of_another_script() -> None:
    assert layout("ru")["ж"] == (("SEMICOLON",),)


def test_the_group_that_is_in_use_counts() -> None:
    both = keymap_of_names("us,fr")
    assert both is not None
    assert (both.groups, both.names) == (2, ("English (US)", "French"))
    second = keymap_of_text(both.text, 1)
    assert second is not None
    assert (layout_of(both)["q"], layout_of(second)["q"]) == ((("Q",),), (("A",),))


def test_a_keymap_that_is_none() -> None:
    assert keymap_of_text(b"xkb_keymap { nonsense") is None
    assert keymap_of_names("no such layout") is None


def test_modifiers_of_what_is_held() -> None:
    keymap = keymap_of_names("us")
    assert keymap is not None
    state = KeyState(keymap)
    state.press(42, True)
    assert state.modifiers == (1, 0, 0, 0)
    state.press(42, False)
    state.press(58, True)
    state.press(58, False)
    assert state.modifiers == (0, 0, 2, 0)


@pytest.mark.parametrize(("symbol", "character"), [(0x41, "A"), (0xE4, "ä"), (0x01000416, "Ж"), (0xFFE1, ""), (0, "")])
def test_keysyms(symbol: int, character: str) -> None:
    assert character_of(symbol) == character


def test_the_layout_of_this_session() -> None:
    if not os.environ.get("DISPLAY"):
        pytest.skip("no X server: Xvfb is not installed")
    keymap = session_keymap({"DISPLAY": os.environ["DISPLAY"], "XDG_RUNTIME_DIR": "/nowhere"})
    assert keymap is not None
    here = layout_of(keymap)
    assert here["a"] == (("A",),)
    assert here["?"] == (("LEFTSHIFT", "SLASH"),)
    assert set(map(chr, range(32, 127))) <= set(here)
