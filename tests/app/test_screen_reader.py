"""The accessible tree of the real program, walked over the accessibility bus as a screen reader does (N70)."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

from nubshift.model.controls import PAD_CONTROLS, title_of
from standins.waiting import PATIENCE


def test_a_screen_reader_finds_every_control_command_and_layer_by_name(own_home: Path) -> None:
    script = Path(__file__).parents[2] / "standins" / "screen_reader.py"
    environment = {**os.environ, "QT_LINUX_ACCESSIBILITY_ALWAYS_ON": "1"}
    environment.pop("DBUS_SESSION_BUS_ADDRESS", None)
    done = subprocess.run(
        ["dbus-run-session", "--", sys.executable, str(script)],
        env=environment,
        text=True,
        capture_output=True,
        timeout=4 * PATIENCE,
        check=False,
    )
    assert done.returncode == 0, done.stderr[-2000:]
    tree = [tuple(json.loads(line)) for line in done.stdout.splitlines() if line.startswith("[")]
    names = {name for _, name in tree}
    for control in PAD_CONTROLS:
        assert any(name.startswith(f"{title_of(control)}: ") for name in names), control
    rows = [name for role, name in tree if role == "list item"]
    assert "Hop, Space, lower face button" in rows
    assert "Sing, N, No control. No control sends “Sing”." in rows
    assert "Layer Base, active, editing" in names
    assert "lower face button sends Hop" in names
    assert {"Profile Ferrow Deep, Saved", "Add a command", "Note"} <= names
    assert names & {"Live", "Not running"}  # the switch, whether or not the runner is there yet
    used = ("push button", "check box", "text", "slider")
    nameless = [tree[at - 2 : at + 2] for at, (role, name) in enumerate(tree) if role in used and not name]
    assert nameless == []
