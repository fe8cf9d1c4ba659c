"""The report of the doctor, for a bug: what was found and what machine it is, without names and serial numbers."""

from __future__ import annotations

import getpass
import os
import platform
import re
import socket
import sys
from collections.abc import Iterable
from contextlib import suppress
from pathlib import Path

from nubshift import __version__
from nubshift.cli.built import is_compiled
from nubshift.protocol.findings import Finding
from nubshift.texts import _

ADDRESS = re.compile(r"\b[0-9a-f]{2}(?:[:-][0-9a-f]{2}){5}\b", re.IGNORECASE)
SHORTEST = 3
"""Letters; a shorter name would be found within other words."""


def report_text(findings: Iterable[Finding], serials: Iterable[str]) -> str:
    """All of it as text. `serials` are the serial numbers of what is connected."""
    lines = [*_facts(), ""]
    for finding in findings:
        lines.append(f"[{finding.state}] {finding.what}: {finding.found}")
        lines += [f"    {text}" for text in (finding.means, finding.do, finding.run) if text]
    return without_names("\n".join(lines) + "\n", serials)


def _facts() -> list[str]:
    """What program and machine it is."""
    system = "?"
    with suppress(OSError):
        system = platform.freedesktop_os_release().get("PRETTY_NAME", "?")
    built = "compiled" if is_compiled() else "pure Python"
    session = {name: os.environ.get(name, "") for name in ("XDG_SESSION_TYPE", "XDG_CURRENT_DESKTOP", "LANG")}
    return [
        _("Report of the Nub Shift doctor, without names and serial numbers. Read it before you pass it on."),
        f"Nub Shift {__version__} ({built}), Python {sys.version.split()[0]}",
        f"{system}, Linux {platform.release()}, {platform.machine()}, {os.cpu_count()} processors",
        ", ".join(f"{name}={value}" for name, value in session.items() if value),
    ]


def without_names(text: str, serials: Iterable[str]) -> str:
    """The text without the player's name, folder and host, serial numbers and hardware addresses."""
    private = dict.fromkeys(serials, "[serial number]")
    private |= {str(Path.home()): "~", socket.gethostname(): "[host]"}
    with suppress(OSError, KeyError):
        private[getpass.getuser()] = "[user]"
    for word in sorted(private, key=len, reverse=True):
        if len(word) >= SHORTEST and word != "root":
            text = re.sub(rf"(?<!\w){re.escape(word)}(?!\w)", private[word], text)
    return ADDRESS.sub("[address]", text)
