"""The keys and mouse buttons that can be sent: the kernel's names, codes and groups (linux/input-event-codes.h).

A key is a physical position; its label in the user's own layout is found by the window. `label` here is the
one of the common US layout, for files, the command line and where no keyboard map can be asked.
"""

from __future__ import annotations

import re
from typing import Literal

import msgspec

BUTTON_PREFIX = "BTN_"
"""Names of mouse buttons keep the kernel's prefix, so that BTN_LEFT is never taken for the arrow key LEFT."""


class KeyInfo(msgspec.Struct, frozen=True):
    """One key: kernel `name` without prefix, kernel `code`, short `label` and `group`."""

    name: str
    code: int
    label: str
    group: str


def _rows(group: str, text: str) -> list[KeyInfo]:
    cells = (entry.rsplit(":", 2) for entry in text.split("  "))
    return [KeyInfo(name, int(code), label, group) for name, label, code in cells]


_ALL = [
    *_rows(
        "letters",
        "A:A:30  B:B:48  C:C:46  D:D:32  E:E:18  F:F:33  G:G:34  H:H:35  I:I:23  J:J:36  K:K:37  "
        "L:L:38  M:M:50  N:N:49  O:O:24  P:P:25  Q:Q:16  R:R:19  S:S:31  T:T:20  U:U:22  V:V:47  "
        "W:W:17  X:X:45  Y:Y:21  Z:Z:44",
    ),
    *_rows("digits", "1:1:2  2:2:3  3:3:4  4:4:5  5:5:6  6:6:7  7:7:8  8:8:9  9:9:10  0:0:11"),
    *_rows(
        "punctuation",
        "GRAVE:`:41  MINUS:-:12  EQUAL:=:13  LEFTBRACE:[:26  RIGHTBRACE:]:27  BACKSLASH:\\:43  "
        "SEMICOLON:;:39  APOSTROPHE:':40  COMMA:,:51  DOT:.:52  SLASH:/:53  102ND:<:86  RO:Ro:89  "
        "YEN:¥:124",
    ),
    *_rows(
        "editing",
        "SPACE:Space:57  ENTER:Enter:28  TAB:Tab:15  BACKSPACE:Bksp:14  ESC:Esc:1  DELETE:Del:111  "
        "INSERT:Ins:110  CAPSLOCK:Caps:58  COMPOSE:Menu:127",
    ),
    *_rows(
        "arrows",
        "UP:↑:103  DOWN:↓:108  LEFT:←:105  RIGHT:→:106  HOME:Home:102  END:End:107  PAGEUP:PgUp:104  PAGEDOWN:PgDn:109",
    ),
    *_rows(
        "modifiers",
        "LEFTSHIFT:Shift:42  RIGHTSHIFT:R Shift:54  LEFTCTRL:Ctrl:29  RIGHTCTRL:R Ctrl:97  "
        "LEFTALT:Alt:56  RIGHTALT:R Alt:100  LEFTMETA:Super:125  RIGHTMETA:R Super:126",
    ),
    *_rows(
        "function",
        "F1:F1:59  F2:F2:60  F3:F3:61  F4:F4:62  F5:F5:63  F6:F6:64  F7:F7:65  F8:F8:66  F9:F9:67  "
        "F10:F10:68  F11:F11:87  F12:F12:88  F13:F13:183  F14:F14:184  F15:F15:185  F16:F16:186  "
        "F17:F17:187  F18:F18:188  F19:F19:189  F20:F20:190  F21:F21:191  F22:F22:192  F23:F23:193  "
        "F24:F24:194",
    ),
    *_rows(
        "number pad",
        "NUMLOCK:NumLk:69  KP0:Num 0:82  KP1:Num 1:79  KP2:Num 2:80  KP3:Num 3:81  KP4:Num 4:75  "
        "KP5:Num 5:76  KP6:Num 6:77  KP7:Num 7:71  KP8:Num 8:72  KP9:Num 9:73  KPDOT:Num .:83  "
        "KPENTER:Num Ent:96  KPPLUS:Num +:78  KPMINUS:Num -:74  KPASTERISK:Num *:55  "
        "KPSLASH:Num /:98  KPEQUAL:Num =:117",
    ),
    *_rows("system", "SYSRQ:PrtSc:99  SCROLLLOCK:ScrLk:70  PAUSE:Pause:119  MENU:Menu 2:139"),
    *_rows(
        "media",
        "MUTE:Mute:113  VOLUMEDOWN:Vol -:114  VOLUMEUP:Vol +:115  PLAYPAUSE:Play:164  "
        "NEXTSONG:Next:163  PREVIOUSSONG:Prev:165  STOPCD:Stop:166  BACK:Back:158  "
        "FORWARD:Forward:159",
    ),
    *_rows(
        "mouse",
        "BTN_LEFT:Left button:272  BTN_RIGHT:Right button:273  BTN_MIDDLE:Middle button:274  "
        "BTN_SIDE:Back button:275  BTN_EXTRA:Forward button:276",
    ),
]

KEYS: dict[str, KeyInfo] = {info.name: info for info in _ALL}
"""Every key and mouse button by name, in the order in which a person would look for them."""

BY_CODE: dict[int, KeyInfo] = {info.code: info for info in _ALL}

WHEEL: dict[str, Literal["up", "down", "left", "right"]] = {
    "WHEEL_UP": "up",
    "WHEEL_DOWN": "down",
    "WHEEL_LEFT": "left",
    "WHEEL_RIGHT": "right",
}
"""Notches of the wheel, which a command may have for its key. They can't be held."""

