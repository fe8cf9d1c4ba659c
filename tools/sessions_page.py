"""``python tools/sessions_page.py``: docs/sessions.md, what works in which session, by what the doctor finds in each.

Needs what the tests need: Xvfb with openbox, sway, weston.
"""

from __future__ import annotations

import os
import subprocess
import sys
import time
from collections.abc import Mapping
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[1]))

from pyvirtualdisplay.display import Display

from nubshift.desktop.xkb import keymap_of_names
from nubshift.outputs.wayland_devices import WaylandDevices
from nubshift.protocol.findings import Finding
from nubshift.runner.session_findings import session_findings
from standins.wayland_session import compositor, weston

PAGE = Path(__file__).parents[1] / "docs" / "sessions.md"
HEAD = """# What works in which session

Made by `tools/sessions_page.py` from what `nubshift doctor` finds in each session; run the doctor for yours. Keys and
mouse go through the kernel's uinput wherever it can be used, and then reach every program of every session. The machine
that made this page has no uinput, so the first row tells what is left without it.

| | {sessions} |
|---|{lines}|
"""
TAIL = """
`well` works, `note` is good to know, `look` asks for something to be done.

- The columns stand for more desktops than they are named after. What the third says holds for compositors with the
  protocols of wlroots (layer shell, list of windows, virtual keyboard and pointer); what the last one says for those with
  none of them. In between, each row tells which protocol or interface it needs.
- Where a compositor has no layer shell but an X server beside, tiles, menus and layers are drawn in an X11 window that
  takes neither clicks nor the focus.
- Keys that the compositor keeps for itself can't be taken while a slot listens: pick them from the list of keys. The
  toolkit offers no way to ask for them.
- KWin (tried with 5.27; its 6 before a stand-in) tells of its windows, with their programs, through a small script of ours
  that it runs, and is asked for the flat mouse by its own D-Bus objects. It has a layer shell.
- Mutter, GNOME's compositor (tried with 43), has neither layer shell nor a way to tell which window is in front: rules go
  by programs there, and by X programs' windows; tiles, menus and layers are an X11 window.
- Points go to the screen that the game is on; where a window that does not fill it stands, a compositor tells nobody.
- When the compositor ends, so does the window, as every program of its session. What plays goes on: nothing is left
  down, and the next window finds it.
"""


def cell(finding: Finding) -> str:
    """A finding in a cell of the table."""
    return f"{finding.state}: {finding.found}. {finding.means}".replace("|", "\\|").strip()


def column(environment: Mapping[str, str]) -> dict[str, str]:
    """What the doctor finds in a session."""
    return {finding.what: cell(finding) for finding in session_findings(environment)}


def columns() -> dict[str, dict[str, str]]:
    """The findings by the names of the sessions."""
    found = {}
    nowhere = {"XDG_RUNTIME_DIR": "/nowhere"}
    with Display(backend="xvfb", size=(1280, 800)):
        manager = subprocess.Popen(["openbox", "--sm-disable"], stderr=subprocess.DEVNULL)
        time.sleep(1)
        found["X11"] = column(nowhere | {"DISPLAY": os.environ["DISPLAY"]})
        manager.kill()
    with compositor() as session:
        own = WaylandDevices(session.address)
        found["sway"] = column(nowhere | session.environment | {"SWAYSOCK": session.sway_socket})
        own.close()
    with compositor() as session:
        own = WaylandDevices(session.address, keymap_of_names("us,fr"))
        found["wlroots protocols alone"] = column(nowhere | session.environment | {"SWAYSOCK": "/nowhere"})
        own.close()
    with weston() as address:
        found["none of them (weston)"] = column(nowhere | {"WAYLAND_DISPLAY": address, "SWAYSOCK": "/nowhere"})
    return found


def main() -> None:
    found = columns()
    rows = dict.fromkeys(row for told in found.values() for row in told if row != "session")
    text = HEAD.format(sessions=" | ".join(found), lines="|".join("---" for _ in found))
    for row in rows:
        text += f"| {row} | {' | '.join(told.get(row, '') for told in found.values())} |\n"
    PAGE.write_text(text + TAIL)
    print(PAGE)


if __name__ == "__main__":
    main()
