"""What the keys type in a session, asked from libxkbcommon, the library that compositors and toolkits use for it.

Key codes are the kernel's. A keymap has groups, one for each layout that its user switches between, and each key has
levels in them: plain, with Shift, with AltGr. Source: the public headers of libxkbcommon 1.0 and libxkbcommon-x11.
"""

from __future__ import annotations

import ctypes
import ctypes.util
from collections.abc import Iterable, Iterator, Mapping
from functools import lru_cache
from itertools import combinations
from typing import Any

FIRST_KEYCODE = 8
"""XKB's key codes are the kernel's plus this (evdev keyboards)."""
SHIFTS = {0xFFE1, 0xFFE2, 0xFE03, 0xFE11}
"""Keysyms of keys that choose a level while they are held: Shift, ISO level 3 (AltGr) and level 5 (keysymdef.h)."""
_TEXT_FORMAT, _DOWN, _UP = 1, 1, 0
_DEPRESSED_MODS, _EFFECTIVE_GROUP = 1 << 0, 1 << 7
_MOST_MASKS = 16


class _RuleNames(ctypes.Structure):
    """``struct xkb_rule_names``: which rules, model, layout, variant and options."""

    _fields_ = [(name, ctypes.c_char_p) for name in ("rules", "model", "layout", "variant", "options")]


def _load(name: str, soname: str) -> ctypes.CDLL | None:
    try:
        return ctypes.CDLL(ctypes.util.find_library(name) or soname)
    except OSError:
        return None


@lru_cache(1)
def _library() -> ctypes.CDLL | None:
    """The library with the types of what is called, None where there is none (or one from before 1.0)."""
    library = _load("xkbcommon", "libxkbcommon.so.0")
    if library is None or not hasattr(library, "xkb_keymap_key_get_mods_for_level"):
        return None
    pointer, number, text = ctypes.c_void_p, ctypes.c_uint32, ctypes.c_char_p
    for name, result, arguments in (
        ("xkb_context_new", pointer, (ctypes.c_int,)),
        ("xkb_keymap_new_from_string", pointer, (pointer, text, ctypes.c_int, ctypes.c_int)),
        ("xkb_keymap_new_from_names", pointer, (pointer, ctypes.POINTER(_RuleNames), ctypes.c_int)),
        ("xkb_keymap_get_as_string", pointer, (pointer, ctypes.c_int)),
        ("xkb_keymap_num_layouts", number, (pointer,)),
        ("xkb_keymap_layout_get_name", text, (pointer, number)),
        ("xkb_keymap_num_layouts_for_key", number, (pointer, number)),
        ("xkb_keymap_num_levels_for_key", number, (pointer, number, number)),
        (
            "xkb_keymap_key_get_syms_by_level",
            ctypes.c_int,
            (pointer, number, number, number, ctypes.POINTER(ctypes.POINTER(number))),
        ),
        (
            "xkb_keymap_key_get_mods_for_level",
            ctypes.c_size_t,
            (pointer, number, number, number, ctypes.POINTER(number), ctypes.c_size_t),
        ),
        ("xkb_keysym_to_utf32", number, (number,)),
        ("xkb_state_new", pointer, (pointer,)),
        ("xkb_state_update_key", ctypes.c_int, (pointer, number, ctypes.c_int)),
        ("xkb_state_serialize_mods", number, (pointer, ctypes.c_int)),
        ("xkb_state_serialize_layout", number, (pointer, ctypes.c_int)),
        ("xkb_state_unref", None, (pointer,)),
        ("xkb_keymap_unref", None, (pointer,)),
        ("xkb_context_unref", None, (pointer,)),
    ):
        call = getattr(library, name)
        call.restype, call.argtypes = result, arguments
    return library


def character_of(symbol: int) -> str:
    """The character of a keysym, empty for one that types none."""
    library = _library()
    point = library.xkb_keysym_to_utf32(symbol) if library is not None else 0
    return chr(point) if point else ""


class Keymap:
    """A keymap, and `group`, the one of its groups that is in use."""

    def __init__(self, library: ctypes.CDLL, context: int, keymap: int, group: int = 0) -> None:
        self._library, self._context, self._keymap = library, context, keymap
        self.group = min(group, max(0, self.groups - 1))

    def __del__(self) -> None:
        self._library.xkb_keymap_unref(self._keymap)
        self._library.xkb_context_unref(self._context)

    @property
    def groups(self) -> int:
        """How many groups there are."""
        return int(self._library.xkb_keymap_num_layouts(self._keymap))

    @property
    def names(self) -> tuple[str, ...]:
        """What the groups are called, as ``German (no dead keys)``."""
        found = (self._library.xkb_keymap_layout_get_name(self._keymap, number) for number in range(self.groups))
        return tuple(name.decode(errors="replace") if name else "" for name in found)

    @property
    def text(self) -> bytes:
        """The whole keymap in its text format, as compositors give it to their clients."""
        pointer = self._library.xkb_keymap_get_as_string(self._keymap, _TEXT_FORMAT)
        text = ctypes.string_at(pointer)
        ctypes.CDLL(None).free(ctypes.c_void_p(pointer))
        return text

    def symbols(self, code: int) -> Iterator[tuple[int, tuple[int, ...]]]:
        """Each keysym that a key gives in the group in use, with the modifier masks that choose it."""
        key, library = code + FIRST_KEYCODE, self._library
        there = library.xkb_keymap_num_layouts_for_key(self._keymap, key)
        if not there:
            return
        group = self.group % there
        found, masks = ctypes.POINTER(ctypes.c_uint32)(), (ctypes.c_uint32 * _MOST_MASKS)()
        for level in range(library.xkb_keymap_num_levels_for_key(self._keymap, key, group)):
            count = library.xkb_keymap_key_get_syms_by_level(self._keymap, key, group, level, ctypes.byref(found))
            chosen = library.xkb_keymap_key_get_mods_for_level(self._keymap, key, group, level, masks, _MOST_MASKS)
            if count == 1:
                yield found[0], tuple(masks[:chosen])

    def first_symbol(self, code: int) -> int:
        """The keysym of a key by itself, 0 for none."""
        return next((symbol for symbol, _masks in self.symbols(code)), 0)

    def chosen_by(self, masks: Iterable[int], holders: Mapping[int, int]) -> tuple[int, ...] | None:
        """The fewest keys of `holders` (code: mask) that are held for one of these masks; None where there are none."""
        for many in range(3):
            for keys in combinations(holders, many):
                whole = 0
                for key in keys:
                    whole |= holders[key]
                if whole in masks:
                    return keys
        return None

    def holders(self, codes: Iterable[int]) -> dict[int, int]:
        """Of these keys those that choose a level while they are held, with the modifiers that each sets."""
        found: dict[int, int] = {}
        for code in codes:
            if self.first_symbol(code) in SHIFTS:
                state = KeyState(self)
                state.press(code, True)
                mask = state.depressed
                if mask and mask not in found.values():
                    found[code] = mask
        return found