_SPOKEN = {
    "LEFTCTRL": "control, left control, left ctrl, lctrl",
    "RIGHTCTRL": "right control, right ctrl, rctrl",
    "LEFTSHIFT": "left shift, lshift",
    "RIGHTSHIFT": "right shift, rshift",
    "LEFTALT": "left alt, lalt",
    "RIGHTALT": "right alt, ralt, alt gr, altgr",
    "LEFTMETA": "win, windows, left win, left super, meta, command",
    "RIGHTMETA": "right win, right super",
    "ESC": "escape",
    "ENTER": "return",
    "SPACE": "space bar, spacebar",
    "BACKSPACE": "back space",
    "DELETE": "del",
    "INSERT": "insert",
    "CAPSLOCK": "caps lock",
    "TAB": "tabulator",
    "PAGEUP": "page up, pg up",
    "PAGEDOWN": "page down, pg down, pgdown",
    "LEFT": "left arrow, arrow left, cursor left",
    "RIGHT": "right arrow, arrow right, cursor right",
    "UP": "up arrow, arrow up, cursor up",
    "DOWN": "down arrow, arrow down, cursor down",
    "SYSRQ": "print screen, print, prtscn",
    "SCROLLLOCK": "scroll lock",
    "NUMLOCK": "num lock",
    "PAUSE": "break",
    "COMPOSE": "menu key, context menu",
    "GRAVE": "tilde, backtick, backquote, ~",
    "MINUS": "minus, dash, hyphen",
    "EQUAL": "equals, plus",
    "LEFTBRACE": "left bracket, open bracket",
    "RIGHTBRACE": "right bracket, close bracket",
    "BACKSLASH": "backslash",
    "SEMICOLON": "semicolon",
    "APOSTROPHE": "apostrophe, quote",
    "COMMA": "comma",
    "DOT": "period, full stop",
    "SLASH": "slash, forward slash",
    "KPPLUS": "numpad plus",
    "KPMINUS": "numpad minus",
    "KPASTERISK": "numpad multiply, numpad star",
    "KPSLASH": "numpad divide",
    "KPDOT": "numpad decimal",
    "KPENTER": "numpad return",
    "BTN_LEFT": "left mouse, left mouse button, left click, mouse left, primary mouse button, lmb, mouse 1, "
    "mouse button 1, m1",
    "BTN_RIGHT": "right mouse, right mouse button, right click, mouse right, secondary mouse button, rmb, mouse 2, "
    "mouse button 2, m2",
    "BTN_MIDDLE": "middle mouse, middle mouse button, middle click, mouse middle, mmb, wheel click, mouse 3, "
    "mouse button 3, m3",
    "BTN_SIDE": "mouse back, mouse side, side mouse button, mouse 4, mouse button 4, m4, thumb button 1, xbutton 1",
    "BTN_EXTRA": "mouse forward, mouse extra, mouse 5, mouse button 5, m5, thumb button 2, xbutton 2",
    "WHEEL_UP": "wheel up, mouse wheel up, mousewheel up, scroll up, scroll wheel up, mwheelup",
    "WHEEL_DOWN": "wheel down, mouse wheel down, mousewheel down, scroll down, scroll wheel down, mwheeldown",
    "WHEEL_LEFT": "wheel left, mouse wheel left, scroll left",
    "WHEEL_RIGHT": "wheel right, mouse wheel right, scroll right",
}
"""What people, and the settings of games, call them beside what stands on them."""
_NUMBER_PAD = ("numpad", "num pad", "number pad", "keypad", "num", "kp")


def _joined(word: str) -> str:
    """A word by which a key is looked up: small letters, no spaces, no dash between letters."""
    plain = re.sub(r"\s|(?<=.)_(?=.)", "", word.lower())
    return re.sub(r"(?<=[a-z0-9])-(?=[a-z0-9])", "", plain)


def _words() -> dict[str, str]:
    found = {_joined(info.label): info.name for info in reversed(_ALL)} | {
        _joined(info.name): info.name for info in _ALL
    }
    for name, spoken in _SPOKEN.items():
        found |= {_joined(word): name for word in spoken.split(", ")} | {_joined(name): name}
    for info in _ALL:
        if info.group == "number pad" and info.label.startswith("Num "):
            found |= {_joined(f"{pad} {info.label[4:]}"): info.name for pad in _NUMBER_PAD}
    return found


_WORDS = _words()


def is_button(name: str) -> bool:
    """Whether `name` is a mouse button and not a key."""
    return name.startswith(BUTTON_PREFIX)


def label(name: str) -> str:
    """What stands on the key in the US layout; the name itself where the key is unknown (``pad:start``)."""
    info = KEYS.get(name)
    if name in WHEEL:
        return f"Wheel {WHEEL[name]}"
    return info.label if info else name.replace("pad:", "Pad ").replace("_", " ")


def spoken(name: str) -> tuple[str, ...]:
    """Every word by which a person may look for a key: its name, its label, and what people and games call it."""
    info = KEYS.get(name)
    words = [name, label(name), *_SPOKEN.get(name, "").split(", ")]
    if info is not None and info.group == "number pad" and info.label.startswith("Num "):
        words += [f"{pad} {info.label[4:]}" for pad in _NUMBER_PAD]
    return tuple(word for word in dict.fromkeys(words) if word)


def find_key(word: str) -> str | None:
    """The name of the key a person means by `word` ("shift", "lmb", "Numpad 5", "wheel up"; "é" is none)."""
    return _WORDS.get(_joined(word))
