"""Desktop entries: files that let the desktop start something (freedesktop's Desktop Entry Specification 1.5)."""

from __future__ import annotations

import os
import re
import shutil
import sys
from collections.abc import Sequence
from pathlib import Path

from nubshift.errors import StorageError
from nubshift.model.store import write_atomically
from nubshift.texts import _


def program() -> list[str]:
    """What starts Nub Shift: the installed command, else this interpreter."""
    installed = shutil.which("nubshift")
    return [installed] if installed else [sys.executable, "-m", "nubshift"]


def entry_text(name: str, comment: str, words: Sequence[str], *more: str) -> str:
    """A desktop entry that runs `words`; `more` are further lines."""
    return "\n".join(
        (
            "[Desktop Entry]",
            "Type=Application",
            f"Name={_string(name)}",
            f"Comment={_string(comment)}",
            f"Exec={' '.join(_quoted(word) for word in words)}",
            "Icon=nubshift",
            "Terminal=false",
            *more,
            "",
        )
    )


def _string(text: str) -> str:
    """A value of type localestring: a backslash is written as two, and a line ends nowhere but at its end."""
    return " ".join(text.split()).replace("\\", "\\\\")


def _quoted(word: str) -> str:
    """A word of an Exec line, by the specification's rules of quoting."""
    plain = word.replace("%", "%%")
    if plain and not set(plain) & set(" \t\n\"'\\><~|&;$*?#()`"):
        return plain
    escaped = "".join(f"\\{letter}" if letter in '"`$\\' else letter for letter in plain)
    return '"' + escaped.replace("\\", "\\\\") + '"'


# Games in the application menu


def game_entry(profile: str) -> Path:
    """Where the entry of a profile's game is, or would be."""
    data = Path(os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share")
    plain = re.sub(r"[^A-Za-z0-9_-]+", "-", profile).strip("-") or "game"
    return data / "applications" / f"nubshift-{plain}.desktop"


def write_game_entry(profile: str, title: str, words: Sequence[str]) -> None:
    """Let the application menu start a game with its profile. Raises StorageError."""
    comment = _("Starts with its Nub Shift profile")
    line = [*program(), "play", profile, "--", *words]
    write_atomically(game_entry(profile), entry_text(title, comment, line, "Categories=Game;").encode())


def remove_game_entry(profile: str) -> None:
    """Take it out of the application menu. Raises StorageError."""
    try:
        game_entry(profile).unlink(missing_ok=True)
    except OSError as error:
        raise StorageError(
            _("{path} could not be removed: {strerror}").format(
                path=game_entry(profile), strerror=error.strerror or error
            )
        ) from error
