"""Starting with the session, by the desktop's autostart or a unit of systemd: shown, written and removed here.

Freedesktop's Desktop Application Autostart Specification, and systemd.unit(5) for user units.
"""

from __future__ import annotations

import os
import shlex
from collections.abc import Sequence
from pathlib import Path

from nubshift.app.shell.desktop_entries import entry_text, program
from nubshift.errors import StorageError
from nubshift.model.player_settings import Login
from nubshift.model.store import write_atomically
from nubshift.texts import _

UNIT = "nubshift.service"
TARGET = "graphical-session.target"
"""systemd reaches it when the desktop is there."""


def config_home() -> Path:
    """Where the user's desktop and systemd look for such files."""
    return Path(os.environ.get("XDG_CONFIG_HOME") or Path.home() / ".config")


def command() -> list[str]:
    """What starts Nub Shift without showing its window."""
    return [*program(), "--hidden"]


def files() -> dict[Login, tuple[Path, ...]]:
    """What each way of starting writes; of systemd's, the second is the link that enables the unit."""
    units = config_home() / "systemd" / "user"
    return {
        "no": (),
        "autostart": (config_home() / "autostart" / "nubshift.desktop",),
        "systemd": (units / UNIT, units / f"{TARGET}.wants" / UNIT),
    }


def present() -> Login:
    """How Nub Shift starts at login now, by the files that are there."""
    for way in ("systemd", "autostart"):
        if all(os.path.lexists(path) for path in files()[way]):
            return way
    return "no"


def start_at_login(way: Login) -> None:
    """Start this way from now on, and no other way. Raises StorageError."""
    try:
        for paths in files().values():
            for path in reversed(paths):
                path.unlink(missing_ok=True)
        if way == "autostart":
            write_atomically(files()[way][0], autostart_entry(command()).encode())
        elif way == "systemd":
            unit, enabled = files()[way]
            write_atomically(unit, systemd_unit(command()).encode())
            enabled.parent.mkdir(parents=True, exist_ok=True)
            enabled.symlink_to(unit)
    except OSError as error:
        raise StorageError(
            _("Starting at login could not be changed: {strerror}").format(strerror=error.strerror or error)
        ) from error


def autostart_entry(words: Sequence[str]) -> str:
    """The desktop entry that starts it."""
    return entry_text(
        "Nub Shift", _("Profiles for games, ready in the background"), words, "X-GNOME-Autostart-enabled=true"
    )


def systemd_unit(words: Sequence[str]) -> str:
    """The unit that starts it with the desktop and ends it with that."""
    start = " ".join(shlex.quote(word).replace("%", "%%").replace("$", "$$") for word in words)
    return "\n".join(
        (
            "[Unit]",
            "Description=Nub Shift",
            f"PartOf={TARGET}",
            f"After={TARGET}",
            "StartLimitIntervalSec=0",
            "",
            "[Service]",
            f"ExecStart={start}",
            "Restart=on-failure",
            "RestartSec=2",
            "",
            "[Install]",
            f"WantedBy={TARGET}",
            "",
        )
    )
