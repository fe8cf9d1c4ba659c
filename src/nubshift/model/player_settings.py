"""What belongs to the player and not to a profile: one file, read by the app (docs/formats.md)."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Final, Literal, TypeAlias

import msgspec
from msgspec.structs import replace

from nubshift.model.files import read_companion
from nubshift.model.part import Part, Text
from nubshift.model.store import write_atomically
from nubshift.texts import _

FORMAT: Final = "nubshift-settings"
VERSION: Final = 4

Closing: TypeAlias = Literal["background", "quit"]
"""What closing the window does: Nub Shift goes on without it, or ends."""
TextSize: TypeAlias = Literal[100, 115, 130, 150]
"""In percent of what the desktop's own text size would give."""
KeyName = Annotated[str, msgspec.Meta(pattern="^[A-Z0-9_]{1,40}$")]
Login: TypeAlias = Literal["no", "autostart", "systemd"]
"""How Nub Shift starts at login, if it does: by the desktop's autostart, or as a unit of systemd."""


class PlayerSettings(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=False):
    """`theme` is empty while the desktop decides. `told_background`: that closing the window does not end the program
    has been said. `last_profile` is the path of the one that was open last.

    `stop_key` pauses everything at once, in every profile: modifiers, then one key; none for none. With
    `read_keyboards` it may be heard by reading keyboards. So do the controls `stop_controls`, held together for
    `stop_hold` ms. `menu_controls`, held for `menu_hold` ms, open the menu over the game. Profiles are exchanged with
    the folder `synced_folder`, and with `synced_gives` also written there. `layout_group` is the
    layout to type with where a session has several and does not say which is in use. Version 1 had no menu, folder or
    reading, version 2 no `text_size`, version 3 no `layout_group`.
    """

    format: Literal["nubshift-settings"] = FORMAT
    version: Literal[1, 2, 3, 4] = VERSION
    theme: Literal["", "dusk", "day"] = ""
    text_size: TextSize = 100
    overlay: bool = True
    layer_sounds: bool = False
    touch_selects: bool = True
    listening_seconds: Annotated[int, msgspec.Meta(ge=1, le=600)] = 5
    closing: Closing = "background"
    told_background: bool = False
    last_profile: str = ""
    stop_key: Annotated[tuple[KeyName, ...], msgspec.Meta(max_length=4)] = ("LEFTCTRL", "LEFTALT", "END")
    read_keyboards: bool = False
    stop_controls: Annotated[tuple[Text, ...], msgspec.Meta(max_length=4)] = ("select", "start")
    stop_hold: Annotated[int, msgspec.Meta(ge=0, le=5000)] = 1000
    menu_controls: Annotated[tuple[Text, ...], msgspec.Meta(max_length=4)] = ("mode",)
    menu_hold: Annotated[int, msgspec.Meta(ge=0, le=5000)] = 600
    synced_folder: Annotated[str, msgspec.Meta(max_length=4096)] = ""
    synced_gives: bool = False
    layout_group: Annotated[int, msgspec.Meta(ge=0, le=3)] = 0


def read_settings(path: Path) -> PlayerSettings:
    """The file at `path`; the defaults where there is none. Raises StorageError; see `read_companion`."""
    return read_companion(path, PlayerSettings, _("Your settings")) or PlayerSettings()


def write_settings(path: Path, settings: PlayerSettings) -> None:
    """Save them. Raises StorageError."""
    newest = replace(settings, version=VERSION)
    write_atomically(path, msgspec.json.format(msgspec.json.encode(newest), indent=2) + b"\n")