class KeyState:
    """What is held on a keyboard with a keymap: which modifiers that makes."""

    def __init__(self, keymap: Keymap) -> None:
        self._keymap = keymap
        self._library: Any = keymap._library
        self._state = self._library.xkb_state_new(keymap._keymap)

    def __del__(self) -> None:
        self._library.xkb_state_unref(self._state)

    def press(self, code: int, down: bool) -> None:
        """A key goes down or up."""
        self._library.xkb_state_update_key(self._state, code + FIRST_KEYCODE, _DOWN if down else _UP)

    @property
    def depressed(self) -> int:
        """The modifiers of what is held."""
        return int(self._library.xkb_state_serialize_mods(self._state, _DEPRESSED_MODS))

    @property
    def modifiers(self) -> tuple[int, int, int, int]:
        """Held, latched and locked modifiers, and the group, as compositors are told them."""
        serialize = self._library.xkb_state_serialize_mods
        held, latched, locked = (int(serialize(self._state, 1 << bit)) for bit in range(3))
        return held, latched, locked, int(self._library.xkb_state_serialize_layout(self._state, _EFFECTIVE_GROUP))


def keymap_of_text(text: bytes, group: int = 0) -> Keymap | None:
    """The keymap that a compositor gives its clients; None where the library is missing or it can't be read."""
    library = _library()
    if library is None:
        return None
    context = library.xkb_context_new(0)
    found = library.xkb_keymap_new_from_string(context, text.rstrip(b"\0"), _TEXT_FORMAT, 0)
    return _kept(library, context, found, group)


def keymap_of_names(layout: str, variant: str = "", options: str = "") -> Keymap | None:
    """The keymap of a layout by its name (``us``, ``fr``; several by commas). None where it can't be had."""
    library = _library()
    if library is None:
        return None
    context = library.xkb_context_new(0)
    names = _RuleNames(b"evdev", b"pc105", layout.encode(), variant.encode(), options.encode())
    return _kept(library, context, library.xkb_keymap_new_from_names(context, ctypes.byref(names), 0), 0)


def keymap_of_x(display: str | None = None) -> Keymap | None:
    """The keymap of an X server's keyboard, with the group in use. None where there is no server or no library."""
    library, x11 = _library(), _load("xkbcommon-x11", "libxkbcommon-x11.so.0")
    xcb = _load("xcb", "libxcb.so.1")
    if library is None or x11 is None or xcb is None:
        return None
    pointer = ctypes.c_void_p
    xcb.xcb_connect.restype, xcb.xcb_connect.argtypes = pointer, (ctypes.c_char_p, pointer)
    for call in (xcb.xcb_connection_has_error, xcb.xcb_disconnect, x11.xkb_x11_get_core_keyboard_device_id):
        call.argtypes = (pointer,)
    x11.xkb_x11_setup_xkb_extension.argtypes = (pointer, ctypes.c_uint16, ctypes.c_uint16, ctypes.c_int, *[pointer] * 4)
    x11.xkb_x11_keymap_new_from_device.restype = pointer
    x11.xkb_x11_keymap_new_from_device.argtypes = (pointer, pointer, ctypes.c_int32, ctypes.c_int)
    x11.xkb_x11_state_new_from_device.restype = pointer
    x11.xkb_x11_state_new_from_device.argtypes = (pointer, pointer, ctypes.c_int32)
    connection = xcb.xcb_connect(display.encode() if display else None, None)
    try:
        if xcb.xcb_connection_has_error(connection) or not x11.xkb_x11_setup_xkb_extension(
            connection, 1, 0, 0, None, None, None, None
        ):
            return None
        device = x11.xkb_x11_get_core_keyboard_device_id(connection)
        context = library.xkb_context_new(0)
        keymap = _kept(library, context, x11.xkb_x11_keymap_new_from_device(context, connection, device, 0), 0)
        state = x11.xkb_x11_state_new_from_device(keymap._keymap, connection, device) if keymap is not None else None
        if keymap is not None and state:
            keymap.group = int(library.xkb_state_serialize_layout(state, _EFFECTIVE_GROUP))
            library.xkb_state_unref(state)
        return keymap
    finally:
        xcb.xcb_disconnect(connection)


def _kept(library: ctypes.CDLL, context: int, keymap: int | None, group: int) -> Keymap | None:
    if not keymap:
        library.xkb_context_unref(context)
        return None
    return Keymap(library, context, keymap, group)
