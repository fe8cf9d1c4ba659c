"""The icons of programs, by their desktop entries (freedesktop's Desktop Entry and Icon Theme specifications)."""

from __future__ import annotations

import configparser
import os
import shlex
from functools import lru_cache
from pathlib import Path

from PyQt6.QtGui import QIcon

from nubshift.model.programs import SeenProgram

USUAL_DATA = "/usr/local/share:/usr/share"
PLAIN = "application-x-executable"
MOST_ENTRIES = 3000


def icon_of(seen: SeenProgram) -> QIcon:
    """The icon of a program: by its desktop entry, or a theme's icon of its name; else one for any program."""
    entries = _entries()
    for word in (seen.app, seen.group, seen.path.rpartition("/")[2], seen.name):
        name = entries.get(word.lower(), word) if word else ""
        if os.path.isabs(name) and os.path.exists(name):
            return QIcon(name)
        for one in (name, name.lower()):
            if one and QIcon.hasThemeIcon(one):
                return QIcon.fromTheme(one)
    return QIcon.fromTheme(PLAIN)


@lru_cache(maxsize=1)
def _entries() -> dict[str, str]:
    """The name or path of the icon, by all that a program may be known by: the entry's id, its class, its command."""
    found: dict[str, str] = {}
    for folder in reversed(_folders()):
        for path in sorted(folder.glob("*.desktop"))[:MOST_ENTRIES]:
            parsed = configparser.ConfigParser(interpolation=None, strict=False)
            try:
                parsed.read(path, encoding="utf-8")
                entry = parsed["Desktop Entry"]
            except (OSError, KeyError, UnicodeDecodeError, configparser.Error):
                continue
            icon = entry.get("Icon", "")
            for word in (path.stem, entry.get("StartupWMClass", ""), _command(entry.get("Exec", ""))):
                if word and icon:
                    found[word.lower()] = icon
    return found


def _folders() -> list[Path]:
    own = os.environ.get("XDG_DATA_HOME") or str(Path.home() / ".local" / "share")
    shared = os.environ.get("XDG_DATA_DIRS") or USUAL_DATA
    return [Path(place) / "applications" for place in (own, *shared.split(":")) if place]


def _command(line: str) -> str:
    """The name of the program that an entry runs."""
    try:
        words = shlex.split(line)
    except ValueError:
        return ""
    return words[0].rpartition("/")[2] if words else ""
